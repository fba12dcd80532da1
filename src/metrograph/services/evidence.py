"""Takes in what was recorded elsewhere: timed notes, a probe's file, pictures, whole logs."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Sequence
from importlib import resources
from pathlib import Path

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.intake.notes import Notes
from metrograph.intake.probed import LARGEST, Probed, ProbeFile, check_state, read_probed
from metrograph.intake.source import Ingested, KeptPicture, Timing, cues_on_run_time, ingest
from metrograph.intake.whole_logs import Arrived, logs_from_csv, read_document, take_in
from metrograph.log.cues import Cue, Fault
from metrograph.log.faults import Unreadable
from metrograph.log.quantities.quantity import parse_length
from metrograph.log.quantities.times import EXPECTED_TIME, parse_time
from metrograph.run.disks import layout_differences
from metrograph.services.desk import Desk
from metrograph.store.clock import Instant
from metrograph.store.local.checksums import keep_picture, newest_picture
from metrograph.store.local.files import read_bytes
from metrograph.store.local.logbook import Logbook, shown_path
from metrograph.store.memory import find_run
from metrograph.store.reading import LogReader
from metrograph.words.runs import layout_difference


class Attached(msgspec.Struct, frozen=True):
    """The gain of a probe's file: cues, what it could not find out, where the disk is not as the installer said."""

    run: str
    cues: tuple[Cue, ...]
    missing: tuple[tuple[str, str], ...]
    differences: tuple[str, ...]


def attach(desk: Desk, book: Logbook, run: str, path: Path, at: str | None) -> Attached:
    """Puts what a probe found into a run. at: when it ran, where its own time is not meant."""
    name = find_run(book, run)
    probed = _read_probed(path)
    source, timing, reader = ProbeFile(probed), Timing(desk.started(), at), LogReader(book)
    log = reader.log(name)
    for cue in cues_on_run_time(source, log, timing)[:1]:
        check_state(probed, log, cue.at, reader.lexicon)
    taken = ingest(book, name, source, timing)
    folded = reader.run(name)
    differences = (
        layout_differences(folded.layout, folded.found)
        if folded.layout is not None and folded.found is not None
        else []
    )
    missing = tuple((each.what, each.why) for each in probed.missing)
    return Attached(name, taken.written, missing, tuple(map(layout_difference, differences)))


def _read_probed(path: Path) -> Probed:
    return read_probed(read_bytes(path, "probe's file", LARGEST), shown_path(path))


def keep_shot(desk: Desk, book: Logbook, run: str | None, path: Path, at: str | None) -> tuple[str, tuple[Cue, ...]]:
    """Keeps a picture, or the newest of a folder, as evidence; the run, and the cues that show it."""
    name = find_run(book, run)
    picture = keep_picture(book, newest_picture(path, _last_shot(book, name)) if path.is_dir() else path)
    return name, ingest(book, name, KeptPicture(picture), Timing(desk.started(), at)).cues


def _last_shot(book: Logbook, run: str) -> float:
    """Seconds since 1970 of the run's last picture, or of its beginning."""
    log = book.check_writable(run)
    begun = log.header.begun.timestamp() if log.header.begun else 0.0
    return begun + max((cue.at for cue in log.cues if cue.verb == "shot"), default=0) / 1000


class TakenNotes(msgspec.Struct, frozen=True):
    """The result of taking timed notes. faults: of lines that only begin like cues; as_cues: whether any may be one."""

    run: str
    ingested: Ingested
    faults: tuple[Fault, ...]
    as_cues: bool


class TakenFor(msgspec.Struct, frozen=True):
    """What lines of notes are taken for.

    cues: whether those in the language of the run log become what they say; faulty: whether what begins like a cue and
    is none is taken for a note, and else left out until it is mended.
    """

    cues: bool = False
    faulty: bool = False


def take_notes(
    book: Logbook, run: str | None, path: Path, timing: Timing, taken_for: TakenFor, dry_run: bool
) -> TakenNotes:
    """Turns timed notes into cues of a run."""
    source = Notes(read_bytes(path, "file of notes"), shown_path(path), taken_for.cues, taken_for.faulty)
    name = find_run(book, run)
    faults = () if taken_for.faulty else tuple(source.faults)
    return TakenNotes(name, ingest(book, name, source, timing, dry_run), faults, source.as_cues)


def timing_of(present: Instant, starts: str | None, cuts: Sequence[str]) -> Timing:
    """How a recording lies on a run's time; a cut whose length is not known exactly becomes one of the run.

    starts, cuts: as a person says them: ``-1:05``, ``12:30=8:00..9:00``; raises MetrographError.
    """
    exact, loose = [], []
    for cut in cuts:
        place, _, length = cut.partition("=")
        at = _time(place, "--cut")
        try:
            amount = parse_length(length.strip())
        except Unreadable as wrong:
            raise MetrographError(f"--cut “{cut}”: {wrong.sentence}") from wrong
        if amount.exact and not amount.about:
            exact.append((at, round(amount.low * 1000)))
        else:
            loose.append((at, length.strip()))
    begin = 0
    if starts is not None:
        begin = -_time(starts[1:], "--starts") if starts.startswith("-") else _time(starts, "--starts")
    return Timing(present, starts=begin, cuts=tuple(exact), loose=tuple(loose))


def _time(text: str, option: str) -> int:
    milliseconds = parse_time(text.strip())
    if milliseconds is None:
        raise MetrographError(f"{option} “{text}” cannot be read; expected: {EXPECTED_TIME}")
    return milliseconds


def take_document(book: Logbook, path: Path, dry_run: bool) -> list[Arrived]:
    """Takes in logs from a JSON document; a run that is there already is left as it is."""
    return take_in(book, read_document(read_bytes(path, "document"), shown_path(path)), dry_run)


def take_tables(book: Logbook, folder: Path, dry_run: bool) -> list[Arrived]:
    """Takes in logs from two tables; a run that is there already is left as it is."""
    headers, cues = (_table(folder / name) for name in ("headers.csv", "cues.csv"))
    return take_in(book, logs_from_csv(headers, cues), dry_run)


def _table(path: Path) -> str:
    try:
        return read_bytes(path, "table").decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise MetrographError(f"{shown_path(path)} is not UTF-8: {error}") from error


def probe_source() -> str:
    """The probe, as it is run on another system."""
    return resources.files("metrograph.intake").joinpath("probe.py").read_text("utf-8")


def probe_here(root: str) -> str:
    """What this system is, as JSON; raises MetrographError when the probe fails. root: another tree of files."""
    words = [sys.executable, "-I", "-", "--root", root]
    done = subprocess.run(  # noqa: S603 - our own file, run as it is run elsewhere
        words, input=probe_source(), capture_output=True, text=True, check=False
    )
    if done.returncode:
        raise MetrographError(f"the probe failed: {done.stderr.strip().rpartition('error: ')[2]}")
    return done.stdout
