"""What is known of a release or a rig before anything is installed, one card (a TOML file) each."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

import msgspec

Size = Annotated[int, msgspec.Meta(ge=0, extra={"unit": "bytes"})]
"""Bytes; a card may give them as a number or with a unit, such as "25 GiB"."""

Status = Literal["test", "alpha", "beta", "candidate", "stable"]
Channel = Literal["fixed", "semi-rolling", "rolling"]


Seconds = Annotated[float, msgspec.Meta(ge=0, extra={"unit": "seconds"})]
"""Seconds; a card may give them as a number or as a time, such as "12:30"."""

Checksum = Annotated[str, msgspec.Meta(pattern=r"^(sha256:[0-9a-f]{64}|sha512:[0-9a-f]{128})$")]
"""The name of the method and the digits."""


class Needs(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What a release is published to need. memory, disk: bytes; processors: how many."""

    memory: Size | None = None
    disk: Size | None = None
    processors: Annotated[int, msgspec.Meta(gt=0)] | None = None


class Claims(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What is published about a release and can be measured.

    memory: in use at rest on the installed desktop, in bytes; disk: used after the installation, in bytes.
    installation: until all is copied; boot: until the desktop is there; both in seconds.
    """

    memory: Size | None = None
    disk: Size | None = None
    installation: Seconds | None = None
    boot: Seconds | None = None


class Release(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A release of a distribution in one edition; None wherever nothing was said.

    supported_until: the last day of support; long_term: whether it is one of those that are supported for long.
    installer: its name and version, as published.
    image_size: bytes; source: where the image came from.
    minimum, recommended: what it is published to need.
    """

    distribution: str | None = None
    version: str | None = None
    edition: str | None = None
    code_name: str | None = None
    status: Status | None = None
    channel: Channel | None = None
    released: date | None = None
    supported_until: date | None = None
    long_term: bool | None = None
    base: str | None = None
    installer: str | None = None
    image: str | None = None
    image_size: Size | None = None
    checksum: Checksum | None = None
    source: str | None = None
    architectures: tuple[str, ...] | None = None
    minimum: Needs | None = None
    recommended: Needs | None = None
    claims: Claims | None = None
    notes: str | None = None


class Rig(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """The machine a release is installed on; None wherever nothing was said.

    model: of the machine, or the name of the hypervisor.
    processors: how many threads it runs at once.
    memory, disk: bytes.
    """

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
