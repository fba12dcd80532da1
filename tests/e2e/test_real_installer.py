"""A real installer in a virtual machine, watched over its display and over its serial line; where there is one to be had.

METROGRAPH_INSTALLER names a folder with ``gtk`` and ``text`` below it, each with a kernel and its first file system. Another one, which runs
as a program on a virtual display with steps that do nothing, is watched where it is installed.
"""  # fmt: skip

from __future__ import annotations

import os
import shutil
import signal
import socket
import struct
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from collections.abc import Callable, Sequence
from pathlib import Path

from metrograph.run.cards import Rig
from metrograph.store.local.card_files import new_card
from metrograph.store.local.logbook import Logbook
from tests.e2e.case import LogbookCase

_FOLDER = os.environ.get("METROGRAPH_INSTALLER")
_QEMU = shutil.which("qemu-system-x86_64")
_PATIENCE = 240  # seconds for one screen, without acceleration on a busy machine
_WANTED = ("Select a language", "Select your location", "Configure the keyboard")


@unittest.skipUnless(
    _FOLDER and _QEMU, "no installer to be booted: METROGRAPH_INSTALLER is not set, or there is no qemu"
)
class RealInstaller(LogbookCase):
    def test_a_graphical_one_over_its_display(self) -> None:
        port = _free_port()
        machine = self.boot("gtk", "vga=788", "-vga", "std", "-vnc", f"127.0.0.1:{port - 5900}")
        self.answer(machine, f"rfb://127.0.0.1:{port}")

    def test_one_in_text_over_its_display(self) -> None:
        port = _free_port()
        machine = self.boot("text", "vga=788", "-vga", "std", "-vnc", f"127.0.0.1:{port - 5900}")
        self.answer(machine, f"rfb://127.0.0.1:{port}")

    def test_one_in_text_over_its_serial_line(self) -> None:
        line = self.folder / "line"
        self.boot("text", "console=ttyS0", "-vga", "none", "-serial", f"unix:{line},server,nowait")
        self.watch(f"serial:{line}", lambda _: None, _WANTED[:1])

    def boot(self, kind: str, words: str, *more: str) -> Callable[[str], None]:
        """Starts the machine; gives what presses a key."""
        folder = next(Path(_FOLDER or "").glob(f"{kind}/**/linux")).parent
        monitor = Path(tempfile.mkdtemp(dir=self.folder)) / "monitor"
        machine = subprocess.Popen(
            [str(_QEMU), "-m", "1024", "-display", "none", "-nic", "none", "-kernel", str(folder / "linux"), "-initrd", str(folder / "initrd.gz"),
             "-append", words, "-monitor", f"unix:{monitor},server,nowait", *more],
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        self.addCleanup(machine.wait)
        self.addCleanup(machine.kill)
        until = time.monotonic() + 20
        while not monitor.exists() and time.monotonic() < until:
            time.sleep(0.2)
        link = socket.socket(socket.AF_UNIX)
        self.addCleanup(link.close)
        link.connect(str(monitor))
        threading.Thread(target=_drain, args=(link,), daemon=True).start()
        return lambda key: link.sendall(f"sendkey {key}\n".encode())

    def answer(self, press: Callable[[str], None], source: str) -> None:
        """Watches, and answers every screen with Enter."""
        self.watch(source, press, _WANTED)

    def watch(self, source: str, press: Callable[[str], None], wanted: Sequence[str]) -> None:
        """Watches until all that is wanted was seen, and looks at the draft."""
        time.sleep(1)
        watching = subprocess.Popen(
            [str(Path(sys.executable).with_name("metrograph")), "watch", source, "larkmoor-8.0-heron", "--rig", "bench-vm"],
            cwd=self.folder, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
        )  # fmt: skip
        self.addCleanup(watching.kill)
        said: list[str] = []
        assert watching.stdout is not None
        reader = threading.Thread(target=said.extend, args=(watching.stdout,), daemon=True)
        reader.start()
        for title in wanted:
            until = time.monotonic() + _PATIENCE
            while not any(f"screen {title}" in line for line in said):
                self.assertLess(time.monotonic(), until, f"{title} was not seen: {''.join(said)}")
                time.sleep(0.5)
            time.sleep(2)
            press("ret")
        watching.send_signal(signal.SIGINT)
        watching.wait(30)
        draft = next((self.folder / "drafts").glob("*.metro")).read_text()
        for title in wanted:
            self.assertIn(f"screen {title}\n", draft)


@unittest.skipUnless(
    _FOLDER and _QEMU and all(map(shutil.which, ("grub-mkrescue", "xorriso", "qemu-img"))),
    "no image to be booted: METROGRAPH_INSTALLER is not set, or grub-mkrescue, xorriso or qemu is not there",
)
class BootedImage(LogbookCase):
    """From an image to a draft: the machine is made of the rig's card, acted on through the viewer's port, and begins anew."""

    def test_from_an_image_to_a_draft_with_its_restart_and_nothing_is_left(self) -> None:
        new_card(
            Logbook(self.folder), "small-vm",
            Rig(kind="virtual", firmware="bios", processors=1, memory=1 << 30, disk=2 << 30, network="none", display="1024x768"),
        )  # fmt: skip
        command = subprocess.Popen(
            [str(Path(sys.executable).with_name("metrograph")), "boot", "larkmoor-8.0-heron", "--rig", "small-vm", "--image", str(self.image()),
             "--no-acceleration"],
            cwd=self.folder, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
        )  # fmt: skip
        self.addCleanup(command.kill)
        assert command.stdout is not None and command.stderr is not None
        said: list[str] = []
        threading.Thread(target=said.extend, args=(command.stdout,), daemon=True).start()
        port = next(line for line in command.stderr if "127.0.0.1" in line).partition("127.0.0.1:")[2].partition(";")[0]
        press = _viewer(int(port))
        for title in _WANTED[:2]:
            until = time.monotonic() + _PATIENCE
            while not any(f"screen {title}" in line for line in said):
                self.assertLess(time.monotonic(), until, f"{title} was not seen: {''.join(said)}")
                time.sleep(0.5)
            time.sleep(2)
            press()
        command.send_signal(signal.SIGINT)
        command.communicate(timeout=60)
        draft = next((self.folder / "drafts").glob("*.metro")).read_text()
        for title in _WANTED[:2]:
            self.assertIn(f"screen {title}\n", draft)
        self.assertIn(
            "machine: 1 processor, memory 1 GiB, disk 2 GiB, BIOS, 1024x768, no network, not accelerated", draft
        )
        self.assertNotIn("phase restart", draft, "nothing was copied")
        self.assertEqual(list((self.folder / ".cache/machines").iterdir()), [])

    def image(self) -> Path:
        """A medium that boots the installer."""
        folder = next(Path(_FOLDER or "").glob("text/**/linux")).parent
        inside = self.folder / "inside/boot/grub"
        inside.mkdir(parents=True)
        for name in ("linux", "initrd.gz"):
            shutil.copyfile(folder / name, inside.parent / name)
        (inside / "grub.cfg").write_text(
            'set timeout=0\nmenuentry "Install" {\nlinux /boot/linux vga=788\ninitrd /boot/initrd.gz\n}\n'
        )
        image = self.folder / "small.iso"
        subprocess.run(["grub-mkrescue", "-o", image, self.folder / "inside"], check=True, capture_output=True)
        return image


def _viewer(port: int) -> Callable[[], None]:
    """Connects as a person's viewer does; gives what presses Enter."""
    link = socket.create_connection(("127.0.0.1", port), timeout=20)
    link.recv(12, socket.MSG_WAITALL)
    link.sendall(b"RFB 003.008\n\x01\x01")
    threading.Thread(target=_drain, args=(link,), daemon=True).start()
    enter = b"".join(struct.pack(">BBxxI", 4, down, 0xFF0D) for down in (1, 0))
    return lambda: link.sendall(enter)


_PROGRAMS = ("calamares", "Xvfb", "x11vnc", "xdotool", "openbox")
_MODULES = "/usr/lib/x86_64-linux-gnu/calamares/modules"
_SETTINGS = f"""\
modules-search: [ local, {_MODULES} ]
sequence:
- show: [ welcome, locale, keyboard, tracking, summary ]
- exec: [ dummypython ]
- show: [ finished ]
branding: default
prompt-install: false
dont-chroot: true
oem-setup: false
disable-cancel: false
disable-cancel-during-exec: false
"""
_WELCOME = """\
showSupportUrl: false
showKnownIssuesUrl: false
showReleaseNotesUrl: false
requirements: { requiredStorage: 0.1, requiredRam: 0.1, check: [], required: [] }
"""


@unittest.skipUnless(
    _FOLDER and all(map(shutil.which, _PROGRAMS)), f"no installer on a virtual display: it takes {', '.join(_PROGRAMS)}"
)
class InstallerOnADisplay(LogbookCase):
    def test_screens_without_a_heading_are_told_by_their_list_of_steps(self) -> None:
        settings = self.folder / "settings"
        (settings / "modules").mkdir(parents=True)
        (settings / "settings.conf").write_text(_SETTINGS)
        (settings / "modules/welcome.conf").write_text(_WELCOME)
        (settings / "modules/locale.conf").write_text('region: "Europe"\nzone: "London"\n')
        for name in ("qml", "branding"):
            (settings / name).symlink_to(f"/usr/share/calamares/{name}")
        port = _free_port()
        world = os.environ | {
            "DISPLAY": ":77",
            "QT_QPA_PLATFORM": "xcb",
            "XDG_RUNTIME_DIR": str(self.folder),
            "LANG": "C.UTF-8",
        }
        self.start(["Xvfb", ":77", "-screen", "0", "1280x800x24"], world, 2)
        self.start(["openbox"], world, 1)
        self.start(
            ["x11vnc", "-display", ":77", "-rfbport", str(port), "-forever", "-shared", "-nopw", "-noshm", "-quiet"],
            world,
            3,
        )
        watching = subprocess.Popen(
            [str(Path(sys.executable).with_name("metrograph")), "watch", f"rfb://127.0.0.1:{port}", "larkmoor-8.0-heron", "--rig", "bench-vm"],
            cwd=self.folder, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True,
        )  # fmt: skip
        self.addCleanup(watching.kill)
        self.start(["calamares", "-c", str(settings), "-d"], world, 15)
        for _ in range(4):
            subprocess.run(["xdotool", "key", "alt+n"], env=world, check=True)
            time.sleep(6)
        watching.send_signal(signal.SIGINT)
        self.assertEqual(watching.wait(30), 0)
        draft = next((self.folder / "drafts").glob("*.metro")).read_text()
        for title in ("Location", "Keyboard", "Feedback", "Summary"):
            self.assertIn(f"screen {title}\n", draft)

    def start(self, words: list[str], world: dict[str, str], wait: float) -> None:
        program = subprocess.Popen(words, env=world, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        self.addCleanup(program.wait)
        self.addCleanup(program.kill)
        time.sleep(wait)


def _drain(link: socket.socket) -> None:
    try:
        while link.recv(4096):
            pass
    except OSError:
        return


def _free_port() -> int:
    for port in range(5930, 5990):
        with socket.socket() as link:
            if link.connect_ex(("127.0.0.1", port)):
                return port
    raise AssertionError("no port is free")
