"""An installation as it is watched: screens that come and are answered, pointer, typing, waiting, trouble; and its truth."""

from __future__ import annotations

import random

import msgspec
from msgspec.structs import replace

from bench.films.painter import Screen
from bench.films.themes import Theme
from bench.films.words import CONTROLS, TONGUES, Tongue

_BOOT = tuple(f"[    {number / 9:.6f}] device {number}: ready, irq {number % 16}" for number in range(30, 90))


class Truth(msgspec.Struct, frozen=True):
    """What stood there. start, end: seconds; waiting: whether the machine worked by itself; answer: what was picked."""

    start: float
    end: float
    title: str
    kind: str
    waiting: bool = False
    dialog: bool = False
    error: bool = False
    returns: bool = False
    answer: str = ""


Shown = tuple[float, Screen]
"""From a moment on, in seconds, this is to be seen."""


class Story:
    """Tells itself once: ``shown`` and ``truths`` are filled as it goes."""

    def __init__(self, theme: Theme, seed: int) -> None:
        self.theme, self.chance = theme, random.Random(seed)
        self.tongue: Tongue = TONGUES[theme.tongue]
        self.now = 0.0
        self.shown: list[Shown] = []
        self.truths: list[Truth] = []
        self.seen: set[str] = set()
        # One look is one installer, whatever is done with it.
        wording = random.Random(theme.seed)
        self.titles = {kind: wording.choice(text.titles) for kind, text in self.tongue.screens.items()}
        self.tell()

    def show(self, screen: Screen, seconds: float) -> None:
        """Something to be seen for so long."""
        self.shown.append((self.now, replace(screen, minute=int(self.now // 60) + 3)))
        self.now += seconds

    def tell(self) -> None:
        """The whole installation."""
        chance = self.chance
        before = [
            kind
            for kind in ("place", "keyboard", "network", "software", "disk", "account", "host")
            if chance.random() < 0.75
        ]
        chance.shuffle(before)
        self.order = ["welcome", *before, "summary", "copying", "finished"]
        if chance.random() < 0.5:
            self.boot()
        again = chance.randrange(1, len(before)) if len(before) > 2 and chance.random() < 0.6 else None
        for number, kind in enumerate(self.order):
            self.screen(kind, number)
            if number == again:
                self.screen(self.order[number - 1], number - 1)
                self.screen(kind, number)
            if kind in {"summary", "copying"} and chance.random() < 0.4:
                self.wait_black()
        self.boot()
        self.order = ["privacy", "appearance"]
        for number, kind in enumerate(self.order):
            self.screen(kind, number)

    def boot(self) -> None:
        """A black screen, then lines of a starting machine."""
        start = self.now
        self.show(Screen(black=True), self.chance.uniform(1.5, 3))
        for count in range(5, len(_BOOT), 6):
            self.show(Screen(console=_BOOT[:count]), self.chance.uniform(0.1, 0.5))
        self.show(Screen(black=True), self.chance.uniform(1, 2))
        self.truths.append(Truth(start, self.now, "", "", waiting=True))

    def wait_black(self) -> None:
        """Nothing to be seen for a while."""
        start = self.now
        self.show(Screen(black=True), self.chance.uniform(2, 4))
        self.truths.append(Truth(start, self.now, "", "", waiting=True))

    def screen(self, kind: str, number: int) -> None:
        """One screen from its coming to its going."""
        text, theme = self.tongue.screens[kind], self.theme
        steps = tuple(self.titles[name] for name in self.order)
        screen = Screen(kind, self.titles[kind], text.label, text.items, CONTROLS[kind], number, steps)
        if theme.pointer:
            screen = replace(
                screen,
                pointer=(self.chance.randrange(50, theme.size[0] - 50), self.chance.randrange(50, theme.size[1] - 50)),
            )
        start, answer = self.now, ""
        if theme.half_painted:
            self.show(replace(screen, part=0.1), 0.15)
            self.show(replace(screen, part=0.5), 0.2)
        if kind == "copying":
            self.copy(screen)
        else:
            answer = _picked(self.answer(screen))
        self.truths.append(
            Truth(
                start, self.now, screen.title, kind, waiting=kind == "copying", returns=kind in self.seen, answer=answer
            )
        )
        self.seen.add(kind)

    def answer(self, screen: Screen) -> Screen:
        """Looking, answering, and what goes wrong; gives the screen as it is left."""
        chance = self.chance
        self.show(screen, chance.uniform(1.2, 4))
        screen = self.move(screen)
        if screen.kind in {"account", "host", "network"} and chance.random() < 0.4:
            start = self.now
            self.show(replace(screen, error=chance.choice(self.tongue.error)), chance.uniform(1.5, 3))
            self.truths.append(Truth(start, self.now, screen.title, screen.kind, error=True))
        if screen.kind in {"disk", "summary"} and chance.random() < 0.5:
            start = self.now
            self.show(replace(screen, dialog=self.tongue.sure), chance.uniform(1.5, 4))
            self.truths.append(Truth(start, self.now, self.tongue.sure[0], "", dialog=True))
        self.show(screen, chance.uniform(0.3, 1))
        return screen

    def move(self, screen: Screen) -> Screen:
        """What a person does on it; gives the screen as it stands then."""
        chance = self.chance
        if screen.pointer:
            for _ in range(chance.randrange(4)):
                x, y = screen.pointer
                screen = replace(screen, pointer=(x + chance.randint(-40, 40), y + chance.randint(-40, 40)))
                self.show(screen, 0.15)
        if screen.control == "fields":
            for number in range(len(screen.items)):
                for length in range(1, 8):
                    typed = (*screen.typed[:number], "Wren Ashby"[:length])
                    screen = replace(screen, typed=typed)
                    self.show(screen, chance.uniform(0.08, 0.25))
        elif screen.control == "list":
            for step in range(chance.randrange(6)):
                screen = replace(screen, picked=step, offset=step // 2 if chance.random() < 0.5 else screen.offset)
                self.show(screen, 0.3)
        elif screen.control == "combo" and chance.random() < 0.7:
            self.show(replace(screen, pop=True), chance.uniform(0.8, 2))
            screen = replace(screen, picked=chance.randrange(len(screen.items)))
            self.show(screen, 0.8)
        elif screen.control in {"radios", "checks"}:
            screen = replace(screen, picked=chance.randrange(len(screen.items)))
            self.show(screen, 0.8)
        return screen

    def copy(self, screen: Screen) -> None:
        """Waiting, with slides or without."""
        slides = self.tongue.slides if self.chance.random() < 0.6 else ("",)
        steps = self.chance.randrange(30, 60)
        for step in range(steps):
            slide = slides[step * len(slides) // steps]
            self.show(replace(screen, share=step / steps, slide=slide), self.chance.uniform(0.2, 0.6))


def _picked(screen: Screen) -> str:
    """What is picked on a screen as it is left; nothing where it asks for words."""
    if screen.control == "checks":
        return ", ".join(screen.items[: screen.picked + 1])
    return screen.items[screen.picked % len(screen.items)] if screen.control in {"list", "combo", "radios"} else ""
