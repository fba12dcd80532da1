"""Reads timed notes that were made elsewhere: captions (WebVTT, SubRip), tables (CSV), lines with a leading time."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator

import msgspec
from rapidfuzz import fuzz

from metrograph.core.errors import MetrographError
from metrograph.intake.source import Event, Outside, with_key
from metrograph.intake.timed_text import LEADING, TAG, TIME, caption_blocks, has_captions, text_of
from metrograph.log.cues import Cue, Fault
from metrograph.log.faults import Unreadable
from metrograph.log.quantities.times import milliseconds_of
from metrograph.log.reader import parse_line
from metrograph.log.verbs import VERBS
from metrograph.privacy.gate import clean
from metrograph.privacy.leaks import blot

_TIME_COLUMNS = ("time", "at", "start", "when", "timestamp")
_NEARLY = 85  # of 100; “screeen” and “chose” are nearly verbs, “need” and “looks” are not


class TimedNote(msgspec.Struct, frozen=True):
    """A note with its time. at: milliseconds on the notes' own time; line: where it ends in the file, from 1."""

    at: int
    text: str
    line: int = 0


class Notes:
    """Timed notes as a ``Source``.

    as_cues: whether a note in the language of the run log becomes that cue; any other is a ``note``. People say
        “screen savers are in the settings”: so words are taken for cues only where somebody says that they are, or
        the file does in its first line.
    faulty: whether what begins like a cue and cannot be read becomes a note; else it is left out, and is a fault.
    """

    outside = Outside.REFUSED

    def __init__(self, data: bytes, name: str, as_cues: bool = False, faulty: bool = False) -> None:
        self.name = name
        self._notes = read_notes(data, name)
        self.as_cues, self._faulty = as_cues or _says_so(data), faulty

    @property
    def faults(self) -> list[Fault]:
        """The notes that begin like cues and cannot be read as such."""
        if not self.as_cues:
            return []
        return [fault for note in self._notes if (fault := fault_of(note, self.name)) is not None]

    def events(self) -> Iterator[Event]:
        """All notes in the order of the file, without the values of secrets; each knows the line that it came from."""
        seen: dict[int, int] = {}
        left_out = set() if self._faulty else {fault.line for fault in self.faults}
        for note in self._notes:
            number = seen[note.at] = seen.get(note.at, -1) + 1
            if note.line not in left_out:
                cue = to_cue(note, self.as_cues)
                yield Event(with_key(cue, self.name, f"{note.at}.{number}"), at=note.at)


_SAID_SO = re.compile(rb"\A(?:\xef\xbb\xbf)?[^\n]{0,80}\bmetrograph cues\b", re.IGNORECASE)


def _says_so(data: bytes) -> bool:
    """Whether the first line of a file says that its notes are cues: ``# metrograph cues``."""
    return _SAID_SO.match(data) is not None


def read_notes(data: bytes, name: str) -> list[TimedNote]:
    """The notes of a file, in its order; a line without a time counts to the moment of the one before it.

    name: the file's name, whose ending tells a table; captions are told by their content.

    Raises MetrographError when the file is too large, not UTF-8, or not the table that its name says.
    """
    text = text_of(data, name, "notes")
    lines = text.splitlines()
    if has_captions(lines):
        return list(_captions(lines))
    if not name.lower().endswith((".csv", ".tsv")):
        return list(_plain(lines))
    try:
        return list(_table(text))
    except csv.Error as error:
        raise MetrographError(f"{name} cannot be read as a table: {error}") from error


def to_cue(note: TimedNote, as_cue: bool = False) -> Cue:
    """The note as a ``note``; or, where notes are cues, the cue that it says in the run log's language.

    The value of a secret goes: its key is kept alone, and in free text it is blotted out.
    """
    if not as_cue:
        return Cue(note.at, "note", None, blot(note.text))
    try:
        # Whole verbs only: in a note, “no” or “ad” are words, not short for a verb.
        return clean(msgspec.structs.replace(parse_line(note.text, shortened=False), at=note.at))
    except Unreadable:
        return Cue(note.at, "note", None, blot(note.text))


def fault_of(note: TimedNote, file: str) -> Fault | None:
    """What is wrong with a note that begins like a cue; None where it is one, or is none by intention.

    A verb in small letters begins a cue, and so does a word that is nearly one: “screeen Disk”.
    """
    word = note.text.split(maxsplit=1)[0]
    try:
        parse_line(note.text, shortened=False)
    except Unreadable as wrong:
        begins = word in VERBS or (word.islower() and any(fuzz.ratio(word, verb) >= _NEARLY for verb in VERBS))
        return Fault(file, note.line, 1, "error", wrong.message, wrong.found, wrong.expected) if begins else None
    return None


def _captions(lines: list[str]) -> Iterator[TimedNote]:
    for block in caption_blocks(lines):
        words = (TAG.sub("", line).strip() for line in block.lines)
        if said := " ".join(word for word in words if word):
            yield TimedNote(block.at, said, block.last)


def _table(text: str) -> Iterator[TimedNote]:
    """CSV: one column has the time, by its heading or else the first; the others are the note."""
    delimiter = max(",;\t", key=text.partition("\n")[0].count)
    # A spreadsheet ends its tables with empty rows.
    reader = csv.reader(io.StringIO(text, newline=None), delimiter=delimiter)
    rows = [(reader.line_num, row) for row in reader if any(cell.strip() for cell in row)]
    headings = [cell.strip().casefold() for cell in rows[0][1]] if rows else []
    column = next((headings.index(name) for name in _TIME_COLUMNS if name in headings), 0)
    at = 0
    for number, row in rows[1:] if set(headings) & set(_TIME_COLUMNS) else rows:
        moment = _moment(row[column]) if column < len(row) else None
        at = at if moment is None else moment
        cells = [cell.strip() for index, cell in enumerate(row) if index != column or moment is None]
        if said := " ".join(cell for cell in cells if cell):
            yield TimedNote(at, " ".join(said.split()), number)


def _plain(lines: list[str]) -> Iterator[TimedNote]:
    at = 0
    for number, line in enumerate(lines, 1):
        match = LEADING.fullmatch(line)
        first, second, third, decimals, text = match.groups() if match else (None, None, None, None, line)
        if first is not None and second is not None:
            at = milliseconds_of(first, second, third, decimals)
        said = (text or "").strip()
        if said and not (number == 1 and _says_so(line.encode())):
            yield TimedNote(at, said, number)


def _moment(cell: str) -> int | None:
    """Milliseconds of a time in a table: a clock's, or a number of seconds; None when it is neither."""
    match = re.fullmatch(TIME, cell.strip())
    if match:
        return milliseconds_of(*match.groups())
    seconds = re.fullmatch(r"([0-9]{1,9})(?:[.,]([0-9]{1,3}))?\s*s?", cell.strip())
    return int(seconds[1]) * 1000 + int((seconds[2] or "").ljust(3, "0")) if seconds else None
