"""Masks in results what tells who and where, before they are shown to others."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from typing import TypeVar

import msgspec

from metrograph.language.spills import spills
from metrograph.model.comparison import Change
from metrograph.model.ranges import Range
from metrograph.model.runs import Choice, Fact, Run

_SHORTEST = 3
"""Letters of a personal value below which it is not looked for in other texts."""

_VALUES = ("value", "preset", "before", "after")  # fields of answers, facts and changes that hold values
_WITHOUT_VALUES = frozenset({"question-moved", "typing-changed"})  # changes of a question that tell no answer
_COMMON = frozenset({"admin", "guest", "home", "live", "localhost", "none", "root", "test", "user"})
T = TypeVar("T")


class Mask:
    """Masks the personal values of some runs wherever they stand in a result.

    Values go by their key: ``[host name]``. Where they stand in free text they go too, and so do mail addresses,
    network addresses, names of homes, and secrets that slipped in.

    hidden: how many texts were changed so far.
    """

    def __init__(self, runs: Iterable[Run]) -> None:
        every = list(runs)
        self.keys = {key for run in every for key, _ in _personal(run)}
        self.hidden = 0
        self._cleaned: dict[str, str] = {}  # the same titles come up over and over
        self._ids = {each for run in every for each in (run.run, run.release, run.rig)}
        self._values = {value: key for run in every for key, value in _personal(run) if _is_telling(value)}
        longest_first = sorted(map(re.escape, self._values), key=len, reverse=True)
        self._pattern = re.compile(rf"(?<![\w-])(?:{'|'.join(longest_first)})(?![\w-])") if longest_first else None

    def apply(self, record: T) -> T:
        """The record with everything personal in it masked; ids of releases, runs and rigs stay."""
        if isinstance(record, str):
            return self._clean(record)  # type: ignore[return-value]
        if record is None or isinstance(record, int | float | Range):
            return record  # half of all there is, and no text in it
        if isinstance(record, Choice | Fact | Change):
            record = self._answer(record)  # type: ignore[assignment]
        if isinstance(record, msgspec.Struct):
            fields = {name: self.apply(getattr(record, name)) for name in record.__struct_fields__}
            return msgspec.structs.replace(record, **fields)
        if isinstance(record, tuple):
            return tuple(self.apply(each) for each in record)  # type: ignore[return-value]
        if isinstance(record, dict):
            return {key: self.apply(value) for key, value in record.items()}  # type: ignore[return-value]
        return record

    def _answer(self, record: Choice | Fact | Change) -> Choice | Fact | Change:
        """An answer whose key is personal, without its values."""
        key = record.name if isinstance(record, Fact) else record.key
        if key not in self.keys or (isinstance(record, Change) and record.what in _WITHOUT_VALUES):
            return record
        own = (
            ("value",)
            if isinstance(record, Fact)
            else ("value", "preset")
            if isinstance(record, Choice)
            else ("before", "after")
        )
        said = {name: f"[{key}]" for name in own if getattr(record, name)}
        self.hidden += len(said)
        offered = {"offered": ()} if isinstance(record, Choice) else {}
        return msgspec.structs.replace(record, **said, **offered)

    def _clean(self, text: str) -> str:
        if text in self._ids:
            return text
        clean = self._cleaned.get(text) or self._cleaned.setdefault(text, self._without(text))
        self.hidden += clean != text
        return clean

    def _without(self, text: str) -> str:
        clean = text
        for spill in reversed(spills(clean)):
            clean = f"{clean[: spill.start]}[{spill.what}]{clean[spill.end :]}"
        if self._pattern is not None:
            clean = self._pattern.sub(lambda found: f"[{self._values[found[0]]}]", clean)
        return clean


def _personal(run: Run) -> Iterator[tuple[str, str]]:
    """Keys and values of a run that are personal; of an answer also what had been pre-set."""
    choices = [*run.choices, *(choice for screen in run.screens for choice in screen.choices)]
    for choice in choices:
        if choice.personal:
            yield from ((choice.key, value) for value in (choice.value or "", choice.preset or ""))
    yield from ((fact.name, fact.value) for fact in run.facts if fact.personal)


def _is_telling(value: str) -> bool:
    return len(value) >= _SHORTEST and value.casefold() not in _COMMON
