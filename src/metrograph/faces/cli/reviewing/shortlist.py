"""Whom a release is for: the shortlist of a reader."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import Annotated, Any, NamedTuple

import typer

from metrograph.archive.measured import Heard, Thing, ThingKind, heard_in
from metrograph.archive.place import Place
from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.masking import masked
from metrograph.faces.cli.options import (
    ArchiveOption,
    ForOption,
    JsonOption,
    LogbookOption,
    PersonalOption,
    ReleasesArgument,
    command_app,
    examples,
)
from metrograph.faces.cli.reviewing.judged import made_for, releases_of
from metrograph.faces.cli.sharing.others import asked, beside_others, like_of
from metrograph.judging.records import Shortlist, TopicKind
from metrograph.judging.sampling import SEED
from metrograph.ledgers.digests.cache import digests_of
from metrograph.ledgers.digests.digest import Digest
from metrograph.ledgers.digests.groups import Group
from metrograph.run.cards import Rig
from metrograph.show.files.json import fields_of
from metrograph.store.local.cards import load_rigs
from metrograph.store.local.logbook import Logbook
from metrograph.store.local.readers import load_readers
from metrograph.store.reading import LogReader
from metrograph.words.names import named, names_of
from metrograph.words.others import NOT_NOTED
from metrograph.words.shortlist import of_shortlist

app = command_app()
SeedOption = Annotated[int, typer.Option(metavar="NUMBER", min=0, help="What chance begins with.")]


class Chosen(NamedTuple):
    """A shortlist, with what it was made from. names: of the releases, and what they have in common."""

    made: Shortlist
    of: Group
    rigs: dict[str, Rig]
    digests: list[Digest]
    common: str
    names: dict[str, str]


@app.command(
    epilog=examples(
        "metrograph shortlist --for hand-out",
        "metrograph shortlist larkmoor-8.0-heron osterby-2026.1 --for hand-out --json",
    )
)
def shortlist_command(
    ctx: typer.Context,
    names: ReleasesArgument = None,
    reader: ForOption = None,
    seed: SeedOption = SEED,
    archive: ArchiveOption = None,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Say which release is for whom, and how sure that is.

    Those that lack what the reader requires are left out, each with its figure. The others are ordered by what the
    reader's wishes are worth together. Figures are varied within their ranges and the spread of repeats, and weights
    too; what nobody noted may be anything. Readers stand in metrograph.toml. An archive is asked for what is open: what
    others have is told, and counts for nothing in the order.
    """
    environment = environment_of(ctx)
    chosen = choose(environment, logbook, names, reader, seed)
    made = masked(environment, chosen.digests, chosen.made, show_personal)
    said = asked(environment, archive, partial(_heard, made, chosen))
    if json:
        environment.show_json(made if said is None else fields_of(made) | {"others": said})
        return
    from metrograph.show.report.judgements import shortlist_report

    report = opened(shortlist_report(named(made, chosen.names)), named(made, chosen.names))
    environment.show(report if said is None else beside_others(report, named(said, chosen.names), NOT_NOTED))


def _heard(made: Shortlist, chosen: Chosen, place: Place, own: str) -> tuple[Heard, ...]:
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
    if asked_as is ThingKind.READING:
        said, _, state = name.removesuffix(")").partition(" (")
        return Thing(release, name, asked_as, said, state)
    if asked_as is ThingKind.TRIAL:
        said, _, condition = name.partition(" with ")
        return Thing(release, name, asked_as, said, condition)
    return None if asked_as is None else Thing(release, name, asked_as, name.removeprefix("carries ").strip())


_KINDS = {
    TopicKind.FIGURE: ThingKind.FIGURE, TopicKind.READING: ThingKind.READING, TopicKind.TRIAL: ThingKind.TRIAL,
    TopicKind.SOFTWARE: ThingKind.SOFTWARE,
}  # fmt: skip


def opened(report: Any, made: Shortlist) -> Any:
    """A report with the answer in front."""
    import msgspec

    from metrograph.show.report import model as m

    return msgspec.structs.replace(report, parts=(*m.section("", m.Lines(tuple(of_shortlist(made)), 0)), *report.parts))


def choose(
    environment: Environment, logbook: Path | None, names: Sequence[str] | None, reader: str | None, seed: int = SEED
) -> Chosen:
    """The shortlist of some releases for a reader; raises MetrographError where it cannot be made."""
    book = environment.logbook(logbook)
    name = reader or _only_reader(book)
    log_reader = LogReader(book)
    digests = digests_of(log_reader, book, environment.track)
    environment.warn_of(log_reader.faults)
    of = releases_of(book, digests, names)
    made = made_for(environment, log_reader, book, (of, digests), name, seed)
    common, short = names_of(of.releases, of.cards)
    return Chosen(made, of, load_rigs(book), digests, common, short)


def _only_reader(book: Logbook) -> str:
    names = list(load_readers(book)[0])
    if len(names) == 1:
        return names[0]
    if not names:
        raise MetrographError("metrograph.toml has no readers yet; “metrograph readers new NAME” writes one")
    raise MetrographError(f"say for whom with --for; expected: {' or '.join(names)}")
