#!/usr/bin/env python3
"""Writes what the system it runs on is, as JSON: facts, readings, the disk's layout. Metrograph's probe, version 1.

It is one file without dependencies for Python 3.6 or later, to be copied to an installed system and run there as an
ordinary user: python3 probe.py > facts.json. It reads the system's own open interfaces and changes nothing. What it
cannot find out it says under "missing". No secrets and no serial numbers; names of hosts and users are marked personal.
"""

import sys

if __name__ == "__main__" and not sys.flags.isolated:
    # What lies beside this file, or in the folder it is run in, is somebody else's and is not to be run.
    sys.path[:1] = []

import argparse
import fnmatch
import json
import os
import re
import stat
import subprocess
import time
from typing import Any, Callable, Dict, Iterable, List, Optional, Set, Tuple

VERSION = 1  # of the form of a probe file; a reader refuses what it does not know
PATIENCE = 1.0  # seconds for a program that is asked
TOTAL = 1.3  # seconds for all of them together
WHOLE = 1.8  # seconds for reading files, and all else
SECTOR = 512  # bytes; the kernel counts in these whatever the disk does
MOST_SOURCES = 20  # package sources that are told: a system with more has them from a mirror list
MOST_LINKS = 40  # followed for one path
NOWHERE = os.devnull + "/none"
LONGEST_LINE = 2000  # letters
LARGEST = 1 << 26  # bytes that are read of a file
PROGRAMS = "/usr/sbin:/usr/bin:/sbin:/bin"  # where programs are looked for, and nowhere else
DEB, REPO = r"^\s*(?:deb\s.*?|URIs:\s*)(\w{1,20}://\S+)", r"^\s*(?:baseurl|mirrorlist|metalink)\s*=\s*(\w{1,20}://\S+)"
SOURCES = (
    ("/etc/apt/sources.list", DEB), ("/etc/apt/sources.list.d/*", DEB),
    ("/etc/yum.repos.d/*.repo", REPO), ("/etc/zypp/repos.d/*.repo", REPO),
    ("/etc/pacman.d/mirrorlist", r"\s*Server\s*=\s*(\w{1,20}://\S+)"), ("/etc/apk/repositories", r"\s*(\w{1,20}://\S+)"),
)  # fmt: skip
ENTRIES = (
    "/usr/share/applications", "/usr/local/share/applications", "/var/lib/flatpak/exports/share/applications",
    "/var/lib/snapd/desktop/applications",
)  # fmt: skip
ENTRY = "[Desktop Entry]"
SANDBOXES = ("/var/lib/flatpak/", "/var/lib/snapd/")
# Registered categories of freedesktop.org's Menu Specification: what a reviewer looks for first, then the main ones.
CATEGORIES = {
    "WebBrowser": "browser", "Email": "mail", "TerminalEmulator": "terminal", "FileManager": "files",
    "TextEditor": "text editor", "PackageManager": "packages", "WordProcessor": "office", "Spreadsheet": "office",
    "Presentation": "office", "AudioVideo": "sound and video", "Audio": "sound and video", "Video": "sound and video",
    "Development": "development", "Education": "education", "Game": "games", "Graphics": "graphics",
    "Network": "internet", "Office": "office", "Science": "science", "Settings": "settings", "System": "system",
    "Utility": "utilities",
}  # fmt: skip
MOST_ITEMS = 480  # things on board that are told, so that all that is probed keeps below what a file may hold
Text = Optional[str]


class Probe:
    """Gathers; each part may fail without the others.

    root: where the system's files hang, / unless another tree is looked at; programs are asked only for /.
    """

    def __init__(self, root: str) -> None:
        self.root = root.rstrip("/")
        self.began = time.time()
        self.facts: List[Dict[str, Any]] = []
        self.readings: List[Dict[str, Any]] = []
        self.missing: List[Dict[str, str]] = []
        self.software: List[Dict[str, Text]] = []
        self.layout: Dict[str, Any] = {}
        self.state: Optional[str] = None

    def run(self) -> Dict[str, Any]:
        """Everything that can be found out."""
        parts: List[Tuple[str, Callable[[], None]]] = [
            ("system", self.system), ("kernel", self.kernel), ("state", self.find_state), ("memory", self.memory),
            ("processes", self.processes), ("load", self.load), ("disk used", self.disk_used), ("layout", self.disks),
            ("packages", self.packages), ("desktop", self.desktop), ("firmware", self.firmware),
            ("time zone", self.time_zone), ("locale", self.locale), ("names", self.names),
            ("package sources", self.sources), ("boot time", self.boot_time), ("firewall", self.firewall),
            ("updates", self.updates), ("software", self.applications),
        ]  # fmt: skip
        for what, part in parts:
            try:
                part()
            except Exception as error:  # whatever it is, the other parts are wanted
                self.lacks(what, "{}: {}".format(type(error).__name__, error))
        return {
            "metrograph-probe": VERSION,
            "taken": time.strftime("%Y-%m-%dT%H:%M:%S") + offset(),
            "state": self.state,
            "facts": self.facts,
            "readings": self.readings,
            "software": self.software,
            "layout": self.layout or None,
            "missing": self.missing,
        }

    # -- parts ---------------------------------------------------------------------------------------------------------

    def system(self) -> None:
        said = self.assignments("/etc/os-release") or self.assignments("/usr/lib/os-release")
        if not said:
            self.lacks("system", "there is no os-release")
        for name, key in (("system", "PRETTY_NAME"), ("system id", "ID"), ("system version", "VERSION_ID")):
            self.fact(name, said.get(key, ""))
        self.fact("system based on", said.get("ID_LIKE", ""))

    def kernel(self) -> None:
        if self.root:
            self.lacks("kernel", "another tree is looked at")
            return
        self.fact("kernel", os.uname().release)
        self.fact("architecture", os.uname().machine)

    def find_state(self) -> None:
        """Live where the root lies on what a medium is unpacked to, installed otherwise."""
        mounts = {fields[1]: fields[2] for fields in self.mounts()}
        words = (self.text("/proc/cmdline") or "").split() if not self.root else []
        live = any(re.match(r"(boot=(live|casper)|rd\.live|archisobasedir|live-media)", word) for word in words)
        self.state = "live" if live or mounts.get("/") in ("squashfs", "rootfs", "tmpfs") else "installed"

    def memory(self) -> None:
        said = dict(re.findall(r"^(\w+):\s+(\d+) kB", self.running("/proc/meminfo"), re.MULTILINE))
        if "MemAvailable" not in said:
            self.lacks("memory", "/proc/meminfo does not tell it")
            return
        self.reading("memory", (int(said["MemTotal"]) - int(said["MemAvailable"])) * 1024, "bytes", self.how_busy())
        self.reading("memory there", int(said["MemTotal"]) * 1024, "bytes")
        self.reading("swap there", int(said.get("SwapTotal", 0)) * 1024, "bytes")

    def processes(self) -> None:
        if not self.root:
            self.reading("processes", sum(name.isdigit() for name in os.listdir("/proc")), "", self.how_busy())

    def load(self) -> None:
        for figure in self.running("/proc/loadavg").split()[:1]:
            self.reading("load", float(figure), "", self.how_busy())

    def disk_used(self) -> None:
        if self.root:
            self.lacks("disk used", "another tree is looked at")
            return
        disk = os.statvfs("/")
        self.reading("disk used", (disk.f_blocks - disk.f_bfree) * disk.f_frsize, "bytes")

    def disks(self) -> None:
        """Mounted partitions, and the disk the root lies on."""
        if self.root:
            return
        parts = self.mounted_parts()
        root = [device for device, part in parts if part["mount"] == "/"]
        if not root:
            self.lacks("layout", "the root lies on no disk of this system")
            return
        disk, encrypted = self.disk_of(root[0])
        # What was plugged in or mounted on demand is no part of what the installer made.
        lasting = [part for _, part in parts if not re.match("/(snap|media|run|cdrom)", part["mount"])]
        self.layout = {"parts": lasting}
        self.layout["disk"] = int(self.text("/sys/class/block/{}/size".format(disk)) or 0) * SECTOR or None
        self.layout["crypt"] = "root" if encrypted else None
        self.layout["table"] = (self.ask("lsblk", "-dno", "PTTYPE", "/dev/" + disk) or "").strip() or None
        self.layout["swap"] = self.swap()

    def mounted_parts(self) -> List[Tuple[str, Dict[str, Any]]]:
        """Devices with what is mounted from them, each place once."""
        parts: Dict[str, Tuple[str, Dict[str, Any]]] = {}
        for device, mount, kind in self.mounts():
            sectors = self.text("/sys/class/block/{}/size".format(os.path.basename(os.path.realpath(device))))
            if device.startswith("/dev/") and sectors:
                size = int(sectors) * SECTOR
                parts.setdefault(mount, (device, {"mount": mount, "filesystem": kind, "size": size}))
        return list(parts.values())

    def swap(self) -> Dict[str, Any]:
        lines = (self.text("/proc/swaps") or "").splitlines()[1:]
        rows = [line.split() for line in lines if line.split() and "zram" not in line]
        if not rows:
            return {"how": "none", "size": None}
        return {"how": "file" if rows[0][1] == "file" else "partition", "size": sum(int(row[2]) for row in rows) * 1024}

    def disk_of(self, device: str) -> Tuple[str, bool]:
        """The disk below a device, and whether an encrypted layer lies between."""
        name, encrypted = os.path.basename(os.path.realpath(device)), False
        for _ in range(8):
            encrypted = encrypted or (self.text("/sys/class/block/{}/dm/uuid".format(name)) or "").startswith("CRYPT-")
            below = self.files("/sys/class/block/{}/slaves/*".format(name))
            if not below:
                break
            name = os.path.basename(below[0])
        if os.path.exists("/sys/class/block/{}/partition".format(name)):
            name = os.path.basename(os.path.dirname(os.path.realpath("/sys/class/block/" + name)))
        return name, encrypted

    def packages(self) -> None:
        count = None
        status = self.text("/var/lib/dpkg/status")
        installed = self.text("/lib/apk/db/installed") or self.text("/usr/lib/apk/db/installed")
        folders = self.files("/var/lib/pacman/local/*/desc") or self.files("/var/db/pkg/*/*/PF")
        if status is not None:
            count = len(re.findall(r"^Status: \S+ ok installed$", status, re.MULTILINE))
        elif installed is not None:
            count = len(re.findall(r"^P:", installed, re.MULTILINE))
        elif folders:
            count = len(folders)
        elif self.files("/var/lib/rpm/*") or self.files("/usr/lib/sysimage/rpm/*"):
            said = self.ask("rpm", "-qa", "--qf", r"%{NAME}\n")
            count = len(said.split()) if said else None
        if count is None:
            self.lacks("packages", "no package database that is known here could be read")
        else:
            self.reading("packages", count, "")
        sandboxed = len(self.files("/var/lib/flatpak/app/*")) + len(self.files("/var/lib/snapd/snaps/*.snap"))
        if sandboxed:
            self.reading("sandboxed packages", sandboxed, "")

    def desktop(self) -> None:
        named = {"display protocol": "XDG_SESSION_TYPE", "desktop": "XDG_CURRENT_DESKTOP"}
        if self.root or not any(map(os.environ.get, named.values())):
            self.lacks("desktop", "the environment names none; run it in a terminal of the desktop")
            return
        for name, variable in named.items():
            self.fact(name, os.environ.get(variable, ""))

    def firmware(self) -> None:
        if self.root:
            return
        efi = os.path.isdir("/sys/firmware/efi")
        self.fact("firmware", "uefi" if efi else "bios")
        for path in self.files("/sys/firmware/efi/efivars/SecureBoot-*"):
            self.fact("secure boot", "on" if self.data(path)[-1:] == b"\x01" else "off")

    def time_zone(self) -> None:
        try:
            link = os.readlink(self.inside("/etc") + "/localtime").partition("zoneinfo/")[2]
        except OSError:
            link = ""
        zone = link or (self.text("/etc/timezone") or "").strip()
        self.fact("time zone", zone) if zone else self.lacks("time zone", "none is set")

    def locale(self) -> None:
        said = self.assignments("/etc/locale.conf") or self.assignments("/etc/default/locale")
        value = said.get("LANG") or ("" if self.root else os.environ.get("LANG", ""))
        self.fact("locale", value) if value else self.lacks("locale", "none is set")

    def names(self) -> None:
        host = (self.text("/etc/hostname") or "").strip() if self.root else os.uname().nodename
        self.fact("host name", host, personal=True)
        if not self.root:
            self.fact("user name", os.environ.get("USER") or os.environ.get("LOGNAME") or "", personal=True)

    def sources(self) -> None:
        """Where packages come from, without what a login may stand in."""
        found = [
            address for files, line in SOURCES for path in self.files(files)
            for address in self.found_in(path, line)
        ]  # fmt: skip
        hosts = sorted(set(map(host_of, found)) - {""})
        for number, host in enumerate(hosts[:MOST_SOURCES], 1):
            self.fact("package source" if len(hosts) == 1 else "package source {}".format(number), host)
        if not hosts:
            self.lacks("package sources", "no list of them was found")

    def boot_time(self) -> None:
        said = self.ask("systemd-analyze", "time") or ""
        found = re.search(r"= ((?:\d+min )?[\d.]+)s", said)
        if not found:
            self.lacks("boot time", "systemd-analyze does not tell it")
            return
        minutes, _, seconds = found.group(1).rpartition("min ")
        self.reading("boot time", round(int(minutes or 0) * 60 + float(seconds), 3), "s")

    def firewall(self) -> None:
        said = self.assignments("/etc/ufw/ufw.conf").get("ENABLED", "")
        active = [name for name in ("firewalld", "nftables", "ufw") if os.path.isdir(self.inside("/run/" + name))]
        if said or active:
            self.fact("firewall", "on" if said == "yes" or active else "off")
        else:
            self.lacks("firewall", "none that is known here was found")

    def updates(self) -> None:
        """Pending updates as far as the lists that are there already tell."""
        asked: Dict[str, Tuple[List[str], str]] = {
            "apt-get": (["-s", "-qq", "upgrade"], r"^Inst "),
            "pacman": (["-Qu"], r"^\S+ \S+ -> "),
            "dnf": (["-q", "-C", "check-update"], r"^\S+\.\S+\s+\S+"),
            "apk": (["version", "-l", "<"], r"^\S+-\S+\s+<"),
        }
        for program, (words, pattern) in asked.items():
            said = self.ask(program, *words)
            if said is not None:
                count = len(re.findall(pattern, said, re.MULTILINE))
                self.reading("updates", count, "", how="from the lists on this system")
                return
        self.lacks("updates", "no package program answered in time without the network")

    def applications(self) -> None:
        """What menus offer, by freedesktop.org's Desktop Entry Specification; what an entry runs is not looked at."""
        entries: Dict[str, Dict[str, str]] = {}
        for folder in ENTRIES:
            for path in self.files(folder + "/*.desktop") + self.files(folder + "/*/*.desktop"):
                said = self.entry(path)
                if said:
                    entries[path] = said
        try:
            versions = self.versions_of(list(entries))
        except TimeoutError:
            versions = {}
            self.lacks("versions of software", "the time was over")
        known = set()
        for path, said in entries.items():
            name, group = " ".join(said["Name"].replace(",", " ").split())[:80], group_of(said.get("Categories", ""))
            if (name.casefold(), group) in known or len(self.software) >= MOST_ITEMS:
                continue
            known.add((name.casefold(), group))
            sandboxed = path.startswith(SANDBOXES)
            version = self.sandboxed_version(path) if sandboxed else versions.get(path)
            source = "sandboxed" if sandboxed else "repository" if path in versions else None
            self.software.append({"item": name, "version": plain_version(version), "group": group, "from": source})
        if not entries:
            self.lacks("software", "no desktop entries were found")

    def entry(self, path: str) -> Optional[Dict[str, str]]:
        """What an entry says of an application that menus show; None of any other."""
        text = (self.text(path) or "").replace("\r", "")
        lines = [line.strip() for line in text.split("\n") if len(line) <= LONGEST_LINE]
        if ENTRY not in lines:
            return None
        body = "\n".join(lines[lines.index(ENTRY) + 1 :]).partition("\n[")[0]
        said = dict(re.findall(r"^(Type|Name|Categories|NoDisplay|Hidden)[ \t]*=[ \t]*(.*)$", body, re.MULTILINE))
        hidden = "true" in (said.get("NoDisplay"), said.get("Hidden"))
        return said if said.get("Type") == "Application" and said.get("Name") and not hidden else None

    def versions_of(self, paths: List[str]) -> Dict[str, str]:
        """The versions of the packages that own some files, as the package database has them."""
        wanted = set(paths)
        for database in (self.of_dpkg, self.of_apk, self.of_pacman, self.of_rpm):
            found = database(wanted) if wanted else {}
            if found:
                return found
        return {}

    def of_dpkg(self, wanted: Set[str]) -> Dict[str, str]:
        status = self.text("/var/lib/dpkg/status")
        if status is None:
            return {}
        rows = [dict(re.findall(r"^(Package|Version): (\S+)", part, re.MULTILINE)) for part in status.split("\n\n")]
        versions = {row.get("Package"): row.get("Version", "") for row in rows}
        found = {}
        for path in self.files("/var/lib/dpkg/info/*.list"):
            package = os.path.basename(path)[: -len(".list")].partition(":")[0]
            for owned in wanted.intersection((self.text(path) or "").split("\n")):
                found[owned] = versions.get(package, "")
        return found

    def of_apk(self, wanted: Set[str]) -> Dict[str, str]:
        text = self.text("/lib/apk/db/installed") or self.text("/usr/lib/apk/db/installed") or ""
        found, version, folder = {}, "", ""
        for line in text.split("\n"):
            key, _, value = line.partition(":")
            if key == "V":
                version = value
            elif key == "F":
                folder = "/" + value
            elif key == "R" and folder + "/" + value in wanted:
                found[folder + "/" + value] = version
        return found

    def of_pacman(self, wanted: Set[str]) -> Dict[str, str]:
        found = {}
        for path in self.files("/var/lib/pacman/local/*/files"):
            owned = wanted.intersection("/" + line for line in (self.text(path) or "").split("\n"))
            if owned:
                said = re.search(r"^%VERSION%\n(\S+)", self.text(os.path.dirname(path) + "/desc") or "", re.MULTILINE)
                found.update(dict.fromkeys(owned, said.group(1) if said else ""))
        return found

    def of_rpm(self, wanted: Set[str]) -> Dict[str, str]:
        """Asks about all at once; where one of them belongs to no package, the others are still told."""
        said = self.ask("rpm", "-qf", "--qf", "[%{FILENAMES}\\t%{=VERSION}\\n]", *sorted(wanted), codes=range(256))
        rows = [line.split("\t") for line in (said or "").split("\n")]
        return {row[0]: row[1] for row in rows if len(row) == 2 and row[0] in wanted}

    def sandboxed_version(self, path: str) -> Text:
        """What the sandbox of an entry says of its own version."""
        name = os.path.basename(path)[: -len(".desktop")]
        base = "/var/lib/flatpak/app/" + name + "/current/active/files/share/"
        for told in self.files(base + "metainfo/*.xml") + self.files(base + "appdata/*.xml"):
            found = re.search(r"<release\b[^<>]{0,300}?\bversion=[\"']([^\"']+)", self.text(told) or "")
            if found:
                return found.group(1)
        said = self.text("/snap/" + name.partition("_")[0] + "/current/meta/snap.yaml") or ""
        found = re.search(r"^version:\s*[\"']?([^\s\"']+)", said, re.MULTILINE)
        return found.group(1) if found else None

    # -- tools ---------------------------------------------------------------------------------------------------------

    def fact(self, name: str, value: str, personal: bool = False) -> None:
        if value:
            said: Dict[str, Any] = {"name": name, "value": value}
            self.facts.append(dict(said, personal=True) if personal else said)

    def reading(self, name: str, value: float, unit: str, load: Text = None, how: Text = None) -> None:
        self.readings.append({"name": name, "value": value, "unit": unit, "load": load, "how": how})

    def lacks(self, what: str, why: str) -> None:
        self.missing.append({"what": what, "why": why})

    def how_busy(self) -> Optional[str]:
        """Whether the system is at rest: less than a fifth of one processor was wanted in the last minute."""
        found = self.running("/proc/loadavg").split()
        return None if not found else "rest" if float(found[0]) < 0.2 else "busy"

    def mounts(self) -> List[Tuple[str, str, str]]:
        # Blanks within are written in octal there; other white space is part of a name.
        rows = [line.split(" ") for line in self.running("/proc/mounts").split("\n")]
        return [(row[0], octal(row[1]), row[2]) for row in rows if len(row) > 2]

    def running(self, path: str) -> str:
        """A file of the running system; nothing when another tree is looked at."""
        return "" if self.root else self.text(path) or ""

    def text(self, path: str) -> Optional[str]:
        """A file's text; None where there is no such file."""
        inside = self.inside(path)
        if not os.path.isfile(inside):
            return None
        return self.data(path).decode("utf-8", "replace")

    def data(self, path: str) -> bytes:
        """What stands in an ordinary file, and nothing in a pipe or a device; TimeoutError once the time is over."""
        if time.time() - self.began > WHOLE:
            raise TimeoutError("the time was over")
        try:
            handle = os.open(self.inside(path), os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        except OSError:
            return b""
        with os.fdopen(handle, "rb") as file:
            return file.read(LARGEST) if stat.S_ISREG(os.fstat(handle).st_mode) else b""

    def files(self, pattern: str) -> List[str]:
        """The paths that fit a pattern, as the tree that is looked at has them."""
        found = [""]
        for part in pattern.strip("/").split("/"):
            if not set("*?[") & set(part):
                found = [path + "/" + part for path in found]
                continue
            listed = [(path, name) for path in found for name in sorted(self.listed(path))]
            found = [path + "/" + name for path, name in listed if fnmatch.fnmatchcase(name, part)]
        return [path for path in found if os.path.lexists(self.inside(path))]

    def listed(self, path: str) -> List[str]:
        try:
            return [name for name in os.listdir(self.inside(path)) if not name.startswith(".")]
        except OSError:
            return []

    def inside(self, path: str) -> str:
        """Where a path of the tree lies, whose links never lead out of it; what cannot be told is not there."""
        if not self.root:
            return path
        whole, left, links = "", [part for part in path.split("/") if part], 0
        while left:
            part = left.pop(0)
            if part == "..":
                whole = whole.rpartition("/")[0]
            elif part != ".":
                place = self.root + whole + "/" + part
                if not os.path.islink(place):
                    whole += "/" + part
                    continue
                links += 1
                target = os.readlink(place)
                if links > MOST_LINKS:
                    return NOWHERE
                whole = "" if target.startswith("/") else whole
                left = [word for word in target.split("/") if word] + left
        return self.root + (whole or "/")

    def assignments(self, path: str) -> Dict[str, str]:
        """The lines KEY=value of a file, quotes taken off."""
        found = self.found_in(path, r"[ \t]*([A-Za-z_]+)=(.*)$")
        return {key: value.strip().strip("\"'") for key, value in found}

    def found_in(self, path: str, pattern: str) -> List[Any]:
        """What a pattern finds at the beginning of each line of a file; no line that a person writes is very long."""
        lines = [line for line in (self.text(path) or "").split("\n") if len(line) <= LONGEST_LINE]
        return [found for line in lines for found in re.findall("^(?:" + pattern + ")", line)]

    def ask(self, *words: str, codes: Iterable[int] = (0, 100)) -> Optional[str]:
        """What a program says; None when it is not there, fails to start, or is too slow."""
        left = min(PATIENCE, TOTAL - (time.time() - self.began))
        if self.root or left <= 0:
            return None
        try:
            done = subprocess.run(
                list(words), stdin=subprocess.DEVNULL, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, timeout=left,
                env=dict(os.environ, LC_ALL="C", LANGUAGE="C", PATH=PROGRAMS), universal_newlines=True,
                errors="replace",
            )  # fmt: skip
        except (OSError, subprocess.SubprocessError):
            return None
        return done.stdout if done.returncode in codes else None


def host_of(address: str) -> str:
    """The host of an address where it is a plain name, perhaps with a port; none where a login may stand before it.

    Whoever writes logins by hand puts any sign into them: whatever could be a part of one is told to nobody.
    """
    rest = address.partition("://")[2]
    plain = re.match(
        r"(?:[A-Za-z0-9](?:[A-Za-z0-9.-]{0,251}[A-Za-z0-9])?|\[[0-9A-Fa-f:.]{2,45}\])(?::\d{1,5})?(?=/|$)", rest
    )
    return plain.group(0) if plain is not None and "@" not in rest else ""


def group_of(categories: str) -> Text:
    """What an application is for, from the categories of its entry; None where it has none that is known."""
    listed = [word.strip() for word in categories.split(";")]
    return next((group for word, group in CATEGORIES.items() if word in listed), None)


def plain_version(version: Text) -> Text:
    """The version of the software itself, without the epoch and the revision of its package."""
    found = re.match(r"(?:\d+:)?v?(\d[0-9A-Za-z.]*)", version or "")
    return found.group(1).rstrip(".")[:40] if found else None


def octal(text: str) -> str:
    """The text with what stands as an octal number in it, as in the kernel's tables."""
    return re.sub(r"\\([0-7]{3})", lambda found: chr(int(found.group(1), 8)), text)


def offset() -> str:
    """The local offset from universal time, as +02:00."""
    said = time.strftime("%z")
    return said[:3] + ":" + said[3:] if said else "+00:00"


def main() -> int:
    """Prints the JSON."""
    parser = argparse.ArgumentParser(description="Writes what this system is, as JSON.")
    parser.add_argument("--root", default="/", help="another tree of files to look at, such as a mounted disk")
    arguments = parser.parse_args()
    if not os.path.isdir(arguments.root):
        parser.error("there is no folder " + arguments.root)
    sys.stdout.write(json.dumps(Probe(arguments.root).run(), indent=2, ensure_ascii=True) + "\n")
    return 0


if __name__ == "__main__":
    sys.exit(main())
