"""Makes one statement of what says the same: all that speaks for it is joined, and it is told once."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import msgspec

from metrograph.hearing.statements import Statement


def joined_clues(found: Iterable[Statement]) -> list[Statement]:
    """Statements with what else says the same at the same place: all that speaks for it is one statement's."""
    made: dict[tuple[object, ...], Statement] = {}
    for each in found:
        what = each.kind, each.key, each.value.lstrip("~"), each.at
        same = made.get(what)
        made[what] = each if same is None else msgspec.structs.replace(same, clues=same.clues | each.clues)
    return list(_in_order(made.values()))


def _in_order(found: Iterable[Statement]) -> Iterator[Statement]:
    """Statements with whether the same was stated before, shortly or long ago."""
    last: dict[tuple[str, str], float] = {}
    for each in sorted(found, key=lambda said: said.at):
        before = last.get((each.kind, each.key))
        last[each.kind, each.key] = each.at
        order = "first" if before is None else "right after" if each.at - before < _SOON else "again"
        yield msgspec.structs.replace(each, clues=each.clues | {f"{each.kind} {order}"})


_SOON = 45.0  # seconds in which somebody still talks of the same


def told_once(found: Sequence[Statement]) -> list[Statement]:
    """Of statements of one thing within seconds, and of one figure, the surest; of a program the surest of all."""
    kept: dict[tuple[str, str], list[Statement]] = {}
    taken: set[float] = set()
    for each in sorted(found, key=lambda said: (-said.sure, said.at)):
        if each.kind in _FIGURES or (each.kind, each.key) in _VERSIONS:
            if each.at in taken:
                continue
            taken.add(each.at)
        alike = kept.setdefault((each.kind, each.key), [])
        if not any(_says_the_same(each, other) for other in alike):
            alike.append(each)
    return [each for alike in kept.values() for each in alike]


_SOFTWARE = frozenset({"carries", "lacks"})
_FIGURES = frozenset({"reading", "elapsed", "claim"})
"""Kinds of which one figure is only one."""
_VERSIONS = frozenset({("fact", "kernel"), ("fact", "desktop-version"), ("fact", "other")})
"""What else is said in figures."""
_NEAR = {"screen": 60.0, "check": 20.0, "issue": 12.0, "choose": 12.0, "keep": 12.0, "todo": 10.0, "wish": 10.0}
"""Seconds within which one thing is said twice, by kind; elsewhere six."""
_WITHOUT_VALUE = frozenset({"screen", "issue", "check", "todo", "wish"})


def _says_the_same(one: Statement, other: Statement) -> bool:
    """Whether of two statements of one kind and key the one says what the other does."""
    if one.kind in _SOFTWARE:
        return (one.value, one.about) == (other.value, other.about)
    near = abs(one.at - other.at) < _NEAR.get(one.kind, 6.0)
    return near and (one.value == other.value or one.kind in _WITHOUT_VALUE)
