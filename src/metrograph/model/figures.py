"""The figures of a run that releases are compared by: moments, durations and counts, each known by a word."""

from __future__ import annotations

from typing import Literal

import msgspec

from metrograph.model.ranges import Range

Unit = Literal["s", "", "%"]


class Measured(msgspec.Struct, frozen=True):
    """What a figure is. words: how it is said; unit: seconds, a count, or per cent; better: None if neither way is."""

    words: str
    unit: Unit
    better: Literal["less", "more"] | None = "less"


FIGURES: dict[str, Measured] = {
    "first-question": Measured("to the first question", "s"),
    "installed": Measured("to installed", "s"),
    "desktop": Measured("to the desktop", "s"),
    "updated": Measured("to updated", "s"),
    "on-clock": Measured("on the clock", "s"),
    "hands-on": Measured("hands-on", "s"),
    "waiting": Measured("waiting", "s"),
    "lost": Measured("lost to trouble", "s"),
    "longest-leave": Measured("longest time one may leave", "s", "more"),
    "screens": Measured("screens", ""),
    "decisions": Measured("decisions", ""),
    "kept": Measured("of them kept", "", None),
    "chosen": Measured("of them picked", ""),
    "typed": Measured("of them typed", ""),
    "right": Measured("right guesses", "", "more"),
    "wrong": Measured("wrong guesses", ""),
    "returns": Measured("returns to a screen", ""),
    "calls": Measured("calls back to the keyboard", ""),
    "asked-first": Measured("asked before copying starts", "%", "more"),
    "attempts": Measured("attempts", ""),
    "issues": Measured("issues", ""),
}
"""All figures by the word that names them, in the order they are shown."""

TIMES = tuple(name for name, each in FIGURES.items() if each.unit == "s" and name != "longest-leave")
EFFORT = (*(name for name in FIGURES if name not in TIMES), "lost")

Figures = dict[str, Range]
"""The figures of one run by name; counts are ranges of no width. What the run did not get to is left out."""


class Spread(msgspec.Struct, frozen=True):
    """One figure of several runs of a release.

    median: of the runs, its lower and upper bound each by themselves; least, most: the outermost bounds.
    runs: how many have it.
    """

    median: Range
    least: float
    most: float | None
    runs: int


class EffortLedger(msgspec.Struct, frozen=True):
    """Figures by release; see ``ledgers`` for what ``releases`` and ``lines`` are.

    figures: per release, by name; runs: per release, those of each of its runs.
    """

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    figures: tuple[dict[str, Spread], ...]
    runs: tuple[dict[str, Figures], ...]
