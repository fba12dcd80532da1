"""What differs in the circumstances and may explain a difference in the results: said before the results are."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence

from metrograph.compare.answers_alike import alike
from metrograph.compare.flow_records import Affects, Caveat, CaveatKind, Side
from metrograph.log.escapes import join_list, split_list
from metrograph.log.quantities.ranges import Range, made_of
from metrograph.log.quantities.times import days_since
from metrograph.log.quantities.units import show_size
from metrograph.run.cards import Release, Rig
from metrograph.run.records import Choice, Run

_AGES_DIFFER = 7  # days between the ages of two images from which updates are likely to differ for that alone
_MOST_NAMED = 5  # answers that are named
_DISK_KINDS = frozenset({"disk", "partitions"})  # screens on which a method is one of dividing the disk
_HAVE_THEIR_OWN = frozenset({"method", "language"})  # answers that have a caveat of their own

Circumstance = Callable[[Run], str]
"""What a run says of a circumstance; empty where it says nothing."""


def caveats(sides: Sequence[Side], rigs: Mapping[str, Rig], cards: Mapping[str, Release]) -> tuple[Caveat, ...]:
    """The reasons to read a comparison with care; those that make times incomparable lead.

    rigs, cards: of rigs and releases, as far as there are any.
    """
    every = [*_machines(sides, rigs), *_ways(sides), *_records(sides), *_ages(sides, cards), *_answers(sides)]
    every += _states(sides)
    return tuple(sorted(every, key=lambda caveat: caveat.affects is not Affects.TIMES))


def _machines(sides: Sequence[Side], rigs: Mapping[str, Rig]) -> Iterator[Caveat]:
    """What differs in the machines. Where all sides have a rig in common, times are compared on that one."""
    common = set.intersection(*({run.rig for run in side.runs} for side in sides))
    # With a rig in common times are compared on that one, so differing rigs cost no more than some runs.
    affects = Affects.RESULTS if common else Affects.TIMES
    blank = Rig()

    def rig(run: Run) -> Rig:
        return rigs.get(run.rig, blank)

    table: dict[CaveatKind, Circumstance] = {
        CaveatKind.RIG: lambda run: run.rig,
        CaveatKind.MACHINE: lambda run: rig(run).kind or "",
        CaveatKind.MEMORY: lambda run: _size(rig(run).memory),
        CaveatKind.PROCESSORS: lambda run: str(rig(run).processors or ""),
        CaveatKind.DISK: lambda run: _size(rig(run).disk),
        CaveatKind.FIRMWARE: lambda run: rig(run).firmware or "",
        CaveatKind.GRAPHICS: lambda run: rig(run).graphics or "",
        CaveatKind.NETWORK: lambda run: rig(run).network or "",
    }
    for caveat in _differing(sides, table, affects):
        names = tuple(sorted(common)) if caveat.what is CaveatKind.RIG else ()
        yield Caveat(caveat.what, caveat.values, affects, names)


def _ways(sides: Sequence[Side]) -> Iterator[Caveat]:
    """What was done otherwise, so that the machine had other work to do."""
    table: dict[CaveatKind, Circumstance] = {
        CaveatKind.WAY: lambda run: run.way,
        CaveatKind.METHOD: lambda run: _answer(run, "method"),
        CaveatKind.ENCRYPTION: _encryption,
        CaveatKind.EXTRAS: _ticked,
    }
    yield from _differing(sides, table, Affects.TIMES)
    yield from _differing(sides, {CaveatKind.LANGUAGE: lambda run: _answer(run, "language")}, Affects.RESULTS)


def _records(sides: Sequence[Side]) -> Iterator[Caveat]:
    """Caveats of cuts, of runs that are not over, and of releases that were installed once."""
    cuts = [[stretch for run in side.runs for stretch in run.stretches if stretch.cut] for side in sides]
    if any(cuts):
        # A cut between bounds leaves times comparable between bounds; one of unknown length does not.
        endless = any(cut.length.high is None for side_cuts in cuts for cut in side_cuts)
        yield Caveat(CaveatKind.CUTS, _counts(cuts), Affects.TIMES if endless else Affects.RESULTS)
    unended = [[run for run in side.runs if run.ended is None] for side in sides]
    if any(unended):
        yield Caveat(CaveatKind.OPEN, _counts(unended), Affects.TIMES)
    if any(len(side.runs) == 1 for side in sides):
        yield Caveat(CaveatKind.RUNS, _counts([side.runs for side in sides]), Affects.RESULTS)


def _ages(sides: Sequence[Side], cards: Mapping[str, Release]) -> Iterator[Caveat]:
    """Images of different age: the older, the more there is to update."""
    ages = [[age for run in side.runs if (age := image_age(run, cards)) is not None] for side in sides]
    known = [age for side_ages in ages for age in side_ages]
    # Of a date that is only a month, what is certain counts: the least that two ages differ by.
    if known and max(age.low for age in known) - min(age.high or 0.0 for age in known) >= _AGES_DIFFER:
        yield Caveat(CaveatKind.IMAGE_AGE, tuple(map(_days, ages)), Affects.RESULTS)


def _answers(sides: Sequence[Side]) -> Iterator[Caveat]:
    """Questions that the reviewer answered otherwise, and not because another answer was pre-set."""
    answers = [_answered(side.runs[-1]) for side in sides]
    # Only what was asked on all sides can have been answered otherwise.
    common = [key for key in answers[0] if all(key in given for given in answers) and key not in _HAVE_THEIR_OWN]
    differing = [
        key
        for key in common
        # Where every side kept what was pre-set, the difference is the installer's and is told as a change.
        if len({given[key].value for given in answers}) > 1 and any(given[key].how == "chosen" for given in answers)
    ]
    if differing:
        named = differing[:_MOST_NAMED]
        values = tuple(join_list(tuple(f"{key}: {given[key].value}" for key in named)) for given in answers)
        yield Caveat(CaveatKind.CHOICES, values, Affects.RESULTS, more=len(differing) - len(named))


def _states(sides: Sequence[Side]) -> Iterator[Caveat]:
    """Readings that one side has in one state only, and another in another only."""
    states = [_states_by_reading(side) for side in sides]
    for name in states[0]:
        if all(name in side for side in states) and not set.intersection(*(side[name] for side in states)):
            values = tuple(", ".join(sorted(side[name])) for side in states)
            yield Caveat(CaveatKind.STATE, values, Affects.RESULTS, (name,))


def _states_by_reading(side: Side) -> dict[str, set[str]]:
    """The states in which each reading was taken."""
    states: dict[str, set[str]] = {}
    for run in side.runs:
        for reading in run.readings:
            states.setdefault(reading.name, set()).add(reading.state)
    return states


def _differing(sides: Sequence[Side], table: Mapping[CaveatKind, Circumstance], affects: Affects) -> Iterator[Caveat]:
    """A caveat for each circumstance in which not all runs agree, as far as they say anything."""
    for what, circumstance in table.items():
        values = [list(dict.fromkeys(filter(None, map(circumstance, side.runs)))) for side in sides]
        if len({alike(value) for side_values in values for value in side_values}) > 1:
            yield Caveat(what, tuple(", ".join(side_values) for side_values in values), affects)


def _counts(values: Sequence[Sequence[object]]) -> tuple[str, ...]:
    return tuple(str(len(side_values)) for side_values in values)


def _size(size: int | None) -> str:
    return "" if size is None else show_size(size)


def image_age(run: Run, cards: Mapping[str, Release]) -> Range | None:
    """Days from the release to the installation; None where they are not known, or make no sense."""
    card = cards.get(run.release)
    age = days_since(card.released, run.begun.date()) if card and card.released and run.begun else None
    # Nobody installs an image before it is there: of a month, the days before the installation are what is left.
    return None if age is None or (age.high or 0) < 0 else made_of((age,), max(age.low, 0.0), age.high)


def _days(ages: Sequence[Range]) -> str:
    if not ages:
        return ""
    least, most = min(age.low for age in ages), max(age.high or 0.0 for age in ages)
    return f"{least:g} day{'s' * (least != 1)}" if least == most else f"{least:g} to {most:g} days"


def _encryption(run: Run) -> str:
    return "" if run.layout is None else "encrypted" if run.layout.encryption is not None else "not encrypted"


def _ticked(run: Run) -> str:
    """What was ticked and unticked in lists, in one order; keys whose answers are no such lists say nothing."""
    last_answers = [
        choice for screen in run.screens for choice in {choice.key: choice for choice in screen.choices}.values()
    ]
    lists = [choice.value for choice in last_answers if (choice.value or "")[:1] in {"+", "-"}]
    return join_list(tuple(sorted({mark for ticked in lists for mark in split_list(ticked or "")})))


def _answer(run: Run, key: str) -> str:
    """What was answered in the end to the question of this key; that of the disk only where the disk was asked for."""
    screens = [screen for screen in run.screens if key != "method" or screen.kind in _DISK_KINDS]
    answers = [choice.value for screen in screens for choice in screen.choices if choice.key == key]
    return answers[-1] or "" if answers else ""


def _answered(run: Run) -> dict[str, Choice]:
    """The last answers of a run by key: single ones that were kept or picked, and tell nothing of the person."""
    return {
        choice.key: choice
        for screen in run.screens
        for choice in screen.choices
        if choice.how != "typed" and choice.value and not choice.personal and choice.value[:1] not in {"+", "-"}
    }
