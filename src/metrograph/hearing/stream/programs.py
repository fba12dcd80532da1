"""Finds programs by their names in what was said, also where these were misheard: by letters and by sound."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from functools import cache, lru_cache

import msgspec
from rapidfuzz import fuzz, process

from metrograph.core.errors import needs
from metrograph.hearing.stream.spoken import Token

EXTRA = "hear"


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


# The bounds below were set on twelve narrations in which recognisers misheard names; the rest by their sense.
_LONGEST = 4  # words of a name as it is said
_LEAST, _LEAST_APART = 0.84, 0.82  # how alike one word, and several that make a name together, have to be
_MARGIN = 0.04  # to the second best
_BESIDE, _BESIDE_ON_MACHINE = 3, 5  # words between two programs of one list; of what is there more may be said
_MISHEARD, _SHORTEST = 6, 5  # letters of what may be misheard, and of a name that it may stand for


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


def mentions(tokens: Sequence[Token], names: KnownNames, language: str = "en") -> list[Mention]:
    """The programs that are named, none over another, the most alike first. language: its code of two letters."""
    kept: list[Mention] = []
    for each in sorted(_candidates(tokens, names, language), key=lambda each: (-each.score, each.first - each.last)):
        if all(each.last < other.first or each.first > other.last for other in kept):
            kept.append(each)
    kept.sort(key=lambda each: each.first)
    return [
        each for place, each in enumerate(kept) if not _is_a_word(each, tokens, language) or _is_listed(kept, place)
    ]


def _candidates(tokens: Sequence[Token], names: KnownNames, language: str) -> Iterator[Mention]:
    """All that may be a name, of one word or of a few of one sentence."""
    index = _index(names)
    for first in range(len(tokens)):
        for last in range(first, min(first + _LONGEST, len(tokens))):
            if last > first and tokens[last - 1].stop:
                break
            said = "".join(_letters(token.text) for token in tokens[first : last + 1])
            best = index.get(said)
            if best is not None:
                if not said.isdigit() and len(said) > (2 if last > first else 3):
                    yield Mention(best.name, first, last, 1.0, best.on_machine)
            elif len(said) >= _MISHEARD and not _cannot_be_misheard(tokens[first : last + 1], language):
                guess = _alike(said, names, last > first)
                if guess is not None:
                    yield Mention(guess[0].name, first, last, guess[1], guess[0].on_machine)


def _cannot_be_misheard(said: Sequence[Token], language: str) -> bool:
    """Whether words are what they are: one that everybody says, or several around one of every sentence."""
    if len(said) == 1:
        return _is_common(said[0], language)
    return any(_is_in_every_sentence(said[at].text, language) for at in (0, -1))


def _is_common(token: Token, language: str) -> bool:
    return token.text.removesuffix("'s") in common_words(language)


def _is_a_word(mention: Mention, tokens: Sequence[Token], language: str) -> bool:
    """Whether a name is a word as well, and was said as one alone."""
    said = tokens[mention.first]
    if mention.first != mention.last or _letters(said.text) != _letters(mention.name):
        return False
    return _is_common(said, language)


def _is_listed(kept: Sequence[Mention], place: int) -> bool:
    """Whether another program is named right before or right after."""
    around = [kept[at] for at in (place - 1, place + 1) if 0 <= at < len(kept)]
    here = kept[place]
    beside = _BESIDE_ON_MACHINE if here.on_machine else _BESIDE
    return any(min(abs(here.first - each.last), abs(each.first - here.last)) <= beside for each in around)


@cache
def common_words(language: str) -> frozenset[str]:
    """Words that everybody says, whatever they talk of: they are heard rightly, and are names in a list of names only.

    Raises MetrographError where the package that knows them is missing.
    """
    return frozenset(needs("wordfreq", EXTRA).get_frequency_dict(language, "small"))


def is_stranger(word: str, language: str) -> bool:
    """Whether a word is none that everybody says, in the one or in many."""
    return not {word, word.removesuffix("s"), word.removesuffix("ing"), word.removesuffix("ed")} & common_words(
        language
    )


def is_everyday(word: str, language: str) -> bool:
    """Whether a word is said so often that nobody would call a system by it."""
    from wordfreq import zipf_frequency

    return zipf_frequency(word, language, "small") >= _EVERYDAY


def _is_in_every_sentence(word: str, language: str) -> bool:
    from wordfreq import zipf_frequency

    return zipf_frequency(word, language, "small") >= _EVERY_SENTENCE


_EVERY_SENTENCE = 6.3  # one in five hundred words
_EVERYDAY = 4.2  # one in sixty thousand words, as the logarithm to ten of how often a word is in a milliard


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
def _alike(said: str, names: KnownNames, apart: bool) -> tuple[Program, float] | None:
    """The program whose name is like what was said, by letters and by sound; None where two are as like.

    apart: whether it was said in several words. Half of it is how alike the letters are, half how alike they sound.
    """
    least = _LEAST_APART if apart else _LEAST
    letters, sounds = _sounded(names)
    sound = _sound(said)
    near = process.extract(said, letters, scorer=fuzz.ratio, limit=None, score_cutoff=200 * (least - _MARGIN) - 100)
    ranked = sorted(
        (
            (0.5 * score + 0.5 * fuzz.ratio(sound, sounds[place]), names.programs[place])
            for _, score, place in near if len(letters[place]) >= _SHORTEST
        ),
        key=lambda pair: -pair[0],
    )  # fmt: skip
    if not ranked or ranked[0][0] < 100 * least:
        return None
    (score, best), *others = ranked
    close = bool(others) and score - others[0][0] < 100 * _MARGIN
    return None if close and not (best.on_machine and not others[0][1].on_machine) else (best, score / 100)


@lru_cache(8)
def _sounded(names: KnownNames) -> tuple[list[str], list[str]]:
    letters = [_letters(each.name) for each in names.programs]
    return letters, [_sound(each) for each in letters]
