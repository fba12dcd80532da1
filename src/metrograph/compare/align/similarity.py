"""Says how similar two screens are in what they are for, from their kinds, titles, keys, and the side of the restart.

Each piece of evidence is a chance that they are the same; together they leave over what all of them leave over, as
independent chances do (a noisy-or, Pearl 1988).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

import msgspec
from rapidfuzz import fuzz, process

from metrograph.log.lexicon import OTHER, UNCONFIRMED
from metrograph.run.route import NO_RULINGS, Rulings, ScreenKey


class Weights(msgspec.Struct, frozen=True):
    """How much each piece of evidence says, 0 to 1; fitted on generated flows by ``bench.fitting``.

    same: the least similarity at which two screens may be the same, and one may join a row, on the average.
    kind: what one kind says by itself: enough, even across the restart; keys: what the same keys say.
    against_kinds: what one title counts for where two known kinds speak against it: not enough without a key in common.
    without_kind: what one title counts for where only one of the two has a known kind.
    across: what remains of all where the restart lies between them.
    alone: the similarity to a row from which a screen belongs there wherever it stands; below it, a neighbour must too.
    second_best: how much heavier than the similarity it weighs that one of two has a better match elsewhere.
    """

    same: float = 0.6
    kind: float = 0.62
    keys: float = 0.8
    against_kinds: float = 0.55
    without_kind: float = 0.7
    across: float = 0.97
    alone: float = 0.8
    second_best: float = 4.0


WEIGHTS = Weights()
_LONGEST_TITLE = 200  # characters that are compared, which takes the square of their number


Ruling = Literal["same", "apart"]


class Evidence(msgspec.Struct, frozen=True):
    """The evidence for two screens being the same.

    kind: whether they have one, other than ``other``.
    title: how similar their titles are, 0 to 1.
    keys: the part of their keys that both have, 0 to 1; None where one of them has none.
    across: whether the restart lies between them.
    ruled: what a person has decided; None when nobody did.
    similarity: all of it together, 0 to 1; ``Weights.same`` is needed.
    """

    kind: bool
    title: float
    keys: float | None
    across: bool
    ruled: Ruling | None
    similarity: float


def evidence(one: ScreenKey, other: ScreenKey, rulings: Rulings = NO_RULINGS) -> Evidence:
    """The evidence for two screens being the same."""
    title = fuzz.ratio(plain(one.title), plain(other.title)) / 100
    kind = one.kind == other.kind != OTHER
    ruled = ruling(one, other, rulings)
    similar = _together(one, other, title, WEIGHTS) if ruled is None else float(ruled == "same")
    return Evidence(kind, title, _keys(one, other), one.late != other.late, ruled, similar)


def similarity(one: ScreenKey, other: ScreenKey, rulings: Rulings = NO_RULINGS) -> float:
    """How similar two screens are in what they are for, 0 to 1."""
    return evidence(one, other, rulings).similarity


def plain(title: str) -> str:
    """A title as it is compared: in small letters, its words sorted, so that their order does not count.

    One that nobody has confirmed is compared as it seems to be.
    """
    title = title.removesuffix(UNCONFIRMED)
    return " ".join(sorted(title[:_LONGEST_TITLE].casefold().split()))


def ruling(one: ScreenKey, other: ScreenKey, rulings: Rulings) -> Ruling | None:
    """What a person has decided about two titles; None when nobody did."""
    pair = frozenset((one.title, other.title))
    return "same" if pair in rulings.same else "apart" if pair in rulings.apart else None


class Similarities:
    """The similarity of all screens of many flows, worked out once for each two that differ.

    codes: a number for each distinct screen.
    near: for each of them those that may be the same, itself included, with their similarity.
    same, apart: for each those that a person has ruled to be the same, and those that are not.
    """

    def __init__(self, screens: Iterable[ScreenKey], rulings: Rulings = NO_RULINGS, weights: Weights = WEIGHTS) -> None:
        self.screens, self.weights = sorted(set(screens), key=_order), weights
        self.codes = {screen: code for code, screen in enumerate(self.screens)}
        self.near: list[dict[int, float]] = [{code: 1.0} for code in range(len(self.screens))]
        self.same: dict[int, set[int]] = self._ruled(rulings.same)
        self.apart: dict[int, set[int]] = self._ruled(rulings.apart)
        ruled = bool(rulings.same or rulings.apart)
        for (one, other), title in self._pairs(rulings).items():
            first, second = self.screens[one], self.screens[other]
            decided = ruling(first, second, rulings) if ruled else None
            similar = _together(first, second, title, weights) if decided is None else float(decided == "same")
            if similar >= weights.same:
                self.near[one][other] = self.near[other][one] = similar

    def _ruled(self, pairs: frozenset[frozenset[str]]) -> dict[int, set[int]]:
        """For each screen whose title a person has named, those with the other title of a pair."""
        by_title: dict[str, set[int]] = {}
        for code, screen in enumerate(self.screens):
            by_title.setdefault(screen.title, set()).add(code)
        ruled: dict[int, set[int]] = {}
        for pair in pairs:
            for title in pair:
                others = {code for other in pair - {title} for code in by_title.get(other, ())}
                for code in by_title.get(title, ()):
                    ruled.setdefault(code, set()).update(others)
        return ruled

    def _pairs(self, rulings: Rulings) -> dict[tuple[int, int], float]:
        """All pairs that could be the same, with the similarity of their titles: the rest is never looked at."""
        titles = [plain(screen.title) for screen in self.screens]
        pairs: dict[tuple[int, int], float] = {}
        for group in self._groups(rulings):
            _compare_titles(titles, group, pairs, None)
        _compare_titles(titles, range(len(titles)), pairs, 100 * self.weights.same)
        return pairs

    def _groups(self, rulings: Rulings) -> list[list[int]]:
        """Screens that could be the same whatever they are called: of one kind, with a key in common, or ruled so."""
        groups: dict[object, list[int]] = {}
        ruled = {title: pair for pair in rulings.same for title in pair}
        for code, screen in enumerate(self.screens):
            if screen.kind != OTHER:
                groups.setdefault(("kind", screen.kind), []).append(code)
            for key in screen.keys:
                groups.setdefault(("key", key), []).append(code)
            if screen.title in ruled:
                groups.setdefault(("ruled",), []).append(code)
        return list(groups.values())


def _compare_titles(
    titles: Sequence[str], codes: Sequence[int], pairs: dict[tuple[int, int], float], cutoff: float | None
) -> None:
    """Adds the similarity of the titles of every two of these codes, of those that reach the cut-off."""
    chosen = [titles[code] for code in codes]
    for place, code in enumerate(codes[:-1]):
        near = process.extract(chosen[place], chosen[place + 1 :], scorer=fuzz.ratio, score_cutoff=cutoff, limit=None)
        for _, score, index in near:
            pairs[code, codes[place + 1 + index]] = score / 100


def _together(one: ScreenKey, other: ScreenKey, title: float, weights: Weights) -> float:
    known = [screen.kind != OTHER for screen in (one, other)]
    keys = _keys(one, other)
    if one.kind == other.kind:
        left = (1 - weights.kind if all(known) else 1.0) * (1 - title)
    else:
        left = 1 - (weights.against_kinds if all(known) else weights.without_kind) * title
    left *= 1.0 if keys is None else 1 - weights.keys * keys
    return (1 - left) * (weights.across if one.late != other.late else 1.0)


def _keys(one: ScreenKey, other: ScreenKey) -> float | None:
    """The part of the keys of two screens that both have (Jaccard 1901); None where one of them has none."""
    if not one.keys or not other.keys:
        return None
    common = len(set(one.keys) & set(other.keys))
    return common / (len(one.keys) + len(other.keys) - common)


def _order(screen: ScreenKey) -> tuple[str, str, bool, tuple[str, ...]]:
    return screen.title, screen.kind, screen.late, screen.keys
