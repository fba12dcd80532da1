"""Says what the runs of others have to do with one's own."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any

from metrograph.archive.answers import Like, Met, Others, OthersFigure, Standing, Usual
from metrograph.archive.measured import Heard, ThingKind
from metrograph.archive.nearest import Near, Nearest
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.times import show_duration
from metrograph.log.quantities.units import show_size
from metrograph.measures.show import show_figure
from metrograph.run.cards import Release
from metrograph.words.figure_words import counted
from metrograph.words.grammar import few, listed
from metrograph.words.names import full_name

_QUARTERED = 4  # reviewers: of fewer there are no quarters
_MOMENTS = {
    "installed": "Installed after",
    "desktop": "At the desktop after",
    "updated": "Updated after",
    "hands-on": "Hands-on",
}


def of_others(others: Others) -> Iterator[str]:
    """How a release stands among the runs of others, and who has met the same trouble."""
    yield from map(stands, others.standings)
    yield from map(was_met, others.met)


def stands(each: Standing) -> str:
    """``Installed after 13:15: slower than 180 of 214 runs of 12 others on virtual rigs with 4 GiB.``"""
    runs = _whose(each.runs, each.reviewers)
    more, less = each.more, each.less
    told = f"slower than {more} of {runs}" if more >= less else f"quicker than {less} of {runs}"
    middle = "" if each.middle is None else f", whose median is {show_duration(Range(each.middle, each.middle))}"
    return f"{_MOMENTS[each.name]} {show_duration(each.value)}: {told}{_on(each.like)}{middle}."


def _whose(runs: int, reviewers: int) -> str:
    """``214 runs of 12 others``."""
    return f"{runs} runs of {_others(reviewers)}" if runs > 1 else "the one run of another"


def _others(reviewers: int) -> str:
    return f"{reviewers} others" if reviewers > 1 else "one other"


def _on(like: Like) -> str:
    kind = f"{like.kind} rigs" if like.kind else "rigs" if like.memory else ""
    memory = f" with {show_size(like.memory)}" if like.memory else ""
    return f" on {kind}{memory}" if kind else ""


def was_met(each: Met) -> str:
    """``“No disk is listed” was met in 9 of 61 runs of others, by 4 of them, on physical rigs. What helped: ….``"""
    kinds = f", on {listed(each.kinds)} rigs" if each.kinds else ""
    cures = [f"{fix} ({counted(times, 'time')})" for fix, times in each.cures]
    helped = f" What helped: {few(cures)}." if cures else ""
    met = f"“{each.summary or each.name}” was met in {each.runs} of {each.of} runs of others"
    return f"{met}, by {each.reviewers} of them{kinds}.{helped}"


NOBODY = "Nobody else has shared a run that is alike."
NOT_NOTED = "Nobody else has noted any of what is open here."


def told(said: Others | Sequence[Met | OthersFigure | Nearest | Heard], nothing: str = NOBODY) -> Iterator[str]:
    """What others say, in sentences. nothing: what is said where they say nothing."""
    lines = list(of_others(said)) if isinstance(said, Others) else [_TOLD[type(each)](each) for each in said]
    yield from lines or [nothing]


def near(each: Nearest) -> str:
    """``Nearest to 9.0 among 1,900 releases: Osterby 2026.1 (0.82) and …``"""
    if not each.near:
        return f"Nothing among {counted(each.among, 'release')} of others is near {each.release}."
    found = [f"{_called(one)} ({one.kinship:.2f})" for one in each.near]
    return f"Nearest to {each.release} among {counted(each.among, 'release')} of others: {listed(found)}."


def _called(one: Near) -> str:
    return full_name(one.release, Release(one.distribution, one.version, edition=one.edition, status=one.status))


def as_followed(each: OthersFigure) -> str:
    """``9.0: others have 12:05, 214 runs of 12.``"""
    runs = f"{counted(each.runs, 'run')} of {_others(each.reviewers)}"
    return f"{each.release}: others have {show_figure(Range(each.middle, each.middle), each.unit, each.name)}, {runs}."


def as_heard(each: Heard) -> str:
    """``Printer under 9.0: passed in 10 of 12 runs of 7 others.``"""
    thing, runs, where = each.thing, _whose(each.runs, each.reviewers), _on(each.like)
    subject = f"{thing.what[:1].upper()}{thing.what[1:]} under {thing.release}"
    if thing.kind is ThingKind.RIG:
        return f"{thing.release} ran on rigs with {show_size(round(each.middle or 0))} and more: {runs}."
    if each.good is not None:
        came = "passed" if thing.kind is ThingKind.TRIAL else "there"
        return f"{subject}: {came} in {each.good} of {runs}{where}."
    middle = each.middle or 0.0
    return f"{subject}: {show_figure(Range(middle, middle), each.unit, thing.name)} in {runs}{where}."


def usual(each: Usual, brief: bool = False) -> str:
    """``0:40 with 14 others (0:25–1:10)``, beside a clock; in brackets what the half in the middle takes.

    brief: without what stands in brackets.
    """
    middle, half = (
        show_duration(Range(low, high)) for low, high in ((each.middle, each.middle), (each.low, each.high))
    )
    told = f"{middle} with {_others(each.reviewers)}"
    return told if brief or each.reviewers < _QUARTERED or half == middle else f"{told} ({half})"


_TOLD: dict[type, Callable[[Any], str]] = {
    Met: was_met, OthersFigure: as_followed, Nearest: near, Heard: as_heard,
}  # fmt: skip
