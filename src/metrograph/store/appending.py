"""How cues get into the text of a log, whichever store it lies in. Every cue passes here, and the gate."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.log.bodies import Terms, any_terms
from metrograph.log.cues import Cue, Header, Log
from metrograph.log.faults import Faults
from metrograph.log.header import read_header
from metrograph.log.quantities.times import format_time
from metrograph.log.reader import TORN, encoding_faults, read_log, read_log_bytes
from metrograph.log.writer import (
    cue_block,
    format_cue,
    format_header,
    replace_block,
    replace_header,
    round_trip,
    with_time,
)
from metrograph.privacy.gate import check, check_header
from metrograph.store.clock import ANCHOR, Instant, When, anchor, cue_time, placed, renewed
from metrograph.store.ids import check_id


class ToWrite(msgspec.Struct, frozen=True):
    """An addition to a log.

    log: as it stands; cues: those that are new, with their times.
    end: their text; whole: the whole log anew, where something above them changes too; None where nothing does.
    """

    log: Log
    cues: tuple[Cue, ...]
    end: str
    whole: str | None


def first_text(header: Header, present: Instant) -> str:
    """The text of a log that begins; the clock's anchor is added here."""
    begun = header.begun or present.wall
    check_header(header)
    clock = anchor(begun, present)
    others = (*header.others, (ANCHOR, clock)) if clock else header.others
    return format_header(Header(check_id(header.release, "release"), header.rig, begun, others)) + "\n"


def whole_text(log: Log, terms: Terms) -> str:
    """The text of a log that came from elsewhere; raises MetrographError when it holds what a log may not."""
    check_header(log.header)
    for cue in log.cues:
        # Here and nowhere else: whatever the source, this line stands between it and the disk.
        check(cue)
    return round_trip(log, terms)


def addition(data: bytes, file: str, run: str, cues: Sequence[Cue], when: When, only_new: bool) -> ToWrite:
    """What adding cues to a log means; see ``Store.append``. data: the log as it stands."""
    for cue in cues:
        check(cue)  # before anything else is said of it
    log, repaired = _read_to_write(data, file, run)
    added = _new(placed(cues, log, when), log) if only_new else placed(cues, log, when)
    for cue in added:
        _refuse_after_end(run, log, cue)
    end = "".join(map(format_cue, added))
    _refuse_what_would_not_read_back(added, end)
    return ToWrite(log, tuple(added), end, _whole(data, log, repaired, end, when))


def without(data: bytes, file: str, run: str, line: int | None) -> tuple[str, str]:
    """A log without the cue that was written last, or that begins on a line; and that cue's text as it stood."""
    log, text = log_to_change(data, file, run), data.decode()
    if line is None and not log.cues:
        raise MetrographError(f"{run} has no cue to take back")
    block = _block(text, run, log.cues[-1].line if line is None else line)
    return replace_block(text, block, ""), "\n".join(text.split("\n")[slice(*block)])


def changed(data: bytes, file: str, run: str, line: int, cue: Cue | None, when: When | None) -> tuple[str, str]:
    """A log with another cue in the place of the one that begins on a line, readable or not; and the new cue's text.

    cue: its words; None to keep them. when: None to keep the time.
    """
    log, text = log_to_change(data, file, run), data.decode()
    block = _block(text, run, line)
    old = next((other for other in log.cues if other.line == line), None)
    new = cue or old
    if new is None or (old is None and when is None):
        raise MetrographError(f"the cue on line {line} cannot be read; give its words and its time with --at")
    at = old.at if old is not None and when is None else _moment(log, when)
    new = msgspec.structs.replace(new, at=at)
    check(new)
    written = format_cue(new)
    _refuse_what_would_not_read_back([new], written)
    lines = text.split("\n")[slice(*block)]
    if cue is None:  # its time alone: not a letter of the rest is touched
        written = "".join(f"{each}\n" for each in (with_time(lines[0], at), *lines[1:]))
    else:
        _, faults = read_log_bytes(data, file, any_terms)
        unread = {fault.line - line for fault in faults if fault.level == "error"}
        kept = [each for number, each in enumerate(lines) if number and _stays(each, number in unread)]
        written += "".join(f"{each}\n" for each in kept)
    return replace_block(text, block, written), written


def revised(data: bytes, file: str, run: str, changes: Mapping[int, Cue | None]) -> str:
    """A log with other cues in the place of those that begin on some lines; None takes one out."""
    log_to_change(data, file, run)
    text = data.decode()
    for line, cue in sorted(changes.items(), reverse=True):  # from the end, so that the lines before keep their numbers
        if cue is not None:
            check(cue)
            _refuse_what_would_not_read_back([cue], format_cue(cue))
        text = replace_block(text, _block(text, run, line), "" if cue is None else format_cue(cue))
    return text


def _stays(line: str, unread: bool) -> bool:
    """Whether a line below a cue stays when the cue is said anew: a remark, and what could not be read."""
    return line.lstrip().startswith("#") or (unread and bool(line.strip()))


def log_to_change(data: bytes, file: str, run: str) -> Log:
    """A log that is to be written to; raises MetrographError when it has no start or is not UTF-8."""
    log, faults = read_log_bytes(data, file, any_terms)
    # What a later version says may mean something else; it is read as far as it can be, and left to its own program.
    other = tuple(fault for fault in faults if fault.line == 1)
    wrong = encoding_faults(data, file) or other or (faults if log.header.begun is None else ())
    if wrong:
        raise MetrographError(f"{run} cannot be added to: {wrong[0].file}:{wrong[0].line}: {wrong[0].message}")
    return log


def is_open(data: bytes, run: str) -> bool:
    """Whether a log has begun and has no end."""
    log, _ = read_log_bytes(data, run, any_terms)
    return log.header.begun is not None and not any(cue.verb == "end" for cue in log.cues)


def _moment(log: Log, when: When | None) -> int:
    return 0 if when is None else cue_time(log, when.present, when.said)


def _new(cues: Sequence[Cue], log: Log) -> list[Cue]:
    """Those that the log has not, each once."""
    known = set(log.cues)
    return [cue for cue in dict.fromkeys(cues) if cue not in known]


def _read_to_write(data: bytes, file: str, run: str) -> tuple[Log, str | None]:
    """A log, and its text with what was cut short set aside; None where nothing was.

    A process that is killed in the middle of writing leaves a line that cannot be read. It was never acknowledged, but
    a person may want it: it stays as a remark, and the log reads again.
    """
    if not data or data.endswith(b"\n"):
        return log_to_change(data, file, run), None
    _, faults = read_log_bytes(data, file, any_terms)
    last = data.count(b"\n") + 1
    if last == 1:
        return log_to_change(data, file, run), None
    if not any(fault.line == last and fault.level == "error" for fault in faults):
        text = data + f"\n{TORN}\n".encode()
        return log_to_change(text, file, run), text.decode()
    whole, _, cut_short = data.rpartition(b"\n")
    # It was never acknowledged, so it is no cue; but it is somebody's work, so it stays readable.
    remark = cut_short.decode("utf-8", "backslashreplace").strip()
    text = whole + b"\n# cut short: " + remark.encode() + b"\n"
    return log_to_change(text, file, run), text.decode()


def _whole(data: bytes, log: Log, repaired: str | None, end: str, when: When) -> str | None:
    """The whole log anew, where its end was repaired or its clock needs another anchor; None where neither is."""
    earliest = max((cue.at for cue in log.cues), default=0)
    anchors = renewed(log.header, when.present, earliest) if end else None
    if repaired is None and anchors is None:
        return None
    text = repaired if repaired is not None else data.decode()
    text += "" if text.endswith("\n") else "\n"
    return (text if anchors is None else replace_header(text, ANCHOR, anchors)) + end


def _refuse_after_end(run: str, log: Log, cue: Cue) -> None:
    end = next((other for other in log.cues if other.verb == "end"), None)
    if end is not None and (cue.verb == "end" or cue.at > end.at):
        raise MetrographError(
            f"{run} ended at {format_time(end.at)}; a cue that was forgotten goes in with --at and an earlier time"
        )


def _refuse_what_would_not_read_back(cues: Sequence[Cue], text: str) -> None:
    """Nothing is acknowledged that the log would not say again."""
    if not cues:
        return
    log, faults = read_log(f"metrograph 1\nrelease: x\nrig: x\nbegun: 2026-01-01T00:00:00Z\n\n{text}", "", any_terms)
    if list(log.cues) != list(cues):
        errors = [fault for fault in faults if fault.level == "error"]
        why = f": {errors[0].message}" if errors else ""
        raise MetrographError(f"a cue cannot be written so that it reads back{why}. Nothing was recorded")


def _block(text: str, run: str, line: int) -> tuple[int, int]:
    """The lines of the cue that begins on a line, be it readable or not; raises MetrographError when none does."""
    lines = text.split("\n")
    _, start = read_header(lines, Faults(run))
    if not start < line <= len(lines) or lines[line - 1][:1] in {"", " ", "\t", "\r", "#"}:
        raise MetrographError(f"no cue begins on line {line} of {run}; “metrograph lint” and any editor count them")
    return cue_block(text, line)
