"""Finds what is to be told of figures: only differences beyond chance, one for each figure, with where they arise."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from metrograph.compare.contrasts import Contrast
from metrograph.compare.flow_records import Affects, CaveatKind
from metrograph.compare.inference import Confidence
from metrograph.findings.finding_records import Amount, DifferenceStep, Finding, Priority, Subject, Sureness, Way
from metrograph.ledgers.comparison import Comparison, Neighbours
from metrograph.log.lexicon import Better, Unit, load_lexicon
from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import MEASURES, better_of
from metrograph.measures.reducing import DISK_USED

_MACHINES = frozenset(
    {
        CaveatKind.RIG, CaveatKind.MACHINE, CaveatKind.MEMORY, CaveatKind.PROCESSORS, CaveatKind.DISK,
        CaveatKind.FIRMWARE, CaveatKind.GRAPHICS, CaveatKind.NETWORK,
    }
)  # fmt: skip
_SURE = {Confidence.CLEAR: Sureness.CLEAR, Confidence.LIKELY: Sureness.LIKELY}
SWAP_FILE = "swap file"
"""The step of a difference in disk used that is a file for swapping."""


def of_figures(comparison: Comparison, pair: Neighbours) -> Iterator[Finding]:
    """Times and sizes that differ beyond chance between two releases."""
    known = {
        each.name: each
        for each in comparison.contrasts
        if (each.earlier, each.later) == (pair.earlier, pair.later) and each.confidence in _SURE and _has_a_sign(each)
    }
    lost = {caveat.what for caveat in pair.caveats if caveat.affects is Affects.TIMES}
    if not lost:
        yield from (_time(comparison, pair, known[name]) for name in _milestones(known))
    if not lost & _MACHINES:
        for name in _readings(known):
            yield from _size(comparison, pair, known[name])


def _has_a_sign(contrast: Contrast) -> bool:
    """Whether a difference goes one way wherever in its bounds it lies."""
    low, high = contrast.difference
    return low is not None and high is not None and low * high > 0


def _milestones(known: Mapping[str, Contrast]) -> Iterator[str]:
    """When it is installed, or else at the desktop, and when it is up to date."""
    yield from [name for name in ("installed", "desktop", "hands-on") if name in known][:1]
    if "updated" in known:
        yield "updated"


def _readings(known: Mapping[str, Contrast]) -> Iterator[str]:
    """One reading of each name: as it was taken in the installed system, or else in the state that was read first."""
    states: dict[str, list[str]] = {}
    for name in known:
        if name not in MEASURES and known[name].unit == Unit.BYTES:
            states.setdefault(name.rpartition(" (")[0], []).append(name)
    for thing, names in states.items():
        yield next((name for name in names if name == f"{thing} (installed)"), names[0])


def _time(comparison: Comparison, pair: Neighbours, contrast: Contrast) -> Finding:
    before, after = (
        comparison.times[comparison.releases.index(name)].until.get(contrast.name, {})
        for name in (pair.earlier, pair.later)
    )
    whole = _exactly(contrast)
    known = bool(before and after) and whole is not None
    steps = {name: after.get(name, 0.0) - before.get(name, 0.0) for name in {**before, **after}} if known else {}
    return _finding(Subject.TIME, pair, contrast, _summing(steps, whole or 0.0))


def _summing(steps: Mapping[str, float], whole: float) -> tuple[DifferenceStep, ...]:
    """Steps whose sum is the difference that is told: that is one of medians, they are of means.

    What is between the two is spread over the steps by their size, so that none changes its direction unless it is
    larger than all of them, and then nothing can be said of where a difference arises.
    """
    rest, size = whole - sum(steps.values()), sum(map(abs, steps.values()))
    if not size or abs(rest) > size / 2:
        return ()
    found = {name: round(amount + rest * abs(amount) / size, 3) for name, amount in steps.items() if amount}
    first, *others = sorted(found, key=lambda name: -abs(found[name]))
    # In whole milliseconds: what rounding leaves is the largest step's.
    found[first] = round(whole - sum(found[name] for name in others), 3)
    return tuple(DifferenceStep(name, found[name]) for name in (first, *others))


def _size(comparison: Comparison, pair: Neighbours, contrast: Contrast) -> Iterator[Finding]:
    """A size that differs; of the disk used, how much of it are the systems themselves, if it is known of both."""
    if not contrast.without_swap_file:
        disk_used = contrast.name.rpartition(" (")[0] == DISK_USED
        yield _finding(Subject.DISK_USED if disk_used else Subject.READING, pair, contrast, ())
        return
    own = _exactly(contrast)
    files = [comparison.times[comparison.releases.index(name)].swap_file for name in (pair.earlier, pair.later)]
    if own is None or files[0] is None or files[1] is None:
        return
    grown = files[1] - files[0]
    steps = (DifferenceStep(SWAP_FILE, grown), DifferenceStep(DISK_USED, own)) if grown else ()
    yield _finding(Subject.DISK_USED, pair, contrast, steps, (files[0], files[1]))


def _finding(
    what: Subject,
    pair: Neighbours,
    contrast: Contrast,
    steps: tuple[DifferenceStep, ...],
    beside: tuple[float, float] = (0.0, 0.0),
) -> Finding:
    """A difference as it is told. beside: what the figures have in them that was left out when they were compared."""
    own = next((step.amount for step in steps if step.name == DISK_USED), contrast.difference[0] or 0.0)
    better = MEASURES[contrast.name].better if contrast.name in MEASURES else _better_reading(contrast.name)
    way = Way.OTHER if not own or better is None else Way.WORSE if (own > 0) == (better == "less") else Way.BETTER
    before, after = (
        spread.median + Range(size, size)
        for spread, size in zip((contrast.before, contrast.after), beside, strict=True)
    )
    amount = Amount(contrast.name, contrast.unit, before, after, steps)
    return Finding(
        what, (pair.earlier, pair.later), contrast.name, way, _SURE[contrast.confidence], Priority.FIGURES, amount
    )


def _better_reading(name: str) -> Better | None:
    return better_of(name.rpartition(" (")[0], load_lexicon())


def _exactly(contrast: Contrast) -> float | None:
    """How much more the later one is; None where a bound is all that is known."""
    before, after = contrast.before.median, contrast.after.median
    return after.low - before.low if before.exact and after.exact else None
