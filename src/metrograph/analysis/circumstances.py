"""What differs in the circumstances and may explain a difference in the results: said before the results are."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from metrograph.language.sizes import show_size
from metrograph.model.cards import Rig
from metrograph.model.comparison import Care, Side
from metrograph.model.runs import Run


def care(sides: Sequence[Side], rigs: Mapping[str, Rig]) -> tuple[Care, ...]:
    """The reasons to read a comparison with care, most serious first."""
    found = [_differing(sides, *row) for row in _table(rigs)]
    return tuple(each for each in (_cut(sides), *found, _open(sides), _single(sides)) if each is not None)


def _table(rigs: Mapping[str, Rig]) -> list[tuple[str, Callable[[Run], str], str]]:
    """What to compare: its name, how a run gives it, and the sentence when it differs."""
    blank = Rig()

    def rig(run: Run) -> Rig:
        return rigs.get(run.rig, blank)

    return [
        ("rig", lambda run: run.rig, "The rigs differ: times and hardware trouble cannot be compared as they stand."),
        ("memory", lambda run: _size(rig(run).memory), "The rigs have different memory."),
        ("disk", lambda run: _size(rig(run).disk), "The rigs have disks of different size."),
        ("firmware", lambda run: rig(run).firmware or "", "The rigs have different firmware."),
        ("way", lambda run: run.way, "They were not installed in the same way."),
        ("language", lambda run: _answer(run, "language"), "Different languages were picked."),
        ("method", lambda run: _answer(run, "method"), "The disk was divided by different methods."),
    ]


def _differing(sides: Sequence[Side], what: str, part: Callable[[Run], str], sentence: str) -> Care | None:
    """A reason for care when not all runs agree, as far as they say anything."""
    values = [{part(run): None for run in side.runs if part(run)} for side in sides]
    if len({value for own in values for value in own}) < 2:
        return None
    return Care(what, tuple(", ".join(own) for own in values), sentence)


def _cut(sides: Sequence[Side]) -> Care | None:
    counts = [sum(each.cut for run in side.runs for each in run.stretches) for side in sides]
    sentence = "Some records skip time: durations across a cut are known between bounds only."
    return Care("cuts", tuple(map(str, counts)), sentence) if any(counts) else None


def _open(sides: Sequence[Side]) -> Care | None:
    counts = [sum(run.ended is None for run in side.runs) for side in sides]
    return Care("open", tuple(map(str, counts)), "Some runs have not ended yet.") if any(counts) else None


def _single(sides: Sequence[Side]) -> Care | None:
    counts = tuple(str(len(side.runs)) for side in sides)
    sentence = "Where there is one run only, a difference in time may be chance."
    return Care("runs", counts, sentence) if "1" in counts else None


def _size(size: int | None) -> str:
    return "" if size is None else show_size(size)


def _answer(run: Run, key: str) -> str:
    """What was answered in the end to the question of this key."""
    answers = [choice.value for screen in run.screens for choice in screen.choices if choice.key == key]
    return answers[-1] or "" if answers else ""
