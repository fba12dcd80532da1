"""Answers what a comparison comes to in a few plain sentences, made from records by rules, also above its figures."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from metrograph.compare.contrasts import Contrast
from metrograph.compare.flow_records import Change, What
from metrograph.compare.inference import Confidence
from metrograph.ledgers.comparison import Comparison
from metrograph.ledgers.issues import IssueRow, IssueStatus
from metrograph.measures.selection import LeftOut, LeftOutReason
from metrograph.words.caveat_words import difference_of
from metrograph.words.figure_words import SAME, counted
from metrograph.words.grammar import are, few, listed, number
from metrograph.words.names import on_rig

MOST = 5
"""Sentences that an answer has."""

_REACHED = {
    "installed": "is installed",
    "desktop": "reaches the desktop",
    "updated": "is fully updated",
    "on-clock": "is over",
}
"""What became of it when, in the order in which it comes."""


def answer(comparison: Comparison, earlier: str, later: str) -> tuple[str, ...]:
    """What a reader should know of two releases, what matters most first, and one reason for care."""
    pair, across = (earlier, later), is_across(comparison, (earlier, later))
    changes = [each for each in comparison.changes if (each.earlier, each.later) == pair]
    changes = changes or [each for each in comparison.since_baseline if (each.earlier, each.later) == pair]
    told = [
        *times(comparison, pair),
        *_worse(comparison, pair, changes),
        *_screens(changes, pair if across else None),
        *_questions(changes),
        *(
            []
            if is_across(comparison, pair)
            else [*_better(comparison, pair, changes), *_not_retested(comparison, later)]
        ),
    ]
    told = told[: MOST - 1] or [f"Nothing that was noted differs between {earlier} and {later}."]
    return (*told, *_care(comparison, pair))


def times(comparison: Comparison, pair: tuple[str, str]) -> Iterator[str]:
    """When the later of two releases is installed and updated, against the earlier."""
    figures = [comparison.figures[comparison.releases.index(name)] for name in pair]
    # Where only one was followed until it was up to date, the other only stopped earlier, and was not quicker.
    unlike = ("updated" in figures[0]) != ("updated" in figures[1])
    contrasts = [
        each
        for each in comparison.contrasts
        if (each.earlier, each.later) == pair and not (unlike and each.name == "on-clock")
    ]
    return _times(contrasts, *pair)


def screens(comparison: Comparison, pair: tuple[str, str]) -> Iterator[str]:
    """Which screens moved, came and went from one release to another."""
    changes = [each for each in (*comparison.changes, *comparison.since_baseline) if (each.earlier, each.later) == pair]
    return _screens(changes, pair if is_across(comparison, pair) else None)


def care(comparison: Comparison, pair: tuple[str, str]) -> Iterator[str]:
    """The one reason for care that matters most."""
    return _care(comparison, pair)


def is_across(comparison: Comparison, pair: tuple[str, str]) -> bool:
    """Whether two releases continue different lines, so that neither came before the other."""
    one, other = (comparison.lines[comparison.releases.index(name)] for name in pair)
    return one != other


# -- times -------------------------------------------------------------------------------------------------------------


def _times(contrasts: Sequence[Contrast], earlier: str, later: str) -> Iterator[str]:
    """When it was installed and updated, as far as a difference is more than chance."""
    known = {each.name: each for each in contrasts if each.name in _REACHED and difference_of(each) != SAME}
    sure = [known[name] for name in _REACHED if name in known and known[name].confidence is not Confidence.UNKNOWN]
    # The desktop says no more than the installation did, and the end no more than the update.
    milestones = (("installed", "desktop"), ("updated", "on-clock"))
    picked = [next((each for each in sure if each.name in names), None) for names in milestones]
    told = [each for each in picked if each is not None]
    if not told:
        yield from _by_chance(known, earlier, later)
        return
    first, *rest = told
    text = f"{later} {_when(first)} than {earlier}"
    for other in rest:
        text += f"{', but' if _is_sooner(first) != _is_sooner(other) else ' and'} {_when(other).removeprefix('is ')}"
    yield f"{text}."


def _when(contrast: Contrast) -> str:
    verb = _REACHED[contrast.name]
    if contrast.confidence is not Confidence.CLEAR:
        verb = verb.replace("is ", "is probably ", 1) if verb.startswith("is ") else f"probably {verb}"
    return f"{verb} {difference_of(contrast)}"


def _is_sooner(contrast: Contrast) -> bool:
    return contrast.after.median.low < contrast.before.median.low


def _by_chance(known: dict[str, Contrast], earlier: str, later: str) -> Iterator[str]:
    if known:
        name, contrast = next((name, known[name]) for name in ("desktop", "installed", *_REACHED) if name in known)
        yield f"{later} {_REACHED[name]} {difference_of(contrast)} than {earlier}, which may be chance."


# -- what changed ------------------------------------------------------------------------------------------------------


def _worse(comparison: Comparison, pair: tuple[str, str], changes: Sequence[Change]) -> Iterator[str]:
    """New trouble, trouble that is back, and trials that fail now."""
    rows = [row for status in (IssueStatus.NEW, IssueStatus.BACK_AGAIN) for row in _issues(comparison, pair[1], status)]
    known = [row for row in rows if row.tried_before]
    first = [row for row in rows if not row.tried_before]
    if is_across(comparison, pair):
        start, groups = f"{pair[1]} has", {"trouble of its own": rows}
    else:
        start, groups = "There is", {"new trouble": known, "trouble that no earlier run could have met": first}
    told = [_trouble(name, found) for name, found in groups.items() if found]
    if told:
        yield f"{start} {', and '.join(told)}."
    yield from _trials(changes, ("fail", "partly"))


def _trouble(start: str, rows: Sequence[IssueRow]) -> str:
    """The worst of these issues, and how many there are besides."""
    severity = f" ({rows[0].severity})" if rows[0].severity else ""
    more = f" and {counted(len(rows) - 1, 'other issue')}" if rows[1:] else ""
    return f"{start}: {_plain(rows[0].summary)}{severity}{more}"


_NOW = {"fail": "fails", "partly": "works only partly", "pass": "works"}
_BEFORE = {"pass": "worked", "fail": "failed", "partly": "worked partly"}


def _trials(changes: Sequence[Change], results: tuple[str, ...]) -> Iterator[str]:
    for result in results:
        found = [each for each in changes if each.what is What.CHECK_CHANGED and each.after == result]
        if found:
            first, others = found[0], [each.key or "" for each in found[1:]]
            before = _BEFORE.get(first.before or "", "was not tried")
            more = f", and so {'do' if others[1:] else 'does'} {listed(others)}" if others else ""
            yield f"The trial “{first.key}” {_NOW[result]}, in {first.earlier} it {before}{more}."


def _screens(changes: Sequence[Change], across: tuple[str, str] | None) -> Iterator[str]:
    """Screens that crossed the restart, went and came; across: the two, where neither came before the other."""
    crossed = [each for each in changes if each.what is What.SCREEN_CROSSED]
    if crossed:
        late = "after" if (crossed[0].after or "").startswith(("setup", "desktop", "tour", "update")) else "before"
        yield f"{_quoted(crossed)} {are(crossed)} now asked {late} the restart."
    gone = [each for each in changes if each.what is What.SCREEN_GONE]
    new = [each for each in changes if each.what is What.SCREEN_NEW]
    if across is not None:
        lacking = ((across[1], gone), (across[0], new))
        parts = [f"{name} has no {_quoted(screens, ' or ')}" for name, screens in lacking if screens]
    else:
        parts = [f"{_quoted(gone)} {are(gone)} gone"] if gone else []
        first = f"{len(new)} screens are new, the first of them “{new[0].title}”" if new[1:] else ""
        parts += [first or f"“{new[0].title}” is new"] if new else []
    if parts:
        text = ", and ".join(parts)
        yield f"{text[0].upper()}{text[1:]}."


def _questions(changes: Sequence[Change]) -> Iterator[str]:
    presets = [each for each in changes if each.what is What.PRESET_CHANGED]
    if presets:
        first, more = presets[0], presets[1:]
        again = f", as it was in {first.as_in}" if first.as_in else ""
        others = f", and {counted(len(more), 'more answer')} {are(more)} pre-set otherwise" if more else ""
        yield f"On “{first.title}”, {first.key} is pre-set to {first.after} instead of {first.before}{again}{others}."
    asked = [each for each in changes if each.what is What.QUESTION_NEW]
    dropped = [each for each in changes if each.what is What.QUESTION_GONE]
    if asked:
        yield _capital(f"{_keys(asked)} {are(asked)} newly asked.")
    if dropped:
        yield _capital(f"{_keys(dropped)} {are(dropped)} no longer asked.")


def _better(comparison: Comparison, pair: tuple[str, str], changes: Sequence[Change]) -> Iterator[str]:
    rows = _open_issues(comparison, pair[1], IssueStatus.GONE)
    if rows:
        more = f" and {counted(len(rows) - 1, 'other issue')}" if rows[1:] else ""
        yield f"Cured {are(rows)} “{rows[0].summary}”{more}."
    yield from _trials(changes, ("pass",))


def _not_retested(comparison: Comparison, later: str) -> Iterator[str]:
    rows = _open_issues(comparison, later, IssueStatus.NOT_RETESTED)
    if rows:
        more = f" or {counted(len(rows) - 1, 'other issue')}" if rows[1:] else ""
        yield f"Nobody tried again whether “{rows[0].summary}”{more} is cured."


def _open_issues(comparison: Comparison, later: str, status: IssueStatus) -> list[IssueRow]:
    """Those that stood until then: what was gone before is not cured once more, and nobody has to look for it."""
    place = comparison.releases.index(later)
    return [row for row in _issues(comparison, later, status) if row.is_open_before(place)]


def _issues(comparison: Comparison, later: str, status: IssueStatus) -> list[IssueRow]:
    place = comparison.releases.index(later)
    return [row for row in comparison.issues if row.cells[place].status is status]


# -- care --------------------------------------------------------------------------------------------------------------


def _care(comparison: Comparison, pair: tuple[str, str]) -> Iterator[str]:
    """The one reason for care that matters most."""
    of = dict(zip(comparison.releases, comparison.runs, strict=True))
    for name in pair:
        left = [out for out in comparison.selection.left_out if out.run in of[name]]
        if left:
            yield f"{_of_runs(len(left), len(of[name]), name)} {_why_left(left)}, and no figure counts {_it(left)}."
            return
    single = [name for name in pair if len(of[name]) == 1]
    if single:
        yield f"Of {listed(single)} there is one run only, so that a small difference may be chance."


def _of_runs(count: int, total: int, release: str) -> str:
    if count == total:
        return f"{release}'s only run" if total == 1 else f"All {number(total)} runs of {release}"
    return f"{number(count).capitalize()} of {release}'s {number(total)} runs"


def _why_left(left: Sequence[LeftOut]) -> str:
    was, first = "was" if len(left) == 1 else "were", left[0]
    if all(out.why is LeftOutReason.RIG for out in left):
        rigs = list(dict.fromkeys(out.rig for out in left))
        return f"{was} made on {listed([on_rig(rig) for rig in rigs])}"
    return f"{was} {first.why}" if all(out.why is first.why for out in left) else f"{was} not over or made elsewhere"


def _it(left: Sequence[LeftOut]) -> str:
    return "it" if len(left) == 1 else "them"


# -- words -------------------------------------------------------------------------------------------------------------

_ORDINARY = frozenset({"The", "A", "An", "No", "It", "There", "This", "When", "On", "In", "After", "Every", "Nothing"})


def _quoted(changes: Iterable[Change], last: str = " and ") -> str:
    return few([f"“{change.title}”" for change in changes], last)


def _keys(changes: Iterable[Change]) -> str:
    return few([f"“{change.key}”" for change in changes])


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _plain(summary: str) -> str:
    """A summary within a sentence: its first letter small where that is no name."""
    words = summary.rstrip(".")
    return words[:1].lower() + words[1:] if words.partition(" ")[0] in _ORDINARY else f"“{words}”"


_TIMES, _SCREENS = frozenset({"lanes", "lead"}), frozenset({"strip"})
_SENTENCES = 2


def above(chart: str, comparison: Comparison) -> tuple[str, ...]:
    """The answer that a figure of a comparison gives: of the latest release against the one before it."""
    if len(comparison.releases) < 2:
        return ()
    pair = comparison.releases[-2], comparison.releases[-1]
    if chart in _TIMES:
        return tuple(times(comparison, pair))[:_SENTENCES]
    if chart in _SCREENS:
        told = tuple(screens(comparison, pair))[:_SENTENCES]
        return told or (f"Nothing that was noted differs between the screens of {pair[0]} and {pair[1]}.",)
    return ()


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
    left = " ".join(care(comparison, (comparison.releases[0], comparison.releases[-1]))) if not rigs else ""
    counted = {out.run for out in comparison.selection.left_out}
    elsewhere = " Runs elsewhere are drawn, but not counted." if rigs and counted and chart == "lanes" else ""
    return f"{of}.{elsewhere} {left}".strip()
