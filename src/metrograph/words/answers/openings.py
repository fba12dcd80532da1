"""Opens each ledger with what a reader should know of it, in a sentence or two for each line of releases."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from metrograph.ledgers.claims import ClaimLedger, ClaimRow
from metrograph.ledgers.facts import FactChange, FactLedger, FactRow
from metrograph.ledgers.software import SoftwareLedger
from metrograph.ledgers.todos import TodoLedger
from metrograph.ledgers.verdicts import VerdictLedger
from metrograph.ledgers.weight import Fit, Weight, WeightLedger
from metrograph.log.lexicon import Unit
from metrograph.measures.show import show_figure
from metrograph.words.answers.lines_of_releases import in_line, lines_of, short
from metrograph.words.figure_words import counted, told_difference
from metrograph.words.grammar import are, few, listed, number
from metrograph.words.ledger_words import left, weighs


def of_facts(ledger: FactLedger) -> Iterator[str]:
    """What was raised, replaced, or dropped in the latest release of each line."""
    for line, places in lines_of(ledger):
        last = _last_told(places, [[row.values[at] for at in places] for row in ledger.rows])
        told = [
            _fact(row, places, last)
            for row in ledger.rows
            if row.changes[last] in {FactChange.RAISED, FactChange.LOWERED, FactChange.REPLACED, FactChange.DROPPED}
        ]
        if told:
            yield f"{in_line(line, ledger.releases[last], ledger)} has {few(told)}."


def _fact(row: FactRow, places: Sequence[int], last: int) -> str:
    """A fact as it is now, and as it was before in the same line."""
    before = [(at, row.values[at]) for at in places[: places.index(last)] if row.values[at] is not None]
    was = f" ({before[-1][1]} before)" if before else ""
    return (
        f"no {row.name} any more{was}"
        if row.changes[last] is FactChange.DROPPED
        else f"{row.name} {row.values[last]}{was}"
    )


def of_claims(ledger: ClaimLedger) -> Iterator[str]:
    """Which published figures do not hold, and by how much."""
    measured = [row for row in ledger.rows if row.measured is not None]
    broken = [row for row in measured if row.holds is False]
    if not measured:
        return
    if not broken:
        yield f"No published figure is contradicted, of {len(measured)} that could be measured."
        return
    verb = "does" if len(broken) == 1 else "do"
    if measured[1:]:
        count, every = number(len(broken)).capitalize(), number(len(measured))
        yield f"{count} of the {every} published figures that were measured {verb} not hold."
    else:
        yield "The one published figure that was measured does not hold."
    worst = max(broken, key=_excess)
    shown = show_figure(worst.measured, worst.unit, worst.measure) if worst.measured is not None else ""
    yield f"Furthest off is {worst.release}: {worst.what} is published as {worst.quoted}, and was {shown}."


def of_weight(ledger: WeightLedger) -> Iterator[str]:
    """What the latest release of each line asks to be downloaded, and how much more that is."""
    rows = {row.release: row for row in ledger.rows}
    for line, places in lines_of(ledger):
        names = [ledger.releases[at] for at in places]
        last = rows.get(names[-1])
        if last is None or last.download is None:
            continue
        amount = weighs(last.download)
        text = f"{in_line(line, names[-1], ledger)} takes {amount} of downloads until it can be worked with"
        if last.download.high is None:
            yield f"{text}; {_unweighed(last)}."
            continue
        earlier = [(name, rows[name].download) for name in names[:-1] if name in rows]
        for name, size in [(name, size) for name, size in earlier if size is not None and size.high is not None][-1:]:
            text += f", {told_difference(size, last.download, Unit.BYTES, '')} than {short(line, name)}"
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
    return told + (f" Of {few(unsure)} it cannot be said, as a part was not noted." if unsure else "")


def _unweighed(weight: Weight) -> str:
    if weight.image is None:
        return "its image has no size on the card"
    if weight.added_download is not None and weight.added_download.high is None:
        return "what was added has no size"
    return "what its first update takes was not noted"


def of_software(ledger: SoftwareLedger) -> Iterator[str]:
    """What the latest release of each line gained, lost and replaced, and what of it is behind the newest."""
    words = {
        FactChange.NEW: "gained", FactChange.DROPPED: "lost", FactChange.RAISED: "raised",
        FactChange.LOWERED: "lowered", FactChange.REPLACED: "changed",
    }  # fmt: skip
    for line, places in lines_of(ledger):
        last = _last_told(places, [[row.known(at) for at in places] for row in ledger.rows])
        pairs = {row.item: gone for row in ledger.rows if row.instead_of and (gone := row.instead_of[last])}
        parts = [f"has {few([f'{new} instead of {gone}' for new, gone in pairs.items()])}"] if pairs else []
        for change, word in words.items():
            items = [row.item for row in ledger.rows if row.changes[last] is change]
            alone = [item for item in items if item not in {*pairs, *pairs.values()}]
            parts += [f"{word} {few(alone)}"] if alone else []
        name = in_line(line, ledger.releases[last], ledger)
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
        if len(known) == 1:
            yield f"Of {name}, the one item of which it is known, {known[0].item} {known[0].values[place]}, is current."
        else:
            yield f"In {name} all {number(len(known))} items of which it is known are current."


def of_verdicts(ledger: VerdictLedger) -> Iterator[str]:
    """The latest verdict on the latest release of each line."""
    for line, places in lines_of(ledger):
        said = [verdict for verdict in ledger.verdicts if verdict.release == ledger.releases[places[-1]]]
        if said:
            name = in_line(line, ledger.releases[places[-1]], ledger)
            more = f" There {are(said[1:])} {counted(len(said) - 1, 'more verdict')} on it." if said[1:] else ""
            yield f"The verdict on {name}: {said[-1].text.rstrip('.')}.{more}"


def of_todos(ledger: TodoLedger) -> Iterator[str]:
    """How much is left to do, and of which releases most is still wanted."""
    if ledger.todos:
        things = f"{number(len(ledger.todos))} {'thing' if len(ledger.todos) == 1 else 'things'}"
        yield f"{things.capitalize()} {are(ledger.todos)} noted as left to do."
    wanting = {
        each.release: sum(map(len, (each.to_try, each.to_read, each.to_tweak, each.to_add))) for each in ledger.wanted
    }
    if wanting:
        most = max(wanting, key=lambda release: wanting[release])
        yield f"The checklist still wants most of {most}: {counted(wanting[most], 'thing')}."
    elif ledger.releases:
        yield "The checklist wants nothing more."


def _last_told(places: Sequence[int], rows: Sequence[Sequence[object | None]]) -> int:
    """The latest release of a line that anything was noted of. rows: what was, for each of the places."""
    told = [at for place, at in enumerate(places) if any(row[place] is not None for row in rows)]
    return told[-1] if told else places[-1]


def _excess(row: ClaimRow) -> float:
    if row.measured is None or not row.published.high:
        return 0.0
    return row.measured.low / row.published.high
