"""Says why a comparison is to be read with care, and what may be concluded from a difference."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.compare.contrasts import Contrast
from metrograph.compare.flow_records import Affects, Caveat, CaveatKind
from metrograph.compare.inference import Confidence, Method
from metrograph.measures.catalogue import words_of
from metrograph.words.figure_words import SAME, counted, told_bounds, told_difference
from metrograph.words.grammar import listed
from metrograph.words.names import on_rig

_SENTENCES = {
    CaveatKind.RIG: "The rigs differ: trouble with hardware cannot be compared as it stands.{among}",
    CaveatKind.MACHINE: "Some machines are virtual and some are not.",
    CaveatKind.MEMORY: "The rigs have different memory.",
    CaveatKind.PROCESSORS: "The rigs have different processors.",
    CaveatKind.DISK: "The rigs have disks of different size.",
    CaveatKind.FIRMWARE: "The rigs have different firmware.",
    CaveatKind.GRAPHICS: "The rigs have different graphics.",
    CaveatKind.NETWORK: "The rigs have different networks.",
    CaveatKind.WAY: "They were not installed in the same way.",
    CaveatKind.METHOD: "The disk was divided by different methods.",
    CaveatKind.ENCRYPTION: "Some disks were encrypted and some were not.",
    CaveatKind.EXTRAS: "Different software was ticked.",
    CaveatKind.LANGUAGE: "Different languages were picked.",
    CaveatKind.CUTS: "Some records skip time: durations across a cut are known between bounds only.",
    CaveatKind.OPEN: "Some runs have not ended yet.",
    CaveatKind.RUNS: "Where there is one run only, a difference in time may be chance.",
    CaveatKind.IMAGE_AGE: "The images were of different age, which alone makes first updates differ.",
    CaveatKind.CHOICES: "The same questions were answered otherwise{more}.",
    CaveatKind.STATE: "{names} was read in different states, which cannot be compared.",
}
_COUNTED = {CaveatKind.CUTS: "cut", CaveatKind.OPEN: "open run", CaveatKind.RUNS: "run"}
"""What the values of some are numbers of."""


def caveat_sentence(caveat: Caveat) -> str:
    """Why to read with care, without the values that differ."""
    names = ", ".join(caveat.names)
    among = f" Times are compared on {names} only." if names else ""
    more = f" (and {caveat.more} more)" if caveat.more else ""
    return _SENTENCES[caveat.what].format(names=names, among=among, more=more)


def caveat_line(caveat: Caveat, releases: Sequence[str]) -> str:
    """Why to read with care, and of whom that is true: releases that have the same stand together."""
    if caveat.what in _COUNTED:
        line = _counted_line(caveat, releases)
    else:
        reason, _, more = caveat_sentence(caveat).partition(". ")
        line = f"{reason.removesuffix('.')} ({_who_has_what(caveat, releases)}).{more and f' {more}'}"
    if caveat.affects is Affects.TIMES:
        small = line if line.startswith(tuple(releases)) else f"{line[0].lower()}{line[1:]}"
        return f"Times cannot be compared: {small}"
    return line


def _who_has_what(caveat: Caveat, releases: Sequence[str]) -> str:
    by_value: dict[str, list[str]] = {}
    for name, value in zip(releases, caveat.values, strict=True):
        by_value.setdefault(value, []).append(name)
    told = [f"{listed(names)}: {value}" for value, names in by_value.items() if value]
    told += [f"{listed(names)}: not noted" for value, names in by_value.items() if not value]
    return "; ".join(told)


def _counted_line(caveat: Caveat, releases: Sequence[str]) -> str:
    """Of which releases records skip time, are open, or are only one."""
    counts = {name: int(value or 0) for name, value in zip(releases, caveat.values, strict=True)}
    if caveat.what is CaveatKind.RUNS:
        single = [name for name, count in counts.items() if count == 1]
        each = " each" if single[1:] else ""
        return f"Of {listed(single)} there is a single run{each}, so that a small difference may be chance."
    having = [f"{name} has {counted(count, _COUNTED[caveat.what])}" for name, count in counts.items() if count]
    reason = "what lies in a cut is not known" if caveat.what is CaveatKind.CUTS else "what is open is in no figure"
    return f"{listed(having)}, and {reason}."


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
    beside = ", without the swap file" if contrast.without_swap_file else ""
    return f"{words_of(contrast.name)}{beside}: {difference_of(contrast)}{_interval(contrast)}, {contrast.confidence}"


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
