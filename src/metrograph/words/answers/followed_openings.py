"""Opens the ledgers of trouble, trials and figures with what there is to know of each line's latest release."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise

from metrograph.compare.kinship import Kinship
from metrograph.findings.finding_records import Finding
from metrograph.findings.of_trouble import Ends, of_trouble
from metrograph.findings.telling import in_order
from metrograph.ledgers.checks import CheckLedger, CheckResult, CheckRow
from metrograph.ledgers.issues import IssueLedger
from metrograph.ledgers.readings import ReadingLedger, ReadingRow, without_swap_files
from metrograph.ledgers.trend import EffortLedger, Trend
from metrograph.log.lexicon import Unit
from metrograph.log.quantities.ranges import Range, difference
from metrograph.measures.reducing import Spread
from metrograph.measures.show import show_figure
from metrograph.words.answers.difference_words import REACHED, reached, size_told
from metrograph.words.answers.finding_words import of_trouble_alone
from metrograph.words.answers.lines_of_releases import in_line, lines_of, short
from metrograph.words.figure_words import SAME, show_spread, told_difference
from metrograph.words.grammar import few, listed, number


def of_issues(ledger: IssueLedger) -> Iterator[str]:
    """What became of trouble in the latest release of each line."""
    for ends in _ends(ledger):
        found = in_order(of_trouble(ledger.rows, (), ends))
        yield from _about(ends, [told.text for told in of_trouble_alone(found)])


def found_in_issues(ledger: IssueLedger) -> list[Finding]:
    """What is found of trouble in the latest release of each line."""
    return [each for ends in _ends(ledger) for each in in_order(of_trouble(ledger.rows, (), ends))]


def found_in_checks(ledger: CheckLedger) -> list[Finding]:
    """What is found of trials in the latest release of each line that was tried."""
    return [each for ends in _tried_ends(ledger) for each in in_order(of_trouble((), ledger.rows, ends))]


def of_checks(ledger: CheckLedger) -> Iterator[str]:
    """What fails in the latest release of each line, what failed before, and what works again."""
    for ends in _tried_ends(ledger):
        results = [row.results[ends.later] for row in ledger.rows]
        tried = sum(map(_tried, results))
        if not tried:
            continue
        told = [each.text for each in of_trouble_alone(in_order(of_trouble((), ledger.rows, ends)))]
        told += _as_before(ledger.rows, ends)
        passed = results.count(CheckResult.PASS)
        every = "Its one trial passed." if tried == 1 else f"All its {number(tried)} trials passed."
        yield from _about(ends, [*told, *([every] if passed == tried else [])])


def _as_before(rows: Sequence[CheckRow], ends: Ends) -> list[str]:
    """What does not work in the later of two releases, nor did in the one before."""
    told = []
    for result, words in (
        (CheckResult.FAIL, ("fails", "fail")),
        (CheckResult.PARTLY, ("works only partly", "work only partly")),
    ):
        names = [
            row.name
            for row in rows
            if row.results[ends.later] is result and ends.earlier is not None and row.results[ends.earlier] is result
        ]
        told += [f"{_capital(few(names))} {words[len(names) > 1]} as before."] if names else []
    return told


def _tried_ends(ledger: CheckLedger) -> Iterator[Ends]:
    return _ends(ledger, [[_tried(result) or None for result in row.results] for row in ledger.rows])


def _ends(ledger: IssueLedger | CheckLedger, known: Sequence[Sequence[object | None]] | None = None) -> Iterator[Ends]:
    """The latest release of each line with the one before it. known: what is, of each; without any, none is meant."""
    for _, every in lines_of(ledger):
        places = every if known is None else [at for at in every if any(row[at] is not None for row in known)]
        if not places:
            continue
        earlier = places[-2] if len(places) > 1 else None
        yield Ends(ledger.releases, ledger.origins or ledger.lines, earlier, places[-1])


def _about(ends: Ends, sentences: Sequence[str]) -> Iterator[str]:
    """Sentences about a release, which is named before them."""
    if sentences:
        yield f"{ends.names[1]}: {' '.join(sentences)}"


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


_MOST_READINGS = 4  # that are told
_LEADING = ("update download", "memory", "disk used")
"""Readings that a reader decides by, the weightiest first; the others follow."""


def of_readings(ledger: ReadingLedger) -> Iterator[str]:
    """How much more the latest release of each line has than the one before, worse first; each reading in one state."""
    for line, places in lines_of(ledger):
        if len(places) < 2:
            continue
        before, last = _last_pair(places, [[row.figures[at] for at in places] for row in ledger.rows])
        worse: list[str] = []
        better: list[str] = []
        for row in _one_state_each(ledger.rows, before, last):
            one, other = _own(row.figures, row.swap_files, before, last)
            if one is None or other is None or row.better is None or not _is_told(one, other):
                continue
            amount, grown = other.low - one.low, _more_swap(row.swap_files, before, last)
            told = size_told(row.name, told_difference(one, other, row.unit, row.name), amount, grown)
            (worse if (amount > 0) == (row.better == "less") else better).append(told)
        if not worse and not better:
            continue
        name, than = in_line(line, ledger.releases[last], ledger), short(line, ledger.releases[before])
        first, *rest = [listed(told[:_MOST_READINGS]) for told in (worse, better) if told]
        yield f"Against {than}, {name} takes {', but '.join((first, *rest))}."


def _own(
    figures: Sequence[Spread | None], files: Sequence[float | None], before: int, last: int
) -> tuple[Range | None, Range | None]:
    """What two releases take without their files for swapping; None where that is not known."""
    own = without_swap_files([figure.median if figure else None for figure in figures], files)
    return own[before], own[last]


def _more_swap(files: Sequence[float | None], before: int, last: int) -> float:
    """By how many bytes a file for swapping grew that lies in a figure."""
    return ((files[last] or 0.0) - (files[before] or 0.0)) if files else 0.0


def _is_told(one: Range, other: Range) -> bool:
    """Whether a difference goes one way, wherever within its bounds the figures lie."""
    low, high = difference(one, other)
    return low is not None and high is not None and low * high > 0


def _one_state_each(rows: Sequence[ReadingRow], before: int, last: int) -> list[ReadingRow]:
    """Of each reading the one state in which both were taken, the installed system before any other."""
    known: dict[str, list[ReadingRow]] = {}
    for row in rows:
        if row.figures[before] is not None and row.figures[last] is not None and row.load in {None, "rest"}:
            known.setdefault(row.name, []).append(row)
    names = sorted(known, key=lambda name: _LEADING.index(name) if name in _LEADING else len(_LEADING))
    return [next((row for row in known[name] if row.state == "installed"), known[name][0]) for name in names]


def _last_pair(places: Sequence[int], rows: Sequence[Sequence[object | None]]) -> tuple[int, int]:
    """The last two releases of a line of which anything is known."""
    told = [at for place, at in enumerate(places) if any(row[place] is not None for row in rows)]
    return (told[-2], told[-1]) if len(told) > 1 else (places[-2], places[-1])


def of_effort(ledger: EffortLedger) -> Iterator[str]:
    """How much is asked in the latest release of each line, and in the one before."""
    for line, places in lines_of(ledger):
        told = [
            f"{short(line, ledger.releases[at])} asks for {_counted(figures['decisions'], 'decisions')} on"
            f" {_counted(figures['screens'], 'screens')}"
            for at in places[-2:]
            if {"decisions", "screens"} <= (figures := ledger.figures[at]).keys()
        ]
        if told:
            said = f"{', '.join(reversed(told))}." if len(told) < 2 else f"{told[1]}, {told[0]}."
            yield f"{line}: {said}" if line else said


def _counted(spread: Spread, name: str) -> str:
    """A count of one kind of thing, which is singular of one."""
    shown = show_spread(spread, name)
    return f"{shown} {name[:-1] if shown == '1' else name}"


def of_trends(trends: Sequence[Trend]) -> Iterator[str]:
    """How the latest release of each line stands against the one before, in what may be compared."""
    for trend in trends:
        known = [place for place, point in enumerate(trend.points) if point is not None]
        if trend.across:
            yield from _least_and_most(trend, known)
            continue
        for before, last in list(pairwise(known))[-1:] if trend.is_compared else ():
            one, other = _own(trend.points, trend.swap_files, before, last)
            if one is None or other is None:
                continue
            later, than = trend.releases[last], short(trend.line, trend.releases[before])
            told = told_difference(one, other, trend.unit, trend.name)
            if told != SAME and not _is_told(one, other):
                ends = f"{later} and {than}"
                yield f"{_capital(trend.words)}: {ends} cannot be told apart, as their records leave it open."
                continue
            of = "in a run each" if _most_runs(trend, before, last) == 1 else "in the medians of their runs"
            if trend.unit == Unit.BYTES and told != SAME:
                said = size_told(trend.name, told, other.low - one.low, _more_swap(trend.swap_files, before, last))
                said += "" if trend.state == "installed" else f" ({trend.state})"
                yield f"Against {than}, {later} takes {said}, {of}."
            else:
                yield f"{_along(trend, later, than, told)}, {of}."


def _least_and_most(trend: Trend, known: Sequence[int]) -> Iterator[str]:
    """Which of several systems has least and most, where none comes after another; a bound is neither."""
    values = {place: point.median for place in known if (point := trend.points[place]) is not None}
    exact = sorted(
        (place for place in known if values[place].exact or values[place].about), key=lambda at: values[at].middle
    )
    if len(exact) > 1 and trend.is_compared:
        least, most = exact[0], exact[-1]
        shown = [show_figure(values[place], trend.unit, trend.name) for place in (least, most)]
        swap = " with what it swaps to" if any(trend.swap_files) else ""
        yield (
            f"{_capital(trend.words)}{swap} is least in {trend.releases[least]} ({shown[0]}) and most in"
            f" {trend.releases[most]} ({shown[1]}), of {len(exact)} that have it."
        )


def _most_runs(trend: Trend, *places: int) -> int:
    return max(point.runs for place in places if (point := trend.points[place]) is not None)


_ONE_OF = {
    "screens": ("screen", "screens"), "decisions": ("decision", "decisions"), "kept": ("pre-set kept", "pre-sets kept"),
    "chosen": ("answer picked", "answers picked"), "typed": ("answer typed", "answers typed"),
    "right": ("right guess", "right guesses"), "wrong": ("wrong guess", "wrong guesses"),
    "returns": ("return to a screen", "returns to a screen"),
    "calls": ("call back to the keyboard", "calls back to the keyboard"),
    "questions": ("question of the installer", "questions of the installer"),
    "asked-first": ("question before copying starts", "questions before copying starts"),
    "attempts": ("attempt", "attempts"),
}  # fmt: skip
"""How one, and how many, of what every run has a count of are called."""


def _along(trend: Trend, later: str, than: str, told: str) -> str:
    """How the later release stands to the earlier one."""
    words = trend.words.removesuffix(" (installed)")
    one, many = _ONE_OF.get(trend.name, (words, words))
    if told == SAME:
        return f"{later} has as many {many} as {than}" if not trend.unit else f"{_capital(words)}: {later} is as {than}"
    if trend.name in REACHED:
        return f"{later} {reached(trend.name, told)} than {than}"
    if trend.unit == Unit.SECONDS:
        return f"{_capital(words)}: {told} in {later} than in {than}"
    size, _, comparative = told.rpartition(" ")
    return f"{later} has {size} {comparative} {one if size == '1' else many} than {than}"


def _exactly_alike(kinship: Kinship, group: Sequence[str]) -> list[list[str]]:
    """The releases of a group by what is exactly one installer, the largest first."""
    found: list[list[str]] = []
    for name in group:
        row = kinship.matrix[kinship.releases.index(name)]
        same = next((each for each in found if row[kinship.releases.index(each[0])] == 1), None)
        if same is None:
            found.append([name])
        else:
            same.append(name)
    return sorted(found, key=len, reverse=True)


def of_kinship(kinship: Kinship) -> Iterator[str]:
    """Which installers are the same, which are kin, and which are like no other."""
    for group in kinship.alike:
        first, *others = _exactly_alike(kinship, group)
        if first[1:]:
            yield f"{listed(first)} show the same installer, question by question."
        like = [name for each in (others if first[1:] else (first, *others)) for name in each]
        if like and first[1:]:
            yield f"{listed(like)} {'show' if like[1:] else 'shows'} it but for details."
        elif like:
            yield f"{listed(like)} show the same installer but for details."
    for release in [family[0] for family in kinship.families if len(family) == 1 and len(kinship.releases) > 1]:
        place = kinship.releases.index(release)
        pairs = zip(kinship.matrix[place], kinship.releases, strict=True)
        nearest, name = max((kin, name) for kin, name in pairs if name != release)
        yield f"{release} resembles no other here; nearest is {name} ({nearest:.2f})."


def _tried(result: CheckResult) -> bool:
    return result not in {CheckResult.NOT_TRIED, CheckResult.SKIPPED}


def _fail(items: Sequence[str]) -> str:
    return "fail" if len(items) > 1 else "fails"
