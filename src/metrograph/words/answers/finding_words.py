"""Says findings in sentences: one idea each, the thing or the release first, figures with their unit, names."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from metrograph.findings.finding_records import (
    Finding,
    IssueOutcome,
    PresetChange,
    ScreenList,
    Subject,
    TrialOutcome,
    ValueChange,
    Way,
)
from metrograph.findings.of_flow import SCORE
from metrograph.ledgers.comparison import Comparison
from metrograph.ledgers.issues import IssueStatus
from metrograph.words.answers.difference_words import sizes, times
from metrograph.words.grammar import are, listed, number
from metrograph.words.names import on_rig

_MOST_NAMED = 4  # things that are named in one sentence


class Told(NamedTuple):
    """A sentence with the findings that it tells."""

    findings: tuple[Finding, ...]
    text: str


def sentences(findings: Sequence[Finding], comparison: Comparison) -> list[Told]:
    """What is found of two releases, a sentence for each idea, in the order of the findings."""
    told = [Told(of, _sentence(_TELL[_kind_of(of[0])](of, comparison), of[0].of)) for of in _ideas(findings)]
    return [each for each in told if each.text != "."]


def of_trouble_alone(findings: Sequence[Finding]) -> list[Told]:
    """What is found of trouble and trials, a sentence for each idea: no comparison is needed to tell these."""
    tell = {str(Subject.ISSUE): _trouble, str(Subject.TRIAL): _trials}
    return [Told(of, _sentence(tell[_kind_of(of[0])](of, None), of[0].of)) for of in _ideas(findings)]


def _ideas(findings: Sequence[Finding]) -> list[tuple[Finding, ...]]:
    """Findings that are told in one sentence together, in the order of the first of each."""
    groups: dict[object, list[Finding]] = {}
    for place, each in enumerate(findings):
        groups.setdefault(_idea(each, place), []).append(each)
    return [tuple(of) for of in groups.values()]


def _kind_of(finding: Finding) -> str:
    if finding.what in {Subject.READING, Subject.DISK_USED}:
        return "sizes"
    if finding.what in {Subject.SCREENS_NEW, Subject.SCREENS_GONE}:
        return "screens"
    if finding.what in {Subject.QUESTIONS_NEW, Subject.QUESTIONS_GONE}:
        return "questions"
    return str(finding.what)


def _idea(finding: Finding, place: int) -> object:
    """What findings of one sentence have in common: trouble of one severity that went the same way, trials that did."""
    kind, detail = _kind_of(finding), finding.detail
    if isinstance(detail, IssueOutcome):
        together = not detail.rigs and (detail.seen, detail.seen_before) == (detail.passed, detail.passed_before)
        alone = place if not together else None
        return (
            kind,
            detail.status,
            finding.way,
            detail.severity,
            detail.shared_with,
            detail.last_seen,
            (detail.tried_before, detail.known_before),
            alone,
        )
    if isinstance(detail, TrialOutcome):
        return kind, finding.way
    if kind == Subject.CROSSED and isinstance(finding.detail, ScreenList):
        return kind, finding.detail.late
    return kind


# -- trouble and trials ------------------------------------------------------------------------------------------------


def _trouble(findings: Sequence[Finding], _: Comparison | None) -> str:
    first = findings[0]
    assert isinstance(first.detail, IssueOutcome)  # noqa: S101 - by what is told here
    detail, earlier = first.detail, first.of[0]
    things = listed([plain(each.thing) for each in findings])
    kind = _kind(detail, len(findings))
    if detail.across and first.way is Way.OTHER:
        return f"both have {kind}: {_where(detail)}{things}"
    if detail.across:
        having, other = first.of[::-1] if first.way is Way.WORSE else first.of
        return f"{having} has {kind} that {other} does not show: {_where(detail)}{things}"
    if detail.status is IssueStatus.GONE:
        return _cured(findings, detail, things)
    if detail.status is IssueStatus.NOT_RETESTED:
        was = "were" if findings[1:] else "was"
        return f"{kind} of {detail.last_seen} {was} not tried again: {_where(detail)}{things}"
    return f"{_where(detail)}{things} ({_bracket(detail, earlier, len(findings))})"


def _kind(detail: IssueOutcome, count: int) -> str:
    words = {"blocker": ("a blocker", "blockers"), None: ("a fault", "faults")}
    one, many = words.get(detail.severity, (f"a {detail.severity} fault", f"{detail.severity} faults"))
    return one if count == 1 else many


def _where(detail: IssueOutcome) -> str:
    """The rigs that it is bound to."""
    if not detail.rigs:
        return ""
    return f"on {listed([on_rig(rig) for rig in detail.rigs])}{' only' if detail.only_there else ''}, "


def _bracket(detail: IssueOutcome, earlier: str, count: int) -> str:
    """How bad it is, how often it came, and how that stands to the release before."""
    often = count == 1 and 0 < detail.seen < detail.passed
    said = [detail.severity or ""]
    said[0] = ", ".join(
        filter(None, (said[0], f"{number(detail.seen)} of {number(detail.passed)} runs" if often else ""))
    )
    return "; ".join(filter(None, (*said, _against(detail, earlier))))


def _against(detail: IssueOutcome, earlier: str) -> str:
    """How trouble stands to the releases before, of which only those are named that somebody looked for it in."""
    if detail.status is IssueStatus.STILL_THERE:
        return f"as in {detail.last_seen}"
    if detail.status is IssueStatus.BACK_AGAIN:
        return f"as in {detail.last_seen}, and gone in between"
    if detail.shared_with:
        return f"as in {detail.shared_with}"
    if not earlier or detail.tried_before:
        return f"not in {earlier}" if earlier else ""
    if detail.known_before:
        return "new"
    return f"{earlier} was not tried there" if detail.rigs else f"not looked for in {earlier}"


def _cured(findings: Sequence[Finding], detail: IssueOutcome, things: str) -> str:
    """That it did not show again; cured is only what showed whenever somebody came by."""
    if detail.seen_before < detail.passed_before:
        now = f"in the {number(detail.passed)} runs made" if detail.passed > 1 else "in the one run made"
        before = f"{number(detail.seen_before)} of {number(detail.passed_before)}"
        return f"{_kind(detail, 1)} of {before} runs before did not show {now}: {things}"
    return f"cured {are(findings)} {_kind(detail, len(findings))} of {detail.last_seen}: {_where(detail)}{things}"


_BEFORE = {"pass": "which worked in {}", "fail": "which failed in {}", "partly": "which worked partly in {}",
           "mixed": "which worked in some runs of {}"}  # fmt: skip
_NOW = {"pass": ("works", "work"), "fail": ("fails", "fail"), "partly": ("works only partly", "work only partly"),
        "mixed": ("works in some runs only", "work in some runs only")}  # fmt: skip


def _trials(findings: Sequence[Finding], _: Comparison | None) -> str:
    """How trials came out that got worse, or better, those together that did the same."""
    earlier, alike = findings[0].of[0], dict[object, list[tuple[str, TrialOutcome]]]()
    for each in findings:
        assert isinstance(each.detail, TrialOutcome)  # noqa: S101 - by what is told here
        name = f"{each.thing} with {each.detail.under}" if each.detail.under else each.thing
        alike.setdefault((each.detail.before, each.detail.after, each.detail.again), []).append((name, each.detail))
    parts = []
    for trials in alike.values():
        names, detail = listed([name for name, _ in trials]), trials[0][1]
        now = _NOW[detail.after][len(trials) > 1] + (f" in {findings[0].of[1]}" if detail.across else "")
        if detail.again:
            parts.append(f"{names} {now} again")
        else:
            before = _BEFORE[detail.before].format(earlier) if detail.before else f"not tried in {earlier}"
            before = f"in {earlier} {detail.before_under} only" if detail.before_under else before
            parts.append(f"{names}, {before}, {now}" if earlier else f"{names} {now}")
    said = (
        f": {plain(findings[0].detail.detail)}"
        if len(findings) == 1 and isinstance(findings[0].detail, TrialOutcome)
        else ""
    )
    return ", and ".join(parts) + said.rstrip(": ")


# -- screens, answers, software, looks ---------------------------------------------------------------------------------


def _presets(findings: Sequence[Finding], _: Comparison) -> str:
    parts = []
    for each in findings[:_MOST_NAMED]:
        assert isinstance(each.detail, PresetChange)  # noqa: S101 - by what is told here
        again = f" as in {each.detail.as_in}" if each.detail.as_in else ""
        parts.append(f"for {each.thing}, {each.detail.after} is now pre-set{again} instead of {each.detail.before}")
    more = [each.thing for each in findings[_MOST_NAMED:]]
    return f"{listed(parts)}{f', and other values for {listed(more)}' if more else ''}"


def _crossed(findings: Sequence[Finding], _: Comparison) -> str:
    screens = _titles(findings[0])
    late = isinstance(findings[0].detail, ScreenList) and findings[0].detail.late
    return f"{_quoted(screens)} {are(screens)} now asked {'after' if late else 'before'} the restart"


def _screens(findings: Sequence[Finding], _: Comparison) -> str:
    parts = []
    for subject, word in ((Subject.SCREENS_GONE, "gone"), (Subject.SCREENS_NEW, "new")):
        titles = [title for each in findings if each.what is subject for title in _titles(each)]
        parts += [f"{_quoted(titles)} {are(titles)} {word}"] if titles else []
    return ", and ".join(parts)


def _questions(findings: Sequence[Finding], _: Comparison) -> str:
    parts = []
    for subject, word in ((Subject.QUESTIONS_NEW, "newly asked for"), (Subject.QUESTIONS_GONE, "no longer asked for")):
        keys = [title for each in findings if each.what is subject for title in _titles(each)]
        parts += [f"{_named(keys)} {are(keys)} {word}"] if keys else []
    return ", and ".join(parts)


def _software(findings: Sequence[Finding], comparison: Comparison) -> str:
    changes = {each.key: each.what.value for each in comparison.changes_between(findings[0].of) if each.key}
    parts = []
    for what, words in (("software-gone", "no longer on board"), ("software-new", "on board now")):
        names = [each.thing for each in findings if changes.get(each.thing) == what]
        parts += [f"{_named(names)} {are(names)} {words}"] if names else []
    return ", and ".join(parts)


def _ratings(findings: Sequence[Finding], _: Comparison) -> str:
    return listed(
        [_rated(each.thing, each.detail) for each in findings if isinstance(each.detail, ValueChange)][:_MOST_NAMED]
    )


def _rated(thing: str, detail: ValueChange) -> str:
    if thing.startswith(SCORE):
        return f"the {thing} is {detail.after}, {detail.before} before"
    return f"{thing} {'are' if thing.endswith('s') else 'is'} rated {detail.after}, {detail.before} before"


def _same_installer(findings: Sequence[Finding], _: Comparison) -> str:
    earlier, later = findings[0].of
    return f"{later} has the installer of {earlier}, screen by screen"


_TELL = {
    "issue": _trouble, "trial": _trials, "time": times, "sizes": sizes, "pre-set": _presets,
    str(Subject.CROSSED): _crossed, "screens": _screens, "questions": _questions, "software": _software,
    "rating": _ratings, str(Subject.SAME_INSTALLER): _same_installer,
}  # fmt: skip


# -- words -------------------------------------------------------------------------------------------------------------

_ORDINARY = frozenset({"The", "A", "An", "No", "It", "There", "This", "When", "On", "In", "After", "Every", "Nothing"})


def plain(summary: str) -> str:
    """A summary within a sentence: its first letter small where that is no name, and without its end."""
    words = summary.strip().rstrip(".")
    first = words.partition(" ")[0]
    return words[:1].lower() + words[1:] if first in _ORDINARY or (first.istitle() and len(first) > 1) else words


def _sentence(text: str, releases: tuple[str, str]) -> str:
    """A sentence with its capital and its end; an id that it begins with is a name, and stays as it is."""
    is_name = any(name and text.startswith(name) for name in releases)
    return f"{text if is_name else text[:1].upper() + text[1:]}".rstrip(".") + "."


def _titles(finding: Finding) -> tuple[str, ...]:
    return finding.detail.titles if isinstance(finding.detail, ScreenList) else ()


def _quoted(titles: Sequence[str]) -> str:
    return _named([f"“{title}”" for title in titles])


def _named(names: Iterable[str]) -> str:
    """All of some names, where they are few; else the first, and how many there are besides."""
    every = list(names)
    if len(every) <= _MOST_NAMED + 1:
        return listed(every)
    return listed([*every[:_MOST_NAMED], f"{number(len(every) - _MOST_NAMED)} others"])
