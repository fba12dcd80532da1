"""Shortlists, verdicts and what is left to do as reports."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from metrograph.judging.shortlist_records import JudgedRelease, Shortlist, WishPart
from metrograph.ledgers.todos import TodoLedger, WantedTodo
from metrograph.ledgers.verdicts import Judgement, Liked, RatingRow, Shift, VerdictLedger
from metrograph.run.readers import Reader
from metrograph.show.report import model as m
from metrograph.show.report.ledger_reports import ROOM, by_line, pick, sides
from metrograph.words import shortlist_words as words
from metrograph.words.grammar import NOTHING
from metrograph.words.runs import todo

_ROOM = m.Room(fixed=32, side=14, least=3, first=True)


def shortlist_report(made: Shortlist) -> m.Report:
    """The order, the wishes release by release, what is required, and why to read it with care."""
    return m.Report(title=words.titled(made), parts=tuple(shortlist_sections(made)), empty="there are no releases")


def shortlist_sections(made: Shortlist, heading: str = "Order") -> Iterator[m.Section]:
    """The order, why each is behind the first, wishes, what is required, and what would turn it."""
    yield from m.section(heading, order_table(made))
    yield from m.section("Against the first", m.Lines(tuple(words.behind(made))))
    yield from m.section("Wishes", wishes_table(made))
    yield from m.section("Required", m.Lines(tuple(words.left_open(made))))
    yield from m.section("Left out", m.Lines(tuple(words.left_out(made))))
    yield from m.section(
        "What would settle it", m.Lines(tuple(_capital(words.next_step(each)) for each in made.measure_next))
    )
    if made.turns and made.in_question:
        yield from m.section("What would turn it", m.Lines((words.turned(made.turns),)))
    yield from m.section("Read with care", m.Lines((*words.care(made), *([words.method(made)] if made.wins else []))))


def _capital(sentence: str) -> str:
    return sentence[:1].upper() + sentence[1:]


def order_table(made: Shortlist) -> m.Table:
    """A row a release: what it is worth, how often it comes first, what it lacks."""
    columns = (
        m.Column("rank", right=True), m.Column("release", gives=True), m.Column("worth of 100", right=True),
        m.Column("first in 100", right=True), m.Column("before the next", right=True),
        m.Column("required"),
    )  # fmt: skip
    return m.Table(columns, tuple(_row(place, each, made) for place, each in enumerate(made.order)))


def _row(place: int, each: JudgedRelease, made: Shortlist) -> m.Row:
    if each.passes is False:
        return m.Row(m.texts(NOTHING, each.release, NOTHING, NOTHING, NOTHING, "not met"))
    before = f"{round(100 * made.wins[place][place + 1])}" if place + 1 < len(made.wins) else NOTHING
    first = NOTHING if each.first is None else words.of_100(each.first).removesuffix(" of 100")
    met = "met" if each.passes else f"{len(each.left_open)} open"
    return m.Row(m.texts(str(place + 1), each.release, words.worth(each.worth), first, before, met))


def wishes_table(made: Shortlist) -> m.Table:
    """A row a wish, releases across in their order: what each has, and what that is worth of 100."""
    inside = made.in_question
    columns = (
        m.Column("wish", gives=True), m.Column("weight", right=True),
        *sides([each.release for each in inside], right=True),
    )  # fmt: skip
    count = len(inside[0].parts) if inside else 0
    rows = tuple(_wish_row(place, inside) for place in range(count))
    return m.Table(
        columns, rows, _ROOM, key="In brackets what it is worth, of 100; what is not known may be worth anything."
    )


def _wish_row(place: int, inside: Sequence[JudgedRelease]) -> m.Row:
    parts = [each.parts[place] for each in inside]
    cells = (m.Cell(_told(part), value=part.middle) for part in parts)
    return m.Row((*m.texts(parts[0].wish, f"{round(100 * parts[0].weight)} %"), *cells))


def _told(part: WishPart) -> str:
    """What a release has of a wish, and what that is worth; what is not known may be worth anything."""
    return words.what_it_has(part) + (f" ({words.worth(part.worth)})" if part.is_known else "")


def readers_report(readers: Sequence[Reader]) -> m.Report:
    """Readers as a report, a section each."""
    parts = tuple(
        part
        for reader in readers
        for part in m.section(
            f"{reader.name}: {reader.about}" if reader.about else reader.name, m.Lines(tuple(words.asked(reader)))
        )
    )
    return m.Report(parts=parts, empty="there are no readers; “metrograph readers new NAME” writes one")


def todos_report(ledger: TodoLedger) -> m.Report:
    """What was noted as left to do, run by run, then what the checklist wants of each release."""
    noted = tuple(f"{left.run}: {todo(left.text, left.reader)}" for left in ledger.todos)
    wanted = (part for each in ledger.wanted for part in m.section(f"Still wanted of {each.release}", _labels(each)))
    return m.Report(parts=(*m.section("Left to do", m.Lines(noted)), *wanted), empty="nothing is left to do")


def _labels(each: WantedTodo) -> m.Labels:
    kinds = {"to try": each.to_try, "to read": each.to_read, "to tweak": each.to_tweak, "to add": each.to_add}
    return m.Labels(tuple((label, ", ".join(names)) for label, names in kinds.items() if names))


def verdicts_report(ledger: VerdictLedger) -> m.Report:
    """Ratings and scores by release, then every verdict."""
    sections = by_line("Ratings", ledger, lambda places: ratings_table(ledger.rows, ledger.releases, places))
    return m.Report(
        parts=(
            *sections,
            *shift_sections(ledger.shifts),
            *verdict_sections(ledger.verdicts),
            *remark_sections(ledger.remarks),
        ),
        empty="nothing was judged",
    )


def shift_sections(shifts: Sequence[Shift]) -> tuple[m.Section, ...]:
    """What changed in judgement, then and now, with the figures that changed with it."""
    blocks = [
        block
        for shift in shifts
        for block in (m.Lines((words.shifted(shift),)), m.Lines(tuple(words.went_with(shift)), 4))
    ]
    return m.section("What changed in judgement", *blocks)


def ratings_table(rows: Sequence[RatingRow], releases: Sequence[str], places: Sequence[int]) -> m.Table:
    """The ratings and scores of some releases."""
    columns = (m.Column("rating", gives=True), m.Column("for", gives=True), *sides(pick(releases, places)))
    told = tuple(
        m.Row(m.texts(row.name, row.reader or "", *(_parts(row, place) for place in places)))
        for row in rows
        if any(pick(row.parts, places))
    )
    return m.Table(columns, told, ROOM)


def _parts(row: RatingRow, place: int) -> str:
    part = row.parts[place]
    return NOTHING if part is None else row.show(part)


def verdict_sections(verdicts: Sequence[Judgement]) -> tuple[m.Section, ...]:
    """Every verdict with what speaks for and against it."""
    blocks = [block for verdict in verdicts for block in _verdict(verdict)]
    return m.section("Verdicts", *blocks)


def remark_sections(remarks: Sequence[Liked]) -> tuple[m.Section, ...]:
    """What was liked and what was not, run by run."""
    lines = (
        f"{each.run}: {'+' if each.liked else '-'} {each.thing}{f' ({each.why})' if each.why else ''}"
        for each in remarks
    )
    return m.section("Liked and not", m.Lines(tuple(lines)))


def _verdict(verdict: Judgement) -> tuple[m.Lines, m.Lines]:
    whom = f" (for {', '.join(verdict.whom)})" if verdict.whom else ""
    more = {"for": verdict.good, "against": verdict.against, "score": verdict.score}
    lines = tuple(f"{label}: {text}" for label, text in more.items() if text)
    return m.Lines((f"{verdict.run}: {verdict.text}{whom}",)), m.Lines(lines, 4)
