"""The gate out: masks in results what tells who and where, before they are shown to others."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Iterator
from typing import Any, Protocol, TypeVar

import msgspec

from metrograph.core.visitor import Answering, map_texts
from metrograph.log.cues import Log
from metrograph.privacy.leaks import leaks_in

_SHORTEST = 3
"""Letters of a personal value below which it is not looked for in other texts."""

_COMMON = frozenset(
    {
        "admin", "computer", "desktop", "guest", "home", "host", "laptop", "linux", "live", "localhost", "machine",
        "name", "none", "root", "test", "user",
    }
)  # fmt: skip
T = TypeVar("T")


SHARED_LINES = frozenset({"way", "like"})
"""Lines of a log's header that go into an archive beside those that every log has; what else stands there stays."""
EXPORTED_LINES = SHARED_LINES | {"reviewer", "source"}
"""Lines that are exported: not a person's own, and not the boots of the machine that it was recorded on."""


def with_header(log: Log, lines: Collection[str]) -> Log:
    """The log with some of the other lines of its header alone."""
    others = tuple(line for line in log.header.others if line[0] in lines)
    return msgspec.structs.replace(log, header=msgspec.structs.replace(log.header, others=others))


class Known(Protocol):
    """A run as a mask has to know it: its names, which tell nobody, and what is personal in it."""

    @property
    def run(self) -> str:
        """The name of the run."""

    @property
    def release(self) -> str:
        """The id of its release."""

    @property
    def rig(self) -> str:
        """The id of its rig."""

    @property
    def personal(self) -> tuple[tuple[str, str], ...]:
        """Keys with the values that tell who or where."""


class Mask:
    """Masks the personal values of some runs wherever they stand in a result.

    Values go by their key: ``[host name]``. Where they stand in free text they go too, and so do mail addresses,
    network addresses, names of homes, and secrets that slipped in.

    hidden: how many texts were changed so far.
    """

    def __init__(self, runs: Iterable[Known]) -> None:
        known_runs = list(runs)
        personal = dict.fromkeys(pair for run in known_runs for pair in run.personal)
        self.keys = {key for key, _ in personal}
        self.hidden = 0
        self._cleaned: dict[str, str] = {}  # the same titles come up over and over
        ids = {name for run in known_runs for name in (run.run, run.release, run.rig)}
        self._telling_nothing = {*ids, *self.keys, *map(_mask_of, self.keys)}
        self._values = {part.casefold(): key for key, value in personal for part in _parts(key, value)}
        # The longer of two values is masked whole, before a shorter one within it is.
        longest_first = sorted(map(re.escape, self._values), key=len, reverse=True)
        # A name may be joined to something else, “mina-laptop”, but not be a part of another word.
        bounded = rf"(?<![^\W_])(?:{'|'.join(longest_first)})(?![^\W_])"
        self._pattern = re.compile(bounded, re.IGNORECASE) if longest_first else None

    def apply(self, record: T) -> T:
        """The record with everything personal in it masked; ids of releases, runs and rigs stay, and questions."""
        return map_texts(record, self._clean, self._without_answer)

    def _without_answer(self, record: Answering) -> Answering:
        """A record without its values where its key is personal."""
        answer = record.answer()
        if answer.key is None or not (answer.personal or answer.key in self.keys):
            return record
        mask = _mask_of(answer.key)
        masked: dict[str, Any] = {name: _masked(getattr(record, name), mask) for name in answer.values}
        for name, keys in answer.pairs.items():
            masked[name] = tuple((key, mask if key in keys else value) for key, value in getattr(record, name))
        self.hidden += sum(value != getattr(record, name) for name, value in masked.items())
        return msgspec.structs.replace(record, **masked, **dict.fromkeys(answer.lists, ()))

    def _clean(self, text: str) -> str:
        if text in self._telling_nothing:
            return text
        clean = self._cleaned.get(text) or self._cleaned.setdefault(text, self._without(text))
        self.hidden += clean != text
        return clean

    def _without(self, text: str) -> str:
        clean = text
        for leak in reversed(leaks_in(clean)):
            clean = f"{clean[: leak.start]}[{leak.what}]{clean[leak.end :]}"
        if self._pattern is not None:
            clean = self._pattern.sub(lambda match: _mask_of(self._values.get(match[0].casefold(), "name")), clean)
        return clean


def _mask_of(key: str) -> str:
    return f"[{key}]"


def _masked(value: str | tuple[str | None, ...] | None, mask: str) -> str | tuple[str | None, ...] | None:
    """The mask in the place of every text that says something."""
    if isinstance(value, tuple):
        return tuple(mask if item else item for item in value)
    return mask if value else value


def _parts(key: str, value: str) -> Iterator[str]:
    """What is looked for of a value: itself, and of a person's name each part of it that tells somebody."""
    words = re.findall(r"[^\W\d_]+", value) if "name" in key.casefold() else []
    parts = [word for word in words if word[:1].isupper()] if len(words) > 1 else []
    return (part for part in (value, *parts) if _is_telling(part))


def _is_telling(value: str) -> bool:
    return len(value) >= _SHORTEST and value.casefold() not in _COMMON
