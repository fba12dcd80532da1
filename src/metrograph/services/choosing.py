"""For whom: a shortlist of releases for a reader, and readers whose names were looked up in what was noted."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import NamedTuple

import msgspec

from metrograph.archive.measured import Heard, Thing, ThingKind, heard_in
from metrograph.archive.place import ArchivePlace
from metrograph.core.errors import MetrographError
from metrograph.judging.sampling import SEED
from metrograph.judging.shortlist import prepare, shortlist
from metrograph.judging.shortlist_records import Shortlist, TopicKind
from metrograph.judging.topics import Topics
from metrograph.ledgers.digests.cache import digests_of
from metrograph.ledgers.digests.digest import Digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup, group
from metrograph.log.cues import Fault
from metrograph.log.faults import Faults, Unreadable
from metrograph.run.cards import Rig
from metrograph.run.readers import Reader, TopicName, Wish
from metrograph.services.asking_others import asked, beside_others, like_of
from metrograph.services.desk import Desk, Result, masked
from metrograph.services.following import opened
from metrograph.show.files.documents import fields_of
from metrograph.show.report.judgements import readers_report, shortlist_report
from metrograph.show.report.model import Report
from metrograph.store.ids import unknown
from metrograph.store.local.card_files import load_releases, load_rigs
from metrograph.store.local.logbook import MARK, Logbook, shown_path
from metrograph.store.local.reader_settings import (
    EXPECTED_NAME,
    add_reader,
    find_reader,
    is_reader_name,
    load_readers,
    parse_requirement,
    parse_wish,
    with_reader,
)
from metrograph.store.local.toml_places import line_of as place_of
from metrograph.store.local.toml_places import places
from metrograph.store.reading import LogReader
from metrograph.words.names import named, names_of
from metrograph.words.others_words import NOT_NOTED
from metrograph.words.shortlist_words import of_shortlist, why_unusable


class Chosen(NamedTuple):
    """A shortlist, with what it was made from. names: of the releases, and what they have in common."""

    made: Shortlist
    of: ReleaseGroup
    rigs: dict[str, Rig]
    digests: list[Digest]
    common: str
    names: dict[str, str]


class ShortlistRequest(msgspec.Struct, frozen=True):
    """A shortlist that is asked for.

    names: of releases; all that have runs where none are said. reader: the only one unless said.
    seed: what chance begins with; the usual unless said.
    archive: asked for what is open; what others have counts for nothing in the order.
    """

    logbook: Path | None = None
    names: tuple[str, ...] = ()
    reader: str | None = None
    seed: int | None = None
    archive: str | None = None
    show_personal: bool = False


def shortlist_result(desk: Desk, wanted: ShortlistRequest) -> Result:
    """Whom which release is for; raises MetrographError where no shortlist can be made."""
    chosen = choose(desk, wanted)
    made = masked(desk, chosen.digests, chosen.made, wanted.show_personal)
    said = asked(desk, wanted.archive, partial(_heard, made, chosen))

    def report() -> Report:
        called = named(made, chosen.names)
        shown = opened(shortlist_report(called), of_shortlist(called))
        return shown if said is None else beside_others(shown, named(said, chosen.names), NOT_NOTED)

    return Result(made if said is None else fields_of(made) | {"others": said}, lambda _: report())


def _heard(made: Shortlist, chosen: Chosen, place: ArchivePlace, own: str) -> tuple[Heard, ...]:
    """What others have of what is open: of wishes that nobody noted, and of what is required; else of the first."""
    inside = made.in_question
    parts = [(each.release, part.wish, part.kind) for each in inside for part in each.parts if not part.is_known]
    needs = [(each.release, need.name, need.kind) for each in inside for need in each.left_open]
    first = [(each.release, part.wish, part.kind) for each in inside[:1] for part in each.parts]
    things = (_thing(*each) for each in dict.fromkeys([*needs, *parts] or first))
    return heard_in(place, [thing for thing in things if thing is not None], like_of(chosen.of, chosen.rigs), own)


def _thing(release: str, name: str, kind: TopicKind) -> Thing | None:
    """What a reader's name stands for in an archive; None where no archive has it."""
    asked_as = _KINDS.get(kind)
    if asked_as is None:
        return None
    asked = TopicName.of(name)
    return Thing(release, name, asked_as, asked.item, asked.state or asked.condition or "")


_KINDS = {
    TopicKind.FIGURE: ThingKind.FIGURE, TopicKind.READING: ThingKind.READING, TopicKind.TRIAL: ThingKind.TRIAL,
    TopicKind.SOFTWARE: ThingKind.SOFTWARE,
}  # fmt: skip


def choose(desk: Desk, wanted: ShortlistRequest) -> Chosen:
    """The shortlist of some releases for a reader; raises MetrographError where it cannot be made."""
    book = desk.logbook(wanted.logbook)
    name = wanted.reader or _only_reader(book)
    log_reader = LogReader(book)
    digests = digests_of(log_reader, book, desk.track)
    desk.warn_of(log_reader.faults)
    of = releases_of(book, digests, wanted.names)
    made = made_for(desk, log_reader, book, (of, digests), name, SEED if wanted.seed is None else wanted.seed)
    common, short = names_of(of.releases, of.cards)
    return Chosen(made, of, load_rigs(book), digests, common, short)


def _only_reader(book: Logbook) -> str:
    names = list(load_readers(book)[0])
    if len(names) == 1:
        return names[0]
    if not names:
        raise MetrographError("metrograph.toml has no readers yet; “metrograph readers new NAME” writes one")
    raise MetrographError(f"say for whom with --for; expected: {' or '.join(names)}")


def made_for(
    desk: Desk,
    reader: LogReader,
    book: Logbook,
    runs: tuple[ReleaseGroup, list[Digest]],
    name: str,
    seed: int = SEED,
) -> Shortlist:
    """The shortlist for a reader by name; raises MetrographError where the reader cannot be read.

    runs: the releases that are compared, and all runs of the logbook, whose repeats say how much figures spread.
    """
    who = find_reader(book, name)
    topics = Topics(*runs, reader.lexicon, reader.settings.checklist, name)
    faults = name_faults(who, topics, book.settings_text(), shown_path(book.path / MARK))
    for fault in faults:
        if fault.level == "error":
            raise MetrographError(f"{fault.file}:{fault.line}: {fault.message}; expected: {fault.expected}")
    desk.warn_of(faults)
    return shortlist(who, topics, seed)


def releases_of(book: Logbook, digests: Sequence[Digest], names: Sequence[str] | None) -> ReleaseGroup:
    """The releases that were named, or all that have runs, held against each other whatever line they continue."""
    cards = load_releases(book)
    installed = dict.fromkeys(digest.release for digest in digests)
    wanted = list(dict.fromkeys(names or installed))
    for name in wanted:
        if name not in installed and name not in cards:
            raise unknown("release", name, sorted({*installed, *cards}), "“metrograph release list” lists them")
    if not wanted:
        raise MetrographError("there are no runs yet to choose from; “metrograph begin RELEASE --rig RIG” begins one")
    every = group([digest for digest in digests if digest.release in wanted], cards, one_line=True)
    # What nobody has installed yet has a card all the same.
    runs = every.runs | {name: [] for name in wanted if name not in every.runs}
    return ReleaseGroup.of(runs, ("",) * len(runs), cards)


def names_of_readers(desk: Desk, book: Logbook, readers: Sequence[Reader], text: str) -> tuple[Fault, ...]:
    """What is wrong with the names that readers use, where there are runs. text: of the settings they stand in."""
    reader = LogReader(book)
    digests = digests_of(reader, book, desk.track)
    if not digests:
        return ()
    of, settings = releases_of(book, digests, None), reader.settings
    found = (
        name_faults(
            each, Topics(of, digests, reader.lexicon, settings.checklist, each.name), text, shown_path(book.path / MARK)
        )
        for each in readers
    )
    return tuple(fault for faults in found for fault in faults)


def name_faults(who: Reader, topics: Topics, text: str, file: str) -> tuple[Fault, ...]:
    """What is wrong with the names that a reader uses; a name that nobody noted anything of is a warning."""
    faults, found = Faults(file), places(text)
    for each in prepare(who, topics).unusable:
        told, expected = why_unusable(each)
        place = ("readers", who.name, "wishes", each.name)
        name = TopicName.of(each.name).item
        line = found[place] if place in found else place_of((*place[:2], "required"), found, text, name)
        if each.is_fatal:
            faults.add(line, 1, told, each.name, expected)
        else:
            faults.add(line, 1, f"{told}, so it counts as unknown", each.name, expected, level="warning")
    return faults.in_order()


# -- readers ----------------------------------------------------------------------------------------------------------

_WISH = re.compile(r"(?P<name>.+?)(?: weight (?P<weight>[0-9.]+))?(?:,? from (?P<worst>.+) to (?P<best>.+))?")
WISH_EXAMPLE = "hands-on weight 3 from 20:00 to 5:00"


def readers_result(desk: Desk, logbook: Path | None) -> Result:
    """All readers of a logbook; what is wrong with them is told."""
    book = desk.logbook(logbook)
    found, faults = load_readers(book)
    text = book.settings_text()
    desk.warn_of((*faults, *names_of_readers(desk, book, tuple(found.values()), text)))
    document = {"readers": [_document(reader) for reader in found.values()]}
    return Result(document, lambda _: readers_report(tuple(found.values())))


def _document(reader: Reader) -> dict[str, object]:
    """A reader as settings have it."""
    wishes = [
        {
            "name": wish.name, "weight": wish.weight,
            "from": wish.worst.text if wish.worst else None, "to": wish.best.text if wish.best else None,
        }
        for wish in reader.wishes
    ]  # fmt: skip
    required = [each.text for each in reader.required]
    return {
        "name": reader.name, "about": reader.about, "required": required, "wishes": wishes, "weights": reader.weights,
    }  # fmt: skip


def made_reader(name: str, about: str, required: Sequence[str], wishes: Sequence[str]) -> Reader:
    """A reader from what a person says; raises MetrographError where it cannot be read."""
    if not is_reader_name(name):
        raise MetrographError(f"“{name}” is no name for a reader; expected: {EXPECTED_NAME}")
    try:
        return Reader(name, about, tuple(map(parse_requirement, required)), tuple(map(_wish, wishes)))
    except Unreadable as wrong:
        raise MetrographError(f"“{wrong.found}”: {wrong.sentence}") from wrong


def _wish(said: str) -> Wish:
    """A wish in one line: ``hands-on weight 3 from 20:00 to 5:00``."""
    match = _WISH.fullmatch(" ".join(said.split()))
    if match is None:
        raise Unreadable("this cannot be read", said, WISH_EXAMPLE)
    table: dict[str, object] = {"weight": float(match["weight"] or 1)}
    table |= {"from": match["worst"], "to": match["best"]} if match["worst"] else {}
    return parse_wish(match["name"], table)


def write_reader(desk: Desk, book: Logbook, made: Reader) -> None:
    """Writes a reader into the settings; raises MetrographError where nothing is wanted or a name is not known."""
    if not made.required and not made.wishes:
        raise MetrographError("say what is required with --require, or what counts with --wish")
    for fault in names_of_readers(desk, book, (made,), with_reader(book, made)):
        told = f"{fault.message}; expected: {fault.expected}"
        if fault.level == "error":
            raise MetrographError(told)
        desk.warn(f"warning: {told}")
    add_reader(book, made)
