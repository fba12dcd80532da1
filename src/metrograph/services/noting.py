"""Notes what happens while a run goes on, and says how it stands. Loads as little as can be: a person waits for it."""

from __future__ import annotations

import re
from pathlib import Path
from typing import TYPE_CHECKING, TextIO

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.log.cues import Cue, Fault
from metrograph.log.escapes import encode
from metrograph.log.faults import Unreadable
from metrograph.log.reader import parse_line
from metrograph.log.verbs import VERBS, Trait
from metrograph.services.desk import Desk, Result
from metrograph.store.local.logbook import Logbook
from metrograph.store.protocol import Written

if TYPE_CHECKING:
    from metrograph.run.records import Clock


def read_words(line: str, book: Logbook) -> Cue:
    """The cue that was typed; raises MetrographError with what could stand where it is wrong."""
    if not line.isprintable() and any("\ud800" <= sign <= "\udfff" for sign in line):
        raise MetrographError("these words are not UTF-8; set the terminal to that encoding. Nothing was recorded")
    try:
        return parse_line(line, lambda: book.settings().lexicon)
    except Unreadable as wrong:
        raise MetrographError(f"{wrong.sentence}. Nothing was recorded") from wrong


_LIST_FROM_INPUT = re.compile(r"\s*(carries|lacks)\b([^|]*?)-\s*(\|.*)?", re.DOTALL)
_LONGEST_LIST = 1 << 20  # characters


def with_list(line: str, given: TextIO) -> str:
    """A line with a list of software in the place of its dash: one item a line, or by commas, from what is given."""
    match = _LIST_FROM_INPUT.fullmatch(line)
    if match is None or (match[2].strip() and not match[2].rstrip().endswith(":")):
        return line
    text = given.read(_LONGEST_LIST + 1)
    if len(text) > _LONGEST_LIST:
        raise MetrographError("this list is longer than a megabyte. Nothing was recorded")
    items = [encode(" ".join(item.split())) for item in re.split(r"[\n,;]", text) if item.strip()]
    if not items:
        raise MetrographError("nothing stood on standard input; expected: items, one a line or by commas")
    return f"{match[1]}{match[2]} {', '.join(dict.fromkeys(items))} {match[3] or ''}".rstrip()


def deviations(book: Logbook, name: str, written: Written) -> list[str]:
    """Where the cues that were just written have left the plan, a sentence each; none where there is no plan."""
    before = written.log
    if not any(Trait.PLANNED in VERBS[cue.verb].traits for cue in written.cues) or not before.header.other("like"):
        return []
    from metrograph.plan.plan import load_plan, new_deviations
    from metrograph.run.folding.fold import fold
    from metrograph.store.reading import LogReader
    from metrograph.words.change_words import deviation

    reader = LogReader(book)
    plan = load_plan(reader, book, before.header.other("like"), name, before.header.rig)
    if plan is None:
        return []
    after = msgspec.structs.replace(before, cues=(*before.cues, *written.cues))
    runs = (fold(log, name, reader.lexicon) for log in (before, after))
    return [deviation(change) for change in new_deviations(plan, *runs)]


def next_cues(book: Logbook, name: str, same: bool) -> list[Cue]:
    """The cues of the screen that the plan has next. same: with the answers of last time.

    Raises MetrographError when there is no plan or it is at its end.
    """
    from metrograph.plan.plan import cues_of, load_plan, next_step
    from metrograph.store.reading import LogReader

    reader = LogReader(book)
    run = reader.run(name)
    plan = load_plan(reader, book, run.like, name, run.rig)
    if plan is None:
        raise MetrographError(f"{name} has no plan; “metrograph begin RELEASE --like RUN” gives it one")
    step = next_step(plan, run)
    if step is None:
        raise MetrographError(f"the plan {plan.name} has no screen after this one")
    return cues_of(step, same)


class Ended(msgspec.Struct, frozen=True):
    """The words at the end of a run: its times, what the record lacks, and what is left to do."""

    clock: Clock
    lacking: tuple[str, ...]
    todos: tuple[str, ...]
    faults: tuple[Fault, ...]


def ended(book: Logbook, name: str) -> Ended:
    """How a run stands that was just ended."""
    from metrograph.plan.plan import load_plan, still_to_do
    from metrograph.store.reading import LogReader
    from metrograph.words.runs import lacking, todo

    reader = LogReader(book)
    run = reader.run(name)
    plan = load_plan(reader, book, run.like, run.run, run.rig)
    missing = lacking(run, still_to_do(run, reader.settings.checklist, plan))
    todos = [todo(left.text, left.reader) for left in run.todos if not left.ticked]
    asked = [f"still to be answered: {each.text}" for each in run.questions if each.answer is None]
    return Ended(run.clock, tuple(missing), (*todos, *asked), tuple(reader.faults))


def status_result(desk: Desk, logbook: Path | None, run: str | None, show_personal: bool) -> Result:
    """How an open run stands at this moment."""
    from metrograph.plan.plan import load_plan
    from metrograph.plan.status import status
    from metrograph.run.folding.fold import fold
    from metrograph.services.desk import Result, masked
    from metrograph.show.report.lists import status_report
    from metrograph.store.clock import elapsed
    from metrograph.store.memory import find_run
    from metrograph.store.reading import LogReader

    book = desk.logbook(logbook)
    name = find_run(book, run)
    reader = LogReader(book)
    log = reader.log(name)
    now = elapsed(log.header, desk.present()) or 0
    folded = fold(log, name, reader.lexicon, until=now)
    desk.warn_of(reader.faults)
    last = max((cue.at for cue in log.cues), default=0)
    plan = load_plan(reader, book, folded.like, name, folded.rig)
    result = status(folded, last, now, plan, reader.settings.checklist)
    result = masked(desk, [folded], result, show_personal)
    return Result(result, lambda _: status_report(result))
