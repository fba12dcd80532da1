"""Which releases follow each other: the line that each continues, from its card, or else from its id."""

from __future__ import annotations

import re
from typing import NamedTuple

from metrograph.run.cards import Release

STATUSES = ("test", "alpha", "beta", "candidate")
"""Words of an id that say how far a release is, and not which edition it has."""


class Parts(NamedTuple):
    """What an id says by itself; empty where it says nothing."""

    distribution: str = ""
    version: str = ""
    edition: str = ""
    status: str = ""


def parts_of_id(release: str) -> Parts:
    """What an id says: ``larkmoor-9.0-beta-heron`` is Larkmoor 9.0, a beta, edition Heron."""
    match = re.fullmatch(r"(?i:([a-z][a-z0-9._-]*?)-(\d[\d.]*)(?:-(.+))?)", release)
    if match is None:
        return Parts()
    words = (match[3] or "").split("-")
    edition = " ".join(word.capitalize() for word in words if word and word not in STATUSES)
    status = next((word for word in words if word in STATUSES), "")
    return Parts(match[1].capitalize(), match[2], edition, status)


def parts_of(release: str, card: Release | None) -> Parts:
    """What the card says, and else the id."""
    said, known = parts_of_id(release), card or Release()
    status = known.status if known.status is not None else said.status
    edition = known.edition if known.edition is not None else said.edition
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
