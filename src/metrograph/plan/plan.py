"""Follows a run along a plan: the way of an earlier run, or the merged way of a release's runs."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from metrograph.compare.align.alignment import merge
from metrograph.compare.align.merge import merged_flow
from metrograph.compare.changes import told_between
from metrograph.compare.flow_records import Change, FlowCell, FlowRow, Side, What
from metrograph.log.cues import Cue, Log
from metrograph.log.escapes import join_list
from metrograph.log.lexicon import Checklist, Lexicon
from metrograph.log.quantities.ranges import ZERO
from metrograph.log.verbs import Trait, verbs_with
from metrograph.measures.catalogue import reading_name
from metrograph.measures.selection import Selection
from metrograph.run.disks import FOUND
from metrograph.run.folding.fold import fold
from metrograph.run.folding.walk import lay_out
from metrograph.run.records import Choice, Run, Screen
from metrograph.run.route import NO_RULINGS, Rulings, route_of, route_screens, screen_key
from metrograph.run.warnings import steps_left
from metrograph.store.ids import is_id
from metrograph.store.local.logbook import ENDING, Logbook
from metrograph.store.memory import runs_of
from metrograph.store.reading import LogReader

_USUAL, _CHOICES = verbs_with(Trait.USUAL), verbs_with(Trait.CHOICE)
_ONLY_PASSED = frozenset({What.SCREEN_GONE, What.QUESTION_GONE})
_OF_THE_WHOLE = frozenset(
    {What.PHASE_NEW, What.PHASE_GONE, What.HANDS_CHANGED, What.OVERVIEW_NEW, What.OVERVIEW_GONE, What.CHECK_FIRST}
)
"""Changes that can be told only when a run is over, or follow from others."""


class Step(msgspec.Struct, frozen=True):
    """A screen of a plan.

    screen: as most runs had it; its times are medians.
    cues: what is likely to be noted while it is in front and until the next, in order; their times mean nothing.
    """

    screen: Screen
    cues: tuple[Cue, ...] = ()


class Plan(msgspec.Struct, frozen=True):
    """The way that a run is expected to take.

    side: the runs it was made from; rulings: what a person has decided about screens.
    """

    side: Side
    steps: tuple[Step, ...]
    rulings: Rulings = NO_RULINGS

    @property
    def name(self) -> str:
        """The run or the release it was made from."""
        return self.side.name


PlanSource = tuple[Run, Log]
"""A run that a plan is made from, with its log."""


def plan_of(name: str, sources: Sequence[PlanSource], lexicon: Lexicon, rulings: Rulings = NO_RULINGS) -> Plan:
    """The plan that one run or several make, at least one, oldest first.

    A screen belongs to it when half of the runs or more passed it. Where they differ, what most of them had counts, and
    between equals the latest.
    """
    side = Side(name, tuple(run for run, _ in sources))
    merged = merged_flow([side], rulings, selection=Selection())  # whatever was noted can be followed
    usual = [
        (row, cell) for row in map(merged.rows.__getitem__, merged.orders[0]) if _is_usual(cell := row.cells[0], side)
    ]
    followed = [followers_of(log, lexicon) for _, log in sources]
    return Plan(side, tuple(_step(row, cell, sources, followed) for row, cell in usual if cell), rulings)


def next_step(plan: Plan, run: Run) -> Step | None:
    """The plan's step after the last one that the run has reached; None at the plan's end.

    The two flows are aligned, so that a screen with another title still counts as reached.
    """
    ahead = steps_ahead(plan, run)
    return ahead[0] if ahead else None


def steps_ahead(plan: Plan, run: Run) -> tuple[Step, ...]:
    """The plan's steps after the furthest that the run has reached, in their order."""
    reached = [index for index, screen in enumerate(matches(plan, run)) if screen is not None]
    return plan.steps[reached[-1] + 1 if reached else 0 :]


def matches(plan: Plan, run: Run) -> list[Screen | None]:
    """For every step of the plan the run's screen that is for the same thing; None where it was not passed."""
    passed = route_screens(run)
    rows = merge([[screen_key(step.screen) for step in plan.steps], route_of(run).screens], plan.rulings)
    places = {step: place for step, place in rows if step is not None}
    return [None if (place := places[step]) is None else passed[place] for step in range(len(plan.steps))]


def deviations(plan: Plan, run: Run) -> tuple[Change, ...]:
    """Where the run has left the plan so far, as changes from the plan to the run.

    What the plan has after the run's last screen is still to come and counts as no deviation; nor does a question of
    the screen in front that was not answered yet, nor a screen that only few of the plan's runs had.
    """
    # What lies ahead is not skipped, and the screen in front may still be answered.
    expected = {step.screen.title for step in plan.steps} - {step.screen.title for step in steps_ahead(plan, run)}
    passed = route_screens(run)
    if passed:
        expected.discard(passed[-1].title)
    sides = [plan.side, Side(run.run, (run,))]
    every = told_between(sides, merged_flow(sides, plan.rulings), None, 0, 1).changes
    so_far = (change for change in every if change.what not in _OF_THE_WHOLE)
    return tuple(change for change in so_far if change.what not in _ONLY_PASSED or change.title in expected)


def new_deviations(plan: Plan, before: Run, after: Run) -> tuple[Change, ...]:
    """Where the run has left the plan by what was noted last. before, after: the run without it, and with it."""
    known = deviations(plan, before)
    return tuple(change for change in deviations(plan, after) if change not in known)


class StillToDo(msgspec.Struct, frozen=True):
    """The things that a run lacks to be compared: trials, readings, usual tweaks and usual additions."""

    to_try: tuple[str, ...] = ()
    to_read: tuple[str, ...] = ()
    to_tweak: tuple[str, ...] = ()
    to_add: tuple[str, ...] = ()


def still_to_do(run: Run, checklist: Checklist, plan: Plan | None = None) -> StillToDo:
    """What a run lacks to be compared: what the checklist wants, and the trials and readings of the plan's runs.

    A reading of the plan is wanted in the state it was taken in there: ``memory (installed)``.
    """
    planned = plan.side.runs if plan else ()
    checks = [*checklist.checks, *(check.name for earlier in planned for check in earlier.checks)]
    made = {check.name for check in run.checks}
    wanted = [(reading.name, reading.state) for earlier in planned for reading in earlier.readings]
    taken = {(reading.name, reading.state) for reading in run.readings}
    names = {name for name, _ in [*taken, *wanted]}
    readings = [name for name in checklist.readings if name not in names]
    readings += [reading_name(name, state) for name, state in wanted if (name, state) not in taken]
    return StillToDo(
        tuple(name for name in dict.fromkeys(checks) if name not in made),
        tuple(dict.fromkeys(readings)),
        tuple(steps_left(checklist.tweaks, (tweak.what for tweak in run.tweaks))),
        tuple(steps_left(checklist.additions, (addition.software for addition in run.added))),
    )


def cues_of(step: Step, same: bool) -> list[Cue]:
    """What is written when a plan's screen comes up: itself, and with ``same`` what was kept and chosen on it."""
    choices = [choice for choice in step.screen.choices if choice.how != "typed"] if same else []
    return [screen_cue(step.screen), *map(choice_cue, choices)]


def screen_cue(screen: Screen) -> Cue:
    """The cue that says this screen is in front."""
    return Cue(0, "screen", None, screen.title, (("kind", screen.kind),))


def choice_cue(choice: Choice) -> Cue:
    """The cue that says this answer was given; of what was typed the key alone."""
    if choice.how == "typed":
        return Cue(0, "enter", choice.key, "")
    fields = (("was", choice.preset),) if choice.how == "chosen" and choice.preset is not None else ()
    offered = (("offered", join_list(choice.offered)),) if choice.offered else ()
    return Cue(0, "keep" if choice.how == "kept" else "choose", choice.key, choice.value or "", (*fields, *offered))


def _is_usual(cell: FlowCell | None, side: Side) -> bool:
    return cell is not None and 2 * cell.runs >= len(side.runs)


def _step(
    row: FlowRow, cell: FlowCell, sources: Sequence[tuple[Run, Log]], followed: Sequence[dict[int, list[Cue]]]
) -> Step:
    screen = Screen(
        cell.title, row.kind, cell.phase, 1, ZERO, cell.on_clock or ZERO, cell.person or ZERO, cell.machine or ZERO, 0,
        cell.choices,
    )  # fmt: skip
    answers = {choice.key: choice_cue(choice) for choice in cell.choices}
    for (run, _), followers in zip(reversed(sources), reversed(followed), strict=True):
        passed = next((screen for screen in route_screens(run) if screen.title in row.titles), None)
        # The latest run that passed it: what was noted there is most likely noted again.
        if passed is not None:
            cues = followers.get(run.screens.index(passed), [])
            usual = [answers.get(cue.name or "", cue) if cue.verb in _CHOICES else cue for cue in cues]
            return Step(screen, tuple(cue for cue in usual if cue.verb in _USUAL and cue.text != FOUND))
    return Step(screen)


def followers_of(log: Log, lexicon: Lexicon) -> dict[int, list[Cue]]:
    """What was noted from each screen to the next, by the screen's place among the run's screens."""
    cues = log.by_time()
    followers: dict[int, list[Cue]] = {}
    front = None
    for cue, place in zip(cues, lay_out(cues, lexicon).places, strict=True):
        # What is noted between two screens is noted with the first of them still in mind.
        front = front if place.screen is None else place.screen
        if front is not None:
            followers.setdefault(front, []).append(cue)
    return followers


def load_plan(reader: LogReader, logbook: Logbook, name: str | None, of: str, rig: str | None = None) -> Plan | None:
    """The plan that a run or a release makes; None when there is no such run, or none was named.

    of: the run that follows it. It is no part of it, nor are a release's other runs that are still open.
    rig: where it is made; runs there are preferred, those that came to their end first.
    """
    # A log that came from elsewhere may name anything; only what lies in this logbook is looked at.
    if name is None or not is_id(name) or name.endswith(ENDING):
        return None
    logs = [(run, reader.log(run, logbook)) for run in runs_of(logbook, name) if run != of]
    runs = [(fold(log, run, reader.lexicon), log) for run, log in logs]
    sources = _preferred([each for each in runs if each[0].ended or each[0].run == name], rig)
    return plan_of(name, sources, reader.lexicon, reader.rulings) if sources else None


def _preferred(sources: Sequence[PlanSource], rig: str | None) -> list[PlanSource]:
    """Of runs with their logs those that came to their end on a rig, else all on it, else all; in the order of time."""
    same = [source for source in sources if source[0].rig == rig]
    chosen = [source for source in same if source[0].ended == "done"] or same or sources
    return sorted(chosen, key=lambda source: source[0].begun.timestamp() if source[0].begun else 0.0)
