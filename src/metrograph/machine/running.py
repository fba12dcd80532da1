"""Starts a machine and sees to it that it ends with whoever started it, also where that is killed."""

from __future__ import annotations

import ctypes
import fcntl
import os
import shutil
import signal
import subprocess
import tempfile
import time
from collections.abc import Sequence
from contextlib import ExitStack, suppress
from pathlib import Path

from metrograph.core.errors import MetrographError
from metrograph.machine.build import Build
from metrograph.machine.command_words import DISK_PROGRAM, PROGRAM, MachineFolder, command_of, firmware_of
from metrograph.machine.control import Control

_DIES_WITH_PARENT = 1  # PR_SET_PDEATHSIG, prctl(2)
_FIRST = 0.4  # seconds in which processors that cannot run a machine have failed
_PREFIX = "machine-"
_LEAVES = 5.0  # seconds that a machine has to end in


class NotAcceleratedError(MetrographError):
    """A machine that the computer's processors began to run, and could not; without them it may."""


def check_machine(build: Build) -> None:
    """Raises MetrographError where something is missing that a machine takes, and says what brings it."""
    from importlib.util import find_spec

    if find_spec("qemu") is None:
        raise MetrographError("to start machines, the extra has to be installed: pip install 'metrograph[machine]'")
    missing = [program for program in (PROGRAM, DISK_PROGRAM) if shutil.which(program) is None]
    if missing:
        raise MetrographError(
            f"there is no {' and no '.join(missing)} here; on Debian, the packages qemu-system-x86 and qemu-utils have"
            " them"
        )
    firmware_of(build)


def _sweep(below: Path) -> None:
    """Takes away what is left of machines whose command was killed: nobody holds their lock any more."""
    for folder in below.glob(f"{_PREFIX}*"):
        with suppress(OSError):
            os.close(_locked(folder))
            shutil.rmtree(folder)


def _locked(folder: Path) -> int:
    """Holds the lock of a machine's folder; raises OSError where another does. The machine itself does not."""
    lock = os.open(folder / "lock", os.O_CREAT | os.O_RDWR | os.O_CLOEXEC, 0o600)
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(lock)
        raise
    return lock


class RunningMachine:
    """A machine with its folders, which are made and taken away with it. control: what asks it."""

    def __init__(self, build: Build, image: Path, below: Path) -> None:
        """Raises MetrographError when it cannot be started; then nothing of it is left.

        below: the folder that machines lie in, with room for their disks.
        """
        below.mkdir(parents=True, exist_ok=True)
        _sweep(below)
        with ExitStack() as made:
            # Both are for nobody else to read.
            folder = made.enter_context(tempfile.TemporaryDirectory(prefix=_PREFIX, dir=below))
            sockets = made.enter_context(tempfile.TemporaryDirectory(prefix="metrograph-"))
            self.files = MachineFolder(Path(folder), Path(sockets))
            made.callback(os.close, _locked(self.files.path))
            self._make_disk(build)
            process = _started(command_of(build, self.files, image))
            made.callback(_stop, process)
            try:
                self.control = Control(self.files.control, lambda: process.poll() is None)
            except MetrographError as error:
                raise MetrographError(f"the machine cannot be started: {_last_words(process) or error}") from error
            made.callback(self.control.close)
            self._made = made.pop_all()

    def __enter__(self) -> RunningMachine:  # noqa: PYI034 - there is no other kind of it
        return self

    def __exit__(self, *_: object) -> None:
        self.end()

    def power_on(self) -> None:
        """Until now nothing has run: what is looked at first is its first moment.

        Raises NotAcceleratedError when this computer's processors cannot run it after all.
        """
        self.control.ask("cont")
        time.sleep(_FIRST)
        if self.control.ask("query-status").get("status") == "internal-error":
            raise NotAcceleratedError("this computer's processors cannot run the machine")

    def end(self) -> None:
        """Ends it and takes its folders away."""
        self._made.close()

    def _make_disk(self, build: Build) -> None:
        """Raises MetrographError where there is no room for it, or no firmware."""
        try:
            subprocess.run(  # noqa: S603 - its words are ours
                [DISK_PROGRAM, "create", "-q", "-f", "qcow2", str(self.files.disk), str(build.disk)],
                check=True, capture_output=True,
            )  # fmt: skip
            firmware = firmware_of(build)
            if firmware is not None:
                shutil.copyfile(firmware[1], self.files.variables)
        except (OSError, subprocess.SubprocessError) as error:
            raise MetrographError(f"the machine's disk cannot be made: {error}") from error


def _started(command: Sequence[str]) -> subprocess.Popen[bytes]:
    """The machine's process, which ends when this one does, in whatever way."""
    mother = os.getpid()

    def die_with_it() -> None:
        ctypes.CDLL(None).prctl(_DIES_WITH_PARENT, signal.SIGKILL)
        if os.getppid() != mother:  # it died before this was said
            os._exit(1)

    try:
        # In a session of its own: who interrupts the command has not switched the machine off.
        return subprocess.Popen(  # noqa: S603 - its words are ours
            command, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE,
            preexec_fn=die_with_it, start_new_session=True,  # noqa: PLW1509 - nothing runs beside it yet
        )  # fmt: skip
    except OSError as error:
        raise MetrographError(f"the machine cannot be started: {error}") from error


def _stop(process: subprocess.Popen[bytes]) -> None:
    process.terminate()
    try:
        process.wait(_LEAVES)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait()
    if process.stderr is not None:
        process.stderr.close()


def _last_words(process: subprocess.Popen[bytes]) -> str:
    """What a machine said before it ended by itself; nothing while it runs."""
    if process.poll() is None or process.stderr is None:
        return ""
    said = process.stderr.read().decode("utf-8", "replace").strip().splitlines()
    return said[-1].removeprefix(f"{PROGRAM}: ") if said else ""
