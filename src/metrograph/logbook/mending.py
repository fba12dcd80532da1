"""Takes cues back and changes them in their log, whole or not at all."""

from __future__ import annotations

from collections.abc import Callable

from metrograph.errors import MetrographError
from metrograph.language.edit import cue_block, replace_block
from metrograph.language.faults import Faults
from metrograph.language.header import read_header
from metrograph.language.writer import format_cue
from metrograph.logbook.files import locked, read_bytes, replace
from metrograph.logbook.folder import Logbook
from metrograph.logbook.journal import note_open, parse_run
from metrograph.model.cues import Cue, Log


def take_back(logbook: Logbook, run: str, line: int | None) -> str:
    """Takes one cue out of a log: the one that was written last, or the one that begins on a line.

    Returns its text as it stood. Raises MetrographError when there is no such cue.
    """
    with locked(logbook.runs):
        log, text = _read(logbook, run)
        if line is None and not log.cues:
            raise MetrographError(f"{run} has no cue to take back")
        block = _block(text, run, log.cues[-1].line if line is None else line)
        replace(logbook.log(run), replace_block(text, block, ""))
        note_open(logbook, run)
        return "\n".join(text.split("\n")[slice(*block)])


def change(logbook: Logbook, run: str, line: int, make: Callable[[Log, Cue | None], Cue]) -> str:
    """Puts another cue in the place of the one that begins on a line, readable or not.

    make: gives the new cue, from the log and the old cue; the old one is None when it cannot be read.

    Returns the new cue as it stands in the log. Raises MetrographError when no cue begins there.
    """
    with locked(logbook.runs):
        log, text = _read(logbook, run)
        block = _block(text, run, line)
        written = format_cue(make(log, next((each for each in log.cues if each.line == line), None)))
        replace(logbook.log(run), replace_block(text, block, written))
        note_open(logbook, run)
        return written


def _read(logbook: Logbook, run: str) -> tuple[Log, str]:
    path = logbook.log(run)
    data = read_bytes(path, "run log")
    return parse_run(data, path, run), data.decode()


def _block(text: str, run: str, line: int) -> tuple[int, int]:
    """The lines of the cue that begins on a line, be it readable or not; raises MetrographError when none does."""
    lines = text.split("\n")
    _, start = read_header(lines, Faults(run))
    if not start < line <= len(lines) or lines[line - 1][:1] in {"", " ", "\t", "\r", "#"}:
        raise MetrographError(f"no cue begins on line {line} of {run}; “metrograph lint” and any editor count them")
    return cue_block(text, line)
