"""Says which runs the figures of an output are made from, where some of those that it names are not."""

from __future__ import annotations

from collections.abc import Iterable

from metrograph.measures.selection import LeftOut, Reason, Selection
from metrograph.present.wording.names import on_rig

_WHY = {
    Reason.RIG: "Figures count the runs on {rigs}, and leave out {runs}.",
    Reason.OPEN: "Not over, and in no figure: {runs}.",
    Reason.EMPTY: "Without a screen, and in no figure: {runs}.",
}


def selection_lines(selections: Iterable[Selection]) -> tuple[str, ...]:
    """A sentence for each reason for which runs are left out; none where all count."""
    return tuple(
        text.format(rigs=", ".join(map(on_rig, selection.rigs)), runs=", ".join(names))
        for selection in selections
        for why, text in _WHY.items()
        if (names := [_named(item) for item in selection.left_out if item.why is why])
    )


def _named(item: LeftOut) -> str:
    return f"{item.run} ({item.rig})" if item.why is Reason.RIG and item.rig else item.run
