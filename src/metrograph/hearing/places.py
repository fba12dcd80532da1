"""Says where in the job somebody talks: a hidden Markov model over its parts, fed by words; its weights are learnt.

The words of eight seconds are one observation; each word and each pair of words speaks for and against each part, as
often as it was said there (Rabiner, 1989, for the way through). The weights lie beside this file with what they were
made from; ``bench.hearing`` makes them.
"""

from __future__ import annotations

import gzip
import json
import math
from collections.abc import Mapping, Sequence
from functools import cache
from itertools import pairwise
from pathlib import Path
from types import MappingProxyType

import msgspec

from metrograph.hearing.stream.spoken import Token

SLOTS = (
    "before", "boot", "live", "questions", "copy", "restart", "setup", "greeter", "tour", "desktop", "update", "after",
)  # fmt: skip
"""Where in the job something is said, in their usual order."""

WINDOW = 8.0
"""Seconds of an observation."""
_TRUST = 0.15
"""How much a word counts: those of one window say much the same, and would else be counted as if they did not.

From 0.15 to 0.2 most of a narration that was left out lies in its part (0.70 of it; 0.58 with 0.05, 0.49 with 1).
"""


class SlotModel(msgspec.Struct, frozen=True):
    """Weights: of each word for each part, of each part after each, of each at the beginning; natural logarithms.

    made_from: what they were learnt from.
    """

    words: dict[str, tuple[float, ...]]
    after: tuple[tuple[float, ...], ...]
    first: tuple[float, ...]
    made_from: str = ""


def windows(tokens: Sequence[Token]) -> list[set[str]]:
    """The words, and pairs of words, of each window from the beginning; figures are left out."""
    count = int(tokens[-1].at // WINDOW) + 1 if tokens else 0
    said: list[list[str]] = [[] for _ in range(count)]
    for token in tokens:
        said[int(token.at // WINDOW)].append(token.text)
    made = []
    for words in said:
        plain = {word for word in words if not word[0].isdigit()}
        pairs = {f"{a} {b}" for a, b in pairwise(words) if not (a[0] + b[0]).isdigit()}
        made.append(plain | {pair for pair in pairs if not any(part[0].isdigit() for part in pair.split())})
    return made


def slots_of(
    tokens: Sequence[Token], model: SlotModel | None = None, as_english: Mapping[str, str] = MappingProxyType({})
) -> list[tuple[float, str]]:
    """From which moment on it is which part: the most likely way through all windows (Viterbi).

    as_english: words of another language that say what those say that the weights were learnt from.
    """
    seen = [words | {as_english[word] for word in words & as_english.keys()} for words in windows(tokens)]
    if not seen:
        return [(0.0, SLOTS[0])]
    known = model or slot_model()
    emissions = [_emission(words, known.words) for words in seen]
    best = [start + each for start, each in zip(known.first, emissions[0], strict=True)]
    back: list[list[int]] = []
    states = range(len(SLOTS))
    for emission in emissions[1:]:
        came = [max(states, key=lambda before: best[before] + known.after[before][state]) for state in states]
        best = [best[came[state]] + known.after[came[state]][state] + emission[state] for state in states]
        back.append(came)
    path = [max(states, key=lambda state: best[state])]
    for came in reversed(back):
        path.append(came[path[-1]])
    path.reverse()
    changes = [(0.0, SLOTS[path[0]])]
    changes += [
        (place * WINDOW, SLOTS[state]) for place, (before, state) in enumerate(pairwise(path), 1)
        if state != before
    ]  # fmt: skip
    return changes


def _emission(words: set[str], weights: Mapping[str, Sequence[float]]) -> list[float]:
    """How much the words of a window speak for each part."""
    sums = [0.0] * len(SLOTS)
    for word in words:
        for place, weight in enumerate(weights.get(word, ())):
            sums[place] += weight
    return [_TRUST * each for each in sums]


def learn(
    narrations: Sequence[tuple[Sequence[set[str]], Sequence[int]]], made_from: str, shrink: float = 6.0
) -> SlotModel:
    """The weights of narrations: of each the words of its windows, and the part that each window belongs to.

    shrink: how many windows of no news each word begins with, so that rare ones say little.
    """
    documents: dict[str, set[int]] = {}
    counts: dict[str, list[float]] = {}
    totals = [0.0] * len(SLOTS)
    after = [[0.05] * len(SLOTS) for _ in SLOTS]
    first = [0.1] * len(SLOTS)
    for number, (seen, _) in enumerate(narrations):
        for words in seen:
            for word in words:
                documents.setdefault(word, set()).add(number)
    for seen, parts in narrations:
        first[parts[0]] += 1
        for place, (words, part) in enumerate(zip(seen, parts, strict=True)):
            totals[part] += 1
            for word in words:
                if len(documents[word]) > 1:
                    counts.setdefault(word, [0.0] * len(SLOTS))[part] += 1
            if place:
                after[parts[place - 1]][part] += 1
    everything = sum(totals)
    weights = {}
    for word, found in counts.items():
        usual = sum(found) / everything
        rates = [(each + shrink * usual) / (total + shrink) for each, total in zip(found, totals, strict=True)]
        weights[word] = tuple(round(math.log(rate / usual), 2) for rate in rates)
    return SlotModel(
        {word: each for word, each in sorted(weights.items()) if max(map(abs, each)) > _TELLING},
        tuple(tuple(round(math.log(each / sum(row)), 3) for each in row) for row in after),
        tuple(round(math.log(each / sum(first)), 3) for each in first),
        made_from,
    )


_TELLING = 0.5  # of a weight: words that say less are left out


@cache
def slot_model() -> SlotModel:
    """The weights that come with the program."""
    data = gzip.decompress(Path(__file__).with_name("slots.json.gz").read_bytes())
    return msgspec.convert(json.loads(data), SlotModel)
