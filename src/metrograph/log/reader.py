"""Reads the language of the run log, whole logs and typed lines: all that can be read, and beside it every fault."""

from __future__ import annotations

import re

from metrograph.log.bodies import DATED, Terms, find_verb, may_repeat, no_verb, parse_body, parse_field
from metrograph.log.cues import Cue, Fault, Fields, Header, Log
from metrograph.log.escapes import split_bars
from metrograph.log.faults import Faults, Unreadable
from metrograph.log.header import read_header
from metrograph.log.lexicon import load_lexicon
from metrograph.log.quantities.times import EXPECTED_TIME, TIME, milliseconds_of
from metrograph.log.verbs import DAY, VERBS, Verb

_FIELD = re.compile(r"([A-Za-z][A-Za-z0-9_-]*)(?:[ \t]*:|(?=[ \t]|\Z))[ \t]*(.*)", re.DOTALL)


def parse_line(line: str, terms: Terms = load_lexicon, shortened: bool = True) -> Cue:
    """A cue from its line without the time; it is at 0.

    shortened: whether a verb may be cut short to any beginning that only it has.

    Raises Unreadable, whose offset counts from the beginning of ``line``.
    """
    (start, body), *bars = split_bars(line)
    word, rest, *_ = *body.split(maxsplit=1), "", ""
    try:
        if not word:
            raise Unreadable(
                "there is nothing to record", expected="a verb and what it needs, such as: screen Language"
            )
        verb = _verb_of(word, body, terms, shortened)
        name, text = parse_body(verb, rest.strip(), terms)
    except Unreadable as wrong:
        raise wrong.within(body, start) from None
    fields: list[tuple[str, str]] = []
    for place, part in bars:
        try:
            add_field(verb, fields, *_split_field(part.strip()), terms)
        except Unreadable as wrong:
            raise wrong.within(part, place) from None
    return Cue(0, verb.word, name, text, tuple(fields))


def _line_meant(line: str, terms: Terms) -> str:
    from metrograph.log.meant import line_meant  # wanted only where somebody has mistyped

    return line_meant(line, terms)


def _verb_of(word: str, line: str, terms: Terms, shortened: bool) -> Verb:
    """The verb that a line begins with; where it is none, what the line may have been is said as well."""
    try:
        return find_verb(word, VERBS, shortened)
    except Unreadable as wrong:
        if meant := _line_meant(line.strip(), terms):
            raise Unreadable(wrong.message, wrong.found, meant) from None
        raise


def add_field(verb: Verb, fields: list[tuple[str, str]], key: str, raw: str, terms: Terms) -> None:
    """Appends one more field to those of a cue; raises Unreadable when it cannot be read or may not stand twice."""
    value = parse_field(verb, key, raw, terms)
    if fields and not may_repeat(verb, key) and key in {name for name, _ in fields}:
        raise Unreadable(f"the field “{key}” stands twice", key, "one line of it")
    fields.append((key, value))


def _split_field(part: str) -> tuple[str, str]:
    match = _FIELD.fullmatch(part)
    if match is None:
        expected = "a field, such as “was none”; a bar meant literally is \\|"
        raise Unreadable("what follows a bar is not a field", part, expected)
    return match[1], match[2]


_CUE = re.compile(TIME + r"[ \t]+([a-z]+)(?:[ \t]+(.*))?")
_ALMOST_CUE = re.compile(TIME + r"(?:[ \t]+(\S+))?(?!\S)")
_DATED_CUE = re.compile(rf"({DATED})[ \t]+([a-z]+(?:[ \t].*)?)")
LATER = "later"
"""The way of a record of months, in which days may stand in the place of times."""
_INDENT = frozenset(" \t")
_NOT_CUE = frozenset(("", " ", "\t", "\r", "#"))
_DIGITS = frozenset("0123456789")
_NO_FIELDS: Fields = ()
TORN = "# the line above had no end and may have been cut short"
"""The remark that keeps such a line suspect."""


def read_log(text: str, file: str = "", terms: Terms = load_lexicon) -> tuple[Log, tuple[Fault, ...]]:
    """Reads a run log; never raises, whatever the text.

    file: how faults name it.
    terms: gives what screens and readings there are; asked only when a log names one.

    Returns the log as far as it can be read, and its faults by place.
    """
    lines = text.removeprefix("\ufeff").split("\n")
    faults = Faults(file)
    header, start = read_header(lines, faults)
    cues = _CueReader(lines, faults, terms, dated=header.other("way") == LATER).read(start)
    if lines[-1].strip():
        _judge_torn_line(len(lines), faults)
    if TORN in text:
        _tell_torn(lines, faults)
    return Log(file, header, tuple(cues)), faults.in_order()


def read_log_bytes(data: bytes, file: str = "", terms: Terms = load_lexicon) -> tuple[Log, tuple[Fault, ...]]:
    """Reads a run log from the bytes of its file; what is not UTF-8 is a fault, and the rest is read all the same."""
    wrong = encoding_faults(data, file)
    if not wrong:
        return read_log(data.decode("utf-8"), file, terms)
    if _is_utf16(data):
        return Log(file, Header()), wrong
    log, faults = read_log(data.decode("utf-8", "replace"), file, terms)
    lines = {fault.line for fault in wrong}
    kept = tuple(fault for fault in faults if fault.line not in lines)
    return log, tuple(sorted(wrong + kept, key=lambda fault: fault.line))


def encoding_faults(data: bytes, file: str) -> tuple[Fault, ...]:
    """The lines that are not UTF-8; none where all are."""
    try:
        data.decode("utf-8")
    except UnicodeDecodeError:
        pass
    else:
        return ()
    faults = Faults(file)
    if _is_utf16(data):
        message = "this file is in UTF-16; a run log is in UTF-8, so save it anew in that encoding"
        faults.add(1, 1, message, expected="UTF-8 text")
        return faults.in_order()
    for number, line in enumerate(data.split(b"\n"), 1):
        try:
            line.decode("utf-8")
        except UnicodeDecodeError as wrong:
            found = f"byte 0x{line[wrong.start]:02x}"
            message = f"this line is not UTF-8 ({found}); save the file anew in that encoding"
            faults.add(number, len(line[: wrong.start].decode("utf-8")) + 1, message, found, "UTF-8 text")
    return faults.in_order()


def _is_utf16(data: bytes) -> bool:
    return data[:2] in {b"\xff\xfe", b"\xfe\xff"}


def _judge_torn_line(number: int, faults: Faults) -> None:
    """A last line without its end was cut short by a crash, or saved so by an editor: it counts if it can be read."""
    if faults.drop_line(number):
        message = "the last line was cut short; everything above it has been read"
        faults.add(number, 1, message, expected="a whole line, with a line break at its end")
    else:
        message = "the last line has no line break and may have been cut short"
        faults.add(number, 1, message, expected="a line break, if the line is whole", level="warning")


def _tell_torn(lines: list[str], faults: Faults) -> None:
    """A line that lacked its end when the next cue came stays suspect until a person takes the remark out."""
    for number, line in enumerate(lines):
        if line.strip() == TORN:
            message = "this line may have been cut short"
            faults.add(number, 1, message, expected="the whole line, without the remark below it", level="warning")


class _CueReader:
    """Walks through the lines after the header once."""

    def __init__(self, lines: list[str], faults: Faults, terms: Terms, dated: bool) -> None:
        self.lines, self.faults, self.terms, self.dated = lines, faults, terms, dated

    def read(self, start: int) -> list[Cue]:
        """The cues from this index on.

        Does most by itself, on purpose: it runs for every cue, and the calls it spares cost as much as the reading.
        """
        cues: list[Cue] = []
        lines, index, end = self.lines, start, len(self.lines)
        while index < end:
            line = lines[index]
            index += 1
            match = _CUE.fullmatch(line.rstrip())
            if match is None:
                dated = self._dated(index, line)
                if dated is None:
                    index = self._pass_over(index, line)
                    continue
                index, cue = dated
                cues += [] if cue is None else [cue]
                continue
            first, second, third, decimals, word, raw = match.groups()
            number, fields = index, _NO_FIELDS
            try:
                # A bar is rare and costs a careful reading; most lines have none.
                if raw and "|" in raw:
                    verb, name, text, fields = self._read_line(line[match.start(5) :])
                else:
                    # Looked up first: only a word that is none is worth the search for what was meant.
                    verb = VERBS.get(word) or find_verb(word, VERBS)
                    name, text = parse_body(verb, raw or "", self.terms)
            except Unreadable as wrong:
                self._refuse(number, line, match.start(5), wrong)
                # Its fields would all be reported as homeless, which says nothing new.
                index = self._skip_fields(index)
                continue
            if index < end and lines[index][:1] in _NOT_CUE:
                index, fields = self._read_fields(index, verb, fields)
            if third or decimals:
                at = milliseconds_of(first, second, third, decimals)
            else:
                at = int(first) * 60_000 + int(second) * 1000
            cues.append(Cue(at, verb.word, name, text, fields, number))
        return cues

    def _dated(self, index: int, line: str) -> tuple[int, Cue | None] | None:
        """A cue with a day in the place of its time, and where to go on; None where the line is none."""
        match = _DATED_CUE.fullmatch(line.rstrip())
        if match is None:
            return None
        try:
            cue = parse_line(line[match.start(2) :], self.terms, shortened=False)
            verb, fields = VERBS[cue.verb], [(DAY, parse_field(VERBS[cue.verb], DAY, match[1], self.terms))]
            if not self.dated:
                raise Unreadable(f"“{match[1]}” is no time of a run of minutes", match[1], "a time, or “way: later”")
        except Unreadable as wrong:
            self._refuse(index, line, 0, wrong)
            return self._skip_fields(index), None
        end, gathered = self._read_fields(index, verb, (*fields, *cue.fields))
        return end, Cue(0, cue.verb, cue.name, cue.text, gathered, index)

    def _read_line(self, line: str) -> tuple[Verb, str | None, str, Fields]:
        """A cue that has fields, or an escaped bar, on its own line; more fields may still stand below it."""
        cue = parse_line(line, self.terms, shortened=False)
        return VERBS[cue.verb], cue.name, cue.text, cue.fields

    def _read_fields(self, index: int, verb: Verb, fields: Fields) -> tuple[int, Fields]:
        """The fields of a cue with those that stand below it, and the index of the line after them."""
        gathered = list(fields)
        lines, end = self.lines, len(self.lines)
        while index < end and lines[index][:1] in _NOT_CUE:
            line = lines[index]
            index += 1
            key, colon, raw = line.partition(":")
            try:
                if colon and line[0] in _INDENT and not _means_nothing(line):
                    add_field(verb, gathered, key.strip(), raw.strip(), self.terms)
                elif not _means_nothing(line):
                    raise Unreadable("this field cannot be read", line.strip(), "key: value")
            except Unreadable as wrong:
                self._refuse(index, line, 0, wrong)
        return index, tuple(gathered)

    def _pass_over(self, index: int, line: str) -> int:
        """Says what is wrong with a line that is no cue, if anything is; returns the index to go on with."""
        if _means_nothing(line):
            return index
        time, text = line.split(maxsplit=1)[0], line.strip()
        # The nearest thing that it could have been decides what is said of it.
        almost = _ALMOST_CUE.match(line)
        if line[0] in _INDENT:
            self.faults.add(index, 1, "this field belongs to no cue", text, "a cue above it")
        elif almost and almost[5]:
            wrong = no_verb(almost[5])
            self.faults.add(index, almost.start(5) + 1, wrong.message, wrong.found, wrong.expected)
        elif almost:
            self.faults.add(index, len(text) + 1, "a verb is missing after the time", "", no_verb("").expected)
        elif line[0] in _DIGITS:
            self.faults.add(index, 1, f"the time “{time}” cannot be read", time, EXPECTED_TIME)
        else:
            self.faults.add(index, 1, "this line cannot be read", text, f"{EXPECTED_TIME}, then a verb")
        return self._skip_fields(index)

    def _skip_fields(self, index: int) -> int:
        """The index of the line after the fields of a cue that could not be read: they go with it, unreported."""
        while index < len(self.lines) and self.lines[index][:1] in _NOT_CUE:
            index += 1
        return index

    def _refuse(self, number: int, line: str, start: int, wrong: Unreadable) -> None:
        # Where something is missing there is nothing to point at but the end of the line.
        place = line.find(wrong.found, start) if wrong.found else len(line) - len(line[start:].lstrip())
        self.faults.refuse(number, max(place, 0) + 1, wrong)


def _means_nothing(line: str) -> bool:
    return line.strip()[:1] in {"", "#"}
