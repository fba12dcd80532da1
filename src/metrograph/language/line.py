"""Reads one cue written on one line, as a person types it: ``choose swap = file | was none``."""

from __future__ import annotations

import re

from metrograph.language.bodies import Kinds, find_verb, known_kinds, may_repeat, parse_body, parse_field
from metrograph.language.escapes import split_bars
from metrograph.language.faults import Unreadable
from metrograph.model.cues import Cue
from metrograph.model.verbs import VERBS, Verb

_FIELD = re.compile(r"([A-Za-z][A-Za-z0-9_-]*)(?:[ \t]*:|(?=[ \t]|\Z))[ \t]*(.*)", re.DOTALL)


def parse_line(line: str, kinds: Kinds = known_kinds, shortened: bool = True) -> Cue:
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
        verb = find_verb(word, VERBS, shortened)
        name, text = parse_body(verb, rest.strip(), kinds)
    except Unreadable as wrong:
        raise wrong.within(body, start) from None
    fields: list[tuple[str, str]] = []
    for place, part in bars:
        try:
            add_field(verb, fields, *_split_field(part.strip()), kinds)
        except Unreadable as wrong:
            raise wrong.within(part, place) from None
    return Cue(0, verb.word, name, text, tuple(fields))


def add_field(verb: Verb, fields: list[tuple[str, str]], key: str, raw: str, kinds: Kinds) -> None:
    """Appends one more field to those of a cue; raises Unreadable when it cannot be read or may not stand twice."""
    value = parse_field(verb, key, raw, kinds)
    if fields and not may_repeat(verb, key) and key in {name for name, _ in fields}:
        raise Unreadable(f"the field “{key}” stands twice", key, "one line of it")
    fields.append((key, value))


def _split_field(part: str) -> tuple[str, str]:
    found = _FIELD.fullmatch(part)
    if found is None:
        expected = "a field, such as “was none”; a bar meant literally is \\|"
        raise Unreadable("what follows a bar is not a field", part, expected)
    return found[1], found[2]
