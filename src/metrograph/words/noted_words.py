"""Says what a reviewer noted beside the way through the installer, a line a record, and leaves nothing of it out."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.ratings import rating_in_words
from metrograph.log.quantities.times import show_duration
from metrograph.log.quantities.units import BYTES, show_size
from metrograph.measures.reducing import amount_of
from metrograph.measures.show import show_figure
from metrograph.run.disks import Layout, Segment, segments
from metrograph.run.noted import (
    Addition,
    Beside,
    Check,
    Circumstances,
    Fact,
    Note,
    Question,
    Rating,
    Reading,
    Remark,
    SameAs,
    Shot,
    Software,
    Task,
    Todo,
    Tweak,
    Verdict,
)
from metrograph.run.records import Attempt, Issue, Run


def disk_title(layout: Layout) -> str:
    """How the disk was divided: ``whole disk, gpt, 25 GiB``."""
    size = show_size(layout.disk) if layout.disk is not None else None
    return ", ".join(word for word in (layout.method, layout.table, size) if word)


def segment_lines(layout: Layout) -> list[str]:
    """What stands on it from end to end, a line a piece."""
    systems = {part.mount: part.filesystem for part in layout.parts}
    return [
        " ".join(word for word in (piece.label, systems.get(piece.label), _segment_size(piece)) if word)
        for piece in segments(layout)
    ]


def _segment_size(piece: Segment) -> str:
    return "of unknown size" if piece.size is None else show_size(piece.size)


def other_lines(layout: Layout) -> list[str]:
    """What else was said: swap that is no partition, hibernation, encryption, the boot loader."""
    swap, lines = layout.swap, []
    if swap is not None and (swap.how != "partition" or swap.hibernate):
        size = f" of {show_size(swap.size)}" if swap.size is not None else ""
        lines.append(f"swap: {swap.how}{size}" + (", to hibernate" if swap.hibernate else ""))
    lines += [f"encryption: {layout.encryption}"] if layout.encryption else []
    return lines + ([f"boot loader: {layout.loader}"] if layout.loader else [])


def disk_lines(layout: Layout) -> list[str]:
    """Everything that was said of a disk, a line each."""
    return [disk_title(layout), *segment_lines(layout), *other_lines(layout)]


def amount(reading: Reading) -> str:
    """How much was read; what was said, where that is no number."""
    value = amount_of(reading)
    shown = f"“{reading.said}”" if value is None else show_figure(value, reading.unit, reading.name)
    return (
        shown
        if reading.total is None
        else f"{shown} of {show_figure(Range(reading.total, reading.total), reading.unit)}"
    )


def reading_told(reading: Reading) -> str:
    """What was said with a figure: under which load, how it was read, what it was held against."""
    against = f"against {reading.against}" if reading.against else None
    return joined(circumstances(reading), reading.load, reading.how, against)


def when(said: Circumstances, at: Range) -> str:
    """The moment at which something was noted: its time on the clock, or its day in a record of months."""
    return said.day or show_duration(at)


def circumstances(said: Circumstances) -> str:
    """Of what something is said, where alone it was met, and that it is hearsay, where it is."""
    subject = f"of {said.of}" if said.of else None
    where = f"on {said.only} only" if said.only else None
    heard = None if said.heard is None else "hearsay" if said.heard == "hearsay" else f"hearsay: {said.heard}"
    return joined(subject, where, heard)


def issue(trouble: Issue) -> str:
    """Trouble, where it came, what it cost, and all that was said of it."""
    where = f"on “{trouble.screen}”" if trouble.screen else f"during {trouble.phase}"
    name = f"{trouble.name}: " if trouble.name else ""
    cost = f"cost {show_duration(trouble.lost)}" if trouble.lost is not None else "not fixed"
    bits = joined(trouble.severity, trouble.area, circumstances(trouble), where, cost)
    more = [*trouble.also, *([trouble.detail] if trouble.detail else []), *([trouble.link] if trouble.link else [])]
    return f"{when(trouble, trouble.at)}  {name}{trouble.summary} ({bits})" + "".join(f"; {text}" for text in more)


def cures(trouble: Issue) -> list[str]:
    """What was tried against trouble, in vain and with success."""
    lines = [f"tried in vain: {remedy}" for remedy in trouble.tried]
    if trouble.fix or trouble.commands:
        lines.append(f"what helped: {trouble.fix or 'a command'}" + _commands(trouble.commands))
    return lines


def attempt(tried: Attempt) -> str:
    """A try to get through: how it began, how long it took, why it ended."""
    changed = f", with {tried.changed}" if tried.changed else ""
    of = f" ({tried.issue})" if tried.issue else ""
    failed = f"; failed: {tried.failed}{of}" if tried.failed is not None else ""
    return f"{tried.number}. {tried.origin}{changed}: {show_duration(tried.on_clock)}{failed}"


def check(trial: Check) -> str:
    """A trial, the condition it was made under, and how it came out."""
    under = f" with {trial.condition}" if trial.condition else ""
    return f"{trial.name}{under}: {trial.result}{_in_brackets(joined(circumstances(trial), trial.detail))}"


def fact(said: Fact) -> str:
    """Something that is so."""
    return f"{said.name}: {said.value}{_in_brackets(circumstances(said))}"


def remark(said: Remark) -> str:
    """Something that was liked, or was not."""
    return f"{'+' if said.liked else '-'} {said.thing}{_in_brackets(joined(circumstances(said), said.why))}"


def question(asked: Question) -> str:
    """A question of the reviewer's own, and what came of it."""
    return f"{asked.text} {asked.answer or '(open)'}{_in_brackets(circumstances(asked))}"


_WAYS = {
    "same": "{thing}: the same as in {release}", "less": "{thing}: less than in {release}",
    "more": "{thing}: more than in {release}", "better": "{thing}: better than in {release}",
    "worse": "{thing}: worse than in {release}",
}  # fmt: skip


def beside(said: Beside) -> str:
    """How it is beside another release, as somebody says."""
    told = _WAYS[said.way].format(thing=said.thing, release=said.release)
    return told + _in_brackets(joined(circumstances(said), said.why))


def same_as(said: SameAs) -> str:
    """That all which is not said is as in another release."""
    but = f", but {', '.join(said.but)}" if said.but else ""
    return f"all that is not said is as in {said.release}{but}{_in_brackets(circumstances(said))}"


def tweak(changed: Tweak) -> str:
    """A setting that had to be changed."""
    return changed.what + _in_brackets(joined(circumstances(changed), changed.why)) + _commands(changed.commands)


def addition(added: Addition) -> str:
    """Software that had to be added, and what it weighs."""
    sizes = {"downloaded": added.download, "on the disk": added.disk, "set free": added.frees}
    weights = [f"{_size(size)} {where}" for where, size in sizes.items() if size is not None]
    source = f"from {added.source}" if added.source else None
    groups = f"with {added.groups}" if added.groups else None
    instead = f"instead of {added.instead}" if added.instead else None
    return added.software + _in_brackets(joined(circumstances(added), instead, source, groups, *weights, added.why))


def _size(size: Range) -> str:
    return "an unknown size" if not size.low and size.high is None else show_figure(size, BYTES)


def task(work: Task) -> str:
    """Work that went on by itself."""
    what = f" ({work.what})" if work.what else ""
    took = f"took {show_duration(work.length)}" if work.length is not None else "not over"
    how = f"; {work.how}" if work.how else ""
    return f"{work.name}{what}: from {show_duration(work.start)} on, in {work.phase}, {took}{how}"


def software(item: Software) -> str:
    """An item with its version, where it is from and why it was noted."""
    source = f"from {item.source}" if item.source else None
    version = f" {item.version}" if item.version else ""
    instead = f"instead of {item.instead}" if item.instead else None
    return item.item + version + _in_brackets(joined(circumstances(item), instead, source, item.why))


def rating(mark: Rating) -> str:
    """A rating: a word, or so many of so many, and why."""
    said = rating_in_words(mark.part) if mark.in_words else f"{mark.part:g} of {mark.whole:g}"
    return f"{mark.name}: {said}{_in_brackets(joined(circumstances(mark), mark.why))}"


def todo(left: Todo) -> str:
    """Something left to do."""
    return left.text + _in_brackets(
        joined(f"for {left.reader}" if left.reader else None, "done" if left.ticked else None)
    )


def note(said: Note) -> str:
    """A remark worth publishing."""
    return said.text + _in_brackets(circumstances(said))


def shot(picture: Shot) -> str:
    """A picture, when it was taken, and its checksum."""
    return f"{when(picture, picture.at)}  {picture.path}" + _in_brackets(
        f"SHA-256 {picture.sha256}" if picture.sha256 else None
    )


def verdict(judgement: Verdict) -> list[str]:
    """A judgement, whom it is for, what speaks for and against, and its score."""
    whom = f" (for {', '.join(judgement.whom)})" if judgement.whom else ""
    more = {"for": judgement.good, "against": judgement.against, "score": judgement.score}
    return [judgement.text + whom, *(f"{label}: {text}" for label, text in more.items() if text)]


def joined(*parts: str | None) -> str:
    """What is known of some parts, with commas between."""
    return ", ".join(part for part in parts if part)


def _in_brackets(text: str | None) -> str:
    return f" ({text})" if text else ""


def _commands(commands: tuple[str, ...]) -> str:
    return "".join(f"; {command}" for command in commands)


def software_lines(run: Run) -> Iterator[str]:
    """What is on board and what is not, a line a group."""
    by_group: dict[str, list[str]] = {}
    for item in run.software:
        by_group.setdefault(("" if item.there else "lacks ") + (item.group or ""), []).append(software(item))
    open_lists = {("" if item.there else "lacks ") + (item.group or "") for item in run.software if not item.listed}
    for group, items in by_group.items():
        more = "; and more" if group in open_lists else ""
        yield f"{group}: {'; '.join(items)}{more}".removeprefix(": ")


ALL: tuple[tuple[str, Callable[[Run], Iterable[str]]], ...] = (
    ("Own questions", lambda run: map(question, run.questions)),
    ("Facts", lambda run: map(fact, run.facts)),
    ("Trials", lambda run: map(check, run.checks)),
    ("Software", software_lines),
    ("Added", lambda run: map(addition, run.added)),
    ("Tweaks", lambda run: map(tweak, run.tweaks)),
    ("Tasks", lambda run: map(task, run.tasks)),
    ("Ratings", lambda run: map(rating, run.ratings)),
    ("Liked and not", lambda run: map(remark, run.remarks)),
    ("Beside other releases", lambda run: (*map(same_as, run.same_as), *map(beside, run.beside))),
    ("Left to do", lambda run: map(todo, run.todos)),
    ("Notes", lambda run: (f"{when(each, each.at)}  {note(each)}" for each in run.notes)),
    (
        "Circumstances with",
        lambda run: (f"{show_duration(aside.at)}  {aside.verb}: {aside.text}" for aside in run.asides),
    ),
    ("Pictures", lambda run: map(shot, run.shots)),
)
"""What is told of a run in a line each: the heading, and what stands below it. To tell another record, add a row."""
