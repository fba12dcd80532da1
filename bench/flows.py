"""Makes flows whose true alignment is known: a release's screens, and what later releases make of them."""

from __future__ import annotations

import random
from collections.abc import Sequence

import msgspec

from metrograph.log.lexicon import OTHER, load_lexicon
from metrograph.run.route import ScreenKey

_KINDS = tuple(kind for kind in load_lexicon().kinds if kind != OTHER)
_CONSONANTS, _VOWELS = "bdfgklmnprstvz", "aeiou"
_OTHERS = 0.15  # the part of screens whose kind nobody can tell
_RESTART = 0.6  # where in a flow the machine restarts


class TrueScreen(msgspec.Struct, frozen=True):
    """A screen with what it truly is: the same number in two flows means the same screen."""

    key: ScreenKey
    truth: int


class Rates(msgspec.Struct, frozen=True):
    """The part of the screens that is inserted, deleted, moved or renamed from one release to the next."""

    inserted: float = 0.1
    deleted: float = 0.1
    moved: float = 0.1
    renamed: float = 0.1


class Maker:
    """Makes flows by chance, and makes them again from one seed."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)
        self.count = 0

    def flow(self, screens: int) -> list[TrueScreen]:
        """A first release."""
        kinds = [_KINDS[place % len(_KINDS)] for place in range(screens)]
        self.chance.shuffle(kinds)
        made = [self._screen(OTHER if self.chance.random() < _OTHERS else kind) for kind in kinds]
        return settled(made)

    def later(self, flow: Sequence[TrueScreen], rates: Rates) -> list[TrueScreen]:
        """The next release. Each change is made to so many screens as its rate says, chosen by chance."""
        screens = list(flow)
        for place in self._some(len(screens), rates.renamed):
            screens[place] = self._renamed(screens[place])
        gone = set(self._some(len(screens), rates.deleted))
        screens = [screen for place, screen in enumerate(screens) if place not in gone]
        for place in self._some(len(screens), rates.moved):
            screens.insert(self.chance.randrange(len(screens)), screens.pop(place))
        for _ in range(round(rates.inserted * len(flow))):
            kind = OTHER if self.chance.random() < _OTHERS else self.chance.choice(_KINDS)
            screens.insert(self.chance.randrange(len(screens) + 1), self._screen(kind))
        return settled(screens)

    def _some(self, count: int, rate: float) -> list[int]:
        return self.chance.sample(range(count), min(round(rate * count), count))

    def _screen(self, kind: str) -> TrueScreen:
        self.count += 1
        keys = tuple(sorted({self._word() for _ in range(self.chance.choice((0, 0, 1, 1, 2, 3)))}))
        return TrueScreen(ScreenKey(self._title(), kind, keys=keys), self.count)

    def _renamed(self, screen: TrueScreen) -> TrueScreen:
        """Half of the time one word is another; otherwise all are, and only the kind tells, or the keys."""
        key = screen.key
        words = key.title.split()
        words[self.chance.randrange(len(words))] = self._word()
        telling = key.kind != OTHER or key.keys
        title = self._title() if telling and self.chance.random() < 0.5 else " ".join(words)
        return TrueScreen(msgspec.structs.replace(key, title=title), screen.truth)

    def _title(self) -> str:
        return " ".join(self._word() for _ in range(self.chance.randint(2, 4)))

    def _word(self) -> str:
        syllables = self.chance.randint(1, 3)
        return "".join(self.chance.choice(_CONSONANTS) + self.chance.choice(_VOWELS) for _ in range(syllables)) + "n"


def settled(flow: Sequence[TrueScreen]) -> list[TrueScreen]:
    """Every screen put on its side of the restart."""
    restart = _RESTART * len(flow)
    return [
        TrueScreen(msgspec.structs.replace(screen.key, late=place >= restart), screen.truth)
        for place, screen in enumerate(flow)
    ]


def keys_of(flow: Sequence[TrueScreen]) -> list[ScreenKey]:
    """What alignment sees of it."""
    return [screen.key for screen in flow]
