"""What is known of many runs side by side: digests of runs, and the ledgers made from them. Also the JSON of both.

Lists with an entry per release are in the order of the ledger's ``releases``, oldest first; an entry is None where a
release has nothing to say. ``lines`` says for each release what it continues, such as ``Larkmoor Heron``; releases are
held against the one before them in their line.
"""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal

import msgspec

from metrograph.model.figures import Figures
from metrograph.model.flows import Stop
from metrograph.model.ranges import Range
from metrograph.model.runs import Addition, Check, Fact, Issue, Reading

Verdict = Literal["first", "new", "raised", "lowered", "replaced", "dropped", "same", "absent"]
Standing = Literal["pass", "fail", "partly", "skipped", "not tried", "mixed"]


class Details(msgspec.Struct, frozen=True, array_like=True):
    """What only some ledgers need of a run.

    figures: see ``model/figures.py``; phases: the names of those it went through.
    issue_stops: for each issue the screen that it stood on; None where there was none.
    ended: whether the run is over.
    """

    ended: bool
    figures: Figures
    phases: tuple[str, ...]
    issues: tuple[Issue, ...]
    issue_stops: tuple[Stop | None, ...]


class Digest(msgspec.Struct, frozen=True, array_like=True):
    """What ledgers need of a run; see ``Run``.

    installed: when all was copied, on the clock.
    update_time: how long the machine worked on the first update; None when there was none.
    way, details: a ``Way`` and ``Details``, packed, so that nobody waits for them who does not look at them.
    """

    run: str
    release: str
    rig: str
    begun: datetime | None
    installed: Range | None
    update_time: Range | None
    readings: tuple[Reading, ...]
    facts: tuple[Fact, ...]
    checks: tuple[Check, ...]
    added: tuple[Addition, ...]
    way: msgspec.Raw
    details: msgspec.Raw


class Figure(msgspec.Struct, frozen=True):
    """A reading as a release has it: the median of its runs, how many there are, and their least and most."""

    value: float
    runs: int
    least: float
    most: float


class ReadingRow(msgspec.Struct, frozen=True):
    """A reading in one state across releases.

    load: rest, busy, or None where it was not said.
    better: ``less`` or ``more``; None when neither is.
    differences: to the last release before it in its line that was read in this state.
    warning: why a release cannot be compared; None when all can.
    """

    name: str
    unit: str
    state: str
    load: str | None
    better: str | None
    figures: tuple[Figure | None, ...]
    differences: tuple[float | None, ...]
    warning: str | None


class ReadingLedger(msgspec.Struct, frozen=True):
    """Figures by release and state."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[ReadingRow, ...]


class CheckRow(msgspec.Struct, frozen=True):
    """A trial across releases.

    worse, well_again: releases in which it came out so against the last time it was made.
    """

    name: str
    results: tuple[Standing, ...]
    worse: tuple[str, ...]
    well_again: tuple[str, ...]


class CheckLedger(msgspec.Struct, frozen=True):
    """Trials by release."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[CheckRow, ...]


class FactRow(msgspec.Struct, frozen=True):
    """A fact across releases.

    values: several of one release apart by commas.
    verdicts: against the release before.
    personal: whether it tells who or where.
    """

    name: str
    values: tuple[str | None, ...]
    verdicts: tuple[Verdict, ...]
    personal: bool = False


class FactLedger(msgspec.Struct, frozen=True):
    """Facts by release."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[FactRow, ...]


class ClaimRow(msgspec.Struct, frozen=True):
    """Something published of a release, against what was measured.

    what: such as ``memory at rest``.
    published: bytes or seconds; measured: the median of the release's runs, in the same unit, None when nobody did.
    holds: None when it was not measured, or a cut in the record leaves it open.
    """

    release: str
    what: str
    unit: str
    published: float
    measured: Range | None
    runs: int
    holds: bool | None


class ClaimLedger(msgspec.Struct, frozen=True):
    """Claims by release."""

    rows: tuple[ClaimRow, ...]


class Weight(msgspec.Struct, frozen=True):
    """What a release weighs until it can be worked with, in bytes; None where it is not known.

    image: to be downloaded before anything else.
    added_download, added_disk: software that had to be added, the median of its runs; 0 when none had to.
    update_download: of the first update; updates: how many packages it had.
    download: all that was downloaded, as far as it is known.
    disk: used after the installation, with what was added.
    update_time: how long the first update took; its share of the time until installed.
    restart: whether a restart was asked for after it.
    age: days from the release to the installation, the median of its runs.
    """

    release: str
    runs: int
    image: int | None
    added_download: float
    added_disk: float
    update_download: float | None
    updates: float | None
    download: float | None
    disk: float | None
    update_time: Range | None
    update_share: float | None
    restart: bool | None
    age: float | None
    released: date | None


class WeightLedger(msgspec.Struct, frozen=True):
    """Weights by release."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[Weight, ...]
