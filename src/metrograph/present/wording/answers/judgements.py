"""Says what changed in judgement, and what went with it."""

from __future__ import annotations

from collections.abc import Iterator

from metrograph.ledgers.shifts import VERDICT
from metrograph.ledgers.verdicts import Moved, Shift
from metrograph.measures.catalogue import MEASURES
from metrograph.measures.show import show_figure
from metrograph.present.wording.answers.words import listed
from metrograph.present.wording.figures import told_difference


def shifted(shift: Shift) -> str:
    """Then and now: ``speed as felt: 6 of 10 in 8.0, 9 of 10 in 9.0``."""
    whom = f" (for {shift.reader})" if shift.reader else ""
    if shift.name == VERDICT:
        return f"Of {shift.earlier} it was said{whom} “{shift.before}”, of {shift.later} “{shift.after}”."
    return f"{shift.name}{whom}: {shift.before} in {shift.earlier}, {shift.after} in {shift.later}."


def went_with(shift: Shift) -> Iterator[str]:
    """The figures and trials that changed with it; that nothing did, where nothing did."""
    if shift.figures:
        yield f"Measured with it: {listed([_moved(each) for each in shift.figures])}."
    if shift.trials:
        yield f"Tried with it: {listed([f'{each.name} ({each.before}, now {each.after})' for each in shift.trials])}."
    if not (shift.figures or shift.trials):
        yield "No figure that was measured, and no trial, changed with it."


def _moved(each: Moved) -> str:
    """``memory (installed) 1.19 GiB, 148 MiB more``."""
    measure = MEASURES.get(each.name)
    words = measure.words if measure is not None else each.name
    shown = show_figure(each.after, each.unit, each.name)
    return f"{words} {shown} ({told_difference(each.before, each.after, each.unit, each.name)})"
