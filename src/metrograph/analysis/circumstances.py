"""What differs in the circumstances and may explain a difference in the results: said before the results are."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence

from metrograph.language.escapes import join_list, split_list
from metrograph.language.sizes import show_size
from metrograph.model.cards import Release, Rig
from metrograph.model.comparison import Care, Grounds, Side
from metrograph.model.runs import Choice, Run

_OLD = 7  # days between the ages of two images from which updates are likely to differ for that alone
_FEW = 5  # answers that are named
_ELSEWHERE = frozenset({"method", "language"})  # answers that have a reason of their own

Part = Callable[[Run], str]


def care(sides: Sequence[Side], rigs: Mapping[str, Rig], cards: Mapping[str, Release]) -> tuple[Care, ...]:
    """The reasons to read a comparison with care, most suspicious first: those that make times incomparable lead.

    rigs, cards: of rigs and releases, as far as there are any.
    """
    found = [*_machines(sides, rigs), *_ways(sides), *_records(sides), *_ages(sides, cards), *_answers(sides)]
    found += _states(sides)
    return tuple(sorted(found, key=lambda each: each.grounds != "times"))


def _machines(sides: Sequence[Side], rigs: Mapping[str, Rig]) -> Iterator[Care]:
    """What differs in the machines. Where all sides have a rig in common, times are compared on that one."""
    common = set.intersection(*({run.rig for run in side.runs} for side in sides))
    grounds: Grounds = "results" if common else "times"
    blank = Rig()

    def rig(run: Run) -> Rig:
        return rigs.get(run.rig, blank)

    among = f" Times are compared on {', '.join(sorted(common))} only." if common else ""
    table: list[tuple[str, Part, str]] = [
        ("rig", lambda run: run.rig, f"The rigs differ: trouble with hardware cannot be compared as it stands.{among}"),
        ("machine", lambda run: rig(run).kind or "", "Some machines are virtual and some are not."),
        ("memory", lambda run: _size(rig(run).memory), "The rigs have different memory."),
        ("processors", lambda run: str(rig(run).processors or ""), "The rigs have different processors."),
        ("disk", lambda run: _size(rig(run).disk), "The rigs have disks of different size."),
        ("firmware", lambda run: rig(run).firmware or "", "The rigs have different firmware."),
        ("graphics", lambda run: rig(run).graphics or "", "The rigs have different graphics."),
        ("network", lambda run: rig(run).network or "", "The rigs have different networks."),
    ]
    yield from _differing(sides, table, grounds)


def _ways(sides: Sequence[Side]) -> Iterator[Care]:
    """What was done otherwise, so that the machine had other work to do."""
    table: list[tuple[str, Part, str]] = [
        ("way", lambda run: run.way, "They were not installed in the same way."),
        ("method", lambda run: _answer(run, "method"), "The disk was divided by different methods."),
        ("encryption", _encryption, "Some disks were encrypted and some were not."),
        ("extras", _ticked, "Different software was ticked."),
    ]
    yield from _differing(sides, table, "times")
    yield from _differing(
        sides, [("language", lambda run: _answer(run, "language"), "Different languages were picked.")], "results"
    )


def _records(sides: Sequence[Side]) -> Iterator[Care]:
    """What the records leave open."""
    cuts = [[each for run in side.runs for each in run.stretches if each.cut] for side in sides]
    if any(cuts):
        endless = any(each.length.high is None for own in cuts for each in own)
        sentence = "Some records skip time: durations across a cut are known between bounds only."
        yield Care("cuts", _counts(cuts), sentence, "times" if endless else "results")
    unended = [[run for run in side.runs if run.ended is None] for side in sides]
    if any(unended):
        yield Care("open", _counts(unended), "Some runs have not ended yet.", "times")
    if any(len(side.runs) == 1 for side in sides):
        sentence = "Where there is one run only, a difference in time may be chance."
        yield Care("runs", _counts([side.runs for side in sides]), sentence, "results")


def _ages(sides: Sequence[Side], cards: Mapping[str, Release]) -> Iterator[Care]:
    """Images of different age: the older, the more there is to update."""
    ages = [[age for run in side.runs if (age := _age(run, cards)) is not None] for side in sides]
    known = [age for own in ages for age in own]
    if known and max(known) - min(known) >= _OLD:
        values = tuple(_days(own) for own in ages)
        yield Care(
            "image age", values, "The images were of different age, so first updates differ for that alone.", "results"
        )


def _answers(sides: Sequence[Side]) -> Iterator[Care]:
    """Questions that the reviewer answered otherwise, and not because another answer was pre-set."""
    answers = [_answered(side.runs[-1]) for side in sides]
    common = [key for key in answers[0] if all(key in own for own in answers) and key not in _ELSEWHERE]
    differing = [
        key
        for key in common
        if len({own[key].value for own in answers}) > 1 and any(own[key].how == "chosen" for own in answers)
    ]
    if differing:
        values = tuple(join_list(tuple(f"{key}: {own[key].value}" for key in differing[:_FEW])) for own in answers)
        more = f" (and {len(differing) - _FEW} more)" if len(differing) > _FEW else ""
        yield Care("choices", values, f"The same questions were answered otherwise{more}.", "results")


def _states(sides: Sequence[Side]) -> Iterator[Care]:
    """Readings that one side has in one state only, and another in another only."""
    states = [
        {reading.name: {r.state for run in side.runs for r in run.readings if r.name == reading.name}
         for run in side.runs for reading in run.readings}
        for side in sides
    ]  # fmt: skip
    names = [name for name in states[0] if all(name in own for own in states)]
    apart = [name for name in names if not set.intersection(*(set(own[name]) for own in states))]
    for name in apart:
        values = tuple(", ".join(sorted(own[name])) for own in states)
        yield Care("state", values, f"{name} was read in different states, which cannot be compared.", "results")


def _differing(sides: Sequence[Side], table: Sequence[tuple[str, Part, str]], grounds: Grounds) -> Iterator[Care]:
    """A reason for care for each part in which not all runs agree, as far as they say anything."""
    for what, part, sentence in table:
        values = [list(dict.fromkeys(part(run) for run in side.runs if part(run))) for side in sides]
        if len({value for own in values for value in own}) > 1:
            yield Care(what, tuple(", ".join(own) for own in values), sentence, grounds)


def _counts(values: Sequence[Sequence[object]]) -> tuple[str, ...]:
    return tuple(str(len(own)) for own in values)


def _size(size: int | None) -> str:
    return "" if size is None else show_size(size)


def _age(run: Run, cards: Mapping[str, Release]) -> int | None:
    """Days from the release to the installation."""
    card = cards.get(run.release)
    return (run.begun.date() - card.released).days if card and card.released and run.begun else None


def _days(ages: Sequence[int]) -> str:
    if not ages:
        return ""
    return f"{min(ages)} day{'s' * (ages[0] != 1)}" if min(ages) == max(ages) else f"{min(ages)} to {max(ages)} days"


def _encryption(run: Run) -> str:
    return "" if run.layout is None else "encrypted" if run.layout.encryption is not None else "not encrypted"


def _ticked(run: Run) -> str:
    """What was ticked and unticked in lists, in one order; keys whose answers are no such lists say nothing."""
    ticked = [
        mark
        for screen in run.screens
        for choice in {choice.key: choice for choice in screen.choices}.values()
        if (choice.value or "")[:1] in {"+", "-"}
        for mark in split_list(choice.value or "")
    ]
    return join_list(tuple(sorted(set(ticked))))


def _answer(run: Run, key: str) -> str:
    """What was answered in the end to the question of this key."""
    answers = [choice.value for screen in run.screens for choice in screen.choices if choice.key == key]
    return answers[-1] or "" if answers else ""


def _answered(run: Run) -> dict[str, Choice]:
    """The last answers of a run by key: single ones that were kept or picked, and tell nothing of the person."""
    return {
        choice.key: choice
        for screen in run.screens
        for choice in screen.choices
        if choice.how != "typed" and choice.value and not choice.personal and choice.value[:1] not in {"+", "-"}
    }
