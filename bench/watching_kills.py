"""Kills `scan` and `watch` at any moment, and counts what they had shown and lost: `python -m bench.watching_kills`."""

from __future__ import annotations

import random
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
from importlib import resources
from pathlib import Path

import msgspec

from bench.films.painter import paint
from bench.measure import BIN, ENVIRONMENT, compile_sources, process
from bench.watching_speed import shown, theme
from metrograph.log.quantities.times import parse_time
from metrograph.log.reader import read_log_bytes

RELEASE = "larkmoor-9.0-heron"
FILM = resources.files("metrograph.demo").joinpath("recordings", f"{RELEASE}.mp4")
SCANS, WATCHES = 60, 40
_EVERY = 1.2  # seconds from one picture of a growing folder to the next
_SHOWN = re.compile(r"^ *([0-9:]+)  [01]\.\d\d  (.+)$")


class Toll(msgspec.Struct):
    """What became of some victims. shown: proposals or pages that were there; lost: those that are not any more."""

    what: str
    killed: int = 0
    shown: int = 0
    lost: int = 0
    unread: int = 0


def main() -> None:
    """Prints a table; exits with 1 when anything was lost or a draft does not read."""
    compile_sources()
    chance = random.Random(20261126)
    tolls = [kill_scans(chance), kill_watches(chance)]
    print("| what was killed | times | shown or kept | of them lost | faults in the drafts |\n|---|---|---|---|---|")
    for toll in tolls:
        print(f"| {toll.what} | {toll.killed} | {toll.shown} | {toll.lost} | {toll.unread} |")
    sys.exit(any(toll.lost or toll.unread for toll in tolls))


def kill_scans(chance: random.Random) -> Toll:
    """One film, each time gone on with where it was killed; now and then begun anew. In the end it is as if never killed."""
    toll = Toll("`metrograph scan`, gone on with each time")
    with tempfile.TemporaryDirectory() as name:
        folder = _logbook(Path(name))
        words = ["scan", str(FILM), RELEASE, "--rig", "bench-vm", "--no-pictures"]
        whole = _titles(folder, words)
        shutil.rmtree(folder / "drafts")
        kept = 0
        for turn in range(SCANS):
            anew = turn % 6 == 0
            _run_and_kill([*words, *(["--anew"] if anew else [])], folder, chance.uniform(0.6, 3.5))
            pages = sum(path.read_bytes().count(b"\n") for path in folder.rglob("pages.jsonl"))
            # Begun anew, what was there before is taken away on purpose.
            toll.lost += 0 if anew else max(kept - pages, 0)
            toll.shown, toll.killed, kept = toll.shown + max(pages - kept, 0), toll.killed + 1, pages
            toll.unread += _faults(folder)
        toll.lost += len(set(whole) - set(_titles(folder, words)))
    return toll


def kill_watches(chance: random.Random) -> Toll:
    """A folder that grows, watched and killed; every proposal that was shown has to be in its draft."""
    toll = Toll("`metrograph watch`, of a growing folder")
    with tempfile.TemporaryDirectory() as name:
        folder = _logbook(Path(name))
        pictures = [paint(theme((1280, 800), 1), screen) for _, screen in shown(8)[::6]]
        for _ in range(WATCHES):
            grows = Path(name) / "grows"
            shutil.rmtree(grows, ignore_errors=True)
            shutil.rmtree(folder / "drafts", ignore_errors=True)
            grows.mkdir()
            over = threading.Event()

            def feed(grows: Path = grows, over: threading.Event = over) -> None:
                for number, picture in enumerate(pictures):
                    picture.save(grows / "part", "PNG")
                    (grows / "part").replace(grows / f"{number:02}.png")
                    if over.wait(_EVERY):
                        return

            feeder = threading.Thread(target=feed)
            feeder.start()
            said = _run_and_kill(
                ["watch", f"folder:{grows}", RELEASE, "--rig", "bench-vm"], folder, chance.uniform(1, 6)
            )
            over.set()
            feeder.join()
            toll.killed += 1
            # An answer is that of the moment at which its screen went, which moves on while it is in front.
            moments = {
                parse_time(found[1])
                for line in said.splitlines()
                if (found := _SHOWN.match(line)) and found[2].startswith("screen ")
            }
            there = {cue.at // 1000 * 1000 for log in _drafts(folder) for cue in log.cues}
            toll.shown += len(moments)
            toll.lost += len(moments - there)
            toll.unread += _faults(folder)
    return toll


def _run_and_kill(words: list[str], folder: Path, after: float) -> str:
    child = subprocess.Popen(
        [BIN / "metrograph", *words], cwd=folder, env=ENVIRONMENT, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
    )  # fmt: skip
    time.sleep(after)
    child.send_signal(signal.SIGKILL)
    return child.communicate()[0]


def _titles(folder: Path, words: list[str]) -> list[str]:
    """What a whole scan says."""
    process([BIN / "metrograph", *words], folder)()
    return [cue.text for log in _drafts(folder) for cue in log.cues if cue.verb == "screen"]


def _drafts(folder: Path) -> list:  # type: ignore[type-arg]
    return [read_log_bytes(path.read_bytes())[0] for path in sorted((folder / "drafts").glob("*.metro"))]


def _faults(folder: Path) -> int:
    return sum(
        fault.level == "error"
        for path in (folder / "drafts").glob("*.metro")
        for fault in read_log_bytes(path.read_bytes())[1]
    )


def _logbook(folder: Path) -> Path:
    for words in (["init"], ["release", "new", RELEASE], ["rig", "new", "bench-vm"]):
        process([BIN / "metrograph", *words], folder)()
    return folder


if __name__ == "__main__":
    main()
