"""An installation of a system that never was, sheet by sheet: what is shown, what is done on it, and what is true of it."""

from __future__ import annotations

import random
from functools import cache
from pathlib import Path

import msgspec
from msgspec.structs import replace

_WORDS = Path(__file__).with_name("words")
TONGUES = tuple(sorted(file.stem for file in _WORDS.glob("*.toml")))
NAMINGS = ("own", "own", "section", "question", "step")
"""What stands as the heading: a name of its own, that of the part, the question, or nothing but the marked step."""
_CONTROLS = {
    "welcome": ("list", "combo"),
    "keyboard": ("list", "combo"),
    "place": ("list", "combo"),
    "network": ("radios", "list"),
    "host": ("fields",),
    "disk": ("radios", "list"),
    "partitions": ("lines",),
    "account": ("fields",),
    "software": ("checks",),
    "summary": ("lines",),
    "copying": ("progress",),
    "finished": ("checks", "lines"),
    "privacy": ("checks",),
    "appearance": ("radios",),
}
_SECTIONS = {
    "welcome": "system", "keyboard": "system", "place": "system", "network": "network", "host": "network",
    "disk": "disks", "partitions": "disks", "account": "people", "privacy": "people", "software": "programs", "appearance": "system",
}  # fmt: skip
_TYPED = {"host": ("barnacle",), "account": ("Wren Ashby", "wren", "••••••••", "••••••••")}


class Sheet(msgspec.Struct, frozen=True):
    """All that one picture shows.

    heading: empty where only a step says it; control: list, combo, radios, checks, fields, lines, progress.
    picked: which item; ticked: which; typed: what stands in fields; share: of progress, 0 to 1.
    steps, step: names of all steps, and which it is; buttons: back, next, cancel, empty where there is none.
    live: whether back, next and cancel can be pressed; dialog: title, text, two buttons; error: a line of trouble.
    """

    kind: str
    heading: str
    question: str
    sentence: str
    control: str
    items: tuple[str, ...]
    picked: int = 0
    ticked: tuple[int, ...] = ()
    typed: tuple[str, ...] = ()
    share: float = 0.0
    slide: str = ""
    steps: tuple[str, ...] = ()
    step: int = 0
    buttons: tuple[str, str, str] = ("", "", "")
    live: tuple[bool, bool, bool] = (True, True, True)
    dialog: tuple[str, ...] = ()
    error: str = ""


class Meant(msgspec.Struct, frozen=True):
    """What is true of a screen. start, end: seconds; was, answer: what came pre-set, and what was picked in the end."""

    start: float
    end: float
    title: str
    question: str
    kind: str
    waiting: bool = False
    dialog: bool = False
    error: bool = False
    returns: bool = False
    was: str = ""
    answer: str = ""


class Flow(msgspec.Struct, frozen=True):
    """Pictures with the seconds from which on each is to be seen; what is true; and how long it all takes."""

    sheets: list[Sheet]
    shown: list[tuple[float, int]]
    meant: list[Meant]
    seconds: float


class Tongue(msgspec.Struct, frozen=True):
    """What installers say in one language. screens: heading, question, sentence, things to pick or labels of fields."""

    buttons: dict[str, str]
    sections: dict[str, str]
    refused: str
    dialog: tuple[str, str]
    slides: list[str]
    screens: dict[str, tuple[str, str, str, tuple[str, ...]]]


@cache
def words(tongue: str) -> Tongue:
    """The words of a language."""
    return msgspec.toml.decode((_WORDS / f"{tongue}.toml").read_bytes(), type=Tongue)


class FlowTeller:
    """Tells one installation. naming: as ``NAMINGS``; step_names: whether steps are shown beside the pages."""

    def __init__(self, tongue: str, seed: int, naming: str, step_names: bool) -> None:
        self.words, self.chance, self.naming = words(tongue), random.Random(seed), naming
        self.sheets: list[Sheet] = []
        self.shown: list[tuple[float, int]] = []
        self.meant: list[Meant] = []
        self.now, self.seen = 0.0, set[str]()
        middle = [kind for kind in _CONTROLS if kind not in {"welcome", "summary", "copying", "finished"}]
        middle = [kind for kind in middle if self.chance.random() < 0.8]
        if self.chance.random() < 0.5:
            self.chance.shuffle(middle)
        self.order = ["welcome", *middle, "summary", "copying", "finished"]
        installer = random.Random(f"{tongue}{naming}{step_names}{seed % 1000}")
        self.controls = {kind: installer.choice(found) for kind, found in _CONTROLS.items()}
        self.steps = self._step_names() if step_names or naming == "step" else ()

    def tell(self) -> Flow:
        """The whole installation."""
        back = self.chance.randrange(1, len(self.order) - 3)
        for number, kind in enumerate(self.order):
            self._screen(kind)
            if number == back:
                self._screen(self.order[number - 1])
                self._screen(kind)
        return Flow(self.sheets, self.shown, self.meant, self.now)

    def tell_one(self, kind: str) -> None:
        """One screen alone, as programs of the first boot have a few."""
        self._screen(kind)

    def _step_names(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys(self._step_of(kind) for kind in self.order))

    def _step_of(self, kind: str) -> str:
        section = _SECTIONS.get(kind)
        if self.naming == "section" and section is not None:
            return self.words.sections[section]
        return self.words.screens[kind][0]

    def _sheet(self, kind: str) -> Sheet:
        heading, question, sentence, items = self.words.screens[kind]
        buttons = self.words.buttons
        onward = {"summary": "install", "finished": "finish"}.get(kind, "next")
        if self.naming == "section":
            heading = self._step_of(kind)
        elif self.naming == "question" and question:
            heading, question = question, ""
        elif self.naming == "step":
            heading = ""
        busy = kind == "copying"
        return Sheet(
            kind, heading, question, sentence, self.controls[kind], items,
            ticked=(0,) if self.controls[kind] == "checks" else (),
            steps=self.steps, step=self.steps.index(self._step_of(kind)) if self.steps else 0,
            buttons=(buttons["back"], buttons[onward], buttons["cancel"]),
            live=(not busy and kind != "welcome", not busy, not busy and kind != "finished"),
        )  # fmt: skip

    def _show(self, sheet: Sheet, seconds: float) -> None:
        if sheet not in self.sheets:
            self.sheets.append(sheet)
        self.shown.append((self.now, self.sheets.index(sheet)))
        self.now += seconds

    def _screen(self, kind: str) -> None:
        sheet, start, chance = self._sheet(kind), self.now, self.chance
        was = _answer(sheet)
        if kind == "copying":
            self._copy(sheet)
        else:
            self._show(sheet, chance.uniform(1.3, 3))
            sheet = self._answered(sheet)
            if sheet.control == "fields" and len(sheet.items) > 1 and chance.random() < 0.4:
                refused, at = replace(sheet, error=self.words.refused), self.now
                self._show(refused, chance.uniform(1.4, 2.5))
                self.meant.append(Meant(at, self.now, _title(sheet), sheet.question, kind, error=True))
            if kind in {"disk", "summary"} and chance.random() < 0.6:
                self._ask(sheet)
        self.meant.append(
            Meant(
                start, self.now, _title(sheet), sheet.question, kind, waiting=kind == "copying",
                returns=kind in self.seen, was=was, answer=_answer(sheet),
            )
        )  # fmt: skip
        self.seen.add(kind)

    def _answered(self, sheet: Sheet) -> Sheet:
        chance = self.chance
        if sheet.control in {"list", "radios", "combo"} and chance.random() < 0.6:
            sheet = replace(sheet, picked=chance.randrange(len(sheet.items)))
        elif sheet.control == "checks" and chance.random() < 0.6 and len(sheet.items) > 1:
            sheet = replace(sheet, ticked=tuple(n for n in range(len(sheet.items)) if chance.random() < 0.5))
        elif sheet.control == "fields":
            for number in range(len(sheet.items)):
                sheet = replace(sheet, typed=_TYPED[sheet.kind][: number + 1])
                self._show(sheet, chance.uniform(0.5, 1))
        self._show(sheet, chance.uniform(0.7, 1.5))
        return sheet

    def _ask(self, sheet: Sheet) -> None:
        buttons = self.words.buttons
        title, text = self.words.dialog
        start = self.now
        self._show(replace(sheet, dialog=(title, text, buttons["yes"], buttons["no"])), self.chance.uniform(1.5, 3))
        self.meant.append(Meant(start, self.now, title, "", "warning", dialog=True))
        self._show(sheet, self.chance.uniform(0.8, 1.5))

    def _copy(self, sheet: Sheet) -> None:
        slides = self.words.slides if self.chance.random() < 0.5 else [""]
        steps = 14
        for step in range(steps):
            share = step / steps
            slide = slides[step * len(slides) // steps]
            self._show(replace(sheet, share=share, picked=int(share * 3), slide=slide), self.chance.uniform(0.4, 0.9))


def _title(sheet: Sheet) -> str:
    return sheet.heading or sheet.steps[sheet.step]


def _answer(sheet: Sheet) -> str:
    if sheet.control in {"list", "radios", "combo"}:
        return sheet.items[sheet.picked]
    return ", ".join(sheet.items[number] for number in sheet.ticked) if sheet.control == "checks" else ""
