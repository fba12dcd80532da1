"""The probe: on the system it runs on, on two others in a chroot, and what is done with what it wrote."""

import ast
import json
import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from importlib import resources
from pathlib import Path
from typing import Any
from unittest import mock

from metrograph.core.errors import MetrographError
from metrograph.intake import probe
from metrograph.intake.probe import host_of
from metrograph.intake.probed import read_probed, to_cues
from metrograph.log.reader import read_log
from metrograph.log.writer import format_cue, format_line
from tests.e2e.case import LogbookCase
from tests.helpers import HEADER, call
from tests.intake.probed import written

SOURCE = resources.files("metrograph.intake").joinpath("probe.py").read_text("utf-8")
ROOTS = os.environ.get("METROGRAPH_ROOTS", "")


class Running(unittest.TestCase):
    def test_it_is_python_3_6_and_needs_nothing_but_itself(self) -> None:
        tree = ast.parse(SOURCE, feature_version=(3, 6))
        imported = {name.name for node in ast.walk(tree) if isinstance(node, ast.Import) for name in node.names}
        imported |= {node.module or "" for node in ast.walk(tree) if isinstance(node, ast.ImportFrom)}
        self.assertLessEqual(imported, set(sys.stdlib_module_names))

    def test_this_system(self) -> None:
        done = subprocess.run([sys.executable, "-"], input=SOURCE.encode(), capture_output=True, check=True)
        self.assertEqual(done.stderr, b"")
        probed = read_probed(done.stdout, "here")
        readings = {reading.name: reading for reading in probed.readings}
        self.assertGreater(readings["memory"].value, 1 << 20)
        self.assertGreater(readings["processes"].value, 1)
        self.assertIn(os.uname().release, [fact.value for fact in probed.facts if fact.name == "kernel"])
        for cue in to_cues(probed):
            self.assertNotIn("\n", format_line(cue))

    def test_another_tree_and_one_with_nothing_in_it(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            root = Path(name)
            self.assertEqual(self.tree(root)["facts"], [])
            self.assertIn("packages", [each["what"] for each in self.tree(root)["missing"]])
            for path, text in {
                "etc/os-release": 'PRETTY_NAME="Moor 4"\nID=moor\n', "etc/hostname": "reading-room\n",
                "lib/apk/db/installed": "P:a\nV:1\n\nP:b\n", "etc/apk/repositories": "https://ana:pw@hidden.example/moor\nhttps://kettle.example/moor\n",
                "etc/timezone": "Europe/Lisbon\n", "etc/ufw/ufw.conf": "ENABLED=yes\n",
            }.items():  # fmt: skip
                (root / path).parent.mkdir(parents=True, exist_ok=True)
                (root / path).write_text(text)
            found = self.tree(root)
            facts = {fact["name"]: fact["value"] for fact in found["facts"]}
            self.assertEqual((facts["system"], facts["package source"], facts["firewall"], facts["time zone"]),
                             ("Moor 4", "kettle.example", "on", "Europe/Lisbon"))  # fmt: skip
            self.assertTrue(next(fact for fact in found["facts"] if fact["name"] == "host name")["personal"])
            self.assertEqual([each["value"] for each in found["readings"] if each["name"] == "packages"], [2])
            self.assertNotIn("pw", json.dumps(found))

    def test_what_lies_in_the_folder_is_not_run(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            for module in ("glob", "fnmatch", "json", "argparse"):
                (folder / f"{module}.py").write_text("open('harm', 'w')\nraise SystemExit(9)\n")
            (folder / "probe.py").write_text(SOURCE)
            for words in (["-"], ["probe.py"], ["./probe.py"]):
                done = subprocess.run([sys.executable, *words], input=SOURCE.encode(), capture_output=True, cwd=folder,
                                      check=True)  # fmt: skip
                read_probed(done.stdout, "here")
            self.assertEqual(call("probe", folder=folder).returncode, 0)
            self.assertFalse((folder / "harm").exists())

    def test_links_of_another_tree_do_not_lead_out_of_it(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            root, outside = Path(name, "root"), Path(name, "outside")
            for path in (root / "etc/apt", root / "usr/lib", outside / "etc"):
                path.mkdir(parents=True)
            (outside / "etc/secret").write_text("Out/Side\n")
            (outside / "etc/os-release").write_text("ID=outside\n")
            (root / "usr/lib/os-release").write_text("ID=inside\n")
            (root / "etc/os-release").symlink_to("/usr/lib/os-release")
            (root / "etc/timezone").symlink_to(outside / "etc/secret")
            (root / "etc/hostname").symlink_to("../../../outside/etc/secret")
            (root / "etc/locale.conf").symlink_to("locale.conf")
            (root / "etc/apt/sources.list.d").symlink_to(outside / "etc")
            os.mkfifo(root / "etc/apt/sources.list")
            found = self.tree(root)
            self.assertEqual([fact["value"] for fact in found["facts"]], ["inside"])
            self.assertNotIn("Side", json.dumps(found))

    def test_whatever_stands_in_its_files_it_keeps_its_time(self) -> None:
        entry = "[Desktop Entry]\nType=Application\nName=a"
        sandbox = "var/lib/flatpak/app/org.a/current/active/files/share/metainfo/a.xml"
        with tempfile.TemporaryDirectory() as name:
            root = Path(name)
            for path, text in {
                "etc/os-release": "\n" * 40_000, "etc/locale.conf": "\n\t " * 30_000,
                "etc/apt/sources.list": f"deb {'a' * 40_000}\n" + "deb http://host/x y z\n" * 20_000,
                "usr/share/applications/a.desktop": f"{entry}{' ' * 40_000}b\n",
                "var/lib/flatpak/exports/share/applications/org.a.desktop": entry, sandbox: "<release " * 10_000,
            }.items():  # fmt: skip
                (root / path).parent.mkdir(parents=True, exist_ok=True)
                (root / path).write_text(text)
            found = self.tree(root)  # with patterns that took the square of each it would take minutes
            self.assertEqual([fact["value"] for fact in found["facts"] if "source" in fact["name"]], ["host"])

    def test_what_the_time_is_too_short_for_is_missing_and_the_rest_is_told(self) -> None:
        with tempfile.TemporaryDirectory() as name, mock.patch.object(probe, "WHOLE", -1.0):
            (Path(name) / "etc").mkdir()
            (Path(name) / "etc/os-release").write_text("ID=moor\n")
            missing = {each["what"]: each["why"] for each in probe.Probe(name).run()["missing"]}
        self.assertEqual(missing["system"], "TimeoutError: the time was over")

    def test_logins_of_package_sources_stay_there(self) -> None:
        for address, host in {
            "https://host/x": "host", "http://host:8080/": "host:8080", "http://[fd00::1]:80/x": "[fd00::1]:80", "file:/x": "",
            "cdrom://[Moor 1]/": "", "http:///x": "", "http://host": "host", "http://ho st/": "",
        }.items():  # fmt: skip
            self.assertEqual(host_of(address), host, address)
        for login in (
            "mina:p", "mina", "mina:p/ss", "mina@corp:hun/ter2", "mina:pa@ss/wo@rd/x", "mina:12345/secret", "mina:8080/p@ss",
            "mina/s3cret", "mina:s3 cret", "mina%3As3cret%40x", "8080/x", "",
        ):  # fmt: skip
            self.assertEqual(host_of(f"https://{login}@repo/x"), "", login)
        self.assertEqual(host_of("https://mina%3As3cret%40repo/x"), "")

    def test_a_tree_that_is_not_there_is_an_error(self) -> None:
        done = subprocess.run(
            [sys.executable, "-", "--root", "/no/such"], input=SOURCE, capture_output=True, text=True, check=False
        )
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertIn("there is no folder /no/such", done.stderr)

    def tree(self, root: Path) -> Any:
        done = subprocess.run(
            [sys.executable, "-", "--root", str(root)], input=SOURCE.encode(), capture_output=True, check=True
        )
        return json.loads(done.stdout)

    def test_software_is_what_menus_offer_with_the_versions_of_its_packages(self) -> None:
        entry = "[Desktop Entry]\nType=Application\nName={}\nName[de]=Anders\nExec=/opt/secret --key 1\nCategories={}\n"
        menus, boxed = "usr/share/applications", "var/lib/flatpak/exports/share/applications"
        files = {
            f"{menus}/write.desktop": entry.format("Writewell, the writer", "X-Own;Office;WordProcessor;"),
            f"{menus}/web.desktop": entry.format("Heronweb", "Network;WebBrowser;"),
            f"{menus}/sub/own.desktop": entry.format("Own", "X-Own;"),
            f"{menus}/hidden.desktop": entry.format("Hidden", "Office;") + "NoDisplay=true\n",
            f"{menus}/gone.desktop": entry.format("Gone", "Office;") + "Hidden=true\n",
            f"{menus}/link.desktop": "[Desktop Entry]\nType=Link\nName=Link\n",
            f"{menus}/action.desktop": entry.format("Actor", "Game;")
            + "[Desktop Action new]\nName=New\nNoDisplay=true\n",
            f"{boxed}/org.example.Hum.desktop": entry.format("Hum", "AudioVideo;Audio;"),
            "var/lib/flatpak/app/org.example.Hum/current/active/files/share/metainfo/a.xml": '<release version="2.1"/>',
        }
        databases = {
            "dpkg": {
                "var/lib/dpkg/status": "Package: writewell\nStatus: install ok installed\nVersion: 1:5.0.2+dfsg-3\n\nPackage: heronweb\nVersion: 141.0-1\n",
                "var/lib/dpkg/info/writewell:amd64.list": f"/.\n/{menus}/write.desktop\n",
                "var/lib/dpkg/info/heronweb.list": f"/{menus}/web.desktop\n",
            },
            "apk": {
                "lib/apk/db/installed": f"P:writewell\nV:5.0.2-r1\nF:{menus}\nR:write.desktop\n\nP:heronweb\nV:141.0-r0\nF:{menus}\nR:web.desktop\n"
            },
            "pacman": {
                "var/lib/pacman/local/writewell-5.0.2-1/desc": "%NAME%\nwritewell\n\n%VERSION%\n5.0.2-1\n",
                "var/lib/pacman/local/writewell-5.0.2-1/files": f"%FILES%\n{menus}/write.desktop\n",
                "var/lib/pacman/local/heronweb-141.0-1/desc": "%VERSION%\n1:141.0-1\n",
                "var/lib/pacman/local/heronweb-141.0-1/files": f"%FILES%\n{menus}/web.desktop\n",
            },
        }
        for database, more in databases.items():
            with self.subTest(database), tempfile.TemporaryDirectory() as name:
                for path, text in (files | more).items():
                    (Path(name) / path).parent.mkdir(parents=True, exist_ok=True)
                    (Path(name) / path).write_text(text)
                found = self.tree(Path(name))
                self.assertNotIn("secret", json.dumps(found))
                told = [(each["item"], each["version"], each["group"], each["from"]) for each in found["software"]]
                self.assertEqual(
                    sorted(told),
                    [
                        ("Actor", None, "games", None), ("Heronweb", "141.0", "browser", "repository"),
                        ("Hum", "2.1", "sound and video", "sandboxed"), ("Own", None, None, None),
                        ("Writewell the writer", "5.0.2", "office", "repository"),
                    ],
                )  # fmt: skip

    @unittest.skipUnless(
        ROOTS and os.geteuid() == 0, "METROGRAPH_ROOTS names no folder with root file systems made by debootstrap"
    )
    def test_two_other_releases_in_a_chroot(self) -> None:
        versions = set()
        for root in sorted(Path(ROOTS).iterdir()):
            shutil.copyfile(str(resources.files("metrograph.intake").joinpath("probe.py")), root / "tmp/probe.py")
            done = subprocess.run(["chroot", root, "python3", "/tmp/probe.py"], capture_output=True, check=True)  # noqa: S108
            probed = read_probed(done.stdout, root.name)
            versions |= {fact.value for fact in probed.facts if fact.name == "system version"}
            packages = next(reading.value for reading in probed.readings if reading.name == "packages")
            status = (root / "var/lib/dpkg/status").read_text()
            self.assertEqual(packages, status.count("Status: install ok installed"))
            self.assertTrue([fact for fact in probed.facts if fact.name.startswith("package source")])
            owned = next(each for each in probed.software if each.item == "Htop")
            version = status.partition("Package: htop\n")[2].partition("\nVersion: ")[2].partition("-")[0]
            self.assertEqual((owned.version, owned.group, owned.source), (version, "system", "repository"))
        self.assertGreaterEqual(len(versions), 2)


class Reading(unittest.TestCase):
    def test_what_is_good_becomes_cues(self) -> None:
        self.assertEqual(
            [format_line(cue) for cue in to_cues(read_probed(written(), "facts.json"))],
            [
                "fact kernel = 7.2.4",
                "fact host name = reading-room",
                "reading memory = 812 MiB | load rest | how probe",
                "reading boot time = 15.25 s | how probe",
                "reading packages = 1992 | how probe",
                "carries office: Writewell 5.0, Sheetwell | from repository",
                "carries sound and video: Loonplay 1.4 | from sandboxed",
                "layout found | table gpt | disk 25 GiB | part / ext4 24 GiB | swap file 2 GiB",
            ],
        )

    def test_a_mount_point_with_blanks_is_one_word_of_the_log(self) -> None:
        part = {"mount": "/my disk\u00a0x", "filesystem": "ext4", "size": 1 << 30}
        (cue,) = (cue for cue in to_cues(read_probed(written(layout={"parts": [part]}), "f")) if cue.verb == "layout")
        log, faults = read_log(HEADER + format_cue(cue))
        self.assertEqual((faults, log.cues[0].fields), ((), (("part", "/my\\040disk\\240x ext4 1 GiB"),)))

    def test_what_is_hostile_is_refused_whole(self) -> None:
        part = {"mount": "/", "filesystem": "ext4", "size": 1}
        for data in (
            b"", b"[]", b"\xff\xfe", b"{" * 100_000, b"[" * 100_000, b" " * (2 << 20), written(extra=1), written(state="asleep"),
            written(facts="many"), written(facts=[{"name": "a", "value": "\x1b[2J"}]), written(facts=[{"name": "a = b", "value": "x"}]),
            written(facts=[{"name": "a", "value": "x\n0:00 end done"}]), written(facts=[{"name": "a", "value": "x" * 600}]),
            written(facts=[{"name": "a", "value": "\u202etxt"}]), written(facts=[{"name": "a", "value": "x"}] * 600),
            written(readings=[{"name": "a", "value": -1}]), written(readings=[{"name": "a", "value": 1e300}]),
            written(readings=[{"name": "a", "value": 1, "unit": "furlongs"}]), written(taken="yesterday"),
            written(facts=[{"name": "\u00a0", "value": "x"}]), written(layout={"parts": [part | {"mount": "/../etc"}]}), written(layout={"parts": [part | {"mount": "etc"}]}),
            written(layout={"parts": [part | {"filesystem": "ext4 9 GiB"}]}), written(layout={"parts": [part | {"size": "big"}]}),
        ):  # fmt: skip
            with self.assertRaisesRegex(MetrographError, r"^facts.json is (not what|larger)") as refused:
                read_probed(data, "facts.json")
            self.assertTrue(str(refused.exception).isprintable())
            self.assertLess(len(str(refused.exception)), 300)


class Attaching(LogbookCase):
    def setUp(self) -> None:
        super().setUp()
        self.ok("begin", "larkmoor-8.0-heron", "--begun", "2026-05-02T10:04:11+02:00")
        for at, words in (("0:00", "screen Disk"), ("1:00", "layout whole disk | part / ext4 20 GiB | swap partition 2 GiB"),
                          ("9:00", "phase desktop"), ("40:00", "end done")):  # fmt: skip
            self.ok("cue", "--at", at, words)
        self.call = ("attach", "larkmoor-8.0-heron-1", "facts.json")
        (self.folder / "facts.json").write_bytes(written())

    def test_it_goes_where_the_probe_ran_and_once(self) -> None:
        done = self.run_command(*self.call)
        self.assertEqual(
            (done.returncode, done.stderr),
            (0, "metrograph: not found out: firewall: none that is known here was found\n"),
        )
        self.assertIn("25:49  fact kernel = 7.2.4", done.stdout)
        self.assertIn("not as the installer said: / has 24 GiB; 20 GiB was said.", done.stdout)
        self.assertIn("Swap is a file; partition was said.", done.stdout)
        shown = json.loads(self.run_command("show", "larkmoor-8.0-heron-1", "--json").stdout)
        self.assertEqual([reading["state"] for reading in shown["readings"]], ["installed"] * 3)
        self.assertEqual((shown["layout"]["method"], shown["found"]["method"]), ("whole disk", "found"))
        before = self.log()
        self.run_command(*self.call)
        self.assertEqual(self.log(), before)
        self.assertIn("Found there", self.run_command("show", "larkmoor-8.0-heron-1").stdout)

    def test_a_state_that_does_not_fit_and_a_time_outside_are_refused(self) -> None:
        self.assertIn(
            "the probe ran on a system that is installed, and at 5:00 the run is live",
            self.refused(2, *self.call, "--at", "5:00"),
        )
        (self.folder / "facts.json").write_bytes(written(taken="2026-05-02T08:00:00+02:00"))
        self.assertIn("the probe did not run within the run", self.refused(2, *self.call))
        (self.folder / "facts.json").write_bytes(written(facts=[{"name": "a", "value": "\x1b"}]))
        self.assertIn("nothing was taken from it", self.refused(2, *self.call))
        self.assertIn("no run", self.refused(2, "attach", "larkmoor-8.0-heron-7", "facts.json"))

    def test_the_command_and_the_script_say_the_same(self) -> None:
        script = self.ok("probe", "--script")
        self.assertEqual(script, SOURCE)
        here = json.loads(self.ok("probe"))
        self.assertEqual(here["metrograph-probe"], 1)
