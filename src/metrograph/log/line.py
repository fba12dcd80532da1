"""Reads one cue written on one line, as a person types it: ``choose swap = file | was none``."""

from __future__ import annotations

import re

from metrograph.log.bodies import Terms, find_verb, may_repeat, parse_body, parse_field
from metrograph.log.cues import Cue
from metrograph.log.escapes import split_bars
from metrograph.log.faults import Unreadable
from metrograph.log.lexicon import load_lexicon
from metrograph.log.verbs import VERBS, Verb

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
        verb = find_verb(word, VERBS, shortened)
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
