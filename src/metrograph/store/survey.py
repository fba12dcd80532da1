"""Looks through logs, cards and settings for everything wrong or doubtful."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Iterator, Mapping
from pathlib import Path

from metrograph.core.errors import MetrographError
from metrograph.log.cues import Fault, Log
from metrograph.log.faults import suggest
from metrograph.privacy.leaks import leak_warnings
from metrograph.run.cards import Release, Rig
from metrograph.run.warnings import warnings
from metrograph.store.local.card_files import load_rigs, read_card
from metrograph.store.local.files import read_own
from metrograph.store.local.logbook import MARK, Logbook, shown_path
from metrograph.store.local.reader_settings import parse_readers
from metrograph.store.memory import log_file
from metrograph.store.reading import LogReader


def all_files(logbook: Logbook) -> list[Path]:
    """The settings, the cards and then the logs of a logbook."""
    cards = [logbook.card(group, name) for group in ("releases", "rigs") for name in logbook.card_names(group)]
    return [logbook.path / MARK, *cards, *(logbook.log(run) for run in logbook.run_names())]


def survey_files(files: Iterable[Path], logbook: Logbook | None) -> tuple[Fault, ...]:
    """The faults of these files, file by file and each by place.

    logbook: where cards are looked up that a log names; None to leave that out.

    Raises MetrographError when a file cannot be read at all.
    """
    reader = LogReader(logbook)
    strays = list(reader.faults)
    reader.faults.clear()
    rigs = load_rigs(logbook)
    known = {"release": logbook.card_names("releases"), "rig": logbook.card_names("rigs")} if logbook else {}
    faults: list[Fault] = strays
    for path in files:
        if path.name == MARK:
            faults += parse_readers(read_own(path, "logbook settings").decode("utf-8", "replace"), shown_path(path))[1]
        elif path.suffix == ".toml":
            faults += _of_card(path)
        else:
            faults += _of_log(path, reader, rigs, known)
    return tuple(faults)


def _of_card(path: Path) -> tuple[Fault, ...]:
    is_rig = path.resolve().parent.name == "rigs"
    return (read_card(path, Rig, shown_path(path)) if is_rig else read_card(path, Release, shown_path(path)))[1]


def _of_log(path: Path, reader: LogReader, rigs: Mapping[str, Rig], known: Mapping[str, list[str]]) -> list[Fault]:
    """The faults of one log.

    known: the ids of all cards, by the word that names them in a header; empty when there is no logbook.
    """
    if path.is_dir():
        raise MetrographError(f"{path} is a folder; name a log or a card, or no file for the whole logbook")
    selected = log_file(path)
    log = reader.log(selected.name, selected.store)
    faults = [*reader.faults, *warnings(log, reader.lexicon, rigs.get(log.header.rig)), *leak_warnings(log)]
    reader.faults.clear()
    for word, name in {"release": log.header.release, "rig": log.header.rig}.items():
        if name and word in known and name not in known[word]:
            message = f"the header names the {word} “{name}”, which has no card"
            line = _line_of(word, selected.store.read(selected.name))
            faults.append(Fault(log.file, line, 1, "error", message, name, suggest(name, known[word])))
    faults += _of_shots(log, path.resolve().parent.parent)
    return sorted(faults, key=lambda fault: (fault.line, fault.column))


def _of_shots(log: Log, folder: Path) -> Iterator[Fault]:
    """Pictures that are not there, or are not those that were kept. folder: of the logbook."""
    for cue in log.cues:
        told, picture = cue.field("sha256"), (folder / cue.text).resolve()
        if cue.verb != "shot" or told is None or not picture.is_relative_to(folder / "shots"):
            continue
        if not picture.is_file():
            yield Fault(log.file, cue.line, 1, "warning", "the picture is not there", cue.text, "the file in shots/")
        elif hashlib.sha256(read_own(picture, "picture")).hexdigest() != told.lower():
            message = "the picture is not the one that was kept: its checksum differs"
            yield Fault(log.file, cue.line, 1, "error", message, cue.text, "the picture as it was")


def _line_of(key: str, data: bytes) -> int:
    """The line of the header that begins with a key."""
    lines = data.decode("utf-8", "replace").split("\n")
    return next((number for number, line in enumerate(lines, 1) if line.startswith(f"{key}:")), 1)
