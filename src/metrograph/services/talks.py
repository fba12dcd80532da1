"""What is stated in a talk, for whoever takes the record from it: names that may be meant, statements, their cues."""

from __future__ import annotations

import re
from collections.abc import Iterator
from importlib.util import find_spec
from pathlib import Path

import msgspec

from metrograph.archive.answers import software_in
from metrograph.core.errors import MetrographError
from metrograph.hearing.heard_cues import PERSONAL, cue_of
from metrograph.hearing.listening import Ears, HeardTalk, language_of, listen
from metrograph.hearing.statements import Statement
from metrograph.hearing.stream.captions import read_words
from metrograph.hearing.stream.programs import KnownNames, Program, known_names, read_names
from metrograph.hearing.stream.recogniser import ModelRecogniser, recognise
from metrograph.hearing.weighing import LEAST
from metrograph.intake.probed import read_probed
from metrograph.log.bodies import any_terms
from metrograph.log.cues import Cue
from metrograph.log.escapes import split_list
from metrograph.log.reader import read_log_bytes
from metrograph.privacy.gate import clean
from metrograph.services.asking_others import asked
from metrograph.services.desk import Desk
from metrograph.store.local.card_files import load_releases
from metrograph.store.local.files import read_bytes, write_output
from metrograph.store.local.logbook import Logbook, shown_path
from metrograph.watch.drafts.listener_habits import load_habits, with_habit

_VERSION = re.compile(r" \d\S*$")


class Talk(msgspec.Struct, frozen=True):
    """A talk that is to be listened to, and what is known of it.

    begun: when it began; packages: the programs of the machine, a list or what a probe wrote; names: of other programs
    that may be meant; run: the run that it was said in, whose probe tells the same where no packages are given.
    speech: the folder of a model that understands the sound, where the file is a film or a sound; keep: a file that
    what it understood is written to.
    """

    path: Path
    begun: str | None = None
    packages: Path | None = None
    names: Path | None = None
    run: str | None = None
    speech: Path | None = None
    keep: Path | None = None


class Understood(msgspec.Struct, frozen=True):
    """What was heard, and each statement with its cue, through the gate in."""

    heard: HeardTalk
    pairs: tuple[tuple[Statement, Cue], ...]


def can_hear() -> bool:
    """Whether all that hearing needs is installed."""
    return find_spec("wordfreq") is not None


def understand(desk: Desk, book: Logbook | None, talk: Talk, release: str, least: float = LEAST) -> Understood:
    """Listens to a talk; raises MetrographError when it cannot be read.

    release: the version of the release that it is about; empty where that is not known. least: how sure a statement
    has to be.
    """
    words = read_words(_said(desk, talk), shown_path(talk.path))
    names = _names(desk, book, talk)
    desktops = frozenset(() if book is None else _desktops(book))
    found = listen(words, Ears(names, language_of(words), release, desktops, least))
    groups = {each.name: each.group for each in names.programs if each.group}
    pairs = [(each, cue_of(each, groups)) for each in map(_without_secrets, found.statements)]
    known = {} if book is None else load_habits(book)
    usual = ((msgspec.structs.replace(each, sure=with_habit(each.sure, cue, known)), cue) for each, cue in pairs)
    return Understood(found, tuple(pair for pair in usual if pair[0].sure >= least))


def _said(desk: Desk, talk: Talk) -> bytes:
    """What was said, as captions or as a recogniser writes it."""
    if talk.speech is None:
        data = read_bytes(talk.path, "file of captions")
        if b"\0" in data[:_BEGINNING]:
            raise MetrographError(
                f"{shown_path(talk.path)} holds no captions;"
                " --speech MODEL recognises what is said in a film or a sound"
            )
        return data
    recogniser = ModelRecogniser(desk.folder / talk.speech)
    if not talk.path.is_file():
        raise MetrographError(f"there is no {shown_path(talk.path)}")
    with desk.progress(f"Listening to {talk.path.name}") as tell:
        said = recognise(recogniser, talk.path, "", tell)
    if talk.keep is not None:
        write_output(talk.keep, said)
    return said


_BEGINNING = 4096  # bytes in which a film or a sound shows that it is no text


def _names(desk: Desk, book: Logbook | None, talk: Talk) -> KnownNames:
    """All names that may be a program's: of the machine, of a list, of the logbook's runs and cards, of an archive."""
    machine: list[Program] = []
    if talk.packages is not None:
        machine = _listed(desk.folder / talk.packages, on_machine=True)
    elif book is not None and talk.run is not None:
        machine = [msgspec.structs.replace(each, on_machine=True) for each in _of_probe(book, talk.run)]
    others = [] if talk.names is None else _listed(desk.folder / talk.names, on_machine=False)
    if book is not None:
        others += [*_of_runs(book), *_of_cards(book)]
    archived = asked(desk, None, software_in) or ()
    return known_names(machine, [*others, *(Program(name, group) for name, group in archived)])


def _listed(path: Path, on_machine: bool) -> list[Program]:
    data = read_bytes(path, "list of programs")
    if data.lstrip().startswith(b"{"):
        probed = read_probed(data, shown_path(path))
        return [Program(each.item, each.group or "", on_machine) for each in probed.software]
    return read_names(data.decode("utf-8", "replace"), on_machine)


def _of_probe(book: Logbook, run: str) -> Iterator[Program]:
    """The programs that a probe has found on the machine of a run."""
    for cue in read_log_bytes(book.read(run), run, any_terms)[0].cues:
        if cue.verb == "carries" and cue.field("from") is not None:
            yield from (Program(_VERSION.sub("", item), cue.name or "") for item in split_list(cue.text))


def _of_cards(book: Logbook) -> Iterator[Program]:
    """The programs that the cards of the releases name."""
    for release in load_releases(book).values():
        for item in (*(release.tools or ()), *(release.newest or ())):
            yield Program(_VERSION.sub("", item))


def _desktops(book: Logbook) -> Iterator[str]:
    """The names of the desktops that the cards of the releases have, but for those that an edition goes by as well."""
    releases = load_releases(book).values()
    editions = {release.edition.lower() for release in releases if release.edition}
    named = {_VERSION.sub("", release.desktop).lower() for release in releases if release.desktop}
    yield from sorted(named - editions)


def _of_runs(book: Logbook) -> Iterator[Program]:
    """The programs that the runs of a logbook name."""
    for run in book.run_names():
        for cue in read_log_bytes(book.read(run), run, any_terms)[0].cues:
            if cue.verb in {"carries", "lacks"}:
                for item in split_list(cue.text):
                    yield Program(_VERSION.sub("", item), cue.name or "")


def _without_secrets(said: Statement) -> Statement:
    """A statement through the gate in: of an answer that is personal neither value nor words."""
    if said.kind in {"choose", "keep"} and said.key in PERSONAL:
        return msgspec.structs.replace(said, value="-", said="")
    words = clean(Cue(0, "note", None, said.said)).text
    return msgspec.structs.replace(said, said=words, value=clean(Cue(0, "note", None, said.value)).text)
