"""Looks through logs, cards and settings for everything wrong or doubtful."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from metrograph.analysis.doubts import doubts
from metrograph.errors import MetrographError
from metrograph.language.suggest import suggest
from metrograph.logbook.cards import load_rigs, read_card
from metrograph.logbook.files import read_bytes
from metrograph.logbook.folder import MARK, Logbook
from metrograph.logbook.selection import Reader, shown_path
from metrograph.model.cards import Release, Rig
from metrograph.model.cues import Fault, Log


def all_files(logbook: Logbook) -> list[Path]:
    """The cards and then the logs of a logbook."""
    cards = [logbook.card(group, name) for group in ("releases", "rigs") for name in logbook.cards(group)]
    return [*cards, *(logbook.log(run) for run in logbook.run_names())]


def survey_files(files: Iterable[Path], logbook: Logbook | None) -> tuple[Fault, ...]:
    """The faults of these files, file by file and each by place.

    logbook: where cards are looked up that a log names; None to leave that out.

    Raises MetrographError when a file cannot be read at all.
    """
    reader = Reader(logbook)
    faults: list[Fault] = []
    for path in files:
        if path.suffix == ".toml" and path.name != MARK:
            is_rig = path.resolve().parent.name == "rigs"
            faults += (
                read_card(path, Rig, shown_path(path)) if is_rig else read_card(path, Release, shown_path(path))
            )[1]
        elif path.name != MARK:
            faults += _of_log(path, reader)
    return tuple(faults)


def _of_log(path: Path, reader: Reader) -> list[Fault]:
    if path.is_dir():
        raise MetrographError(f"{path} is a folder; name a log or a card, or no file for the whole logbook")
    log = reader.log(path)
    faults = [*reader.faults, *doubts(log, reader.lexicon, load_rigs(reader.logbook).get(log.header.rig))]
    reader.faults.clear()
    if reader.logbook is not None:
        faults += _unknown_names(path, log, reader.logbook)
    return sorted(faults, key=lambda fault: (fault.line, fault.column))


def _unknown_names(path: Path, log: Log, logbook: Logbook) -> list[Fault]:
    """Cards that the header names and the logbook does not have."""
    lines = read_bytes(path, "run log").decode("utf-8", "replace").splitlines()
    faults = []
    for word, name in {"release": log.header.release, "rig": log.header.rig}.items():
        known = logbook.cards(f"{word}s")
        if name and name not in known:
            line = next((number for number, text in enumerate(lines, 1) if text.startswith(f"{word}:")), 1)
            message = f"the header names the {word} “{name}”, which has no card"
            faults.append(Fault(log.file, line, 1, "error", message, name, suggest(name, known)))
    return faults
