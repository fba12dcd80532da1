"""Reads the lines before the first cue: version, release, rig, start."""

from __future__ import annotations

import re

from metrograph.log.cues import Header
from metrograph.log.faults import Faults, suggest
from metrograph.log.quantities.times import EXPECTED_MOMENT, parse_begun

VERSION = "1"
WAYS = ("fresh", "upgrade", "beside", "inside", "live", "tour", "later")
_FIRST = re.compile(r"metrograph[ \t]+(\S+)")
_LINE = re.compile(r"([A-Za-z][A-Za-z0-9_-]*)[ \t]*:[ \t]*(.*)")
_EXAMPLES = {"release": "larkmoor-8.0-heron", "rig": "bench-vm", "begun": "2026-05-02T10:04:11+02:00"}
_DIGITS = frozenset("0123456789")


def read_header(lines: list[str], faults: Faults) -> tuple[Header, int]:
    """Reads up to the first blank line or cue.

    Returns the header as far as it can be read, and the index of the line to go on with.
    """
    entries: dict[str, tuple[int, str]] = {}
    end = _read_lines(lines, entries, faults) if _read_first(lines[0].strip(), faults) else 0
    values = {key: value for key, (_, value) in entries.items()}
    header = Header(
        values.get("release", ""),
        values.get("rig", ""),
        parse_begun(values.get("begun", "")),
        tuple((key, value) for key, value in values.items() if key not in _EXAMPLES),
    )
    _check(header, entries, faults)
    return header, end


def _read_first(line: str, faults: Faults) -> bool:
    """Whether a header follows; not when the file begins with a cue at once."""
    match = _FIRST.fullmatch(line)
    expected = f"metrograph {VERSION}"
    if match is None:
        faults.add(1, 1, "this does not begin like a run log", line[:40], f"the line “{expected}”")
    elif match[1] != VERSION:
        message = f"this log is written in version {match[1]} of the language; this program reads version {VERSION}"
        faults.add(1, match.start(1) + 1, message, match[1], expected)
    return line[:1] not in _DIGITS or not line


def _read_lines(lines: list[str], entries: dict[str, tuple[int, str]], faults: Faults) -> int:
    for index, raw in enumerate(lines[1:], 1):
        line = raw.strip()
        if not line:
            return index + 1
        # Somebody forgot the blank line: a cue is a cue all the same.
        if line[0] in _DIGITS:
            return index
        if line[0] != "#":
            _read_line(index + 1, line, entries, faults)
    return len(lines)


def _read_line(number: int, line: str, entries: dict[str, tuple[int, str]], faults: Faults) -> None:
    parts = _LINE.fullmatch(line)
    if parts is None:
        expected = "key: value, or a blank line before the first cue"
        faults.add(number, 1, "this header line cannot be read", line, expected)
    elif parts[1] in entries:
        faults.add(number, 1, f"the header line “{parts[1]}” stands twice", parts[1], "one line of it")
    else:
        entries[parts[1]] = number, parts[2]


def _check(header: Header, entries: dict[str, tuple[int, str]], faults: Faults) -> None:
    for key, example in _EXAMPLES.items():
        number, value = entries.get(key, (1, ""))
        if not value:
            faults.add(number, 1, f"the header has no “{key}”", expected=f"{key}: {example}")
    number, begun = entries.get("begun", (1, ""))
    if begun and header.begun is None:
        faults.add(number, len("begun: ") + 1, f"the time “{begun}” cannot be read", begun, EXPECTED_MOMENT)
    number, way = entries.get("way", (1, WAYS[0]))
    # After the word a remark may stand.
    way = way.partition(" ")[0]
    if way not in WAYS:
        faults.add(number, len("way: ") + 1, f"there is no way to install called “{way}”", way, suggest(way, WAYS))
