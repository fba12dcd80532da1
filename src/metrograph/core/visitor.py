"""Walks through results: whatever is done to all text in them is done here, keys included, and misses nothing."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from enum import Enum
from functools import cache
from itertools import count
from typing import Any, TypeVar

import msgspec

T = TypeVar("T")


class AnswerFields(msgspec.Struct, frozen=True):
    """The fields of a record that hold the answer to a question.

    key: of the question; None when the record holds no answer.
    personal: whether it is known by itself to tell who or where.
    values: the fields that hold answers, each a text, a tuple of texts, or None.
    lists: the fields that hold what else could have been answered.
    pairs: the fields that hold keys with values, and which of these keys tell an answer.
    """

    key: str | None
    values: tuple[str, ...] = ()
    lists: tuple[str, ...] = ()
    pairs: Mapping[str, tuple[str, ...]] = {}
    personal: bool = False


class Textless(msgspec.Struct, frozen=True):
    """A record without words of anybody's at any depth: numbers, ids, names of ours. Nobody looks into it."""


class Answering(msgspec.Struct, frozen=True):
    """A record that holds an answer; whether it may be shown depends on what was asked."""

    def answer(self) -> AnswerFields:
        """Where the answer stands."""
        raise NotImplementedError


def map_texts(record: T, text: Callable[[str], str], answer: Callable[[Answering], Any] | None = None) -> T:
    """The record with a function applied to every text in it, at any depth.

    Structs, tuples and dictionaries are walked through, keys of dictionaries too; two keys that become the same are
    told apart by a number. Anything else is left as it is.

    answer: applied before that to every record that holds an answer.
    """

    def visit(value: Any) -> Any:
        kind = _kind_of(value.__class__)
        if kind is _Treatment.LEFT:
            return value
        if kind is _Treatment.TEXT:
            return text(value)
        if kind is _Treatment.TUPLE:
            return tuple([visit(item) for item in value])
        if kind is _Treatment.DICT:
            return _with_keys(value, visit)
        known = answer(value) if answer is not None and kind is _Treatment.ANSWER else value
        return _rebuilt(known, visit)

    return visit(record)  # type: ignore[no-any-return]


class _Treatment(Enum):
    """The way a value is treated."""

    LEFT = "left"
    TEXT = "text"
    TUPLE = "tuple"
    DICT = "dict"
    RECORD = "record"
    ANSWER = "answer"


@cache  # a million values of a few types are asked about
def _kind_of(kind: type) -> _Treatment:
    if issubclass(kind, Textless | Enum):
        return _Treatment.LEFT  # a name out of a set is compared by identity, and no text of anybody's
    groups = {
        _Treatment.TEXT: str, _Treatment.TUPLE: tuple, _Treatment.DICT: dict, _Treatment.ANSWER: Answering,
        _Treatment.RECORD: msgspec.Struct,
    }  # fmt: skip
    return next((name for name, group in groups.items() if issubclass(kind, group)), _Treatment.LEFT)


def _rebuilt(record: msgspec.Struct, visit: Callable[[Any], Any]) -> msgspec.Struct:
    """A record of the same kind; the very same one where nothing in it has changed."""
    changed = {}
    for name in record.__struct_fields__:
        before = getattr(record, name)
        after = visit(before)
        if after is not before:
            changed[name] = after
    return msgspec.structs.replace(record, **changed) if changed else record


def _with_keys(values: dict[Any, Any], visit: Callable[[Any], Any]) -> dict[Any, Any]:
    visited: dict[Any, Any] = {}
    for key, value in values.items():
        name = visit(key)
        if name in visited:  # two keys have become one
            name = next(each for number in count(2) if (each := f"{name} {number}") not in visited)
        visited[name] = visit(value)
    return visited
