"""Says what was heard in the language of the run log: one cue for each statement."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping

from metrograph.hearing.statements import BYTES, EARLIER, Statement
from metrograph.log.cues import Cue, Fields
from metrograph.log.lexicon import OTHER
from metrograph.log.quantities.times import show_moment
from metrograph.log.quantities.units import format_size
from metrograph.privacy.gate import clean

SECONDS = frozenset({"boot-time", "install-time", "install", "copying", "boot", "update", "download", "other time"})
SHARES = frozenset({"cpu-load", "battery"})
"""What is said as a part of the whole, or, of a battery, as how long it lasts."""
PERSONAL = frozenset({"user", "host", "password"})
"""Answers that tell who and where, or are secret: that they were given is kept, and not what was said of them."""

_MEASURES = {
    "update-size": "update download", "image-size": "download", "download-size": "download", "install": "install time",
    "boot": "boot time", "copying": "copying time", "update": "update time", "download": "download time",
}  # fmt: skip
_COMPARED = {"+": "better", "-": "worse", "=": "same"}
_FIGURE = re.compile(r"(?P<about>[~<>]?)(?P<low>\d+(?:\.\d+)?)(?:\.\.(?P<high>\d+(?:\.\d+)?))?")


_Told = tuple[str, str | None, str, Fields]
"""A verb, a name, a text and fields."""


def cue_of(statement: Statement, groups: Mapping[str, str]) -> Cue:
    """The cue that a statement is in a run log, with its moment; what has no cue of its own is a note in its words.

    groups: what each program is, by its name.
    """
    tells = _TOLD.get(statement.kind)
    told = None if tells is None else tells(statement)
    verb, name, text, fields = told or ("note", None, statement.said, ())
    name = groups.get(statement.value) or name if verb in {"carries", "lacks"} else name
    return clean(Cue(round(statement.at * 1000), verb, name, text, fields))


def _reading(said: Statement) -> _Told | None:
    key = "other time" if (said.kind, said.key) == ("elapsed", "other") else said.key
    figure = figure_in_words(key, said.value)
    return None if figure is None else ("reading", _MEASURES.get(key, _spaced(key)), figure, ())


def _fact(said: Statement) -> _Told:
    """A fact; what is said of another thing by its name is a fact of that name."""
    name, _, version = said.value.rpartition(" ")
    named = said.key == "other" and bool(name)
    return ("fact", name, version, ()) if named else ("fact", _spaced(said.key), said.value, ())


def _software(said: Statement) -> _Told:
    """A program by its name, or what the missing one would be for."""
    return said.kind, "software", said.value.strip("()"), ()


def _answer(said: Statement) -> _Told | None:
    return None if said.value in {"", "-"} else (said.kind, _spaced(said.key), said.value, ())


def _screen(said: Statement) -> _Told:
    """A screen of a kind is called as the kind is, until a person says how it is titled."""
    if said.key == "restart":
        return "phase", None, "restart", ()
    kind = _KINDS.get(said.key, said.key)
    return "screen", None, _spaced(said.key).capitalize(), (("kind", kind),) if kind != OTHER else ()


def _verdict(said: Statement) -> _Told:
    fields = ((said.key, said.value),) if said.key in {"for", "against", "score"} else ()
    return "verdict", None, said.said, fields


def _compared(said: Statement) -> _Told | None:
    how = _COMPARED.get(said.value)
    return None if how is None else ("than", said.than or EARLIER, f"{_spaced(said.key)} {how}", ())


_TOLD: dict[str, Callable[[Statement], _Told | None]] = {
    "reading": _reading,
    "elapsed": _reading,
    "fact": _fact,
    "carries": _software,
    "lacks": _software,
    "choose": _answer,
    "keep": _answer,
    "screen": _screen,
    "issue": lambda said: ("issue", None, said.said, (("severity", said.key),)),
    "check": lambda said: ("check", _spaced(said.key), said.value, ()),
    "verdict": _verdict,
    "compare": _compared,
    "todo": lambda said: ("todo", None, said.said, ()),
}
"""How each kind is told; a kind that is not here, as a wish or a claim of the publisher, is a note."""


def _spaced(key: str) -> str:
    return key.replace("-", " ")


_KINDS = {
    "live": "desktop", "software-centre": OTHER, "tour": OTHER, "settings": OTHER
}  # fmt: skip
"""Kinds of screens that the run log calls otherwise."""


def figure_in_words(key: str, value: str) -> str | None:
    """A figure with its unit, as it is written in a run log: ``~629 MB``; None where there is none."""
    found = _FIGURE.fullmatch(value)
    if found is None:
        return None
    ends = [each for each in (found["low"], found["high"]) if each]
    return found["about"] + "..".join(_with_unit(key, float(each)) for each in ends)


def _with_unit(key: str, value: float) -> str:
    if key in BYTES:
        return format_size(round(value))
    if key in SECONDS or (key in SHARES and value > 1):
        return show_moment(value) if value >= 60 else f"{value:g} s"
    return f"{100 * value:g} %" if key in SHARES else f"{value:g}"
