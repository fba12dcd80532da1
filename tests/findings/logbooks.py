"""Makes up logbooks to be read twice: by the program, and by somebody who only looks at the lines of their logs."""

from __future__ import annotations

import random
from typing import NamedTuple

from metrograph.compare.flow_records import Side
from tests.helpers import run_of

ASKED = ("Language", "Where are you?", "Keyboard", "Choose your software", "Disk", "Your account", "Extra drivers")
TOUR = ("Welcome", "Light or dark?", "Snapshots", "Privacy")
ISSUES = {
    "disk-hidden": ("Disk", "blocker"), "keyboard-guess": ("Keyboard", "minor"), "tour-hangs": ("Snapshots", "major"),
    "printer-silent": ("", "major"), "icons-blurred": ("", "minor"),
}  # fmt: skip
"""Trouble by name: the screen that it stands on, empty where it is met at the desktop; and how bad it is."""
TRIALS = ("printer", "archive", "share", "suspend")
PRESETS = {"Keyboard": ("layout", ("English (UK)", "English (US)")), "Disk": ("swap", ("none", "file")),
           "Light or dark?": ("look", ("light", "dark"))}  # fmt: skip
GIB = 1 << 30


class Line(NamedTuple):
    """A line of a log: seconds, what it says, and the fields below it."""

    at: int
    text: str
    fields: tuple[str, ...] = ()


class Book(NamedTuple):
    """Releases, oldest first, with the lines of each of their runs, and the line that each continues."""

    runs: dict[str, list[list[Line]]]
    origins: dict[str, str]

    def sides(self) -> list[Side]:
        """The releases as the program reads them."""
        return [
            Side(
                name,
                tuple(run_of(as_text(lines), f"{name}-{n}") for n, lines in enumerate(runs, 1)),
                self.origins[name],
            )
            for name, runs in self.runs.items()
        ]


def as_text(lines: list[Line]) -> str:
    """The cues of a log."""
    return "".join(
        f"{line.at // 60}:{line.at % 60:02} {line.text}\n" + "".join(f"    {field}\n" for field in line.fields)
        for line in lines
    )


class Traits(NamedTuple):
    """What a release is like, from which its runs are made."""

    asked: tuple[str, ...]
    late: frozenset[str]
    presets: dict[str, str]
    trouble: dict[str, float]
    results: dict[str, str]
    copying: int
    memory: int
    disk: int
    swap: int
    updates: int


def made_up(seed: int) -> Book:
    """A logbook of two or three releases of one line, or of two."""
    chance = random.Random(seed)
    names = ["moor-1.0", "moor-2.0", "moor-3.0"][: chance.choice((2, 2, 3))]
    traits = _traits(chance)
    runs: dict[str, list[list[Line]]] = {}
    for name in names:
        runs[name] = [_run(chance, traits) for _ in range(chance.choice((1, 1, 2, 3)))]
        traits = _changed(chance, traits)
    origins = dict.fromkeys(names, "Moor")
    if chance.random() < 0.3:
        origins[names[-1]] = "Fen"
    return Book(runs, origins)


def _traits(chance: random.Random) -> Traits:
    return Traits(
        tuple(sorted(chance.sample(ASKED, chance.randint(4, 7)), key=ASKED.index)),
        frozenset(chance.sample(("Where are you?", "Keyboard", "Your account"), chance.choice((0, 0, 2)))),
        {screen: chance.choice(values) for screen, (_, values) in PRESETS.items()},
        {name: chance.choice((0.0, 0.0, 0.5, 1.0)) for name in ISSUES},
        {name: chance.choice(("pass", "pass", "fail", "partly", "skipped", "")) for name in TRIALS},
        chance.randint(200, 900), chance.randint(800, 1400), chance.randint(60, 120), chance.choice((0, 2, 4)),
        chance.choice((0, 12, 400)),
    )  # fmt: skip


def _changed(chance: random.Random, before: Traits) -> Traits:
    """The next release: much is as it was."""
    other, fields = _traits(chance), {}
    for name in Traits._fields:
        if chance.random() < 0.35:
            fields[name] = getattr(other, name)
    return before._replace(**fields)


def _run(chance: random.Random, traits: Traits) -> list[Line]:
    lines, at = [Line(0, "screen Boot menu"), Line(5, "wait")], chance.randint(30, 70)
    noted, met = chance.random() < 0.9, {name: chance.random() < often for name, often in traits.trouble.items()}

    def ask(titles: list[str]) -> None:
        nonlocal at
        for title in titles:
            lines.append(Line(at, f"screen {title}"))
            at += chance.randint(2, 20)
            if title in PRESETS and noted:
                lines.append(Line(at, f"keep {PRESETS[title][0]} = {traits.presets[title]}"))
            lines.extend(_trouble(at, met, title))
            at += chance.randint(1, 10)

    if chance.random() < 0.5:
        lines.append(Line(at, "phase live"))
        at += chance.randint(20, 90)
    ask([title for title in traits.asked if title not in traits.late])
    if "Disk" in traits.asked:
        swap = f"file {traits.swap} GiB" if traits.swap else "none"
        lines.append(Line(at, "layout whole disk", (f"swap: {swap}",)))
    lines.append(Line(at, "screen Copying files"))
    if chance.random() < 0.08:
        lines.append(Line(at + 10, f"cut {chance.choice(('?', '2:00..9:00'))}"))
    at += max(traits.copying + chance.randint(-40, 40), 30)
    lines.append(Line(at, "screen Finished"))
    at += 6
    if chance.random() < 0.1:
        return [*lines, Line(at, "end done")]
    lines += [Line(at, "phase restart"), Line(at + 1, "wait")]
    at += chance.randint(40, 60)
    late = [title for title in traits.asked if title in traits.late]
    lines += [Line(at, "phase setup")] * bool(late)
    ask(late)
    lines.append(Line(at, "phase desktop"))
    at += 10
    if chance.random() < 0.5:
        lines.append(Line(at, "phase tour"))
        ask(list(TOUR))
        lines.append(Line(at, "phase desktop"))
    return [*lines, *_desktop(chance, traits, met, at + 5)]


def _trouble(at: int, met: dict[str, bool], title: str) -> list[Line]:
    return [
        Line(at, f"issue {name}: What is wrong with {name}", (f"severity: {severity}",))
        for name, (place, severity) in ISSUES.items()
        if place == title and met[name]
    ]


def _desktop(chance: random.Random, traits: Traits, met: dict[str, bool], at: int) -> list[Line]:
    """What is read, tried and updated at the desktop."""
    lines = []
    if chance.random() < 0.9:
        lines.append(Line(at, f"reading memory = {traits.memory + chance.randint(-9, 9)} MiB", ("load: rest",)))
        used = (traits.disk / 10 + traits.swap * ("Disk" in traits.asked)) * 1024
        lines.append(Line(at + 1, f"reading disk used = {round(used) + chance.randint(-9, 9)} MiB"))
    lines += _trouble(at + 2, met, "")
    for name, result in traits.results.items():
        if result and chance.random() < 0.8:
            at += chance.randint(5, 90)
            lines.append(Line(at, f"check {name}: {'fail' if name == 'printer' and met['printer-silent'] else result}"))
    if chance.random() < 0.6:
        lines += [
            Line(at + 5, "screen Updates"),
            Line(at + 6, f"reading updates = {traits.updates}"),
            Line(at + 8, "wait"),
        ]
        at += 8 + traits.updates * 2 + chance.randint(5, 30)
        lines.append(Line(at, "ready"))
    return [*lines, Line(at + chance.randint(5, 200), "end done")]
