"""Changes one cue in the text of a log; every other character stays as a person wrote it."""

from __future__ import annotations

import re

from metrograph.log.quantities.times import format_time


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
    return re.sub(r"^[0-9:.]+", format_time(at), line, count=1)


def _goes_on(line: str) -> bool:
    """Whether a line may stand between a cue and the next: blank, indented, or a remark."""
    return not line.strip() or line[0] in " \t#"
