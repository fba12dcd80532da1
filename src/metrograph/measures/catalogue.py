"""The catalogue of measures: what is known of each figure stands in its entry and nowhere else.

An entry says how a figure is called, in what it counts, which way is better, and how it is taken from a run. Readings
have entries too: one for each name and state, made when asked for.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from enum import StrEnum

import msgspec

from metrograph.log.lexicon import Better, Lexicon, Unit
from metrograph.log.quantities.ranges import Range, total
from metrograph.measures import taking
from metrograph.measures.taking import RunMetrics
from metrograph.run.records import Run, Who


class MeasureGroup(StrEnum):
    """Which table a measure stands in."""

    TIME = "time"
    EFFORT = "effort"
    READING = "reading"


class Extent(StrEnum):
    """From where to where a figure goes.

    INSTALLER is its part of a run, from power-on to the desktop with what is demanded there; RUN goes on to wherever
    the reviewer stopped, so that it says nothing of the release.
    """

    FIRST_QUESTION = "from power-on to the first question"
    INSTALLED = "from power-on to installed"
    DESKTOP = "from power-on to the desktop"
    UPDATED = "from power-on to updated"
    INSTALLER = "from power-on to the desktop, with any setup there"
    RUN = "from power-on to the end of the record"
    STATE = "at one moment"


class Measure(msgspec.Struct, frozen=True):
    """One figure.

    words: how it is said; span: from where to where it goes; whose: whose time it is, None where everybody's.
    take: the figure of a run; None where the run did not get to it. Counts are ranges of no width.
    part_of: the name of the measure that it is a part of; None when it stands by itself.
    """

    name: str
    words: str
    unit: Unit
    group: MeasureGroup
    take: Callable[[RunMetrics], Range | None]
    better: Better | None = "less"
    part_of: str | None = None
    span: Extent = Extent.INSTALLER
    whose: Who | None = None

    @property
    def is_compared(self) -> bool:
        """Whether it may be held against that of another release."""
        return self.span is not Extent.RUN


def _count(count: Callable[[RunMetrics], float | None]) -> Callable[[RunMetrics], Range | None]:
    def take(metrics: RunMetrics) -> Range | None:
        value = count(metrics)
        return None if value is None else Range(value, value)

    return take


def _moment(name: str, words: str, take: Callable[[RunMetrics], Range | None], span: Extent) -> Measure:
    return Measure(name, words, Unit.SECONDS, MeasureGroup.TIME, take, span=span)


def _part(name: str, who: Who) -> Measure:
    """A person's part of the installation, or the machine's."""
    return Measure(
        name,
        name,
        Unit.SECONDS,
        MeasureGroup.TIME,
        lambda metrics: taking.spent(metrics, who),
        part_of="desktop",
        whose=who,
    )


def _effort(
    name: str,
    words: str,
    count: Callable[[RunMetrics], float | None],
    better: Better | None = "less",
    unit: Unit = Unit.COUNT,
    part_of: str | None = None,
) -> Measure:
    return Measure(name, words, unit, MeasureGroup.EFFORT, _count(count), better, part_of=part_of)


_ENTRIES = (
    _moment(
        "first-question", "to the first question", lambda metrics: metrics.run.milestones.first_question,
        Extent.FIRST_QUESTION,
    ),
    _moment("installed", "to installed", lambda metrics: metrics.run.milestones.installed, Extent.INSTALLED),
    _moment("desktop", "to the desktop", lambda metrics: metrics.run.milestones.desktop, Extent.DESKTOP),
    _part("hands-on", "person"),
    _part("waiting", "machine"),
    _moment("updated", "to updated", lambda metrics: metrics.run.milestones.updated, Extent.UPDATED),
    _moment("on-clock", "on the clock", lambda metrics: metrics.run.clock.on_clock, Extent.RUN),
    _moment("lost", "lost to trouble", taking.lost, Extent.INSTALLER),
    Measure(
        "longest-leave", "longest time one may leave", Unit.SECONDS, MeasureGroup.EFFORT,
        taking.longest_leave, "more",
    ),
    _effort("screens", "screens", taking.screens),
    _effort("decisions", "decisions", taking.decisions),
    _effort("kept", "of them kept", lambda metrics: taking.answered(metrics, "kept"), None, part_of="decisions"),
    _effort("chosen", "of them picked", lambda metrics: taking.answered(metrics, "chosen"), part_of="decisions"),
    _effort("typed", "of them typed", lambda metrics: taking.answered(metrics, "typed"), part_of="decisions"),
    _effort("right", "right guesses", lambda metrics: taking.guesses(metrics, right=True), "more"),
    _effort("wrong", "wrong guesses", lambda metrics: taking.guesses(metrics, right=False)),
    _effort("returns", "returns to a screen", taking.returns),
    _effort("calls", "calls back to the keyboard", taking.calls_back),
    _effort("questions", "questions of the installer", taking.asked),
    _effort("asked-first", "of them before copying starts", taking.asked_first, None, part_of="questions"),
    _effort("attempts", "attempts", lambda metrics: len(metrics.run.attempts)),
    Measure("issues", "issues", Unit.COUNT, MeasureGroup.EFFORT, _count(taking.issues), span=Extent.RUN),
)  # fmt: skip

MEASURES: dict[str, Measure] = {measure.name: measure for measure in _ENTRIES}
"""The measures that every run has, by name, in the order they are shown."""

TIMES = tuple(name for name, measure in MEASURES.items() if measure.group is MeasureGroup.TIME)
EFFORT = (*(name for name, measure in MEASURES.items() if measure.group is MeasureGroup.EFFORT), "lost")
"""What the table of effort has: trouble is part of it, though it is a time."""

Figures = Mapping[str, Range]
"""The figures of one run by the names of their measures; what the run did not get to is left out."""


TASK = "task "
"""What the names of tasks begin with among the measures: each is one of a reviewer's own."""


def measure_of(name: str) -> Measure | None:
    """The measure of this name, be it one of all runs or a task; None of a reading."""
    if name.startswith(TASK):
        return Measure(
            name, name, Unit.SECONDS, MeasureGroup.TIME, lambda metrics: _task(metrics.run, name.removeprefix(TASK))
        )
    return MEASURES.get(name)


def _task(run: Run, name: str) -> Range | None:
    """How long work of this name took, all of it together."""
    lengths = [task.length for task in run.tasks if task.name == name and task.length is not None]
    return total(lengths) if lengths else None


def figures_of(run: Run) -> dict[str, Range]:
    """All figures of a run that it got to, whether it is over or not."""
    tasks = (measure_of(TASK + name) for name in dict.fromkeys(task.name for task in run.tasks))
    measures = (*MEASURES.values(), *(measure for measure in tasks if measure is not None))
    metrics = RunMetrics(run)
    taken = ((measure.name, measure.take(metrics)) for measure in measures)
    return {name: value for name, value in taken if value is not None}


def reading_name(name: str, state: str) -> str:
    """What a reading in one state is called among the measures: ``memory (installed)``."""
    return f"{name} ({state})"


def better_of(name: str, lexicon: Lexicon) -> Better | None:
    """Which way a reading is better; None where neither is, or nobody has said."""
    known = lexicon.measures.get(name) or lexicon.measures.get(name.partition(" of ")[0])
    return known.better if known is not None else None


def words_of(name: str) -> str:
    """How a measure is said; a reading goes by its own name."""
    measure = measure_of(name)
    return measure.words if measure is not None else name


def unit_of(name: str) -> Unit:
    """In what a measure counts; readings that are held against each other are sizes."""
    measure = measure_of(name)
    return measure.unit if measure is not None else Unit.BYTES


def on_the_clock(name: str) -> bool:
    """Whether a figure was taken from a run's clock, and is shown as on one."""
    measure = measure_of(name)
    return measure is not None and measure.unit is Unit.SECONDS
