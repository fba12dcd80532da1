"""Knows what screens are for: the kinds, the words that suggest them, the phases they imply."""

from __future__ import annotations

import re
from enum import StrEnum
from functools import cache, cached_property
from pathlib import Path
from typing import Literal
from unicodedata import combining, normalize

import msgspec

from metrograph.log.quantities import units
from metrograph.log.verbs import PHASES

OTHER = "other"
UNTITLED = "Unknown screen"
"""With a number, the title of a screen that was seen and whose own title nobody knows yet."""
WITHOUT_TITLE = frozenset({"desktop", "greeter"})
"""Kinds of screens that bear no title: what one is called is the word of whoever noted it."""
UNCONFIRMED = " (not confirmed)"
"""Behind a title that a draft proposed, and that nobody has looked at."""
_LONGEST_TITLE = 500  # characters of a title that are looked at
_WHOLE = "="
"""Stands before words that are a kind's when they are a title by themselves, and say nothing in a longer one."""
_WITH_BLANKS = "\u2e80"  # scripts up to here have blanks between words
_AFTER_RESTART = frozenset(PHASES[PHASES.index("restart") :])


class Kind(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A kind of screen.

    words: beginnings of words, or phrases, that suggest it when they stand in a title; after ``=`` a whole title.
    phases: where it is at home: the first before the restart, the last after it; none when it implies nothing.
    unattended: whether the machine works by itself while such a screen is in front.
    personal: whether what is typed on such a screen tells who or where.
    """

    words: tuple[str, ...] = ()
    phases: tuple[str, ...] = ()
    unattended: bool = False
    personal: bool = False


class Unit(StrEnum):
    """In what a figure counts."""

    BYTES = units.BYTES
    SECONDS = units.SECONDS
    PERCENT = units.PERCENT
    COUNT = units.COUNT


Better = Literal["less", "more"]


class ReadingKind(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A figure that is read. better: None when neither way is."""

    unit: Unit = Unit.COUNT
    better: Better | None = None


class Checklist(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The wants of a reviewer for every run: names of trials and readings, usual tweaks, usual additions."""

    checks: tuple[str, ...] = ()
    readings: tuple[str, ...] = ()
    tweaks: tuple[str, ...] = ()
    additions: tuple[str, ...] = ()


class Lexicon(msgspec.Struct, frozen=True, forbid_unknown_fields=True, dict=True):
    """All kinds by name, in the order that decides between equals.

    measures: figures by name.
    about: how far to either side an “about” reaches, as a part of the figure.
    personal: beginnings of words, or phrases, that tell that a key's values are personal.
    """

    kinds: dict[str, Kind] = {}
    personal: tuple[str, ...] = ()
    measures: dict[str, ReadingKind] = {}
    about: float = units.ABOUT

    def is_personal(self, key: str) -> bool:
        """Whether the values of this key tell who or where, and are masked in what is published."""
        known = self._known_keys.get(key)
        if known is None:
            spoken = _spoken(key)
            known = spoken in self._whole_personal or any(word in spoken for word in self._begun_personal)
            self._known_keys[key] = known
        return known

    def asks_who(self, kind: str) -> bool:
        """Whether what is typed on a screen of this kind tells who or where, whatever it is asked as."""
        known = self.kinds.get(kind)
        return known is not None and known.personal

    def kind_of(self, title: str) -> str:
        """The kind a title suggests: that of the longest of its words or phrases; ``other`` when none stands in it."""
        known = self._known_titles.get(title)
        if known is None:
            plain = _plain(title[:_LONGEST_TITLE])
            suggested = next((kind for phrase, kind in self._phrases if phrase in plain), OTHER)
            known = self._titles.get(plain, suggested)
            if len(title) <= _LONGEST_TITLE:
                self._known_titles[title] = known
        return known

    @cached_property
    def _whole_personal(self) -> frozenset[str]:
        """Whole keys that are personal, as they are spoken."""
        return frozenset(_spoken(word[1:]) for word in self.personal if word[:1] == _WHOLE)

    @cached_property
    def _begun_personal(self) -> list[str]:
        """What is in a key that is personal: beginnings of words; in scripts without blanks, anywhere."""
        begun = [_spoken(word) for word in self.personal if word[:1] != _WHOLE]
        return [word.lstrip() if word.strip()[:1] > _WITH_BLANKS else word for word in begun]

    @cached_property
    def _known_keys(self) -> dict[str, bool]:
        """What was found of keys: the same come up in every run."""
        return {}

    @cached_property
    def _known_titles(self) -> dict[str, str]:
        """What was found of titles: most come up in every run."""
        return {}

    @cached_property
    def _titles(self) -> dict[str, str]:
        """Whole titles with their kinds; of several kinds, the first has it."""
        pairs = [(word, name) for name, kind in self.kinds.items() for word in kind.words if word[:1] == _WHOLE]
        return {_plain(word): name for word, name in reversed(pairs)}

    @cached_property
    def _phrases(self) -> list[tuple[str, str]]:
        """All words and phrases with their kinds, the longest first, each as it stands at the beginning of a word.

        In scripts without blanks it may stand anywhere.
        """
        phrases = [
            (word if word[:1] > _WITH_BLANKS else f" {word}", name)
            for name, kind in self.kinds.items()
            for word in kind.words
            if word[:1] != _WHOLE
        ]
        return sorted(phrases, key=lambda phrase: -len(phrase[0]))

    def phase_of(self, kind: str, current: str, restarted: bool) -> str:
        """The phase a screen of this kind moves a run to.

        current: the phase before it, which stays where the kind is at home in it.
        restarted: whether the machine has restarted into the installed system in this attempt.
        """
        known = self.kinds.get(kind)
        homes = known.phases if known else ()
        if not homes or current in homes:
            return current
        return homes[-1] if restarted else homes[0]

    def unattended(self, kind: str) -> bool:
        """Whether the machine works by itself while a screen of this kind is in front."""
        known = self.kinds.get(kind)
        return known is not None and known.unattended

    def with_own(
        self,
        kinds: dict[str, Kind],
        personal: tuple[str, ...] = (),
        measures: dict[str, ReadingKind] | None = None,
        about: float | None = None,
    ) -> Lexicon:
        """A lexicon with what a logbook adds: its kinds come first and may replace the ones that are here."""
        known = {name: kind for name, kind in self.kinds.items() if name not in kinds}
        words = (*self.personal, *personal)
        return Lexicon(kinds | known, words, self.measures | (measures or {}), self.about if about is None else about)


def _spoken(key: str) -> str:
    """The words of a key, each after a blank and without accents, whatever joins them: “your computer's user-name”."""
    plain = re.sub(r"['’]s?\b", "", key.casefold())
    if not plain.isascii():
        # Accents are what a reader of pictures misses first.
        plain = "".join(sign for sign in normalize("NFKD", plain) if not combining(sign))
    return " " + " ".join(re.findall(r"[^\W_]+", plain))


def _plain(text: str) -> str:
    """Words in small letters, each after a blank."""
    return " " + " ".join(re.findall(r"[^\W_]+(?:-[^\W_]+)*", text.casefold()))


def is_untitled(title: str) -> bool:
    """Whether a title says that nobody knows it: then nothing follows from it, nor from what is not noted around it."""
    return title.startswith(f"{UNTITLED} ") or title.endswith(UNCONFIRMED)


def is_after_restart(phase: str) -> bool:
    """Whether a phase belongs to the installed system; a phase of one's own says nothing and gives False."""
    return phase in _AFTER_RESTART


@cache
def load_lexicon() -> Lexicon:
    """The lexicon that comes with the program."""
    import tomllib  # not wanted by those who only write a cue

    from metrograph.languages.language_tables import words_of

    known = msgspec.convert(tomllib.loads(Path(__file__).with_name("lexicon.toml").read_text("utf-8")), Lexicon)
    kinds = {name: msgspec.structs.replace(kind, words=words_of("kinds", name)) for name, kind in known.kinds.items()}
    return msgspec.structs.replace(known, kinds=kinds, personal=words_of("private", "personal"))
