"""Says what may be concluded from a difference, and how that was worked out."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.compare.contrasts import Contrast
from metrograph.compare.inference import Confidence, Method
from metrograph.measures.catalogue import words_of
from metrograph.present.wording.figures import SAME, counted, told_bounds, told_difference
from metrograph.present.wording.names import on_rig

_METHODS = {
    Method.PERMUTATION: "all ways to split the runs in two",
    Method.SAMPLED: "a sample of the ways to split the runs in two",
}


def difference_of(contrast: Contrast) -> str:
    """How much longer or shorter, more or less; between bounds where a cut leaves it open."""
    return told_difference(contrast.before.median, contrast.after.median, contrast.unit, contrast.name)


def how_sure(contrast: Contrast | None) -> str:
    """How sure a difference is, where anything can be said."""
    return "" if contrast is None or contrast.confidence is Confidence.UNKNOWN else f", {contrast.confidence}"


def conclusions(contrasts: Sequence[Contrast]) -> list[str]:
    """What may be concluded of one pair of releases, and how that was worked out, in sentences."""
    sure = [contrast for contrast in contrasts if contrast.confidence is not Confidence.UNKNOWN]
    unsure = [contrast for contrast in contrasts if contrast.confidence is Confidence.UNKNOWN]
    return [*map(_conclusion, sure), *([_not_sure(unsure)] if unsure else []), *_grounds(contrasts)]


def _conclusion(contrast: Contrast) -> str:
    """``to installed: 4:30 sooner (95 %: 2:26 to 6:29 sooner), clear``."""
    return f"{words_of(contrast.name)}: {difference_of(contrast)}{_interval(contrast)}, {contrast.confidence}"


def _interval(contrast: Contrast) -> str:
    if contrast.interval is None:
        return ""
    return f" (95 %: {told_bounds(*contrast.interval, contrast.unit, contrast.name)})"


def _not_sure(contrasts: Sequence[Contrast]) -> str:
    differing = [
        f"{words_of(contrast.name)} ({difference_of(contrast)})"
        for contrast in contrasts
        if difference_of(contrast) != SAME
    ]
    return f"Can't say, may be chance: {', '.join(differing)}." if differing else "Of the rest nothing can be said."


def _grounds(contrasts: Sequence[Contrast]) -> list[str]:
    """How many runs there are, on which rigs, and what spread was taken."""
    first = contrasts[0]
    before, after = (max(counts) for counts in zip(*((c.before.runs, c.after.runs) for c in contrasts), strict=True))
    tested = sum(contrast.p_value is not None for contrast in contrasts)
    corrected = f"; corrected for {tested} figures" if tested > 1 else ""
    on = f", those on {', '.join(map(on_rig, first.rigs))} only" if first.rigs else ""
    sentences = [f"{counted(before, 'run')} against {counted(after, 'run')}{on}{corrected}."]
    methods = {contrast.method for contrast in contrasts}
    sentences += [f"Held against {words}." for method, words in _METHODS.items() if method in methods]
    if Method.POOLED in methods:
        sentences.append(_pooled(contrasts, has_repeats=max(before, after) > 1))
    if methods == {Method.NONE}:
        sentences.append("No release was installed twice, so nobody knows how much such figures spread.")
    return sentences


def _pooled(contrasts: Sequence[Contrast], has_repeats: bool) -> str:
    """Whose repeats tell the spread."""
    own = [name for name in (contrasts[0].earlier, contrasts[0].later) if has_repeats]
    borrowed = [name for contrast in contrasts for name in contrast.borrowed]
    names = list(dict.fromkeys((*own, *borrowed)))
    whose = " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)
    return f"Spread estimated from repeats of {whose}."
