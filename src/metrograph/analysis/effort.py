"""What an installation asks of a person, in figures: screens, decisions, guesses, calls back to the keyboard, time."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import groupby

from metrograph.analysis.flow import flow, way_of
from metrograph.model.figures import FIGURES, Figures, Spread
from metrograph.model.ranges import ZERO, Range, median, middle_of, total
from metrograph.model.runs import Choice, Run, Screen, Stretch

_BEFORE, _AFTER = "questions", "setup"  # the phases in which an installer asks


def figures_of(run: Run) -> Figures:
    """All figures of a run that it got to.

    Decisions are those on the way that led to the end. A guess is a pre-set value that was known: right when it was
    left as it stood or picked all the same, wrong when another was picked. A call back is a stretch of hands-on time
    behind a wait. Of questions before the restart and after it, ``asked-first`` says how many per cent come before the
    copying.
    """
    choices = [choice for screen in flow(run) for choice in screen.choices]
    times: dict[str, Range | None] = {
        "first-question": run.milestones.first_question,
        "installed": run.milestones.installed,
        "desktop": run.milestones.desktop,
        "updated": run.milestones.updated,
        "on-clock": run.clock.on_clock,
        "hands-on": run.clock.person,
        "waiting": run.clock.machine,
        "lost": run.clock.lost,
        "longest-leave": longest_leave(run.stretches),
    }
    counts: dict[str, float | None] = {
        "screens": len(flow(run)),
        "decisions": len(choices),
        "kept": sum(choice.how == "kept" for choice in choices),
        "chosen": sum(choice.how == "chosen" for choice in choices),
        "typed": sum(choice.how == "typed" for choice in choices),
        "right": sum(guess(choice) is True for choice in choices),
        "wrong": sum(guess(choice) is False for choice in choices),
        "returns": returns(run),
        "calls": calls_back(run.stretches),
        "asked-first": asked_first(flow(run)),
        "attempts": len(run.attempts),
        "issues": len(run.issues),
    }
    found = times | {name: None if count is None else Range(count, count) for name, count in counts.items()}
    return {name: value for name in FIGURES if (value := found[name]) is not None}


def guess(choice: Choice) -> bool | None:
    """Whether the installer guessed right; None where it did not guess, or nobody noted what."""
    if choice.how == "typed" or choice.preset is None:
        return None
    return choice.preset == choice.value


def returns(run: Run) -> int:
    """How often a screen of the way was come back to; an overview that leads to the others is no detour."""
    hub = way_of(run).hub
    return sum(screen.returns for place, screen in enumerate(flow(run)) if place != hub)


def calls_back(stretches: Sequence[Stretch]) -> int:
    """How often the machine, having worked by itself, needed a person again."""
    owners = [who for who, _ in _turns(stretches)]
    return sum(who == "person" for who in owners[1:])


def longest_leave(stretches: Sequence[Stretch]) -> Range:
    """The longest time that the machine worked without a person; a cut in it makes it a range."""
    waits = [length for who, length in _turns(stretches) if who == "machine"]
    if not waits:
        return ZERO
    highs = [wait.high for wait in waits]
    return Range(
        max(wait.low for wait in waits), None if None in highs else max(high for high in highs if high is not None)
    )


def asked_first(screens: Sequence[Screen]) -> float | None:
    """How many per cent of the installer's questions come before it copies; None where it asks nothing."""
    before, after = (
        sum(len(screen.choices) for screen in screens if screen.phase == phase) for phase in (_BEFORE, _AFTER)
    )
    return round(100 * before / (before + after), 1) if before + after else None


def spreads(runs: Sequence[Mapping[str, Range]]) -> dict[str, Spread]:
    """The figures of several runs of a release, each as its median and spread, of the runs that have it."""
    found = {}
    for name in FIGURES:
        values = [figures[name] for figures in runs if name in figures]
        if values:
            found[name] = spread(values)
    return found


def spread(values: Sequence[Range]) -> Spread:
    """The median and the outermost bounds of some values, of which there is at least one."""
    if all(value.low == value.high for value in values):  # most are, and a whole logbook has hundreds of thousands
        lows = sorted(value.low for value in values)
        middle = middle_of(lows)
        return Spread(Range(middle, middle), lows[0], lows[-1], len(lows))
    highs = [value.high for value in values]
    most = None if None in highs else max(high for high in highs if high is not None)
    return Spread(median(list(values)), min(value.low for value in values), most, len(values))


def _turns(stretches: Sequence[Stretch]) -> Iterator[tuple[str, Range]]:
    """Whose time it is, turn by turn, and how long; pauses, and stretches of no length, are none."""
    own = [each for each in stretches if each.who != "paused" and each.length.high != 0]
    for who, turn in groupby(own, key=lambda each: each.who):
        yield who, total(each.length for each in turn)
