"""Says what stands in the ledgers: issues, readings, trials, facts, claims, weights and images."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from metrograph.ledgers.card_ledger import MINIMUM, RECOMMENDED, CardGroup, CardLedger, CardRow
from metrograph.ledgers.checks import CheckLedger, CheckResult, CheckRow
from metrograph.ledgers.claims import CheckedImage, ClaimRow, Property, RanOn
from metrograph.ledgers.facts import FactChange
from metrograph.ledgers.issues import IssueCell, IssueRow, IssueStatus
from metrograph.ledgers.readings import ReadingRow
from metrograph.ledgers.weight import Fit, Weight
from metrograph.log.lexicon import Unit
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.times import days_of, show_duration
from metrograph.log.quantities.units import show_size
from metrograph.measures.show import show_figure, show_number
from metrograph.words.figure_words import SAME, told_difference
from metrograph.words.grammar import NOTHING, few, listed, number
from metrograph.words.names import on_rig


def issue_name(row: IssueRow) -> str:
    """The name of an issue, or without one its summary."""
    return row.name or row.summary


def issue_status(row: IssueRow, cell: IssueCell) -> str:
    """What became of it, and in how many of the runs where it could show itself."""
    if cell.status is IssueStatus.ABSENT:
        return NOTHING
    if cell.status is IssueStatus.GONE and _came_now_and_then(row, cell):
        return f"not met, 0 of {cell.passed}"
    word = "first seen" if cell.status is IssueStatus.NEW and not row.tried_before else cell.status
    return f"{word}, {cell.seen} of {cell.passed}" if cell.seen else str(word)


def _came_now_and_then(row: IssueRow, cell: IssueCell) -> bool:
    """Whether it showed in some runs only where it was last met, so that one without it cures nothing."""
    place = next(place for place, each in enumerate(row.cells) if each is cell)
    met = [each for each in row.cells[:place] if each.seen]
    return bool(met) and met[-1].seen < met[-1].passed


def issue_story(row: IssueRow, releases: Sequence[str]) -> str:
    """What an issue is, in which runs it came, what helped and after how long, and what did not."""
    severity = f"{row.severity}, " if row.severity else ""
    name = f"{row.name}: " if row.name else ""
    alone = f", {row.only} only" if row.only and not row.only_there else ""
    told = [f"{name}{row.summary.rstrip('.')} ({severity}{row.place}{alone}).", _where_seen(row, releases), *_cure(row)]
    if row.in_vain:
        told.append(f"Tried in vain: {', '.join(row.in_vain)}.")
    return " ".join(told)


def _where_seen(row: IssueRow, releases: Sequence[str]) -> str:
    """On which rigs, and in how many of the runs that came by its place."""
    rigs = list(dict.fromkeys(rig for cell in row.cells for rig in cell.rigs))
    bound = f"On {listed(list(map(on_rig, rigs)))}{' only' if row.only_there else ''}, in" if row.rig_bound else "In"
    seen = [_how_often(cell, release) for cell, release in zip(row.cells, releases, strict=True) if cell.seen]
    return f"{bound} {listed(seen)}."


def _how_often(cell: IssueCell, release: str) -> str:
    if cell.passed == 1:
        return f"the one run of {release}" if cell.runs == 1 else f"the one run of {release} that came by"
    every = "both" if cell.seen == 2 else f"all {number(cell.seen)}"
    return f"{every if cell.seen == cell.passed else f'{number(cell.seen)} of {number(cell.passed)}'} runs of {release}"


def _cure(row: IssueRow) -> Iterator[str]:
    """What helped. How long it stood is known, what it cost is not: its screen might have taken as long without it."""
    if row.ways_round:
        after = f" after {show_duration(row.cost)}" if row.cost is not None else ""
        yield f"Overcome{after}: {listed(row.ways_round, ', or ')}."
    if row.unfixed:
        whole = row.unfixed == row.seen
        yield (
            "No cure was found." if whole else f"No cure was found in {number(row.unfixed)} of {number(row.seen)} runs."
        )


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


def swap_files_left_out(row: ReadingRow, releases: Sequence[str]) -> str | None:
    """Which files for swapping are in figures, though in no difference; None where there are none."""
    files = zip(releases, row.swap_files, strict=True) if row.swap_files else ()
    said = [f"{show_figure(Range(size, size), Unit.BYTES)} in {release}" for release, size in files if size]
    return f"{row.name}, {row.state}: differences leave out the swap file, of {listed(said)}." if said else None


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
    """The measured figure beside a claim, or that there is none."""
    return NOTHING if row.measured is None else show_figure(row.measured, row.unit, row.measure)


def holds(row: ClaimRow) -> str:
    """Whether a claim holds."""
    unknown = "open" if row.measured is not None else row.otherwise or "not measured"
    within = row.measured is not None and row.measured.high is not None and row.measured.high <= row.published.low
    if row.holds is None and within:
        return "not contradicted"
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


_DAYS_OF_A_MONTH = 365.2425 / 12  # of the Gregorian calendar, on the average
_CHANGED = frozenset({FactChange.RAISED, FactChange.LOWERED, FactChange.REPLACED})


def of_cards(ledger: CardLedger) -> Iterator[str]:
    """What the last card says otherwise than the one before it: needs, support, what it is made of."""
    if len(ledger.releases) < 2:
        return
    last, before = ledger.releases[-1], ledger.releases[-2]
    sizes = list(_sizes(ledger))
    if sizes:
        yield f"{last} differs from {before} in {few(sizes)}."
    support = _support(ledger)
    if support:
        yield support
    changed = [_becomes(row) for row in ledger.rows if row.group in _MADE_OF and row.changes[-1] in _CHANGED]
    if changed:
        yield f"Changed: {few(changed)}."
    unsaid = [row.name for row in ledger.rows if row.group in _MADE_OF and row.values[-1] is None]
    if unsaid:
        yield f"The card of {last} does not say: {few(list(dict.fromkeys(unsaid)))}."


_MADE_OF = frozenset({CardGroup.SYSTEM, CardGroup.TOOLS})


def _sizes(ledger: CardLedger) -> Iterator[str]:
    """What is needed, or downloaded, more or less."""
    for row in ledger.rows:
        before, after = row.sizes[-2], row.sizes[-1]
        if before is None or after is None:
            continue
        told = told_difference(before, after, Unit.BYTES, "")
        if told != SAME:
            yield f"{needed(row)} ({told})"


def needed(row: CardRow) -> str:
    """What a row of sizes is: ``minimum memory``, ``disk with a desktop``, ``image``."""
    words = {"": "", MINIMUM: "minimum", RECOMMENDED: "recommended"}
    if row.of in words:
        return f"{words[row.of]} {row.name.removesuffix(' size')}".strip()
    return f"{row.name} {row.of}"


def _support(ledger: CardLedger) -> str:
    """How long the last two are supported from the day they come out."""
    days = {row.name: row.values for row in ledger.rows if row.group is CardGroup.RELEASE}
    told = []
    for place in (-1, -2):
        until, released = (days[name][place] if name in days else None for name in ("supported until", "released"))
        if until and released:
            months = round((days_of(until)[0] - days_of(released)[0]).days / _DAYS_OF_A_MONTH)
            told.append(f"{ledger.releases[place]} is supported for {months} months, until {until}")
    return f"{', and '.join(told)}." if told else ""


def _becomes(row: CardRow) -> str:
    known = [value for value in row.values if value is not None]
    return f"{row.name} from {known[-2]} to {known[-1]}"
