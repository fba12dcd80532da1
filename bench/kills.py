"""Kills cues, recorders, and writes half done, a thousand in all, and counts what was lost: `python -m bench.kills`."""

from __future__ import annotations

import random
import re
import signal
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path
from threading import Event

import msgspec
import pexpect

from bench.measure import BIN, ENVIRONMENT, compile_sources, process
from bench.sharing_kills import kill_sharers
from metrograph.log.reader import read_log_bytes

RELEASE, RUN = "larkmoor-8.0-heron", "larkmoor-8.0-heron-1"
CUES, RECORDERS, HALF_WRITTEN, REPLACED, FILLED = 600, 250, 150, 200, 200
_AT_ONCE = 3
_EDITED = "the log saved by an editor, all the time"
# Writes some bytes of a cue and is gone: what a crash of the machine may leave.
_HALF = """
import os, signal, sys
from metrograph.store.local import files
def half(handle, data):
    os.write(handle, data[: int(sys.argv.pop())])
    os.kill(os.getpid(), signal.SIGKILL)
files._write_all = half
from metrograph.faces.cli.main import app
app(standalone_mode=False)
"""


class Toll(msgspec.Struct):
    """What became of some victims. lost: acknowledged, but not in the log exactly once; unread: faults in the log."""

    what: str
    killed: int = 0
    acknowledged: int = 0
    lost: int = 0
    unread: int = 0


def main() -> None:
    """Prints a table; exits with 1 when anything was lost or a log does not read."""
    compile_sources()
    chance = random.Random(20261123)
    tolls = [
        kill_cues(chance),
        kill_recorders(chance),
        kill_half_written(chance),
        replace_logs(chance),
        *fill_disks(chance),
    ]
    print(
        "| what happened | times | cues acknowledged | of them lost or doubled | faults in the logs |\n|---|---|---|---|---|"
    )
    for toll in tolls:
        print(f"| {toll.what} | {toll.killed} | {toll.acknowledged} | {toll.lost} | {toll.unread} |")
    print()
    whole = kill_sharers()
    # What an editor saved over, after it had looked and before it wrote, no other program can keep.
    sys.exit(not whole or any((toll.lost and toll.what != _EDITED) or toll.unread for toll in tolls))


def kill_cues(chance: random.Random, kills: int = CUES) -> Toll:
    """`metrograph cue`, several at once, each killed within the time it usually takes."""
    toll, acknowledged = Toll("`metrograph cue`, several at once"), []
    with tempfile.TemporaryDirectory() as name:
        folder = _logbook(Path(name))
        for turn in range(100 * kills):
            names = [f"c{turn}-{writer}" for writer in range(_AT_ONCE)]
            writers = [_start(folder, "cue", f"note {each} | x-long {'y' * 300}") for each in names]
            for writer in writers:
                time.sleep(chance.uniform(0, 0.25))
                writer.send_signal(signal.SIGKILL)
            for each, writer in zip(names, writers, strict=True):
                said, _ = writer.communicate()
                toll.killed += writer.returncode == -signal.SIGKILL
                acknowledged += [each] if said.endswith("\n") else []
            if toll.killed >= kills:
                break
        return _count(toll, folder, acknowledged)


def kill_recorders(chance: random.Random, kills: int = RECORDERS) -> Toll:
    """`metrograph record` in a terminal, typed at without a pause and killed within two seconds of its first cue."""
    toll = Toll("`metrograph record`, while typed at")
    with ThreadPoolExecutor(2) as pool, tempfile.TemporaryDirectory() as name:
        folder = _logbook(Path(name))
        seeds = [(turn, chance.uniform(0.0, 2.0)) for turn in range(kills)]
        acknowledged = [each for seen in pool.map(lambda seed: _type_and_kill(folder, *seed), seeds) for each in seen]
        toll.killed = kills
        return _count(toll, folder, acknowledged)


def kill_half_written(chance: random.Random, kills: int = HALF_WRITTEN) -> Toll:
    """`metrograph cue`, killed when some bytes of its cue are written; every third is followed by a whole one."""
    toll, acknowledged = Toll("`metrograph cue`, in the middle of its write"), []
    with tempfile.TemporaryDirectory() as name:
        folder = _logbook(Path(name))
        for turn in range(kills):
            words = f"note ünter {turn} | x-long {'é' * 20} | x-more z"
            killed = subprocess.run(
                [sys.executable, "-c", _HALF, "cue", words, str(chance.randrange(1, 90))],
                cwd=folder, env=ENVIRONMENT, capture_output=True, check=False,
            )  # fmt: skip
            toll.killed += killed.returncode == -signal.SIGKILL
            if turn % 3 == 0 and _start(folder, "cue", f"note whole-{turn}").communicate()[0].endswith("\n"):
                acknowledged.append(f"whole-{turn}")
        _start(folder, "cue", "note after all").communicate()
        return _count(toll, folder, acknowledged)


def replace_logs(chance: random.Random, times: int = REPLACED) -> Toll:
    """`metrograph cue`, while an editor saves another file in the log's place as soon as it has changed."""
    toll, acknowledged = Toll(_EDITED), []
    with tempfile.TemporaryDirectory() as name, ThreadPoolExecutor(1) as pool:
        folder = _logbook(Path(name))
        log, over = folder / f"runs/{RUN}.metro", Event()

        def edit() -> int:
            count = 0
            while not over.wait(chance.uniform(0, 0.05)):
                new, before = log.with_name("saved"), log.stat()
                new.write_bytes(log.read_bytes() + b"# a remark\n")
                # Like any editor, it asks before it saves over what has changed since it was read; here it does not save.
                if (log.stat().st_size, log.stat().st_ino) == (before.st_size, before.st_ino):
                    new.replace(log)
                    count += 1
            return count

        editor = pool.submit(edit)
        for turn in range(times):
            said, _ = _start(folder, "cue", f"note e{turn}").communicate()
            acknowledged += [f"e{turn}"] if said.endswith("\n") else []
        over.set()
        toll.killed = editor.result()
        return _count(toll, folder, acknowledged)


def fill_disks(chance: random.Random, times: int = FILLED) -> list[Toll]:
    """`metrograph cue`, on a small disk that is full again and again; empty where none can be mounted."""
    toll, acknowledged = Toll("a full disk"), []
    with tempfile.TemporaryDirectory() as name:
        mount = ["/bin/mount", "-t", "tmpfs", "-o", "size=96k", "tmpfs", name]
        if subprocess.run(mount, capture_output=True, check=False).returncode:
            return []
        try:
            folder = _logbook(Path(name))
            filler = folder / "filler"
            for turn in range(times):
                with suppress(OSError):
                    filler.write_bytes(b"x" * chance.randrange(200_000))
                done = _start(folder, "cue", f"note f{turn} | x-long {'y' * chance.randrange(400)}")
                said, _ = done.communicate()
                acknowledged += [f"f{turn}"] if said.endswith("\n") else []
                toll.killed += done.returncode == 3
                filler.write_bytes(b"")
            return [_count(toll, folder, acknowledged)]
        finally:
            subprocess.run(["/bin/umount", name], check=True)


def _type_and_kill(folder: Path, turn: int, after: float) -> list[str]:
    """Types notes at a recorder until it is killed; the names of those that it had acknowledged."""
    child = pexpect.spawn(
        str(BIN / "metrograph"), ["record"], cwd=str(folder), dimensions=(24, 80), encoding="utf-8",
        env=dict(ENVIRONMENT) | {"TERM": "xterm-256color", "LC_ALL": "C.UTF-8"}, timeout=60,
    )  # fmt: skip
    child.delaybeforesend = None
    child.expect("Enter: ")
    seen, count, end = "", 0, time.monotonic() + after
    while time.monotonic() < end:
        child.send(f"note r{turn}-{count}\r")
        count += 1
        seen += _drain(child, rest=0.03)
    child.kill(signal.SIGKILL)
    seen += _drain(child, rest=0.2)
    child.wait()  # on a busy machine a killed process takes a moment to be gone
    child.close()
    return [
        f"r{turn}-{number}" for number in range(count) if re.search(rf"saved: [0-9:]+ note r{turn}-{number}\b", seen)
    ]


def _drain(child: pexpect.spawn[str], rest: float) -> str:
    seen = ""
    try:
        while True:
            seen += child.read_nonblocking(65536, timeout=rest)
    except (pexpect.TIMEOUT, pexpect.EOF):
        return seen


def _count(toll: Toll, folder: Path, acknowledged: list[str]) -> Toll:
    log, faults = read_log_bytes((folder / f"runs/{RUN}.metro").read_bytes())
    noted = [cue.text for cue in log.cues]
    toll.acknowledged = len(acknowledged)
    toll.lost = sum(noted.count(each) != 1 for each in acknowledged)
    toll.unread = sum(fault.level == "error" for fault in faults)
    return toll


def _start(folder: Path, *words: str) -> subprocess.Popen[str]:
    return subprocess.Popen(
        [BIN / "metrograph", *words], cwd=folder, env=ENVIRONMENT, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
    )  # fmt: skip


def _logbook(folder: Path) -> Path:
    for words in (["init"], ["release", "new", RELEASE], ["rig", "new", "bench-vm"], ["begin", RELEASE]):
        process([BIN / "metrograph", *words], folder)()
    return folder


if __name__ == "__main__":
    main()
