"""Finds programs by their names in what was said, also where these were misheard: by letters and by sound."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from functools import cache, lru_cache

import msgspec
from rapidfuzz import fuzz

from metrograph.hearing.spoken import Token


class Program(msgspec.Struct, frozen=True):
    """A program by its shown name. on_machine: whether it is on the machine under test, as a probe says."""

    name: str
    group: str = ""
    on_machine: bool = False


class KnownNames(msgspec.Struct, frozen=True):
    """All names that may be a program's. has_machine: whether a list of the machine was given."""

    programs: tuple[Program, ...] = ()
    has_machine: bool = False


class Mention(msgspec.Struct, frozen=True):
    """A program that was named. first, last: the places of its tokens; score: how alike name and words are, 0 to 1."""

    name: str
    first: int
    last: int
    score: float
    on_machine: bool


_LONGEST = 4  # words of a name as it is said
_LEAST, _LEAST_APART = 0.84, 0.82  # how alike one word, and several that make a name together, have to be
_MARGIN = 0.04  # to the second best
_ALONE = 4  # letters of a name that may be found anywhere in one word


def read_names(text: str, on_machine: bool = False) -> list[Program]:
    """Programs of a table: package, shown name, group, version, apart by tabs; or one name a line."""
    found = []
    for line in text.splitlines():
        cells = [cell.strip() for cell in line.split("\t")]
        if cells and cells[0] and not cells[0].startswith("#"):
            name = cells[1] if len(cells) > 1 and cells[1] else cells[0]
            found.append(Program(name, cells[2] if len(cells) > 2 else "", on_machine))
    return found


def known_names(machine: Iterable[Program], others: Iterable[Program] = ()) -> KnownNames:
    """Names of a machine and others, each once; what is on the machine is on it."""
    programs: dict[str, Program] = {}
    own = list(machine)
    for each in (*others, *own):
        key = _letters(each.name)
        if each.on_machine or key not in programs:
            programs[key] = each
    return KnownNames(tuple(programs.values()), bool(own))


def mentions(tokens: Sequence[Token], names: KnownNames) -> list[Mention]:
    """The programs that are named, none over another, the likest first."""
    index, common = _index(names), common_words()
    found: list[Mention] = []
    for first in range(len(tokens)):
        for count in range(1, _LONGEST + 1):
            last = first + count - 1
            if last >= len(tokens) or any(token.stop for token in tokens[first:last]):
                break
            said = "".join(_letters(token.text) for token in tokens[first : last + 1])
            if len(said) < 3 or said.isdigit():
                continue
            best = index.get(said)
            if best is not None:
                if count > 1 or len(said) > 3:
                    found.append(Mention(best.name, first, last, 1.0, best.on_machine))
                continue
            words = " ".join(token.text for token in tokens[first : last + 1])
            if len(said) >= 6 and not (count == 1 and words.removesuffix("'s") in common):
                guess = _alike(said, names, count)
                if guess is not None:
                    found.append(Mention(guess[0].name, first, last, guess[1], guess[0].on_machine))
    kept: list[Mention] = []
    for each in sorted(found, key=lambda each: (-each.score, each.first - each.last)):
        if all(each.last < other.first or each.first > other.last for other in kept):
            kept.append(each)
    kept.sort(key=lambda each: each.first)
    return [each for place, each in enumerate(kept) if not _is_a_word(each, tokens) or _is_listed(kept, place)]


def _is_a_word(mention: Mention, tokens: Sequence[Token]) -> bool:
    """Whether a name is a word as well, and was said as one alone."""
    said = tokens[mention.first].text.removesuffix("'s")
    return mention.first == mention.last and said in common_words() and said == mention.name.lower().replace(" ", "")


def _is_listed(kept: Sequence[Mention], place: int) -> bool:
    """Whether another program is named right before or right after."""
    around = [kept[at] for at in (place - 1, place + 1) if 0 <= at < len(kept)]
    return any(min(abs(kept[place].first - each.last), abs(each.first - kept[place].last)) <= _BESIDE for each in around)


_BESIDE = 3  # words between two programs of one list


@cache
def common_words() -> frozenset[str]:
    """Words that several people say, whatever they talk of: they are heard rightly."""
    from metrograph.hearing.places import slot_model

    return frozenset(word for word in slot_model().words if " " not in word)


def _letters(text: str) -> str:
    return re.sub(r"[^a-z0-9]", "", text.lower().removesuffix("'s"))


@lru_cache(8)
def _index(names: KnownNames) -> dict[str, Program]:
    index = {_letters(each.name): each for each in names.programs}
    for each in names.programs:
        index.setdefault(_letters(each.name) + "s", each)
    return index


def _sound(text: str) -> str:
    """How letters sound, roughly: what English recognisers confuse is one sign."""
    sound = text
    for letters, sign in _SOUNDS:
        sound = sound.replace(letters, sign)
    return re.sub(r"(.)\1+", r"\1", sound)


_SOUNDS = (
    ("wr", "r"), ("kn", "n"), ("ph", "f"), ("ght", "t"), ("gh", ""), ("ck", "k"), ("ch", "x"), ("sh", "x"), ("th", "t"),
    ("c", "k"), ("q", "k"), ("z", "s"), ("y", "i"), ("ee", "i"), ("ea", "i"), ("ai", "a"), ("ay", "a"), ("ei", "a"),
    ("oo", "u"), ("ow", "o"), ("ou", "o"), ("au", "o"), ("aw", "o"), ("oa", "o"), ("e", "i"), ("d", "t"), ("b", "p"),
    ("w", ""), ("h", ""),
)  # fmt: skip


@lru_cache(65536)
def _alike(said: str, names: KnownNames, count: int) -> tuple[Program, float] | None:
    """The program whose name is like what was said, by letters and by sound; None where two are as like."""
    sound = _sound(said)
    least = _LEAST if count == 1 else _LEAST_APART
    ranked: list[tuple[float, Program]] = []
    for each, letters, other in _sounded(names):
        if abs(len(letters) - len(said)) > 3 or len(letters) < 5:
            continue
        score = 0.5 * fuzz.ratio(said, letters) / 100 + 0.5 * fuzz.ratio(sound, other) / 100
        if score >= least - _MARGIN:
            ranked.append((score, each))
    ranked.sort(key=lambda pair: -pair[0])
    if not ranked or ranked[0][0] < least:
        return None
    if len(ranked) > 1 and ranked[0][0] - ranked[1][0] < _MARGIN and not (
        ranked[0][1].on_machine and not ranked[1][1].on_machine
    ):
        return None
    return ranked[0][1], ranked[0][0]


@lru_cache(8)
def _sounded(names: KnownNames) -> tuple[tuple[Program, str, str], ...]:
    return tuple((each, _letters(each.name), _sound(_letters(each.name))) for each in names.programs)
