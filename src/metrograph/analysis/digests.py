"""Makes the digest of a run, and opens what is folded up in it."""

from __future__ import annotations

from functools import lru_cache

import msgspec

from metrograph.analysis.effort import figures_of
from metrograph.analysis.flow import stop_of, way_of
from metrograph.analysis.personal import Mask
from metrograph.model.flows import Stop, Way
from metrograph.model.ledgers import Details, Digest
from metrograph.model.runs import Issue, Run

_WAYS = 4096  # that are kept unpacked; runs of a release mostly take the same


def digest(run: Run, masked: bool = True) -> Digest:
    """What ledgers need of a run.

    masked: whether what tells who or where is masked in the words of its issues, as digests are kept and shown as they
        are.
    """
    update = next((phase.machine for phase in run.phases if phase.name == "update"), None)
    stops = tuple(_stop(run, issue) for issue in run.issues)
    issues = Mask([run]).apply(run.issues) if masked else run.issues
    own = Details(run.ended is not None, figures_of(run), tuple(phase.name for phase in run.phases), issues, stops)
    return Digest(
        run.run, run.release, run.rig, run.begun, run.milestones.installed, update, run.readings, run.facts, run.checks,
        run.added, msgspec.Raw(msgspec.msgpack.encode(way_of(run))), msgspec.Raw(msgspec.msgpack.encode(own)),
    )  # fmt: skip


def way(digest: Digest) -> Way:
    """The way that a run took."""
    return _way(bytes(digest.way))


def details(digest: Digest) -> Details:
    """What only some ledgers look at."""
    return _details(bytes(digest.details))


@lru_cache(_WAYS)
def _details(packed: bytes) -> Details:
    return msgspec.msgpack.decode(packed, type=Details)


@lru_cache(_WAYS)
def _way(packed: bytes) -> Way:
    return msgspec.msgpack.decode(packed, type=Way)


def _stop(run: Run, issue: Issue) -> Stop | None:
    """The screen that an issue stood on, whatever became of that attempt."""
    own = (screen for screen in run.screens if screen.title == issue.screen)
    return next(map(stop_of, own), None)
