"""Says what stands in the ledgers of readings, trials, facts, claims, weights and images."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.ledgers.checks import CheckLedger, CheckResult, CheckRow
from metrograph.ledgers.facts import FactChange
from metrograph.ledgers.published.claims import ClaimRow, RanOn
from metrograph.ledgers.published.images import CheckedImage, Property
from metrograph.ledgers.readings import ReadingRow
from metrograph.ledgers.weight import Fit, Weight
from metrograph.log.lexicon import Unit
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.sizes import show_size
from metrograph.log.quantities.times import show_duration
from metrograph.measures.show import show_figure, show_number
from metrograph.present.report.model import NOTHING

MARKS = {
    FactChange.RAISED: "↑",
    FactChange.LOWERED: "↓",
    FactChange.REPLACED: "≠",
    FactChange.DROPPED: "−",
    FactChange.NEW: "+",
}
_OLD_IMAGE = 28
"""Days after which hundreds of updates are likely."""


MARKS_KEY = "  ".join(f"{mark} {change}" for change, mark in MARKS.items())


def reading_warning(row: ReadingRow) -> str | None:
    """Why a release cannot be compared; None when all can."""
    if not row.elsewhere:
        return None
    return f"{', '.join(row.elsewhere)}: taken in another state or under another load only, which cannot be compared"


def only_words(said: Sequence[str]) -> str:
    """What runs said in the place of an amount: ``“a few”``, ``“a few” in 2``."""
    counts = {text: said.count(text) for text in dict.fromkeys(said)}
    return ", ".join(f"“{text}”" + (f" in {count}" if count > 1 else "") for text, count in counts.items())


def check_result(result: CheckResult) -> str:
    """How a trial came out."""
    return NOTHING if result is CheckResult.NOT_TRIED else str(result)


def trial(row: CheckRow) -> str:
    """A trial with the condition that it was made under."""
    return f"{row.name} with {row.condition}" if row.condition else row.name


def checks_changed(ledger: CheckLedger) -> list[str]:
    """What got worse, and what is well again."""
    sentences = [f"{trial(row)} got worse in {release}." for row in ledger.rows for release in row.worse]
    return sentences + [
        f"{trial(row)} is well again in {release}." for row in ledger.rows for release in row.well_again
    ]


def fact(value: str | None, change: FactChange) -> str:
    """A fact, with a mark where it is not what it was."""
    return f"{value or NOTHING} {MARKS.get(change, '')}".rstrip()


def measured(row: ClaimRow) -> str:
    """What was measured."""
    return NOTHING if row.measured is None else show_figure(row.measured, row.unit, row.measure)


def holds(row: ClaimRow) -> str:
    """Whether a claim holds."""
    unknown = "open" if row.measured is not None else "not measured"
    return {True: "yes", False: "no", None: unknown}[row.holds]


def broken(row: ClaimRow) -> str:
    """A claim that does not hold."""
    return f"{row.release}: {row.what} is published as {row.quoted}, and was {measured(row)}."


def ran_on(each: RanOn) -> str:
    """What a release has run on, where nobody has published what it needs."""
    parts = [f"{' and '.join(map(show_size, each.memory))} of memory"] if each.memory else []
    parts += [f"a disk of {' and '.join(map(show_size, each.disk))}"] if each.disk else []
    return f"{each.release}: no needs are published, but it ran with {' and '.join(parts)}."


def weighs(size: Range) -> str:
    """A size that may be known only in part: ``at least 812 MiB``."""
    if size.high is None:
        return f"at least {show_number(size.low, Unit.BYTES)}" if size.low else "unknown"
    return show_figure(size, Unit.BYTES)


def keeps(row: Fit) -> str:
    """Whether a release keeps to a limit."""
    return {True: "yes", False: "no", None: "open"}[row.fits]


def left(row: Fit) -> str:
    """What is left of a limit: ``312 MB``, ``at most 312 MB``, ``1.2 GB too much``."""
    least, most = row.left
    if most is None:
        return NOTHING
    if row.fits is False:
        return f"{'at least ' if least is None else ''}{show_number(-most, Unit.BYTES)} too much"
    return show_number(most, Unit.BYTES) if least == most else f"at most {show_number(most, Unit.BYTES)}"


def first_update(weight: Weight) -> str | None:
    """What a first update meant, in relation to the installation and the image's age; None where that is not known."""
    if weight.update_share is None or weight.update_time is None:
        return None
    share = f"{show_figure(_per_cent(weight.update_share), Unit.PERCENT)} of the time until installed"
    age = f", from an image {show_figure(weight.age, 'days')} old" if weight.age is not None else ""
    restart = ", and asked for a restart" if weight.restart else ""
    took = show_duration(weight.update_time)
    return f"{weight.release}: the first update took {took}, {share}{age}{restart}."


def _per_cent(part: Range) -> Range:
    """A part of one in whole per cents: a share of times in seconds carries no more digits."""
    return Range(float(round(100 * part.low)), None if part.high is None else float(round(100 * part.high)))


def image_sentences(image: CheckedImage) -> list[str]:
    """What there is to say of an image, what is wrong first."""
    sentences = [*wrong_of(image), *(f"its {what} is right" for what in right_of(image))]
    if not sentences:
        sentences = [f"{show_size(image.size)}, nothing to check it against yet"]
    return [*sentences, _age(image.age)] if image.age is not None else sentences


def wrong_of(image: CheckedImage) -> list[str]:
    """What of an image is other than it was published."""
    return [
        f"it has {checked.actual} bytes, and the card says {checked.published}"
        if checked.what is Property.SIZE
        else f"its {checked.what} is {checked.actual}, and {checked.published} is published"
        for checked in image.properties
        if not checked.agrees
    ]


def right_of(image: CheckedImage) -> list[str]:
    """What of an image is as it was published."""
    return [str(checked.what) for checked in image.properties if checked.agrees]


def _age(days: Range) -> str:
    if days.exact and days.low < 0:
        return f"the install day is {-days.low:g} days before the release"
    if days.low == days.high == 0:
        return "installed on the day it came out"
    updates = "; expect many updates" if days.low >= _OLD_IMAGE else ""
    return f"installed {show_figure(days, 'days')} after the release{updates}"
