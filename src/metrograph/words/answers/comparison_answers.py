"""Answers what a comparison comes to in a few plain sentences, made from findings, also above its figures."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from metrograph.compare.flow_records import Affects, Caveat, CaveatKind
from metrograph.compare.inference import Confidence, Method
from metrograph.findings.finding_records import Finding, Subject
from metrograph.findings.telling import findings_of, told_first
from metrograph.ledgers.comparison import Comparison, Neighbours
from metrograph.log.lexicon import is_untitled
from metrograph.measures.catalogue import MEASURES
from metrograph.measures.selection import LeftOut, LeftOutReason
from metrograph.words.answers.finding_words import Told, sentences
from metrograph.words.caveat_words import caveat_sentence
from metrograph.words.grammar import listed, number
from metrograph.words.names import on_rig

MOST = 6
"""Sentences that an answer has, with the one for care."""


def answer(comparison: Comparison, pair: Neighbours) -> tuple[str, ...]:
    """What a reader should know of two releases, what they decide by first, and one reason for care."""
    told = tellings(comparison, pair)
    chance = _only_chance(comparison, pair, [finding for each in told for finding in each.findings])
    care = tuple(_care(comparison, pair, single=not chance))
    room = MOST - len(care)
    texts = [each.text for each in told[: room - len(chance)]] + list(chance)
    return (*(texts or [_nothing(comparison, pair)]), *care)


def tellings(comparison: Comparison, pair: Neighbours) -> list[Told]:
    """Every sentence about two releases, what a reader decides by first."""
    return sentences(findings_of(comparison, pair), comparison)


def pair_of(comparison: Comparison, earlier: str, later: str) -> Neighbours:
    """Two releases of a comparison, also where they are no neighbours."""
    for each in comparison.neighbours:
        if (each.earlier, each.later) == (earlier, later):
            return each
    one, other = (comparison.lines[comparison.releases.index(name)] for name in (earlier, later))
    return Neighbours(earlier, later, one != other, ())


def latest_pair(comparison: Comparison) -> Neighbours | None:
    """The pair of neighbours that a figure is asked about first: of the line that the latest release continues."""
    within = [each for each in comparison.neighbours if not each.across]
    return max(within or comparison.neighbours, key=lambda each: comparison.releases.index(each.later), default=None)


def _nothing(comparison: Comparison, pair: Neighbours) -> str:
    ends = f"{pair.earlier} and {pair.later}"
    tested = any((each.earlier, each.later) == (pair.earlier, pair.later) for each in comparison.contrasts)
    if comparison.changes_between((pair.earlier, pair.later)):
        return f"Nothing that a reader decides by differs between {ends}."
    if pair.across or tested:
        return f"Nothing that was noted of both {ends} differs beyond chance."
    return f"Nothing that was noted differs between {ends}."


def _only_chance(comparison: Comparison, pair: Neighbours, findings: Sequence[Finding]) -> tuple[str, ...]:
    """That no difference in time is more than chance, where times were held against each other and none is told."""
    if any(each.what is Subject.TIME for each in findings) or _incomparable(pair):
        return ()
    tested = [
        each
        for each in comparison.contrasts
        if (each.earlier, each.later) == (pair.earlier, pair.later)
        and each.name in MEASURES
        and each.method is not Method.NONE
    ]
    unsure = tested and all(each.confidence is Confidence.UNKNOWN for each in tested)
    return ("No difference in time is larger than chance.",) if unsure else ()


# -- care --------------------------------------------------------------------------------------------------------------


def _care(comparison: Comparison, pair: Neighbours, single: bool = True) -> Iterator[str]:
    """The one reason for care that matters most. single: whether it has to be said that there is one run only."""
    if (lost := _incomparable(pair)) is not None:
        yield _why_no_times(lost, pair)
        return
    if unnamed := _unconfirmed(comparison, pair):
        yield unnamed
        return
    of = dict(zip(comparison.releases, comparison.runs, strict=True))
    for name in (pair.earlier, pair.later):
        left = [out for out in comparison.selection.left_out if out.run in of[name]]
        if left:
            yield _left_out(left, len(of[name]), name)
            return
    once = [name for name in (pair.earlier, pair.later) if len(of[name]) == 1 and single]
    if once:
        yield "These are single runs." if once[1:] else f"Of {once[0]} there is a single run."


def _unconfirmed(comparison: Comparison, pair: Neighbours) -> str:
    """How many screens nobody has named yet, where there are any."""
    for name in (pair.later, pair.earlier):
        cells = [row.cells[comparison.releases.index(name)] for row in comparison.rows]
        titles = [cell.title for cell in cells if cell is not None]
        count = sum(map(is_untitled, titles))
        if count:
            are = "is" if count == 1 else "are"
            return f"{number(count).capitalize()} of {name}’s {number(len(titles))} screens {are} not confirmed yet."
    return ""


def _incomparable(pair: Neighbours) -> Caveat | None:
    """What takes the ground from comparing times, if anything does."""
    return next((each for each in pair.caveats if each.affects is Affects.TIMES), None)


def _why_no_times(caveat: Caveat, pair: Neighbours) -> str:
    if caveat.what is CaveatKind.CUTS:
        cut = [name for name, count in zip((pair.earlier, pair.later), caveat.values, strict=True) if count != "0"]
        return f"Times cannot be compared, as {listed([f'{name}’s record' for name in cut])} skips an unknown time."
    reason = caveat_sentence(caveat).partition(".")[0].partition(":")[0]
    return f"Times cannot be compared: {reason[:1].lower()}{reason[1:]}."


def _left_out(left: Sequence[LeftOut], total: int, release: str) -> str:
    """Which runs figures leave out, and why."""
    if all(out.why is LeftOutReason.RIG for out in left):
        rigs = listed([on_rig(rig) for rig in dict.fromkeys(out.rig for out in left)])
        one = "the one run" if len(left) == 1 else f"the {number(len(left))} runs"
        return f"Figures leave out {one} of {release} on {rigs}."
    if len(left) == total:
        return f"{release}’s {'only run is' if total == 1 else 'runs are'} {left[0].why}, and in no figure."
    return f"Figures leave out {number(len(left))} of {release}’s runs, {left[0].why}."


# -- above figures -----------------------------------------------------------------------------------------------------

_TIMES, _SCREENS = frozenset({"lanes", "lead"}), frozenset({"strip"})
_TOLD_ABOVE = {
    "times": (Subject.TIME,),
    "screens": (Subject.CROSSED, Subject.SCREENS_GONE, Subject.SCREENS_NEW, Subject.QUESTIONS_NEW, Subject.PRESET),
}
_SENTENCES = 2  # above a figure, which has to be seen with them


def above(chart: str, comparison: Comparison) -> tuple[str, ...]:
    """The finding that a figure of a comparison shows, of the latest release against the one before it."""
    pair = latest_pair(comparison)
    topic = "times" if chart in _TIMES else "screens" if chart in _SCREENS else None
    if pair is None or topic is None:
        return ()
    findings = findings_of(comparison, pair)
    told = tuple(each.text for each in sentences(told_first(findings, _TOLD_ABOVE[topic]), comparison))[:_SENTENCES]
    if topic == "times":
        return told or _only_chance(comparison, pair, ()) or tuple(_care(comparison, pair))
    return told or (f"Nothing that was noted differs between the screens of {pair.earlier} and {pair.later}.",)


def made_from(chart: str, comparison: Comparison) -> str:
    """Which runs the figure is made from."""
    if chart == "album":
        return ""
    rigs = comparison.selection.rigs
    of = (
        f"Medians of the runs on {listed([on_rig(rig) for rig in rigs])}"
        if rigs
        else "Medians of the runs of each release"
    )
    if chart == "timetable":
        return "Every run is a line, time on the clock from power-on."
    pair = latest_pair(comparison)
    left = " ".join(_care(comparison, pair)) if not rigs and pair is not None else ""
    counted = {out.run for out in comparison.selection.left_out}
    elsewhere = " Runs elsewhere are drawn, but not counted." if rigs and counted and chart == "lanes" else ""
    return f"{of}.{elsewhere} {left}".strip()
