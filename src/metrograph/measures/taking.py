"""How figures are taken from a run: screens, decisions, guesses, calls back to the keyboard, times one may leave."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import groupby

from metrograph.log.quantities.ranges import ZERO, Range, total
from metrograph.run.records import Choice, Run, Stretch
from metrograph.run.route import route_of, route_screens

_BEFORE, _AFTER = "questions", "setup"  # the phases in which an installer asks


def screens(run: Run) -> int:
    """How many screens the route that led to the end has."""
    return len(route_screens(run))


def choices(run: Run) -> list[Choice]:
    """The answers on the route that led to the end."""
    return [choice for screen in route_screens(run) for choice in screen.choices]


def decisions(run: Run) -> int | None:
    """How many answers were given on that route; None where none was noted, which is not none given."""
    return len(choices(run)) or None


def answered(run: Run, how: str) -> int | None:
    """How many of them were kept, chosen, or typed; None where no answer was noted."""
    given = choices(run)
    return sum(choice.how == how for choice in given) if given else None


def guesses(run: Run, right: bool) -> int | None:
    """How often the installer guessed right, or wrong; None where no answer was noted."""
    given = choices(run)
    return sum(guess(choice) is right for choice in given) if given else None


def lost(run: Run) -> Range | None:
    """The time that trouble cost; None of a run that was only watched, as nobody said whether there was any."""
    return run.clock.lost if run.is_told else None


def issues(run: Run) -> int | None:
    """How much trouble there was; None of a run that was only watched."""
    return len(run.issues) if run.is_told else None


def guess(choice: Choice) -> bool | None:
    """Whether the installer guessed right; None where it did not guess, or nobody noted what.

    A guess is a pre-set value that was known: right when it was left as it stood or picked all the same.
    """
    if choice.how == "typed" or choice.preset is None:
        return None
    return choice.preset == choice.value


def returns(run: Run) -> int:
    """How often a screen of the route was come back to; an overview that leads to the others is no detour."""
    overview = route_of(run).overview
    return sum(screen.returns for place, screen in enumerate(route_screens(run)) if place != overview)


def calls_back(stretches: Sequence[Stretch]) -> int:
    """How often the machine, having worked by itself, needed a person again."""
    owners = [who for who, _ in _turns(stretches)]
    return sum(who == "person" for who in owners[1:])


def longest_leave(stretches: Sequence[Stretch]) -> Range:
    """The longest time that the machine worked without a person; a cut in it makes it a range."""
    waits = [length for who, length in _turns(stretches) if who == "machine"]
    if not waits:
        return ZERO
    highs = [wait.high for wait in waits if wait.high is not None]
    return Range(max(wait.low for wait in waits), max(highs) if len(highs) == len(waits) else None)


def asked(run: Run, phases: tuple[str, ...] = (_BEFORE, _AFTER)) -> int | None:
    """How many questions the installer asks in some phases; None where it asks nothing at all."""
    counts = dict.fromkeys((_BEFORE, _AFTER), 0)
    for screen in route_screens(run):
        if screen.phase in counts:
            counts[screen.phase] += len(screen.choices)
    return sum(counts[phase] for phase in phases) if any(counts.values()) else None


def asked_first(run: Run) -> int | None:
    """How many of the installer's questions come before it copies; None where it asks nothing."""
    return asked(run, (_BEFORE,))


def _turns(stretches: Sequence[Stretch]) -> Iterator[tuple[str, Range]]:
    """Whose time it is, turn by turn, and how long; pauses, and stretches of no length, are none."""
    # A wait of no length calls nobody back.
    spent = [stretch for stretch in stretches if stretch.who != "paused" and stretch.length.high != 0]
    for who, turn in groupby(spent, key=lambda stretch: stretch.who):
        yield who, total(stretch.length for stretch in turn)
