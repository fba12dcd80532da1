"""How figures are taken from a run: screens, decisions, guesses, calls back to the keyboard, times one may leave.

Effort and whose time it is are those of the installer's part of a run; see ``run.scope``.
"""

from __future__ import annotations

from functools import cached_property
from itertools import groupby

import msgspec

from metrograph.log.quantities.ranges import ZERO, Range, total
from metrograph.run.records import RECORDING, Choice, How, Part, Run, Screen, Stretch, Who
from metrograph.run.route import route_of, route_screens
from metrograph.run.scope import of_installer, screens_of_installer

_BEFORE, _AFTER = "questions", "setup"  # the phases in which an installer asks
GUESSED = frozenset({"language", "place", "keyboard", "network", "drivers"})
"""Kinds of screens whose pre-set answers are guesses at the person or the machine; elsewhere they are proposals."""


class RunMetrics(msgspec.Struct, frozen=True, dict=True):
    """A run with what several figures ask of it, each worked out once."""

    run: Run

    @cached_property
    def installs(self) -> bool:
        """Whether there is an installation to take anything from."""
        return Part.INSTALLATION in self.run.covers

    @cached_property
    def screens(self) -> tuple[Screen, ...]:
        """The installer's screens on the route that led to the end."""
        return screens_of_installer(self.run)

    @cached_property
    def installing(self) -> tuple[Stretch, ...]:
        """The stretches of the installer's part."""
        return tuple(of_installer(self.run))

    @cached_property
    def choices(self) -> list[Choice]:
        """The answers that the installer was given."""
        return [choice for screen in self.screens for choice in screen.choices]

    @cached_property
    def ways(self) -> list[How]:
        """How each of them was given."""
        return [choice.how for choice in self.choices]

    @cached_property
    def guesses(self) -> list[bool | None]:
        """Whether the installer guessed each of them right; see ``guess``."""
        return [guess(choice) for screen in self.screens if screen.kind in GUESSED for choice in screen.choices]

    @cached_property
    def turns(self) -> list[tuple[str, Range]]:
        """Whose time it is, turn by turn, and how long; pauses, and stretches of no length, are none."""
        # A wait of no length calls nobody back.
        spent = [each for each in self.installing if each.who != "paused" and each.length.high != 0]
        turns = groupby(spent, key=lambda stretch: stretch.who)
        return [(who, total(stretch.length for stretch in turn)) for who, turn in turns]

    @cached_property
    def questions(self) -> dict[str, int]:
        """How many questions the installer asks in each of the phases in which it may ask."""
        counts = dict.fromkeys((_BEFORE, _AFTER), 0)
        for screen in self.screens:
            if screen.phase in counts:
                counts[screen.phase] += len(screen.choices)
        return counts


def spent(metrics: RunMetrics, who: Who) -> Range | None:
    """How much of the installer's part was a person's, or the machine's; None where nothing is installed."""
    return total(each.length for each in metrics.installing if each.who == who) if metrics.installs else None


def screens(metrics: RunMetrics) -> int | None:
    """How many screens the installer has on the route that led to the end; None where none was noted."""
    return len(metrics.screens) or None


def decisions(metrics: RunMetrics) -> int | None:
    """How many answers were given on that route; None where none was noted, which is not none given."""
    return len(metrics.choices) or None


def answered(metrics: RunMetrics, how: How) -> int | None:
    """How many of them were kept, chosen, or typed; None where no answer was noted."""
    return metrics.ways.count(how) if metrics.choices else None


def guesses(metrics: RunMetrics, right: bool) -> int | None:
    """How often the installer guessed right, or wrong; None where it is not known to have guessed anything."""
    return metrics.guesses.count(right) if any(known is not None for known in metrics.guesses) else None


def lost(metrics: RunMetrics) -> Range | None:
    """What trouble cost while installing; None of a run that was only watched: nobody said whether there was any."""
    told = metrics.installs and metrics.run.is_told
    return total(each.length for each in metrics.installing if each.lost and each.who != "paused") if told else None


def issues(metrics: RunMetrics) -> int | None:
    """How much trouble there was; None of a run that was only watched."""
    return sum(issue.area != RECORDING for issue in metrics.run.issues) if metrics.run.is_told else None


def guess(choice: Choice) -> bool | None:
    """Whether the installer guessed right; None where it did not guess, or nobody noted what.

    A guess is a pre-set value that was known: right when it was left as it stood or picked all the same.
    """
    if choice.how == "typed" or choice.preset is None:
        return None
    return choice.preset == choice.value


def returns(metrics: RunMetrics) -> int | None:
    """How often an installer's screen was come back to; an overview that leads to the others is no detour."""
    if not metrics.screens:
        return None
    if not any(screen.returns for screen in metrics.screens):
        return 0
    overview = route_of(metrics.run).overview
    door = None if overview is None else route_screens(metrics.run)[overview]
    return sum(screen.returns for screen in metrics.screens if screen is not door)


def calls_back(metrics: RunMetrics) -> int | None:
    """How often the machine, having worked by itself, needed a person again."""
    return None if not metrics.installs else sum(who == "person" for who, _ in metrics.turns[1:])


def longest_leave(metrics: RunMetrics) -> Range | None:
    """The longest time that the machine worked without a person; a cut in it makes it a range."""
    if not metrics.installs:
        return None
    waits = [length for who, length in metrics.turns if who == "machine"]
    if not waits:
        return ZERO
    highs = [wait.high for wait in waits if wait.high is not None]
    return Range(max(wait.low for wait in waits), max(highs) if len(highs) == len(waits) else None)


def asked(metrics: RunMetrics) -> int | None:
    """How many questions the installer asks; None where it asks nothing at all."""
    return sum(metrics.questions.values()) or None


def asked_first(metrics: RunMetrics) -> int | None:
    """How many of the installer's questions come before it copies; None where it asks nothing."""
    return metrics.questions[_BEFORE] if any(metrics.questions.values()) else None
