"""Opens each ledger with what a reader should know of it, in a sentence or two for each line of releases."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import Protocol

from metrograph.compare.kinship import SIMILAR_ENOUGH, Kinship
from metrograph.ledgers.checks import CheckLedger, CheckResult, CheckRow
from metrograph.ledgers.claims import ClaimLedger, ClaimRow
from metrograph.ledgers.facts import FactChange, FactLedger
from metrograph.ledgers.issues import IssueLedger, IssueRow, IssueStatus
from metrograph.ledgers.readings import ReadingLedger
from metrograph.ledgers.software import SoftwareLedger
from metrograph.ledgers.todos import TodoLedger
from metrograph.ledgers.trend import EffortLedger, Trend
from metrograph.ledgers.verdicts import VerdictLedger
from metrograph.ledgers.weight import Fit, Weight, WeightLedger
from metrograph.log.lexicon import Unit
from metrograph.measures.show import show_figure
from metrograph.words.figure_words import SAME, counted, show_spread, told_difference
from metrograph.words.grammar import are, few, listed, number
from metrograph.words.ledger_words import left, weighs

_FIRST_SEEN = "first seen"


class _HasReleases(Protocol):
    @property
    def releases(self) -> tuple[str, ...]:
        """Their names, oldest first within each line."""

    @property
    def lines(self) -> tuple[str, ...]:
        """What each of them continues."""


def of_issues(ledger: IssueLedger) -> Iterator[str]:
    """What became of trouble in the latest release of each line."""
    words = {
        IssueStatus.NEW: "new", _FIRST_SEEN: "seen for the first time", IssueStatus.BACK_AGAIN: "back again",
        IssueStatus.STILL_THERE: "still there", IssueStatus.GONE: "gone", IssueStatus.NOT_RETESTED: "not retested",
    }  # fmt: skip
    for line, places in _lines(ledger):
        last = places[-1]
        # Of trouble that none of the line has met, or that was gone before, nobody expects that it is looked for.
        met = [
            row
            for row in ledger.rows
            if any(row.cells[at].seen for at in places)
            and (row.cells[last].status is not IssueStatus.NOT_RETESTED or row.is_open_before(last))
        ]
        found = [(row, _standing(row, last)) for row in met]
        parts = []
        for status, word in words.items():
            names = [f"“{row.summary}”" for row, standing in found if standing == status]
            parts += [f"{few(names)} {are(names)} {word}"] if names else []
        if parts:
            yield f"In {_name(line, ledger.releases[last], ledger)} {listed(parts)}."


def _standing(row: IssueRow, place: int) -> str:
    """What became of it; where nothing earlier came by its place, nobody knows whether it is new."""
    status = row.cells[place].status
    return _FIRST_SEEN if status is IssueStatus.NEW and not row.tried_before else status


def of_checks(ledger: CheckLedger) -> Iterator[str]:
    """What fails in the latest release of each line, what failed before, and what works again."""
    for line, places in _lines(ledger):
        last, name = places[-1], ledger.releases[places[-1]]
        passed = sum(row.results[last] is CheckResult.PASS for row in ledger.rows)
        tried = sum(_tried(row.results[last]) for row in ledger.rows)
        if tried:
            again = [row.name for row in ledger.rows if name in row.well_again]
            parts = _failing(ledger.rows, places, name)
            parts += [f"{few(again)} {'work' if again[1:] else 'works'} again"] if again else []
            parts.append(f"{passed} of {counted(tried, 'trial')} passed")
            yield f"In {_name(line, name, ledger)} {listed(parts)}."


def _failing(rows: Sequence[CheckRow], places: Sequence[int], name: str) -> list[str]:
    """What fails in the last of these places: got worse there, was first tried there, or is as before."""
    failing = [row for row in rows if row.results[places[-1]] in {CheckResult.FAIL, CheckResult.PARTLY}]
    worse = [row.name for row in failing if name in row.worse]
    first = [row.name for row in failing if not any(_tried(row.results[at]) for at in places[:-1])]
    known = [row.name for row in failing if row.name not in {*worse, *first}]
    parts = [f"{few(worse)} got worse"] if worse else []
    parts += [f"{few(first)} {_fail(first)} where first tried"] if first else []
    parts += [f"{few(known)} {_fail(known)} as before"] if known else []
    return parts


def of_readings(ledger: ReadingLedger) -> Iterator[str]:
    """How much more the latest release of each line has than the one before, worse first."""
    for line, places in _lines(ledger):
        if len(places) < 2:
            continue
        before, last = places[-2:]
        worse: list[str] = []
        better: list[str] = []
        for row in ledger.rows:
            one, other = row.figures[before], row.figures[last]
            if one is None or other is None or row.better is None:
                continue
            told = told_difference(one.median, other.median, row.unit, row.name)
            if told != SAME:
                more = other.median.low > one.median.low
                (worse if more == (row.better == "less") else better).append(f"{row.name} ({row.state}) {told}")
        name, than = _name(line, ledger.releases[last], ledger), _short(line, ledger.releases[before])
        for word, told_of in (("worse", worse), ("better", better)):
            if told_of:
                readings = "reading" if len(told_of) == 1 else "readings"
                yield f"{name} is {word} than {than} in {number(len(told_of))} {readings}: {few(told_of)}."


def of_facts(ledger: FactLedger) -> Iterator[str]:
    """What was raised, replaced, or dropped in the latest release of each line."""
    for line, places in _lines(ledger):
        last = _last_told(places, [[row.values[at] for at in places] for row in ledger.rows])
        told = [
            f"{row.name} {'was dropped' if row.changes[last] is FactChange.DROPPED else f'is now {row.values[last]}'}"
            for row in ledger.rows
            if row.changes[last] in {FactChange.RAISED, FactChange.LOWERED, FactChange.REPLACED, FactChange.DROPPED}
        ]
        if told:
            yield f"In {_name(line, ledger.releases[last], ledger)} {few(told)}."


def of_claims(ledger: ClaimLedger) -> Iterator[str]:
    """Which published figures do not hold, and by how much."""
    measured = [row for row in ledger.rows if row.measured is not None]
    broken = [row for row in measured if row.holds is False]
    if not measured:
        return
    if not broken:
        yield f"All {counted(len(measured), 'published figure')} that could be measured hold."
        return
    verb = "does" if len(broken) == 1 else "do"
    of = f"{len(broken)} of {len(measured)} published figures" if measured[1:] else "The one published figure measured"
    yield f"{of} {verb} not hold."
    worst = max(broken, key=_excess)
    shown = show_figure(worst.measured, worst.unit, worst.measure) if worst.measured is not None else ""
    yield f"Furthest off is {worst.release}: {worst.what} is published as {worst.quoted}, and was {shown}."


def of_weight(ledger: WeightLedger) -> Iterator[str]:
    """What the latest release of each line asks to be downloaded, and how much more that is."""
    rows = {row.release: row for row in ledger.rows}
    for line, places in _lines(ledger):
        names = [ledger.releases[at] for at in places]
        last = rows.get(names[-1])
        if last is None or last.download is None:
            continue
        amount = weighs(last.download)
        text = f"{_name(line, names[-1], ledger)} takes {amount} of downloads until it can be worked with"
        if last.download.high is None:
            yield f"{text}; {_unweighed(last)}."
            continue
        earlier = [(name, rows[name].download) for name in names[:-1] if name in rows]
        for name, size in [(name, size) for name, size in earlier if size is not None and size.high is not None][-1:]:
            text += f", {told_difference(size, last.download, Unit.BYTES, '')} than {_short(line, name)}"
        yield f"{text}."


def of_limit(rows: Sequence[Fit], limit: str) -> str:
    """How many releases keep to a limit, which has most left, and of whom it is open."""
    fit = sorted((row for row in rows if row.fits), key=lambda row: -(row.left[0] or 0.0))
    unsure = [row.release for row in rows if row.fits is None]
    if fit:
        most = f"{fit[0].release} with {left(fit[0])} to spare"
        told = f"{few([row.release for row in fit])} {'keep' if fit[1:] else 'keeps'} to {limit}, {most}."
    else:
        told = f"Nothing is known to keep to {limit}."
    return told + (f" Of {few(unsure)} it is open, as a part is not known." if unsure else "")


def _unweighed(weight: Weight) -> str:
    if weight.image is None:
        return "its image has no size on the card"
    if weight.added_download is not None and weight.added_download.high is None:
        return "what was added has no size"
    return "what its first update takes was not noted"


def of_effort(ledger: EffortLedger) -> Iterator[str]:
    """How much is asked in the latest release of each line, and in the one before."""
    for line, places in _lines(ledger):
        told = [
            f"{_short(line, ledger.releases[at])} asks {show_spread(figures['decisions'], 'decisions')} decisions on"
            f" {show_spread(figures['screens'], 'screens')} screens"
            for at in places[-2:]
            if {"decisions", "screens"} <= (figures := ledger.figures[at]).keys()
        ]
        if told:
            yield f"{line}: {', and '.join(reversed(told))}." if line else f"{', and '.join(reversed(told))}."


def of_trends(trends: Sequence[Trend]) -> Iterator[str]:
    """How the latest release of each line stands against the one before."""
    for trend in trends:
        known = [(name, point) for name, point in zip(trend.releases, trend.points, strict=True) if point is not None]
        for (earlier, before), (later, after) in list(pairwise(known))[-1:]:
            told = told_difference(before.median, after.median, trend.unit, trend.name)
            told = "the same as" if told == SAME else f"{told} than"
            yield f"{later}, {trend.words}: {told} {_short(trend.line, earlier)}."


def of_kinship(kinship: Kinship) -> Iterator[str]:
    """Which installers are the same, which are kin, and which are like no other."""
    for group in kinship.alike:
        yield f"{listed(group)} have the same installer."
    alone = [family[0] for family in kinship.families if len(family) == 1]
    if alone and len(kinship.releases) > 1:
        have = "have installers" if alone[1:] else "has an installer"
        yield f"{listed(alone)} {have} like no other (kinship below {SIMILAR_ENOUGH})."


def of_software(ledger: SoftwareLedger) -> Iterator[str]:
    """What the latest release of each line gained, lost and replaced, and what of it is behind the newest."""
    words = {
        FactChange.NEW: "gained", FactChange.DROPPED: "lost", FactChange.RAISED: "raised",
        FactChange.LOWERED: "lowered", FactChange.REPLACED: "changed",
    }  # fmt: skip
    for line, places in _lines(ledger):
        last = _last_told(places, [[row.known(at) for at in places] for row in ledger.rows])
        pairs = {row.item: gone for row in ledger.rows if row.instead_of and (gone := row.instead_of[last])}
        parts = [f"has {few([f'{new} instead of {gone}' for new, gone in pairs.items()])}"] if pairs else []
        for change, word in words.items():
            items = [row.item for row in ledger.rows if row.changes[last] is change]
            alone = [item for item in items if item not in {*pairs, *pairs.values()}]
            parts += [f"{word} {few(alone)}"] if alone else []
        name = _name(line, ledger.releases[last], ledger)
        if parts:
            yield f"{name} {listed(parts)}."
        yield from _behind(name, ledger, last)


def _behind(name: str, ledger: SoftwareLedger, place: int) -> Iterator[str]:
    """What of a release is older than the newest that there was, of what is known of."""
    known = [row for row in ledger.rows if row.behind and row.behind[place] is not None]
    late = [f"{row.item} ({row.values[place]}, newest {row.newest[place]})" for row in known if row.behind[place]]
    if late:
        if len(known) == 1:
            yield f"{name} is behind the newest with {late[0]}."
        else:
            behind = "is behind it" if len(late) == 1 else "are behind it"
            count = f"{number(len(late))} of the {number(len(known))} items whose newest version is known"
            yield f"In {name}, {count} {behind}: {few(late)}."
    elif known:
        yield f"In {name} nothing is behind the newest, of {counted(len(known), 'item')} of which it is known."


def of_verdicts(ledger: VerdictLedger) -> Iterator[str]:
    """The latest verdict on the latest release of each line."""
    for line, places in _lines(ledger):
        said = [verdict for verdict in ledger.verdicts if verdict.release == ledger.releases[places[-1]]]
        if said:
            name = _name(line, ledger.releases[places[-1]], ledger)
            more = f" There {are(said[1:])} {counted(len(said) - 1, 'more verdict')} on it." if said[1:] else ""
            yield f"Of {name} it is said: {said[-1].text.rstrip('.')}.{more}"


def of_todos(ledger: TodoLedger) -> Iterator[str]:
    """How much is left to do, and of which releases most is still wanted."""
    if ledger.todos:
        yield f"{counted(len(ledger.todos), 'thing')} {are(ledger.todos)} noted as left to do."
    wanting = {
        each.release: sum(map(len, (each.to_try, each.to_read, each.to_tweak, each.to_add))) for each in ledger.wanted
    }
    if wanting:
        most = max(wanting, key=lambda release: wanting[release])
        of = counted(len(wanting), "release")
        yield f"The checklist still wants something of {of}, most of {most} ({counted(wanting[most], 'thing')})."
    elif ledger.releases:
        yield "The checklist wants nothing more."


def _last_told(places: Sequence[int], rows: Sequence[Sequence[object | None]]) -> int:
    """The latest release of a line that anything was noted of. rows: what was, for each of the places."""
    told = [at for place, at in enumerate(places) if any(row[place] is not None for row in rows)]
    return told[-1] if told else places[-1]


def _lines(ledger: _HasReleases) -> Iterator[tuple[str, list[int]]]:
    """Each line, and the places of its releases."""
    for line in dict.fromkeys(ledger.lines):
        yield line, [place for place, of in enumerate(ledger.lines) if of == line]


def _name(line: str, release: str, ledger: _HasReleases) -> str:
    """A release with its line where there are several."""
    return f"{line} {release}" if len(set(ledger.lines)) > 1 and not release.startswith(line or "\0") else release


def _short(line: str, release: str) -> str:
    """A release where its line has been said."""
    return release.removeprefix(f"{line} ")


def _excess(row: ClaimRow) -> float:
    if row.measured is None or not row.published.high:
        return 0.0
    return row.measured.low / row.published.high


def _tried(result: CheckResult) -> bool:
    return result not in {CheckResult.NOT_TRIED, CheckResult.SKIPPED}


def _fail(items: Sequence[str]) -> str:
    return "fail" if len(items) > 1 else "fails"
