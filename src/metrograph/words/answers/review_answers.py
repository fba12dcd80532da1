"""Says in a few sentences what a reader decides by of one release: how it installs, trouble, what works, verdict."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from metrograph.findings.release_review import ReleaseReview, SaidBeside
from metrograph.ledgers.checks import CheckResult
from metrograph.ledgers.issues import IssueRow
from metrograph.ledgers.verdicts import SCORE
from metrograph.log.quantities.units import show_size
from metrograph.measures.show import show_figure
from metrograph.run.audience import highlights_first
from metrograph.run.noted import Remark
from metrograph.run.records import RECORDING, Part
from metrograph.words.answers.comparison_answers import answer, tellings
from metrograph.words.figure_words import counted, show_spread
from metrograph.words.grammar import few, listed
from metrograph.words.names import on_rig
from metrograph.words.noted_words import amount

MOST = 6
"""Sentences of an answer about one release."""
_MOST_TRIALS = 5  # that are named one by one
_GRAVE = ("blocker", "major")


def review_answer(review: ReleaseReview, most: int = MOST) -> tuple[str, ...]:
    """What a reader decides by, the weightiest first; most: how many sentences at most."""
    told = [
        *_installation(review), *_highlights(review), *_trouble(review), *_trials(review), *_weight(review),
        *_same_as(review), *_remarks(review), *_ratings(review),
    ]  # fmt: skip
    verdict = list(_verdicts(review))  # whatever else there is no room for, this is what a review comes to
    told = told[: most - len(verdict)] + verdict
    if not told:
        told = [f"Nothing was noted of {review.release} beside its way."]
    told += list(_open_questions(review)) if len(told) < most else []
    return tuple(told)


def before_answer(review: ReleaseReview) -> tuple[str, ...]:
    """What differs from the release before it."""
    if review.before is None or not review.before.neighbours:
        return ()
    return answer(review.before, review.before.neighbours[-1])


def siblings_answers(review: ReleaseReview) -> tuple[str, ...]:
    """What differs from other editions of it, a paragraph each; nothing of one that nothing differs from."""
    told = []
    for each in review.siblings:
        pair = each.neighbours[-1] if each.neighbours else None
        told += [" ".join(answer(each, pair))] if pair is not None and tellings(each, pair) else []
    return tuple(told)


# -- how it is installed -----------------------------------------------------------------------------------------------

_WITHOUT = {
    Part.LIVE: "It was looked at in a live session; nothing was installed.",
    Part.TOUR: "It was looked at on an installed system; how it installs was not.",
    Part.USE: "It was looked at on an installed system; how it installs was not.",
}


def _installation(review: ReleaseReview) -> Iterator[str]:
    if Part.INSTALLATION not in review.covers:
        yield from [text for part, text in _WITHOUT.items() if part in review.covers][:1]
        return
    figures = review.whole.figures[0]
    end = next((name for name in ("desktop", "installed") if figures.get(name)), None)
    asks = _asks(review)
    if end is None:
        yield f"{review.release} was not installed to the end{asks.replace(' asks for', ': it asks for')}."
        return
    span = show_spread(figures[end], end)
    word = "reaches the desktop after" if end == "desktop" else "is installed after"
    hands = f", {show_spread(figures['hands-on'], 'hands-on')} of it hands-on" if figures.get("hands-on") else ""
    ways = {run.way for run in review.runs if run.way != "fresh"}
    way = f", installed {_WAYS.get(next(iter(ways)), next(iter(ways)))}," if len(ways) == 1 else ""
    yield f"{review.release}{way} {word} {span}{hands}{f', and{asks}' if asks else ''}."


_WAYS = {
    "inside": "inside another system", "beside": "beside another system", "upgrade": "by an upgrade",
}  # fmt: skip


def _asks(review: ReleaseReview) -> str:
    figures = review.whole.figures[0]
    if not {"decisions", "screens"} <= figures.keys() or not figures["decisions"].least:
        return ""
    decisions = show_spread(figures["decisions"], "decisions")
    screens = show_spread(figures["screens"], "screens")
    return (
        f" asks for {decisions} {'decision' if decisions == '1' else 'decisions'}"
        f" on {screens} {'screen' if screens == '1' else 'screens'}"
    )


def _highlights(review: ReleaseReview) -> Iterator[str]:
    """Remarks that were to be told first."""
    notes = [each.text for run in review.runs for each in run.notes if each.tell == "first" and not each.heard]
    for text in list(dict.fromkeys(notes))[:2]:
        yield f"{text.rstrip('.')}."


# -- trouble and trials ------------------------------------------------------------------------------------------------


def _trouble(review: ReleaseReview) -> Iterator[str]:
    rows = [row for row in review.whole.issues if row.area != RECORDING]
    grave = [row for row in rows if row.severity in _GRAVE]
    for row in grave[:2]:
        yield _issue(row)
    if grave[2:]:
        yield f"There {'is' if len(grave) == 3 else 'are'} {counted(len(grave) - 2, 'more issue')} as grave."
    others = [row for row in rows if row not in grave]
    if others:
        more = "Also noted" if grave else "No grave trouble was noted"
        named = few([_plain(row.summary) for row in others])
        yield f"{more}: {named}." if grave else f"{more}, but {named}."
    elif not rows and any(run.is_told for run in review.runs) and Part.INSTALLATION in review.covers:
        yield "No trouble was noted."


def _issue(row: IssueRow) -> str:
    rigs = list(dict.fromkeys(rig for cell in row.cells for rig in cell.rigs))
    where = (
        f"On {listed(list(map(on_rig, rigs)))} only: "
        if row.only_there
        else f"On {row.only} only: "
        if row.only
        else ""
    )
    cell = row.cells[0]
    often = f", {cell.seen} of {cell.passed} runs" if cell.passed > 1 and cell.seen < cell.passed else ""
    helped = f"; what helped: {row.ways_round[0].rstrip('.')}" if row.ways_round else ""
    summary = _plain(row.summary) if where else row.summary.rstrip(".")
    return f"{where}{summary} ({row.severity}{often}){helped}."


def _plain(summary: str) -> str:
    """A summary within a sentence: its first letter small, unless the word is a name or an abbreviation."""
    text = summary.rstrip(".")
    first = text.split(" ", 1)[0]
    return text[:1].lower() + text[1:] if first[1:].islower() and first in _ARTICLES else text


_ARTICLES = frozenset(
    {"The", "A", "An", "No", "Nothing", "It", "This", "There", "Some", "One", "Both", "All", "Every", "Two", "Its"}
)


def _trials(review: ReleaseReview) -> Iterator[str]:
    by_result: dict[CheckResult, list[str]] = {}
    for row in review.whole.checks:
        name = f"{row.name} with {row.condition}" if row.condition else row.name
        by_result.setdefault(row.results[0], []).append(name)
    parts = []
    for result, one, many in (
        (CheckResult.FAIL, "fails", "fail"), (CheckResult.PARTLY, "works only partly", "work only partly"),
        (CheckResult.MIXED, "works in some runs only", "work in some runs only"), (CheckResult.PASS, "works", "work"),
    ):  # fmt: skip
        if names := by_result.get(result):
            named = listed(names) if len(names) <= _MOST_TRIALS else few(names)
            parts.append(f"{named} {one if len(names) == 1 else many}")
    well = parts.pop() if CheckResult.PASS in by_result else ""
    text = "; ".join(part for part in (listed(parts), well) if part)
    if text:
        yield f"Of what was tried, {text}."


# -- figures, remarks, verdicts ----------------------------------------------------------------------------------------

_TOLD = ("memory", "disk used")


def _weight(review: ReleaseReview) -> Iterator[str]:
    """What it takes at rest, in the state that most was read in."""
    for state in ("installed", "updated", "live"):
        rows = {
            row.name: row
            for row in review.whole.readings
            if row.name in _TOLD and row.state == state and row.load in {None, "rest"} and row.values[0] is not None
        }
        if rows:
            takes = {name: _amount(row.values[0], row.unit, name) for name, row in rows.items()}
            words = [f"{takes['memory']} of memory"] if "memory" in takes else []
            file = review.whole.times[0].swap_file
            swap = f", {show_size(file)} of it a swap file" if file and state != "live" else ""
            words += [f"{takes['disk used']} of the disk{swap}"] if "disk used" in takes else []
            where = {"live": "In the live session", "installed": "Installed", "updated": "Updated"}[state]
            yield f"{where}, it takes {listed(words)}."
            return


def _amount(value: object, unit: str, name: str) -> str:
    return show_figure(value, unit, name)  # type: ignore[arg-type]


def _remarks(review: ReleaseReview) -> Iterator[str]:
    remarks: list[Remark] = [each for run in review.runs for each in run.remarks if each.heard is None]
    ordered = highlights_first(remarks, lambda each: each.tell)
    liked = [each.thing for each in ordered if each.liked]
    disliked = [each.thing for each in ordered if not each.liked]
    if liked or disliked:
        parts = [f"liked: {listed(liked[:_MOST_TRIALS])}"] if liked else []
        parts += [f"disliked: {listed(disliked[:_MOST_TRIALS])}"] if disliked else []
        text = "; ".join(parts)
        yield f"{text[0].upper()}{text[1:]}."


def _same_as(review: ReleaseReview) -> Iterator[str]:
    """That all which is not said is as in another release."""
    for each in [each for run in review.runs for each in run.same_as if each.heard is None][:1]:
        but = f" but {listed(each.but)}" if each.but else ""
        yield f"By what was said, all else{but} is as in {each.release}."


def _ratings(review: ReleaseReview) -> Iterator[str]:
    """Ratings that stand alone; the score of a verdict stands beside it."""
    rows = [row for row in review.whole.ratings if row.name != SCORE and row.parts[0] is not None]
    told = [f"{row.name} {row.show(part)}" for row in rows if (part := row.parts[0]) is not None]
    if told:
        yield f"Rated: {listed(told[:_MOST_TRIALS])}."


def _verdicts(review: ReleaseReview) -> Iterator[str]:
    for verdict in review.whole.verdicts[-1:]:
        whom = f" (for {listed(verdict.whom)})" if verdict.whom else ""
        score = f", {verdict.score}" if verdict.score else ""
        yield f"Verdict{whom}: {verdict.text.rstrip('.')}{score}."


def _open_questions(review: ReleaseReview) -> Iterator[str]:
    asked = [each.text.rstrip("?") + "?" for run in review.runs for each in run.questions if each.answer is None]
    if asked:
        yield f"Still open: {' '.join(asked)}"


# -- beside others -----------------------------------------------------------------------------------------------------


def beside_told(each: SaidBeside) -> str:
    """A comparison that was said, with the figures that bear it out or do not."""
    said = each.said
    words = "the same as" if said.way == "same" else f"{said.way} than"
    text = f"{said.thing}: {words} in {said.release}, as said"
    text += f" ({said.why})" if said.why else ""
    if each.before is None or each.after is None:
        return text
    figures = (
        f"{show_figure(each.after, each.unit, said.thing)} against {show_figure(each.before, each.unit, said.thing)}"
    )
    verdict = {True: "measured too", False: "the figures say otherwise", None: "measured"}[each.agrees]
    return f"{text}; {verdict}: {figures}"


def hearsay(review: ReleaseReview) -> list[str]:
    """What was only heard, which is in no figure."""
    told = []
    for run in review.runs:
        for fact in run.facts:
            told += [f"{fact.name}: {fact.value} ({fact.heard})"] if fact.heard else []
        for reading in run.readings:
            told += [f"{reading.name}: {amount(reading)} ({reading.heard})"] if reading.heard else []
        for check in run.checks:
            told += [f"{check.name}: {check.result} ({check.heard})"] if check.heard else []
        for note in run.notes:
            told += [f"{note.text} ({note.heard})"] if note.heard else []
        for issue in run.issues:
            told += [f"{issue.summary} ({issue.heard})"] if issue.heard else []
    return told


def method_lines(review: ReleaseReview) -> Sequence[str]:
    """How it was reviewed: which runs, on what, when, by whom, what they cover, and how they ended."""
    lines = []
    for run in review.runs:
        day = run.begun.strftime("%Y-%m-%d") if run.begun else "on an unknown day"
        covers = listed([str(part) for part in run.covers]) or "nothing of the way"
        who = f", by {run.reviewer}" if run.reviewer else ""
        way = "" if run.way == "fresh" else f", {run.way}"
        source = f", taken from {run.source}" if run.source else ""
        lines.append(
            f"{run.run}: {day}, {on_rig(run.rig)}{way}; covers {covers}; {run.ended or 'still open'}{who}{source}"
        )
    return lines
