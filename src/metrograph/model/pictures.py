"""What is drawn: releases as lines through stops, runs as lines that fall through the flow. Laid out, not yet drawn."""

from __future__ import annotations

from typing import Literal

import msgspec

from metrograph.model.ranges import Range

Mark = Literal["kept", "changed", "plain"]


class Halt(msgspec.Struct, frozen=True):
    """A release's stop at a screen.

    mark: ``kept`` when all pre-set values were, ``changed`` when one was not, ``plain`` where nothing was asked.
    time: spent there.
    comes_after: of a screen that has moved, the index of the stop that it follows here; None of others.
    """

    mark: Mark
    phase: str
    time: Range
    comes_after: int | None = None


class Line(msgspec.Struct, frozen=True):
    """A release. halts: one per stop, None where the line passes without stopping."""

    name: str
    runs: int
    halts: tuple[Halt | None, ...]


class Strip(msgspec.Struct, frozen=True):
    """The merged flow as stops, and releases as lines through them; no scale of time.

    stops: titles, all that each goes by. phases: those that occur, in their order.
    """

    stops: tuple[str, ...]
    lines: tuple[Line, ...]
    phases: tuple[str, ...]


class Leg(msgspec.Struct, frozen=True):
    """A stretch of time of one run at one stop.

    start, end: seconds on the clock; stop: index; waiting: whether the machine worked.
    failed: whether it belongs to an attempt that was lost; torn: whether its length is unknown upwards.
    """

    start: float
    end: float
    stop: int
    waiting: bool
    failed: bool
    torn: bool = False


class Course(msgspec.Struct, frozen=True):
    """A run through the stops. side: the index of what it belongs to; total: its time on the clock."""

    name: str
    side: int
    legs: tuple[Leg, ...]
    total: Range


class Timetable(msgspec.Struct, frozen=True):
    """Runs through the merged flow in time. length: seconds of the longest."""

    stops: tuple[str, ...]
    sides: tuple[str, ...]
    courses: tuple[Course, ...]
    length: float
