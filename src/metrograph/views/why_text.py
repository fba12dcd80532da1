"""Tells in the terminal why screens share a row."""

from __future__ import annotations

from metrograph.model.reasons import Reason, Why
from metrograph.views.paper import Paper
from metrograph.views.safe import readable
from metrograph.views.table import render_lines


def render_why(why: Why, paper: Paper) -> str:
    """Each release against the one before it that has the screen, then those that lack it."""
    why = readable(why)
    text = paper.heading(f"Row {why.row}: {why.title}") + "\n"
    for reason in why.reasons:
        heading = f"“{reason.one_title}” in {reason.one}, “{reason.other_title}” in {reason.other}"
        text += f"\n{render_lines([heading], paper, indent=0)}{render_lines(_speaking(reason), paper)}"
    for release, nearest in why.nearest.items():
        near = (
            f"; the likest that it has is “{nearest[0]}”, {nearest[1]:.2f}" if nearest else "; nothing there comes near"
        )
        text += "\n" + render_lines([f"Not in {release}{near}."], paper, indent=0)
    if not why.reasons:
        text += "\n" + render_lines(["Only one of the releases has it, so there is nothing to match."], paper, indent=0)
    return paper.finish(text)


def _speaking(reason: Reason) -> list[str]:
    """What speaks for the match, from what decided to what stood aside."""
    lines = []
    if reason.ruled is not None:
        lines.append("metrograph.toml says that these two titles are for the same thing; nothing else was asked.")
    lines.append(f"kind: {reason.kind}, the same" if reason.kind else "kind: not the same, or not known")
    lines.append(f"titles: {reason.title:.2f} alike")
    if reason.keys is None:
        lines.append("questions: noted on one of them only, or on none")
    else:
        common = f": {', '.join(reason.common)}" if reason.common else ""
        lines.append(f"questions: {reason.keys:.2f} in common{common}")
    beside = [
        f"“{title}” {where}" for title, where in ((reason.before, "before it"), (reason.after, "behind it")) if title
    ]
    lines.append(f"neighbours in common: {' and '.join(beside)}" if beside else "neighbours in common: none")
    lines.append(_place(reason))
    lines.append(f"together {reason.likeness:.2f}; {reason.needed:g} is needed")
    if reason.rival is not None:
        lines.append(f"the next best would have been “{reason.rival}”, {reason.rival_likeness:.2f}")
    return lines


def _place(reason: Reason) -> str:
    if reason.across:
        return "place: on the other side of the restart, so it has moved"
    return "place: moved, the others keep their order" if reason.moved else "place: in order with the others"
