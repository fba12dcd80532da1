"""What a shortlist is made from: releases, all runs, a reader whose names were looked up."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment
from metrograph.judging.records import Shortlist
from metrograph.judging.sampling import SEED
from metrograph.judging.shortlist import prepare, shortlist
from metrograph.judging.topics import Topics
from metrograph.ledgers.digests.cache import digests_of
from metrograph.ledgers.digests.digest import Digest
from metrograph.ledgers.digests.groups import Group, group
from metrograph.log.cues import Fault
from metrograph.log.faults import Faults
from metrograph.run.readers import Reader
from metrograph.store.local.cards import load_releases
from metrograph.store.local.logbook import MARK, Logbook, shown_path
from metrograph.store.local.readers import find_reader
from metrograph.store.local.toml_places import line_of, places
from metrograph.store.names import unknown
from metrograph.store.reading import LogReader
from metrograph.words.shortlist import why_unusable


def made_for(
    environment: Environment,
    reader: LogReader,
    book: Logbook,
    runs: tuple[Group, list[Digest]],
    name: str,
    seed: int = SEED,
) -> Shortlist:
    """The shortlist for a reader by name; raises MetrographError where the reader cannot be read.

    runs: the releases that are compared, and all runs of the logbook, whose repeats say how much figures spread.
    """
    who = find_reader(book, name)
    topics = Topics(*runs, reader.lexicon, reader.settings.checklist, name)
    faults = name_faults(who, topics, (book.path / MARK).read_text("utf-8"), shown_path(book.path / MARK))
    for fault in faults:
        if fault.level == "error":
            raise MetrographError(f"{fault.file}:{fault.line}: {fault.message}; expected: {fault.expected}")
    environment.warn_of(faults)
    return shortlist(who, topics, seed)


def releases_of(book: Logbook, digests: Sequence[Digest], names: Sequence[str] | None) -> Group:
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
    return Group.of(runs, ("",) * len(runs), cards)


def names_of_readers(
    environment: Environment, book: Logbook, readers: Sequence[Reader], text: str
) -> tuple[Fault, ...]:
    """What is wrong with the names that readers use, where there are runs. text: of the settings they stand in."""
    reader = LogReader(book)
    digests = digests_of(reader, book, environment.track)
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
        name = each.name.removeprefix("carries ")
        line = found[place] if place in found else line_of((*place[:2], "required"), found, text, name)
        if each.is_fatal:
            faults.add(line, 1, told, each.name, expected)
        else:
            faults.add(line, 1, f"{told}, so it counts as unknown", each.name, expected, level="warning")
    return faults.in_order()
