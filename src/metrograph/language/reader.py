"""Reads a whole run log: every cue that can be read, and beside them every fault, in one pass."""

from __future__ import annotations

import re

from metrograph.language.bodies import Kinds, find_verb, known_kinds, parse_body
from metrograph.language.faults import Faults, Unreadable
from metrograph.language.header import read_header
from metrograph.language.line import add_field, parse_line
from metrograph.language.suggest import suggest
from metrograph.language.times import EXPECTED_TIME, TIME, milliseconds_of
from metrograph.model.cues import Cue, Fault, Fields, Header, Log
from metrograph.model.verbs import VERBS, Verb

_CUE = re.compile(TIME + r"[ \t]+([a-z]+)(?:[ \t]+(.*))?")
_ALMOST_CUE = re.compile(TIME + r"(?:[ \t]+(\S+))?(?!\S)")
_INDENT = frozenset(" \t")
_NOT_CUE = frozenset(("", " ", "\t", "\r", "#"))
_DIGITS = frozenset("0123456789")
_NO_FIELDS: Fields = ()


def read_log(text: str, file: str = "", kinds: Kinds = known_kinds) -> tuple[Log, tuple[Fault, ...]]:
    """Reads a run log; never raises, whatever the text.

    file: how faults name it.
    kinds: gives the kinds of screen that are known; asked only when a log names one.

    Returns the log as far as it can be read, and its faults by place.
    """
    lines = text.removeprefix("\ufeff").split("\n")
    faults = Faults(file)
    header, start = read_header(lines, faults)
    cues = _CueReader(lines, faults, kinds).read(start)
    if lines[-1].strip():
        _judge_torn_line(len(lines), faults)
    return Log(file, header, tuple(cues)), faults.in_order()


def read_log_bytes(data: bytes, file: str = "", kinds: Kinds = known_kinds) -> tuple[Log, tuple[Fault, ...]]:
    """The same from the bytes of a file; what is not UTF-8 is a fault, and the rest is read all the same."""
    try:
        return read_log(data.decode("utf-8"), file, kinds)
    except UnicodeDecodeError:
        pass
    if data[:2] in {b"\xff\xfe", b"\xfe\xff"}:
        message = "this file is in UTF-16; a run log is in UTF-8, so save it anew in that encoding"
        return Log(file, Header()), (Fault(file, 1, 1, "error", message, expected="UTF-8 text"),)
    log, faults = read_log(data.decode("utf-8", "replace"), file, kinds)
    wrong = _not_utf8(data, file)
    lines = {fault.line for fault in wrong}
    kept = tuple(fault for fault in faults if fault.line not in lines)
    return log, tuple(sorted(wrong + kept, key=lambda fault: fault.line))


def _not_utf8(data: bytes, file: str) -> tuple[Fault, ...]:
    faults = Faults(file)
    for number, line in enumerate(data.split(b"\n"), 1):
        try:
            line.decode("utf-8")
        except UnicodeDecodeError as wrong:
            found = f"byte 0x{line[wrong.start]:02x}"
            message = f"this line is not UTF-8 ({found}); save the file anew in that encoding"
            faults.add(number, len(line[: wrong.start].decode("utf-8")) + 1, message, found, "UTF-8 text")
    return faults.in_order()


def _judge_torn_line(number: int, faults: Faults) -> None:
    """A last line without its end was cut short by a crash, or saved so by an editor: it counts if it can be read."""
    if faults.drop_line(number):
        message = "the last line was cut short; everything above it has been read"
        faults.add(number, 1, message, expected="a whole line, with a line break behind it")
    else:
        message = "the last line has no line break and may have been cut short"
        faults.add(number, 1, message, expected="a line break, if the line is whole", level="doubt")


class _CueReader:
    """Walks through the lines behind the header once."""

    def __init__(self, lines: list[str], faults: Faults, kinds: Kinds) -> None:
        self.lines, self.faults, self.kinds = lines, faults, kinds

    def read(self, start: int) -> list[Cue]:
        """The cues from this index on.

        Does most by itself, on purpose: it runs for every cue, and the calls it spares cost as much as the reading.
        """
        cues: list[Cue] = []
        lines, index, end = self.lines, start, len(self.lines)
        while index < end:
            line = lines[index]
            index += 1
            found = _CUE.fullmatch(line.rstrip())
            if found is None:
                index = self._pass_over(index, line)
                continue
            first, second, third, decimals, word, raw = found.groups()
            number, fields = index, _NO_FIELDS
            try:
                if raw and "|" in raw:
                    verb, name, text, fields = self._read_line(line[found.start(5) :])
                else:
                    verb = VERBS.get(word) or find_verb(word, VERBS)
                    name, text = parse_body(verb, raw or "", self.kinds)
            except Unreadable as wrong:
                self._refuse(number, line, found.start(5), wrong)
                index = self._skip_fields(index)
                continue
            if index < end and lines[index][:1] in _NOT_CUE:
                index, fields = self._read_fields(index, verb, fields)
            at = milliseconds_of(first, second, third, decimals)
            cues.append(Cue(at, verb.word, name, text, fields, number))
        return cues

    def _read_line(self, line: str) -> tuple[Verb, str | None, str, Fields]:
        """A cue that has fields, or an escaped bar, on its own line; more fields may still stand below it."""
        cue = parse_line(line, self.kinds, shortened=False)
        return VERBS[cue.verb], cue.name, cue.text, cue.fields

    def _read_fields(self, index: int, verb: Verb, fields: Fields) -> tuple[int, Fields]:
        """The fields of a cue with those that stand below it, and the index of the line behind them."""
        gathered = list(fields)
        lines, end = self.lines, len(self.lines)
        while index < end and lines[index][:1] in _NOT_CUE:
            line = lines[index]
            index += 1
            key, colon, raw = line.partition(":")
            try:
                if colon and line[0] in _INDENT and not _means_nothing(line):
                    add_field(verb, gathered, key.strip(), raw.strip(), self.kinds)
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
        almost = _ALMOST_CUE.match(line)
        if line[0] in _INDENT:
            self.faults.add(index, 1, "this field belongs to no cue", text, "a cue above it")
        elif almost and almost[5]:
            self.faults.add(
                index, almost.start(5) + 1, f"there is no verb “{almost[5]}”", almost[5], suggest(almost[5], VERBS)
            )
        elif almost:
            self.faults.add(index, len(text) + 1, "a verb is missing behind the time", "", suggest("", VERBS))
        elif line[0] in _DIGITS:
            self.faults.add(index, 1, f"the time “{time}” cannot be read", time, EXPECTED_TIME)
        else:
            self.faults.add(index, 1, "this line cannot be read", text, f"{EXPECTED_TIME}, then a verb")
        return self._skip_fields(index)

    def _skip_fields(self, index: int) -> int:
        """The index of the line behind the fields of a cue that could not be read: they go with it, unreported."""
        while index < len(self.lines) and self.lines[index][:1] in _NOT_CUE:
            index += 1
        return index

    def _refuse(self, number: int, line: str, start: int, wrong: Unreadable) -> None:
        place = line.find(wrong.found, start) if wrong.found else len(line) - len(line[start:].lstrip())
        self.faults.refuse(number, max(place, 0) + 1, wrong)


def _means_nothing(line: str) -> bool:
    return line.strip()[:1] in {"", "#"}
