"""The cards of releases and rigs: what is known before anything is installed, and which releases follow each other."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Annotated, Literal, NamedTuple

import msgspec

from metrograph.log.quantities.quantity import Quantity
from metrograph.log.quantities.times import DAY

Size = Annotated[int, msgspec.Meta(ge=0, extra={"unit": "size"})]
"""Exact bytes; a card may give them as a number or with a unit, such as "25 GiB"."""

Amount = Annotated[Quantity, msgspec.Meta(extra={"unit": "bytes"})]
"""Bytes as they are published: a number, or with a unit, also about or between bounds: "2 GB", "1.5..2 GB"."""

Length = Annotated[Quantity, msgspec.Meta(extra={"unit": "s"})]
"""Seconds as they are published: a number, or a time, also about or between bounds: "12:30", "20..25 min"."""

Day = Annotated[str, msgspec.Meta(pattern=DAY, extra={"unit": "day"})]
"""A date in the precision it has: ``2026``, ``2026-04`` or ``2026-04-28``."""

Status = Literal["test", "alpha", "beta", "candidate", "stable"]
Channel = Literal["fixed", "semi-rolling", "rolling"]


Checksum = Annotated[str, msgspec.Meta(pattern=r"^(sha256:[0-9a-f]{64}|sha512:[0-9a-f]{128})$")]
"""The name of the method and the digits."""


Pixels = Annotated[str, msgspec.Meta(pattern=r"^[1-9][0-9]{1,4}x[1-9][0-9]{1,4}$")]
"""Width and height of a display: ``1024x768``."""

Purpose = Annotated[str, msgspec.Meta(pattern=r"^[^.=\[\]\x00-\x1f]{1,60}$")]
"""What a release is used for, such as ``text only``; it stands in paths of a card, so it has no dots."""

Versions = dict[str, str]
"""Names of software with their versions."""


class Needs(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """The published needs of a release.

    memory: as published: '2 GiB', '2 GB'.
    disk: as published: '25 GiB', '20 GB'.
    processors: how many.
    display: width and height in pixels, such as 1024x768.
    """

    memory: Amount | None = None
    disk: Amount | None = None
    processors: Annotated[int, msgspec.Meta(gt=0)] | None = None
    display: Pixels | None = None


class Claims(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """The published claims about a release that can be measured.

    memory: in use at rest on the installed desktop: '900 MiB'.
    disk: used after the installation: '8 GB'.
    installation: until all is copied: 12:00, '25 min' or '20..25 min'.
    boot: until the desktop is there: '40 s'.
    """

    memory: Amount | None = None
    disk: Amount | None = None
    installation: Length | None = None
    boot: Length | None = None


class Release(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A release of a distribution in one edition; None wherever nothing was said.

    distribution: its name; taken from the id unless said.
    version: taken from the id unless said.
    edition: taken from the id unless said.
    line: what it continues, where distribution and edition do not say it.
    sibling: another edition of the same release, by its id: neither comes before the other.
    code_name: the name it goes by besides its version.
    status: how far it is: test, alpha, beta, candidate or stable.
    channel: how it comes: fixed, semi-rolling or rolling.
    released: as far as known: 2026, 2026-04 or 2026-04-28.
    supported_until: the last day of support: 2027, 2027-10 or 2027-10-31.
    long_term: whether it is one that is supported for long.
    base: what it is built on.
    installer: the installer and its version, as published.
    image: the image's file name.
    image_size: as published: '2.6 GiB'.
    checksum: of the image, sha256: or sha512: and the digits.
    source: where the image came from.
    architectures: what it runs on, such as x86-64.
    kernel: the kernel's version, as published.
    desktop: the desktop and its version, as published.
    tools: other software: 'Writewell 5.0'.
    newest: the newest that there was of some when it came out: 'Writewell 5.1'.
    news: what is published as new, a sentence.
    minimum: what it is published to need at least.
    recommended: what it is published to need to be used well.
    needs: what it needs for a purpose: 'with a desktop: memory 2 GiB, disk 20 GB'.
    claims: what is published of it and can be measured.
    notes: anything else.
    """

    distribution: str | None = None
    version: str | None = None
    edition: str | None = None
    line: str | None = None
    sibling: str | None = None
    code_name: str | None = None
    status: Status | None = None
    channel: Channel | None = None
    released: Day | None = None
    supported_until: Day | None = None
    long_term: bool | None = None
    base: str | None = None
    installer: str | None = None
    image: str | None = None
    image_size: Size | None = None
    checksum: Checksum | None = None
    source: str | None = None
    architectures: tuple[str, ...] | None = None
    kernel: str | None = None
    desktop: str | None = None
    tools: Versions | None = None
    newest: Versions | None = None
    news: tuple[str, ...] | None = None
    minimum: Needs | None = None
    recommended: Needs | None = None
    needs: dict[Purpose, Needs] | None = None
    claims: Claims | None = None
    notes: str | None = None


class Rig(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """The machine a release is installed on; None wherever nothing was said.

    name: what people call it, such as 'bench VM'.
    kind: what it is, virtual or physical.
    model: the machine's model, or the hypervisor.
    firmware: what it boots with, uefi or bios.
    secure_boot: whether secure boot is on.
    processors: how many threads it runs at once.
    memory: such as '4 GiB'.
    disk: such as '25 GiB' or '120 GB'.
    graphics: the graphics adapter.
    network: how it is connected.
    display: its resolution.
    notes: anything else.
    """

    name: str | None = None
    kind: Literal["virtual", "physical"] | None = None
    model: str | None = None
    firmware: Literal["uefi", "bios"] | None = None
    secure_boot: bool | None = None
    processors: Annotated[int, msgspec.Meta(gt=0)] | None = None
    memory: Size | None = None
    disk: Size | None = None
    graphics: str | None = None
    network: str | None = None
    display: str | None = None
    notes: str | None = None


_STATUSES = {
    "test": "test", "pre-alpha": "pre-alpha", "alpha": "alpha", "beta": "beta", "candidate": "candidate",
    "rc": "candidate",
}  # fmt: skip
"""Words of an id that say how far a release is, and not which edition it has."""


class Parts(NamedTuple):
    """The parts of an id; empty where it says nothing. status: with its number, where it has one: the second beta."""

    distribution: str = ""
    version: str = ""
    edition: str = ""
    status: str = ""


def parts_of_id(release: str) -> Parts:
    """What an id says: ``larkmoor-9.0-beta-heron`` is Larkmoor 9.0, a beta, edition Heron.

    Of an id without a version the first word is the distribution: ``tidewrack-heron``.
    """
    match = re.fullmatch(r"(?i:([a-z][a-z0-9._-]*?)-(\d[\d.]*)(?:-(.+))?)", release)
    if match is None:
        first, *others = release.split("-")
        if not first[:1].isalpha():
            return Parts()
        edition, status = _edition_and_status("-".join(others))
        return Parts(first.capitalize(), "", edition, status)
    edition, status = _edition_and_status(match[3] or "")
    return Parts(match[1].capitalize(), match[2], edition, status)


def _edition_and_status(text: str) -> tuple[str, str]:
    """What is left of an id behind its version: ``rc1-heron`` is the first candidate of Heron."""
    found = re.search(rf"(?i:(?:^|-)({'|'.join(_STATUSES)})-?(\d{{0,2}})(?=-|$))", text)
    rest = text if found is None else text[: found.start()] + text[found.end() :]
    edition = " ".join(word.capitalize() for word in rest.split("-") if word)
    return edition, "" if found is None else f"{_STATUSES[found[1].lower()]} {found[2]}".strip()


def parts_of(release: str, card: Release | None) -> Parts:
    """What the card says, and else the id."""
    said, known = parts_of_id(release), card or Release()
    status = known.status if known.status is not None else said.status
    edition = known.edition if known.edition is not None else said.edition
    # The card has the status, and the id may have its number: the second candidate.
    if known.status is not None and said.status.startswith(f"{known.status} "):
        status = said.status
    return Parts(known.distribution or said.distribution, known.version or said.version, edition, status or "")


def line_of(release: str, card: Release | None) -> str:
    """What a release continues: ``Larkmoor Heron``. What its card does not say is taken from its id."""
    if card is not None and card.line:
        return card.line
    said, known = parts_of_id(release), card or Release()
    distribution = known.distribution or said.distribution
    # A card that names the distribution alone means the release as a whole; the edition in its id still tells it apart.
    edition = known.edition if known.edition is not None else said.edition
    return " ".join(word for word in (distribution, edition) if word) or re.sub(r"-\d[^-]*", "", release, count=1)


def siblings_of(release: str, cards: Mapping[str, Release]) -> tuple[str, ...]:
    """The other editions of a release, by their ids: those that a card names, and those of the same version."""
    own, card = parts_of(release, cards.get(release)), cards.get(release)
    found = []
    for other, its in cards.items():
        parts = parts_of(other, its)
        said = other == (card and card.sibling) or its.sibling == release
        alike = own.version and parts[:2] == own[:2] and parts.status == own.status and parts.edition != own.edition
        if other != release and (said or alike):
            found.append(other)
    return tuple(found)
