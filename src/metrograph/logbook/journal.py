"""Begins runs and adds cues to them, so that a cue that was acknowledged is on the disk, whole and once."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from metrograph.errors import MetrographError
from metrograph.language.bodies import any_kind
from metrograph.language.edit import replace_header
from metrograph.language.reader import read_log_bytes
from metrograph.language.times import format_time
from metrograph.language.writer import format_cue, format_header
from metrograph.logbook.clock import ANCHOR, Instant, anchor, renewed
from metrograph.logbook.files import append, create, locked, read_bytes, replace
from metrograph.logbook.folder import Logbook, check_id, split_run, unknown
from metrograph.model.cues import Cue, Header, Log

_OPEN = ".open"


def begin(logbook: Logbook, header: Header, present: Instant) -> str:
    """Opens the next run of the header's release; returns its name.

    header: ``begun`` must be given. The clock's anchor is added here.
    """
    release = check_id(header.release, "release")
    begun = header.begun or present.wall
    clock = anchor(begun, present)
    others = (*header.others, (ANCHOR, clock)) if clock else header.others
    text = format_header(Header(release, header.rig, begun, others)) + "\n"
    with locked(logbook.runs):
        number = max((split_run(run)[1] for run in logbook.run_names(release)), default=0) + 1
        run = f"{release}-{number}"
        if not create(logbook.log(run), text):
            raise MetrographError(f"{logbook.log(run)} is there already")
        _write_open(logbook, [*_read_open(logbook), run])
    return run


def record(logbook: Logbook, run: str, make: Callable[[Log], Cue], present: Instant | None = None) -> Cue:
    """Adds one cue to a run and returns it when it is on the disk.

    make: gives the cue, from the log as it stands under the lock.
    present: the moment the cue goes by, when it goes by the clock of this machine.

    Raises MetrographError when the run has ended before the cue's time, NotWritableError when the disk refuses.
    """
    return record_all(logbook, run, lambda log: [make(log)], present)[0]


def record_all(
    logbook: Logbook, run: str, make: Callable[[Log], list[Cue]], present: Instant | None = None
) -> list[Cue]:
    """The same for several cues, of which all are written or none."""
    path = logbook.log(run)
    with locked(logbook.runs):
        log, torn = _read_to_write(path, run)
        cues = make(log)
        for cue in cues:
            _refuse_after_end(run, log, cue)
        if cues:
            _write(path, log, cues, torn, present)
        if any(cue.verb == "end" for cue in cues):
            note_open(logbook, run)
    return cues


def read_run(path: Path, run: str) -> Log:
    """A log that is to be written to; raises MetrographError when it has no start or is not UTF-8."""
    return _read_to_write(path, run)[0]


def parse_run(data: bytes, path: Path, run: str) -> Log:
    """The same from the bytes of its file."""
    log, faults = read_log_bytes(data, str(path), any_kind)
    if log.header.begun is None or any(fault.expected == "UTF-8 text" for fault in faults):
        fault = faults[0]
        raise MetrographError(f"{run} cannot be added to: {fault.file}:{fault.line}: {fault.message}")
    return log


def _read_to_write(path: Path, run: str) -> tuple[Log, str | None]:
    """A log, and its text with what was cut short set aside; None where nothing was.

    A process that is killed in the middle of writing leaves a line that cannot be read. It was never acknowledged, but
    a person may want it: it stays as a remark, and the log reads again.
    """
    data = read_bytes(path, "run log")
    if not data or data.endswith(b"\n"):
        return parse_run(data, path, run), None
    _, faults = read_log_bytes(data, str(path), any_kind)
    last = data.count(b"\n") + 1
    if last == 1 or not any(fault.line == last and fault.level == "error" for fault in faults):
        return parse_run(data, path, run), None
    whole, _, cut_short = data.rpartition(b"\n")
    text = whole + b"\n# cut short: " + cut_short.decode("utf-8", "backslashreplace").strip().encode() + b"\n"
    return parse_run(text, path, run), text.decode()


def _write(path: Path, log: Log, cues: list[Cue], torn: str | None, present: Instant | None) -> None:
    """Adds the cues; the whole file is written anew only when something above them changes."""
    written = "".join(map(format_cue, cues))
    earliest = max((cue.at for cue in log.cues), default=0)
    anchors = renewed(log.header, present, earliest) if present else None
    if torn is None and anchors is None:
        append(path, written)
        return
    text = torn if torn is not None else read_bytes(path, "run log").decode()
    text += "" if text.endswith("\n") else "\n"
    if anchors is not None:
        text = replace_header(text, ANCHOR, anchors)
    replace(path, text + written)


def find_run(logbook: Logbook, named: str | None) -> str:
    """The run that was named, or else the only one that is open; raises MetrographError when it cannot be told."""
    if named is not None:
        if not logbook.log(named).is_file():
            raise unknown("run", named, logbook.run_names(), "“metrograph runs” lists them")
        return named
    runs = open_runs(logbook)
    if not runs:
        raise MetrographError(
            "no run is open; “metrograph begin RELEASE --rig RIG” begins one, --run names one that has ended"
        )
    if len(runs) > 1:
        raise MetrographError(f"several runs are open ({', '.join(runs)}): say which with --run")
    return runs[0]


def open_runs(logbook: Logbook) -> list[str]:
    """The runs that have no end yet.

    A small file names those that were begun by command, so that a cue need not read the whole logbook; only when none
    of them is open are all logs looked at, for one that was written by hand.
    """
    listed = [run for run in _read_open(logbook) if _is_open(logbook, run)]
    return listed or [run for run in logbook.run_names() if _is_open(logbook, run)]


def note_open(logbook: Logbook, run: str) -> None:
    """Puts a run on the list of open ones, or takes it off, as its log now says; the caller holds the lock."""
    others = [each for each in _read_open(logbook) if each != run]
    _write_open(logbook, [*others, run] if _is_open(logbook, run) else others)


def _is_open(logbook: Logbook, run: str) -> bool:
    try:
        log, _ = read_log_bytes(logbook.log(run).read_bytes(), run, any_kind)
    except (OSError, MetrographError):
        return False
    return log.header.begun is not None and not any(cue.verb == "end" for cue in log.cues)


def _refuse_after_end(run: str, log: Log, cue: Cue) -> None:
    end = next((each for each in log.cues if each.verb == "end"), None)
    if end is not None and (cue.verb == "end" or cue.at > end.at):
        raise MetrographError(
            f"{run} ended at {format_time(end.at)}; a cue that was forgotten goes in with --at and an earlier time"
        )


def _read_open(logbook: Logbook) -> list[str]:
    try:
        return list(dict.fromkeys((logbook.runs / _OPEN).read_text("utf-8").split()))
    except (OSError, UnicodeDecodeError):
        return []


def _write_open(logbook: Logbook, runs: list[str]) -> None:
    replace(logbook.runs / _OPEN, "".join(f"{run}\n" for run in runs))
