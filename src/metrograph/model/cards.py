"""What is known of a release or a rig before anything is installed, one card (a TOML file) each."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

import msgspec

Size = Annotated[int, msgspec.Meta(ge=0, extra={"unit": "bytes"})]
"""Bytes; a card may give them as a number or with a unit, such as "25 GiB"."""

Status = Literal["test", "alpha", "beta", "candidate", "stable"]
Channel = Literal["fixed", "semi-rolling", "rolling"]


class Release(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A release of a distribution in one edition; None wherever nothing was said.

    supported_until: the last day of support.
    installer: its name and version, as published.
    image_size: bytes.
    """

    distribution: str | None = None
    version: str | None = None
    edition: str | None = None
    code_name: str | None = None
    status: Status | None = None
    channel: Channel | None = None
    released: date | None = None
    supported_until: date | None = None
    base: str | None = None
    installer: str | None = None
    image: str | None = None
    image_size: Size | None = None
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
