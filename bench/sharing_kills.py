"""Kills those who write to a shared archive at any moment, and counts what was lost or doubled."""

from __future__ import annotations

import random
import tempfile
import time
from multiprocessing import get_context
from multiprocessing.context import ForkServerProcess
from pathlib import Path

import msgspec

from metrograph.archive.building import Workers, build
from metrograph.archive.checking import check
from metrograph.archive.place import ArchivePlace
from metrograph.archive.querying import query
from metrograph.archive.shared_logs import log_names, put, shared_text
from metrograph.core.errors import MetrographError
from metrograph.log.reader import read_log
from metrograph.run.cards import Release, Rig

KILLS = 1000
_ROUNDS = 25  # of an archive, in each of which two writers are killed, if they are not done
_LOGS = 4  # that a writer shares before it builds, twice each
_LONGEST = 0.9  # seconds after which a writer is killed at the latest: by then it has built
_RUN = Path(__file__).parent.parent / "src/metrograph/demo/logbook/runs/larkmoor-7.0-heron-1.metro"
_ONE = Workers(cores=1)
_CONTEXT = get_context("forkserver")


class Toll(msgspec.Struct):
    """What became of it. shared: logs that a writer had put there; questions: of readers meanwhile, refused: of them."""

    kills: int = 0
    shared: int = 0
    lost: int = 0
    doubled: int = 0
    questions: int = 0
    refused: int = 0
    harmful: int = 0


def write(url: str, who: str, told: Path) -> None:
    """Shares some logs twice, telling each; makes parts of them, and of many parts one."""
    place, log = ArchivePlace(url), read_log(_RUN.read_text())[0]
    for number in range(_LOGS):
        data = shared_text(log, f"larkmoor-7.0-heron-{number}", who, Rig(memory=4 << 30), Release("Larkmoor"))
        name, _ = put(place, data)
        with told.open("a") as file:
            file.write(f"{name}\n")
        put(place, data)
    build(place, _ONE, size=2)


def read(url: str, until: Path, told: Path) -> None:
    """Asks over and over, until it is told to end: what was there is there, each log once, and no question fails."""
    place, most = ArchivePlace(url), 0
    while not until.exists():
        try:
            ((runs, logs),) = query(place, "SELECT count(*), count(DISTINCT log) FROM runs").rows
            word = "wrong" if runs != logs or runs < most else "fine"
            most = max(most, runs)
        except MetrographError as error:
            word = f"refused {error}"
        with told.open("a") as file:
            file.write(f"{word}\n")


def killed_once(chance: random.Random, toll: Toll) -> None:
    """One archive: writers that are killed, a reader beside them, and what is left in the end."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        url, shared, asked, over = f"{name}/archive", folder / "shared", folder / "asked", folder / "over"
        reader = _started(read, url, over, asked)
        for number in range(_ROUNDS):
            writers = [_started(write, url, f"{who} {number}", shared) for who in ("One", "Two")]
            for writer in sorted(writers, key=lambda _: chance.random()):
                time.sleep(chance.uniform(0, _LONGEST))
                writer.kill()
            for writer in writers:
                writer.join()
                toll.kills += writer.exitcode != 0  # one that was done before is not counted
        over.touch()
        reader.join()
        _judge(ArchivePlace(url), set(shared.read_text().split()), asked.read_text().splitlines(), toll)


def _started(work: object, *words: object) -> ForkServerProcess:
    process = _CONTEXT.Process(target=work, args=words)  # type: ignore[arg-type]
    process.start()
    return process


def _judge(place: ArchivePlace, shared: set[str], asked: list[str], toll: Toll) -> None:
    build(place, _ONE)
    rows = [row[0] for row in query(place, "SELECT log FROM runs", 100_000).rows]
    toll.shared += len(shared)
    toll.lost += len(shared - set(rows)) + len(set(log_names(place)) - set(rows))
    toll.doubled += len(rows) - len(set(rows))
    toll.questions += len(asked)
    toll.refused += sum(word != "fine" for word in asked)
    harmful = [found for found in check(place, _ONE).found if not found.harmless]
    toll.harmful += len(harmful)
    for word in sorted({word for word in asked if word != "fine"}):
        print(word)
    for found in harmful:
        print(f"{found.file}: {found.damage}, {found.detail}")


def kill_sharers(kills: int = KILLS) -> bool:
    """Prints a table; whether nothing was lost, doubled, refused or damaged."""
    _CONTEXT.set_forkserver_preload(["bench.sharing_kills"])
    chance, toll = random.Random(20261127), Toll()
    while toll.kills < kills:
        killed_once(chance, toll)
    figures = (toll.kills, toll.shared, toll.lost, toll.doubled, toll.questions, toll.refused, toll.harmful)
    print("| writers killed | logs shared | lost | doubled | questions meanwhile | refused or wrong | damage |")
    print("|---|---|---|---|---|---|---|")
    print(f"| {' | '.join(map(str, figures))} |")
    return not any((toll.lost, toll.doubled, toll.refused, toll.harmful))
