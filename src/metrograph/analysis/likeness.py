"""Says how likely two screens are for the same thing, from their kinds, titles, keys, and the side of the restart.

Each piece of evidence is a chance that they are the same; together they leave over what all of them leave over, as
independent chances do (a noisy-or, Pearl 1988).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

import msgspec
from rapidfuzz import fuzz, process

from metrograph.model.flows import NO_RULINGS, Rulings, Stop
from metrograph.model.lexicon import OTHER

SAME = 0.6
"""The least likeness at which two screens may be the same."""

KIND = 0.62
"""What one kind says by itself: enough, even across the restart."""

KEYS = 0.62
"""What the same keys say by themselves."""

AGAINST_KINDS = 0.55
"""What one title counts for where two known kinds speak against it: not enough without a key in common."""

WITHOUT_KIND = 0.7
"""What one title counts for where only one of the two has a known kind."""

ACROSS = 0.97
"""What remains of it when the restart lies between them."""

_ENOUGH = 200  # characters of a title; comparing takes the square of their number


class Evidence(msgspec.Struct, frozen=True):
    """What speaks for two screens being the same.

    kind: whether they have one, other than ``other``.
    title: how alike their titles are, 0 to 1.
    keys: the part of their keys that both have, 0 to 1; None where one of them has none.
    across: whether the restart lies between them.
    ruled: what a person has decided; None when nobody did.
    likeness: all of it together, 0 to 1; ``SAME`` is needed.
    """

    kind: bool
    title: float
    keys: float | None
    across: bool
    ruled: Literal["same", "apart"] | None
    likeness: float


def evidence(one: Stop, other: Stop, rulings: Rulings = NO_RULINGS) -> Evidence:
    """What speaks for two screens being the same."""
    title = fuzz.ratio(plain(one.title), plain(other.title)) / 100
    kind = one.kind == other.kind != OTHER
    ruled = ruling(one, other, rulings)
    likeness = _together(one, other, title) if ruled is None else float(ruled == "same")
    return Evidence(kind, title, _keys(one, other), one.late != other.late, ruled, likeness)


def likeness(one: Stop, other: Stop, rulings: Rulings = NO_RULINGS) -> float:
    """How likely two screens are for the same thing, 0 to 1."""
    return evidence(one, other, rulings).likeness


def plain(title: str) -> str:
    """A title as it is compared: in small letters, its words sorted, so that their order does not count."""
    return " ".join(sorted(title[:_ENOUGH].casefold().split()))


def ruling(one: Stop, other: Stop, rulings: Rulings) -> Literal["same", "apart"] | None:
    """What a person has decided about two titles; None when nobody did."""
    pair = frozenset((one.title, other.title))
    return "same" if pair in rulings.same else "apart" if pair in rulings.apart else None


class Likenesses:
    """The likeness of all screens of many flows, worked out once for each two that differ.

    codes: a number for each distinct screen.
    near: for each of them those that may be the same, itself included, with their likeness.
    """

    def __init__(self, stops: Iterable[Stop], rulings: Rulings = NO_RULINGS) -> None:
        self.stops = sorted(set(stops), key=_order)
        self.codes = {stop: code for code, stop in enumerate(self.stops)}
        self.near: list[dict[int, float]] = [{code: 1.0} for code in range(len(self.stops))]
        ruled = bool(rulings.same or rulings.apart)
        for (one, other), title in self._pairs(rulings).items():
            decided = ruling(self.stops[one], self.stops[other], rulings) if ruled else None
            like = _together(self.stops[one], self.stops[other], title) if decided is None else float(decided == "same")
            if like >= SAME:
                self.near[one][other] = self.near[other][one] = like

    def _pairs(self, rulings: Rulings) -> dict[tuple[int, int], float]:
        """All pairs that could be the same, with the likeness of their titles: the rest is never looked at."""
        titles = [plain(stop.title) for stop in self.stops]
        found: dict[tuple[int, int], float] = {}
        for together in self._groups(rulings):
            _liken(titles, together, found, None)
        _liken(titles, range(len(titles)), found, 100 * SAME)
        return found

    def _groups(self, rulings: Rulings) -> list[list[int]]:
        """Screens that could be the same whatever they are called: of one kind, with a key in common, or ruled so."""
        groups: dict[object, list[int]] = {}
        ruled = {title: pair for pair in rulings.same for title in pair}
        for code, stop in enumerate(self.stops):
            if stop.kind != OTHER:
                groups.setdefault(("kind", stop.kind), []).append(code)
            for key in stop.keys:
                groups.setdefault(("key", key), []).append(code)
            if stop.title in ruled:
                groups.setdefault(("ruled",), []).append(code)
        return list(groups.values())


def _liken(
    titles: Sequence[str], codes: Sequence[int], found: dict[tuple[int, int], float], cutoff: float | None
) -> None:
    """Adds the likeness of the titles of every two of these codes, of those that reach the cut-off."""
    chosen = [titles[code] for code in codes]
    for place, code in enumerate(codes[:-1]):
        near = process.extract(chosen[place], chosen[place + 1 :], scorer=fuzz.ratio, score_cutoff=cutoff, limit=None)
        for _, score, index in near:
            found[code, codes[place + 1 + index]] = score / 100


def _together(one: Stop, other: Stop, title: float) -> float:
    known = [stop.kind != OTHER for stop in (one, other)]
    keys = _keys(one, other)
    if one.kind == other.kind:
        left = (1 - KIND if all(known) else 1.0) * (1 - title)
    else:
        left = 1 - (AGAINST_KINDS if all(known) else WITHOUT_KIND) * title
    left *= 1.0 if keys is None else 1 - KEYS * keys
    return (1 - left) * (ACROSS if one.late != other.late else 1.0)


def _keys(one: Stop, other: Stop) -> float | None:
    """The part of the keys of two screens that both have (Jaccard 1901); None where one of them has none."""
    if not one.keys or not other.keys:
        return None
    common = len(set(one.keys) & set(other.keys))
    return common / (len(one.keys) + len(other.keys) - common)


def _order(stop: Stop) -> tuple[str, str, bool, tuple[str, ...]]:
    return stop.title, stop.kind, stop.late, stop.keys
