"""Decides once for an output which runs its figures are made from, so that no two of them disagree.

A run that is not over, or in which no screen was noted, says nothing of how long anything takes. Where releases have a
rig in common, runs on other rigs would pass for differences of the releases.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from enum import StrEnum
from typing import NamedTuple, Protocol, TypeVar

import msgspec

from metrograph.run.records import Run


class LeftOutReason(StrEnum):
    """Why a run is in no figure."""

    OPEN = "not over"
    RIG = "on another rig"


class Candidate(NamedTuple):
    """A run as it is judged before its figures count."""

    run: str
    rig: str
    ended: bool


def candidate(run: Run) -> Candidate:
    """A run by its name, its rig and whether it is over."""
    return Candidate(run.run, run.rig, run.ended is not None)


class Named(Protocol):
    """Anything that goes by the name of a run."""

    @property
    def run(self) -> str:
        """The name of the run."""


N = TypeVar("N", bound=Named)


class LeftOut(msgspec.Struct, frozen=True):
    """A run that is in no figure."""

    run: str
    rig: str
    why: LeftOutReason


class Selection(msgspec.Struct, frozen=True):
    """Which runs figures are made from.

    rigs: those that all releases have in common, where that leaves runs out; empty otherwise.
    left_out: in the order of the releases.
    """

    rigs: tuple[str, ...] = ()
    left_out: tuple[LeftOut, ...] = ()

    def of(self, runs: Iterable[N]) -> list[N]:
        """The runs of some that count."""
        out = {item.run for item in self.left_out}
        return [run for run in runs if run.run not in out]


def select(releases: Mapping[str, Sequence[Candidate]]) -> Selection:
    """The selection for releases that are held against each other."""
    unfit = [left_out for runs in releases.values() for run in runs if (left_out := _unfit(run)) is not None]
    names = {item.run for item in unfit}
    fit = {name: [run for run in runs if run.run not in names] for name, runs in releases.items()}
    rigs = [{run.rig for run in runs} for runs in fit.values() if runs]
    common = set.intersection(*rigs) if rigs else set()
    others = [run for runs in fit.values() for run in runs if common and run.rig not in common]
    by_rig = tuple(LeftOut(run.run, run.rig, LeftOutReason.RIG) for run in others)
    return Selection(tuple(sorted(common)) if by_rig else (), (*unfit, *by_rig))


def _unfit(run: Candidate) -> LeftOut | None:
    """Why a run says nothing by itself; None where it does."""
    return None if run.ended else LeftOut(run.run, run.rig, LeftOutReason.OPEN)
