"""Before an installation: cards written, listed, compared, an image held against its card, a run opened."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import date
from pathlib import Path
from typing import Any, TypeVar

import msgspec

from metrograph.core.errors import MetrographError, refused
from metrograph.intake.probed import this_machine
from metrograph.ledgers.card_ledger import cards_ledger
from metrograph.ledgers.claims import hold_against
from metrograph.log.cues import Fault, Header
from metrograph.log.faults import Unreadable, suggest
from metrograph.log.header import WAYS
from metrograph.run.cards import Needs, Release, Rig, parts_of_id
from metrograph.services.desk import Desk, Result
from metrograph.show.files.documents import image_document
from metrograph.show.report import lists
from metrograph.show.report.card_report import cards_report as compared_report
from metrograph.store.clock import begin_time
from metrograph.store.ids import unknown
from metrograph.store.local.card_files import (
    GROUPS,
    card_warnings,
    flat,
    hint_of,
    load_card,
    new_card,
    read_card,
    update_card,
)
from metrograph.store.local.card_values import expected, value_of
from metrograph.store.local.checksums import published_checksum, read_image
from metrograph.store.local.logbook import MARK, Logbook, shown_path
from metrograph.store.preferences import EXPECTED, settings_in_force
from metrograph.words.ledger_words import image_sentences
from metrograph.words.names import named, names_of

Card = TypeVar("Card", Release, Rig)
LISTED: dict[type[Release | Rig], list[str]] = {
    Release: ["distribution", "version", "edition", "status", "released"],
    Rig: ["kind", "firmware", "processors", "memory", "disk"],
}
"""What a list of cards shows of each."""
_OWN = frozenset({
    "version", "edition", "code_name", "status", "released", "supported_until", "image", "image_size", "checksum",
    "claims", "kernel", "tools", "newest", "news",
})  # fmt: skip
"""What the next release does not take over."""


class WrittenCard(msgspec.Struct, frozen=True):
    """A card that was written. taken: what of it was taken from its id."""

    path: Path
    taken: dict[str, str] = {}


def write_release(
    book: Logbook,
    name: str,
    said: Mapping[str, Any],
    like: str | None = None,
    ask: Callable[[Mapping[str, Any]], Mapping[str, Any]] | None = None,
) -> WrittenCard:
    """Makes the card of a release.

    said: values by dotted path. like: the card that what lasts is taken over from.
    ask: answers of a person, who is shown what is known already; None where nobody is asked.

    Raises MetrographError when values do not fit, alone or together, or a card is there already.
    """
    earlier = flat(load_card(book, Release, like)) if like else {}
    lasting = {path: value for path, value in earlier.items() if path.partition(".")[0] not in _OWN}
    from_id = {key: value for key, value in parts_of_id(name)._asdict().items() if value}
    known = lasting | from_id
    whole = known | dict(said) | (dict(ask(known)) if ask is not None else {})
    path = new_card(book, name, checked(whole, Release))
    taken = {key: value for key, value in from_id.items() if whole.get(key) == value and key not in said}
    return WrittenCard(path, taken)


def write_rig(book: Logbook, name: str, said: Mapping[str, Any], here: bool = False) -> WrittenCard:
    """Makes the card of a rig. here: whether it is filled in from this machine."""
    found = flat(this_machine()) if here else {}
    return WrittenCard(new_card(book, name, checked(found | dict(said), Rig)))


def change_card(book: Logbook, kind: type[Card], name: str, said: Mapping[str, Any], here: bool = False) -> WrittenCard:
    """Changes what is said of a card that is there, and keeps what else stands in it."""
    found = flat(this_machine()) if here else {}
    return WrittenCard(update_card(book, name, checked(found | dict(said), kind)))


def cards_result(desk: Desk, logbook: Path | None, kind: type[Card]) -> Result:
    """All cards of a kind; those that are wrong as far as they can be read."""
    book = desk.logbook(logbook)
    faults: list[Fault] = []
    cards = {}
    for name in book.card_names(GROUPS[kind]):
        path = book.card(GROUPS[kind], name)
        cards[name], wrong = read_card(path, kind, shown_path(path))
        faults += wrong
    desk.warn_of(faults)
    document = {"cards": [_document(name, card) for name, card in cards.items()]}
    return Result(document, lambda _: lists.cards_report(cards, LISTED[kind]))


def card_result(book: Logbook, kind: type[Card], name: str) -> Result:
    """All that a card says."""
    card = load_card(book, kind, name)
    return Result(_document(name, card), lambda _: lists.card_report(name, flat(card)))


def _document(name: str, card: Release | Rig) -> dict[str, object]:
    return {"id": name} | {field: getattr(card, field) for field in card.__struct_fields__}


def compared_cards(book: Logbook, names: Sequence[str]) -> Result:
    """Cards held against each other, before anything is installed, oldest first."""
    if len(set(names)) < 2:
        raise MetrographError("name two or more cards to compare, each once")
    cards = {name: load_card(book, Release, name) for name in dict.fromkeys(names)}
    ledger = cards_ledger(dict(sorted(cards.items(), key=lambda card: card[1].released or "")))
    common, short = names_of(ledger.releases, cards)
    return Result(ledger, lambda _: msgspec.structs.replace(compared_report(named(ledger, short)), title=common))


class ImageOutcome(msgspec.Struct, frozen=True):
    """An image that was held against its card. filled: what the card lacked, and has now."""

    document: Any
    sentences: tuple[str, ...]
    is_right: bool
    filled: tuple[str, ...] = ()


def check_image(
    desk: Desk, book: Logbook, name: str, path: Path, checksums: Path | None, day: date | None
) -> ImageOutcome:
    """Reads an image once, holds it against its card, and fills in what the card lacks where all is right.

    checksums: a file of them that came with the image. day: of the installation; None for today.
    """
    card = load_card(book, Release, name)
    published = [card.checksum, checksums and published_checksum(checksums, path.name)]
    said = [checksum for checksum in published if checksum]
    with desk.progress(f"reading {path.name}") as progress:
        image = read_image(path, {checksum.partition(":")[0] for checksum in said} or {"sha256"}, progress)
    result = hold_against(card, image.size, image.checksums, said, day or desk.present().wall.date())
    checksum = said[0] if said else f"sha256:{image.checksums.get('sha256', '')}"
    missing: dict[str, Any] = {"image": path.name, "image_size": image.size, "checksum": checksum}
    new = {key: value for key, value in missing.items() if result.is_right and getattr(card, key) is None}
    if new:
        update_card(book, name, Release(**new))
    return ImageOutcome(image_document(result), tuple(image_sentences(result)), result.is_right, tuple(new))


def read_said(said: Mapping[str, Any]) -> dict[str, Any]:
    """What a person said of a release by dotted path, with lists of software and needs read."""
    values = {path: value for path, value in said.items() if path not in {"tools", "newest", "needs"}}
    values |= {path: _versions(f"--{option}", said[path]) for path, option in _SOFTWARE.items() if path in said}
    if "checksum" in values:
        values["checksum"] = values["checksum"].lower()
    return values | _needs_given(said.get("needs", ()))


_SOFTWARE = {"tools": "tool", "newest": "newest"}


def _versions(option: str, said: Sequence[str]) -> dict[str, str]:
    """Software with its version, from what was said of each: ``Writewell 5.0``."""
    found = {}
    for each in said:
        name, _, version = " ".join(each.split()).rpartition(" ")
        if not name or not version[:1].isdigit():
            raise MetrographError(f"{option} “{each}” has a wrong value; expected: a name and a version: Writewell 5.0")
        found[name] = version
    return found


def _needs_given(said: Sequence[str]) -> dict[str, str]:
    """What is needed by purpose, by dotted path: ``with a desktop: memory 2 GiB, disk 20 GB``."""
    found: dict[str, str] = {}
    for each in said:
        purpose, colon, parts = " ".join(each.split()).partition(": ")
        pairs = [part.strip().partition(" ") for part in parts.split(",")]
        if not colon or "." in purpose or not all(value for _, _, value in pairs):
            expected_ = "'with a desktop: memory 2 GiB, disk 20 GB, processors 2, display 1024x768'"
            raise MetrographError(f"--need “{each}” has a wrong value; expected: {expected_}")
        found |= {f"needs.{purpose}.{part}": value for part, _, value in pairs}
    return found


def option_of(path: str) -> str:
    """The option that gives a value of a card."""
    return "--" + path.replace("_", "-").replace(".", "-")


def checked(given: dict[str, Any], kind: type[Card]) -> Card:
    """The card that says this by dotted path; raises MetrographError when values do not fit, alone or together.

    given: values of a card, or what a person wrote for them.
    """
    tables: dict[str, Any] = {}
    for path, value in given.items():
        *outer, key = path.split(".")
        inner = tables
        for table in outer:
            inner = inner.setdefault(table, {})
        inner[key] = _value(path, value, kind)
    try:
        card = msgspec.convert(tables, kind)
    except msgspec.ValidationError as error:
        _, place = refused(error)
        raise MetrographError(_refusal(place, given.get(place), kind)) from error
    for path, message, wanted in card_warnings(card):
        raise MetrographError(f"{option_of(path)}: {message}; expected: {wanted}")
    return card


def _refusal(path: str, value: Any, kind: type[Card]) -> str:
    wanted = expected(path.rpartition(".")[2], hint_of(kind, path), "another value")
    return f"{option_of(path)} “{value}” has a wrong value; expected: {wanted}"


def _value(path: str, value: Any, kind: type[Card]) -> Any:
    try:
        hint = hint_of(kind, path)
    except KeyError as error:
        known = ", ".join(Needs.__struct_fields__)
        raise MetrographError(f"nothing is needed of “{path.rpartition('.')[2]}”; expected: {known}") from error
    if path.rpartition(".")[2] == "processors" and isinstance(value, str) and value.isdecimal():
        value = int(value)
    try:
        return value_of(value, hint)
    except msgspec.ValidationError as error:
        raise MetrographError(_refusal(path, value, kind)) from error
    except Unreadable as wrong:
        raise MetrographError(f"{option_of(path)} “{value}”: {wrong.sentence}") from wrong


class Opening(msgspec.Struct, frozen=True):
    """A run that is to begin.

    rig: the usual one, or the only one, unless said. begun: as a person says a moment; None for now.
    like: the run or release whose path it repeats. way: how it is installed, as the header has it.
    """

    release: str
    rig: str | None = None
    begun: str | None = None
    like: str | None = None
    way: str = "fresh"
    reviewer: str | None = None


def open_run(desk: Desk, book: Logbook, opening: Opening, agree: Callable[[str], bool]) -> tuple[str, str]:
    """Opens the next run of a release, and warns where others are open; returns its name and its rig.

    agree: asked where a run is still open on this rig, as a machine is seldom installed twice at a time.

    Raises MetrographError when a card is missing or a value cannot be; nothing is written then.
    """
    preferences = desk.preferences()
    rig = rig_for(book, opening.release, opening.rig, preferences.rig)
    if opening.like is not None:
        _check_plan(book, opening.like)
    if opening.way.partition(" ")[0] not in WAYS:
        raise MetrographError(
            f"there is no way to install called “{opening.way}”; expected: {suggest(opening.way, WAYS)}"
        )
    others_open = book.open_runs()
    there = next((run for run in others_open if book.header(run).rig == rig), None)
    if there is not None and not agree(f"{there} is still open on {rig}. Open another run on it?"):
        raise MetrographError(f"no run was opened; “metrograph end done --run {there}” closes that one")
    present = desk.started()
    header = Header(opening.release, rig, begin_time(present, opening.begun), _lines(opening, preferences.reviewer))
    run = book.begin(header, present)
    if others_open:
        desk.warn(f"still open besides: {', '.join(others_open)}; say which run a cue is for with --run")
    return run, rig


def _lines(opening: Opening, reviewer: str | None) -> tuple[tuple[str, str], ...]:
    """The header lines that are not in every log."""
    way = None if opening.way == "fresh" else opening.way
    others = {"way": way, "reviewer": opening.reviewer or reviewer, "like": opening.like}
    return tuple((key, " ".join(value.split())) for key, value in others.items() if value)


def _check_plan(book: Logbook, like: str) -> None:
    known = [*book.run_names(), *book.card_names("releases")]
    if not (like in known and (book.has(like) or book.run_names(like))):
        raise unknown("run or release with runs", like, known, "“metrograph runs” lists them")


def rig_for(book: Logbook, release: str, rig: str | None, usual: str | None = None) -> str:
    """The rig that a release goes on: as said, the usual one, or the only one.

    Raises MetrographError when a card is missing.
    """
    load_card(book, Release, release)
    rig = rig or (usual if usual in book.card_names("rigs") else None) or _only_rig(book)
    load_card(book, Rig, rig)
    return rig


def _only_rig(book: Logbook) -> str:
    rigs = book.card_names("rigs")
    if len(rigs) != 1:
        known = f"; known: {', '.join(rigs)}" if rigs else "; “metrograph rig new ID” makes the card of one"
        raise MetrographError(f"say which rig with --rig{known}")
    return rigs[0]


# -- settings ---------------------------------------------------------------------------------------------------------


def settings_result(desk: Desk, logbook: Path | None, name: str | None) -> Result:
    """A person's settings and where each comes from, or one; raises MetrographError when there is no such one."""
    if name is not None and name not in EXPECTED:
        raise MetrographError(f"settings: there is no setting “{name}”; expected: {suggest(name, list(EXPECTED))}")
    book = desk.logbook_or_none(logbook)
    sizes = book.settings().sizes if book else None
    in_force = settings_in_force(sizes, str(book.path / MARK) if book else "")
    found = [each for each in in_force if name in {None, each.name}]
    rows = [(each.name, each.value, each.origin) for each in found]
    return Result({"settings": found}, lambda _: lists.settings_report(rows))
