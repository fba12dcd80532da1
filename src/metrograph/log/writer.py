"""Writes the language of the run log: cues and headers that read back as the same, and changes of one cue in a text."""

from __future__ import annotations

import re
from collections.abc import Iterable

from metrograph.core.errors import MetrographError
from metrograph.log.bodies import Terms
from metrograph.log.cues import Cue, Fields, Header, Log
from metrograph.log.escapes import encode
from metrograph.log.header import VERSION
from metrograph.log.quantities.times import format_time
from metrograph.log.reader import read_log
from metrograph.log.verbs import DAY, VERBS, Shape

INDENT = "    "


def format_log(header: Header, cues: Iterable[Cue]) -> str:
    """A whole log: header, blank line, cues with their fields below them."""
    return format_header(header) + "\n" + "".join(format_cue(cue) for cue in cues)


def format_header(header: Header) -> str:
    """The header's lines, without the blank line after them."""
    begun = header.begun.isoformat() if header.begun else ""
    lines = [("release", header.release), ("rig", header.rig), ("begun", begun), *header.others]
    return f"metrograph {VERSION}\n" + "".join(f"{key}: {value}\n" for key, value in lines if value)


def format_cue(cue: Cue) -> str:
    """A cue as it stands in the file: its line, then one for each field, each with its line break."""
    day, others = _day_of(cue)
    fields = "".join(f"{INDENT}{key}: {encode(value, bars=False)}\n" for key, value in others)
    return f"{day or format_time(cue.at)} {format_words(cue)}\n{fields}"


def _day_of(cue: Cue) -> tuple[str, Fields]:
    """The day that stands in the place of a time, where one does, and the other fields."""
    if cue.at == 0 and cue.fields and cue.fields[0][0] == DAY:
        return cue.fields[0][1], cue.fields[1:]
    return "", cue.fields


def format_line(cue: Cue) -> str:
    """A cue on one line, without its time, as a person would type it."""
    return " | ".join([format_words(cue), *(_inline(key, value) for key, value in cue.fields)])


def _inline(key: str, value: str) -> str:
    """A field after a bar; a value that begins with a colon would be taken for one after the key."""
    return f"{key}: {encode(value)}" if value.startswith(":") else f"{key} {encode(value)}"


def format_words(cue: Cue) -> str:
    """Verb and body of a cue, without time and fields."""
    body = _body(VERBS[cue.verb].shape, cue.name, cue.text)
    return f"{cue.verb} {body}" if body else cue.verb


def _body(shape: Shape, name: str | None, text: str) -> str:
    written = encode(text)
    if shape in {Shape.SETTING, Shape.MAYBE_SETTING}:
        # A colon in a key that stands alone would be read as the sign between it and a value.
        return f"{encode(name or '')} = {written}" if text else encode(name or "").replace(": ", "\\: ")
    if shape in {Shape.MAYBE_NAMED, Shape.GROUPED} and name is None:
        return _unnamed(written)
    if name is not None:
        return f"{encode(name)}: {written}" if text else encode(name)
    return written


def _unnamed(text: str) -> str:
    """A text without a name; where its beginning would be read as one, the colon is escaped."""
    head, colon, rest = text.partition(":")
    return f"{head}\\:{rest}" if colon and head and "," not in head else text


def round_trip(log: Log, terms: Terms) -> str:
    """The text of a log; raises MetrographError when the language does not have what the log holds.

    terms: gives what screens and readings there are.
    """
    text = format_log(log.header, log.cues)
    back, faults = read_log(text, log.file, terms)
    errors = [fault for fault in faults if fault.level == "error"]
    if errors:
        first = errors[0]
        expected = f"; expected: {first.expected}" if first.expected else ""
        raise MetrographError(f"{log.file}, line {first.line}: {first.message}{expected}")
    if (back.header, back.cues) != (log.header, log.cues):
        raise MetrographError(f"{log.file} holds what a run log cannot: it would not read back the same")
    return text


def cue_block(text: str, line: int) -> tuple[int, int]:
    """The lines of the cue that begins on a line: itself and the fields below it, remarks between them included.

    line: from 1.

    Returns the indices of its first line and of the one after its last.
    """
    lines = text.split("\n")
    end = last = line
    while end < len(lines) and _goes_on(lines[end]):
        end += 1
        if lines[end - 1].strip() and not lines[end - 1].lstrip().startswith("#"):
            last = end
    return line - 1, last


def replace_block(text: str, block: tuple[int, int], written: str) -> str:
    """The text with these lines replaced.

    written: whole lines with their breaks, or nothing to take the lines out.
    """
    lines = text.split("\n")
    first, end = block
    ending = "\r\n" if lines[first].endswith("\r") else "\n"
    new = written.removesuffix("\n").split("\n") if written else []
    if ending == "\r\n":
        new = [f"{line}\r" for line in new]
    return "\n".join([*lines[:first], *new, *lines[end:]])


def replace_header(text: str, key: str, value: str) -> str:
    """The text with another value on the header line of a key, which is there."""
    return re.sub(
        rf"(?m)\A((?:.+\n)*?{re.escape(key)}[ \t]*:[ \t]*)[^\r\n]*", lambda match: match[1] + value, text, count=1
    )


def with_time(line: str, at: int) -> str:
    """A cue's first line with another time, in milliseconds, in front."""
    return re.sub(r"^[0-9:.-]+", format_time(at), line, count=1)


def _goes_on(line: str) -> bool:
    """Whether a line may stand between a cue and the next: blank, indented, or a remark."""
    return not line.strip() or line[0] in " \t#"
