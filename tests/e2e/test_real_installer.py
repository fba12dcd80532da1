"""A real installer in a virtual machine, watched over its display and over its serial line; where there is one to be had.

METROGRAPH_INSTALLER names a folder with ``gtk`` and ``text`` below it, each with a kernel and its first file system. Another one, which runs
as a program on a virtual display with steps that do nothing, is watched where it is installed.
"""  # fmt: skip

from __future__ import annotations

import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from collections.abc import Callable, Sequence
from pathlib import Path

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
