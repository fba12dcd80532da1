"""Says what a run covers: figures are held against each other only where two runs cover the same.

A run that begins on an installed system, or never leaves a live session, has no installation: nothing of it is timed
from power-on, and none of its screens are an installer's. Of an installation, the installer's part goes to the desktop,
with whatever the release still demands there; what comes after is somebody looking around.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator

from metrograph.run.records import Milestones, Part, Run, Screen, Stretch
from metrograph.run.route import route_screens

DEMANDED = "setup"
"""The phase in which an installed system asks before it lets anybody work, wherever the desktop is by then."""
_INSTALLING = frozenset({"questions", "copy"})
_AT_THE_DESKTOP = frozenset({"desktop", "tour", "update"})
_ASKING = frozenset({"questions", "copy", DEMANDED})


_BY_PHASE = {
    "live": Part.LIVE, DEMANDED: Part.SETUP, "tour": Part.TOUR, "desktop": Part.USE, "update": Part.UPDATE,
}  # fmt: skip
FIRST_PHASES = {"live": "live", "tour": "tour", "later": "desktop"}
"""Ways of a run in which nothing is installed, and the phase in which each begins; see docs/run-log.md."""


def installs(way: str) -> bool:
    """Whether a run of this way installs anything."""
    return way.partition(" ")[0] not in FIRST_PHASES


def covered(way: str, phases: Collection[str]) -> tuple[Part, ...]:
    """What a run covers, by the way that its log names and the phases that it went through."""
    installing = installs(way) and not _INSTALLING.isdisjoint(phases)
    parts = {_BY_PHASE[phase] for phase in phases if phase in _BY_PHASE}
    parts |= {Part.INSTALLATION} if installing else set()
    parts |= set() if installs(way) else {_BY_PHASE[FIRST_PHASES[way.partition(" ")[0]]]}
    return tuple(part for part in Part if part in parts)


def reached(milestones: Milestones) -> str | None:
    """The last milestone of an installation that a run reached; None where it reached none, or installs nothing."""
    return next((name for name in ("desktop", "installed", "first_question") if getattr(milestones, name)), None)


def of_installer(run: Run) -> Iterator[Stretch]:
    """The stretches of a run that belong to its installation: those up to the desktop, and what is demanded there."""
    if Part.INSTALLATION in run.covers:
        there = False
        for stretch in run.stretches:
            there = there or (stretch.phase in _AT_THE_DESKTOP and _is_reached(run, stretch))
            if not there or stretch.phase == DEMANDED:
                yield stretch


def _is_reached(run: Run, stretch: Stretch) -> bool:
    # A desktop that was reached in an attempt that failed later is on the way, and not its end.
    desktop = run.milestones.desktop
    return desktop is None or stretch.start.low >= desktop.low


def screens_of_installer(run: Run) -> tuple[Screen, ...]:
    """The screens on the way that led to the end on which the installer, or a setup after it, asked or told."""
    if Part.INSTALLATION not in run.covers:
        return ()
    return tuple(screen for screen in route_screens(run) if screen.phase in _ASKING)


def looking_around(run: Run) -> tuple[bool, ...]:
    """For each stretch whether somebody looks around in it after an installation, which no release asks for."""
    if Part.INSTALLATION not in run.covers:
        return (False,) * len(run.stretches)
    asked = {id(stretch) for stretch in of_installer(run)}
    return tuple(each.who == "person" and id(each) not in asked for each in run.stretches)
