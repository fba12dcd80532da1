"""What rows come of a shared log, from its bytes alone: the same wherever, whenever and however often it is derived."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from contextlib import suppress
from typing import Any, TypeVar

import msgspec

from metrograph.archive.tables import Row, rows_of
from metrograph.core.errors import MetrographError
from metrograph.core.makers import made_by
from metrograph.log.cues import Fault, Log
from metrograph.log.lexicon import load_lexicon
from metrograph.log.reader import read_log_bytes
from metrograph.privacy.gate import sift
from metrograph.privacy.mask import Mask
from metrograph.run.cards import Release, Rig
from metrograph.run.folding.fold import fold

Card = TypeVar("Card", Release, Rig)
SHARED_AS = "shared-as"
"""The line of a shared log's header that has the name of its run."""
RIG_KEYS = ("kind", "firmware", "memory", "disk", "processors")
RELEASE_KEYS = ("distribution", "version", "edition", "status", "released")
# A cue every ten seconds of two days and more: no run has as many, and one log may not outweigh an archive.
_MOST_CUES = 20_000


class ChangedLogError(MetrographError):
    """A log whose bytes are not those that it was named by."""


DERIVATION = made_by("metrograph.archive.deriving")
"""The sources and tables that rows are derived with, as they are loaded: not those that may lie there a build later."""


def name_of(data: bytes) -> str:
    """What bytes go by in an archive: their SHA-256."""
    return hashlib.sha256(data).hexdigest()


def parsed(data: bytes, name: str) -> tuple[Log, tuple[Fault, ...]]:
    """A log through the same gate as one's own; raises MetrographError where it is not what its name says."""
    if name_of(data) != name:
        raise ChangedLogError("its bytes are not those that it was named by")
    log, faults = sift(*read_log_bytes(data, name, load_lexicon))
    if len(log.cues) > _MOST_CUES:
        raise MetrographError(f"it has {len(log.cues)} cues, and no run has more than {_MOST_CUES}")
    return log, faults


def rows_of_log(data: bytes, name: str) -> dict[str, list[Row]]:
    """What a log has in each table; raises MetrographError where it cannot be read."""
    log, _ = parsed(data, name)
    if log.header.begun is None or not log.header.release:
        raise MetrographError("its header says neither what was installed nor when")
    run = fold(log, log.header.other(SHARED_AS) or name[:12], load_lexicon())
    # Whoever shares masks; what came here in another way, or with an older mask, is masked all the same.
    return rows_of(name, Mask([run]).apply(run), *_circumstances(log))


def _circumstances(log: Log) -> tuple[Rig, Release]:
    """What a shared log says of its rig and its release; what cannot be read is left out."""
    said: Mapping[str, str] = dict(log.header.others)
    return _card(Rig, "rig-", RIG_KEYS, said), _card(Release, "release-", RELEASE_KEYS, said)


def _card(kind: type[Card], prefix: str, keys: tuple[str, ...], said: Mapping[str, str]) -> Card:
    good: dict[str, Any] = {}
    for key in keys:
        value = said.get(f"{prefix}{key}")
        if value is not None:
            with suppress(msgspec.ValidationError):
                good[key] = getattr(msgspec.convert({key: value}, kind, strict=False), key)
    return kind(**good)
