"""Says in plain sentences what changed from one release to another, or from a plan to the run that follows it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from metrograph.compare.flow_records import Change, LogPlace, Unknown, What
from metrograph.log.escapes import split_list
from metrograph.log.quantities.times import show_duration
from metrograph.words.grammar import listed, number


def sentence(change: Change, across: bool = False) -> str:
    """One change, as a person would tell it.

    across: whether the two continue different lines, so that nothing came before or after.
    """
    if across and change.what in _ACROSS:
        return _tell(change, _ACROSS[change.what])
    text = _tell(change, _SENTENCES[change.what])
    return f"{text.removesuffix('.')}, as it was in {change.as_in}." if change.as_in else text


def deviation(change: Change) -> str:
    """One change from a plan to the run that follows it, as it is told while the run is going on."""
    return _tell(change, _DEVIATIONS.get(change.what) or _SENTENCES[change.what])


def rests_on(change: Change) -> str:
    """The cues that a change rests on: `` [8.0, run 2, 13:33; 9.0 beta, run 2, 14:44]``; empty without any."""
    ends = ((change.earlier, change.before_at), (change.later, change.after_at))
    known = [_when(release, when) for release, when in ends if when is not None]
    return f" [{'; '.join(known)}]" if known else ""


def not_known(unknown: Iterable[Unknown]) -> list[str]:
    """What one of two releases has and nobody can say of the other, a sentence for each reason."""
    by_reason: dict[tuple[str, str], list[Unknown]] = {}
    for each in unknown:
        by_reason.setdefault((each.why, each.release), []).append(each)
    return [f"{why.capitalize()} in {release}: {listed(_kinds(of))}." for (why, release), of in by_reason.items()]


_MOST_PLACES = 3  # screens whose unnoted answers are named one by one


def _kinds(unknown: Sequence[Unknown]) -> list[str]:
    """Answers by their screens, as far as these are few; then screens, then phases."""
    places: dict[str, list[str]] = {}
    for each in unknown:
        if each.what == "question":
            places.setdefault(each.on or "", []).append(each.name)
    if len(places) > _MOST_PLACES:
        answers = [f"the answers on {number(len(places))} screens"]
    else:
        answers = [f"{listed(names)}{f' on “{place}”' if place else ''}" for place, names in places.items()]
    screens = [f"“{each.name}”" for each in unknown if each.what == "screen"]
    return [*answers, *screens, *(f"the phase {each.name}" for each in unknown if each.what == "phase")]


def _when(release: str, when: LogPlace) -> str:
    number = when.run.removeprefix(f"{release}-")
    run = f"{release}, run {number}" if number.isdecimal() else when.run
    return f"{run}, {show_duration(when.at)}"


def _tell(change: Change, words: str) -> str:
    return words.format(
        title=change.title,
        kind=change.kind,
        key=change.key,
        before=change.before if change.before is not None else "nothing",
        after=change.after if change.after is not None else "nothing",
        offers=_offers(change),
        answer=_answer(change),
        parts=_quoted(change.after),
        wholes=_quoted(change.before),
        earlier=change.earlier,
        later=change.later,
        under=_under(change),
        now=_NOW.get(change.after or "", f"came out {change.after}"),
        then=_THEN.get(change.before or "", f"came out {change.before}"),
    )


_NOW = {"pass": "works", "fail": "fails", "partly": "works only partly"}
_THEN = {"pass": "worked", "fail": "failed", "partly": "worked partly"}


_DEVIATIONS = {
    What.SCREEN_NEW: "The screen “{title}” is not in the plan.",
    What.SCREEN_GONE: "The screen “{title}” was skipped.",
    What.SCREEN_RENAMED: "“{before}” is called “{after}” here.",
    What.SCREEN_MOVED: "“{title}” comes at another place: {after}; in the plan: {before}.",
    What.SCREEN_CROSSED: "“{title}” comes on the other side of the restart: {after}; in the plan: {before}.",
    What.SCREEN_SPLIT: "“{title}” of the plan is split here into {parts}.",
    What.SCREEN_MERGED: "{wholes} of the plan are one screen here, “{title}”.",
    What.QUESTION_NEW: "“{title}” asks for {key}{answer}; in the plan it does not.",
    What.QUESTION_GONE: "On “{title}” nothing was noted for {key}{answer}.",
    What.QUESTION_MOVED: "{key} is asked on “{after}”; in the plan on “{before}”.",
    What.PRESET_CHANGED: "{key} is pre-set differently: {after}, not {before}.",
    What.CHOICE_CHANGED: "{key} was answered {after}, not {before}.",
    What.OFFER_CHANGED: "{key} {offers}.",
    What.TYPING_CHANGED: "{key} was {after}, not {before}.",
    What.CHECK_CHANGED: "The trial {key} came out {after}, not {before}.",
    What.LAYOUT_CHANGED: "The disk is laid out differently: {key} is {after}, not {before}.",
}
_SENTENCES = {
    What.OVERVIEW_NEW: "The installer is now one overview, “{title}”, with doors to the other screens.",
    What.OVERVIEW_GONE: "The installer is no longer one overview; it was “{title}”.",
    What.SCREEN_NEW: "New screen “{title}” ({kind}).",
    What.SCREEN_GONE: "The screen “{title}” ({kind}) is gone.",
    What.SCREEN_RENAMED: "The {kind} screen “{before}” is now called “{after}”.",
    What.SCREEN_MOVED: "“{title}” has moved: it stood in {before}; now it stands in {after}.",
    What.SCREEN_CROSSED: "“{title}” has moved across the restart: it stood in {before}; now it stands in {after}.",
    What.SCREEN_SPLIT: "“{title}” is now split into {parts}.",
    What.SCREEN_MERGED: "{wholes} are now one screen, “{title}”.",
    What.QUESTION_NEW: "“{title}” now asks for {key}{answer}.",
    What.QUESTION_GONE: "“{title}” no longer asks for {key}{answer}.",
    What.QUESTION_MOVED: "{key} is now asked on “{after}”; it was on “{before}”.",
    What.PRESET_CHANGED: "On “{title}”, {key} is no longer pre-set to {before} but to {after}.",
    What.CHOICE_CHANGED: "On “{title}”, {key} was answered {after}; before it was {before}.",
    What.OFFER_CHANGED: "On “{title}”, {key} {offers}.",
    What.TYPING_CHANGED: "On “{title}”, {key} was {after}; before it was {before}.",
    What.CHECK_CHANGED: "The trial “{key}”{under} {now}; in {earlier} it {then}.",
    What.CHECK_FIRST: "The trial “{key}”{under} {now}; in {earlier} it was not made.",
    What.SOFTWARE_NEW: "{key}{under} is on board now{answer}.",
    What.SOFTWARE_GONE: "{key}{under} is no longer on board.",
    What.SOFTWARE_CHANGED: "{key}{under} is now {after}; it was {before}.",
    What.RATING_CHANGED: "Rated {after}: {key} ({before} before).",
    What.SCORE_CHANGED: "The score{under} is now {after}; it was {before}.",
    What.LAYOUT_CHANGED: "On the disk, {key} is now {after}; it was {before}.",
    What.PHASE_NEW: "There is a phase {key} now.",
    What.PHASE_GONE: "There is no phase {key} any more.",
    What.HANDS_CHANGED: "In the phase {key} it is now the {after} who works; it was the {before}.",
}

_ACROSS = {
    What.OVERVIEW_NEW: "{later} is one overview, “{title}”, with doors to the other screens; {earlier} is not.",
    What.OVERVIEW_GONE: "{earlier} is one overview, “{title}”, with doors to the other screens; {later} is not.",
    What.SCREEN_RENAMED: "The {kind} screen is called “{before}” in {earlier}, “{after}” in {later}.",
    What.SCREEN_MOVED: "“{title}” stands elsewhere: in {earlier} in {before}; in {later} in {after}.",
    What.SCREEN_CROSSED: "“{title}” stands across the restart: in {earlier} in {before}; in {later} in {after}.",
    What.SCREEN_SPLIT: "What {earlier} has on “{title}”, {later} has on {parts}.",
    What.SCREEN_MERGED: "What {earlier} has on {wholes}, {later} has on “{title}”.",
    What.QUESTION_MOVED: "{key} is asked on “{before}” in {earlier}, on “{after}” in {later}.",
    What.PRESET_CHANGED: "On “{title}”, {key} is pre-set to {before} in {earlier}, to {after} in {later}.",
    What.CHOICE_CHANGED: "On “{title}”, {key} was answered {before} in {earlier}, {after} in {later}.",
    What.OFFER_CHANGED: "On “{title}”, {key} offers {before} in {earlier}, {after} in {later}.",
    What.TYPING_CHANGED: "On “{title}”, {key} was {before} in {earlier}, {after} in {later}.",
    What.CHECK_CHANGED: "The trial “{key}”{under} came out {before} in {earlier}, {after} in {later}.",
    What.LAYOUT_CHANGED: "On the disk, {key} is {before} in {earlier}, {after} in {later}.",
    What.HANDS_CHANGED: "In the phase {key} it is the {before} who works in {earlier}, the {after} in {later}.",
    What.SOFTWARE_NEW: "{key}{under} is on board in {later}{answer}; not in {earlier}.",
    What.SOFTWARE_GONE: "{key}{under} is on board in {earlier}; not in {later}.",
    What.SOFTWARE_CHANGED: "{key}{under} is {before} in {earlier}, {after} in {later}.",
    What.RATING_CHANGED: "Rated {before} in {earlier}, {after} in {later}: {key}.",
    What.SCORE_CHANGED: "The score{under} is {before} in {earlier}, {after} in {later}.",
}
"""Changes between releases of different lines, of which none is the earlier."""


def _quoted(titles: str | None) -> str:
    """A comma list as titles: ``“Place” and “Keyboard”``."""
    quoted = [f"“{title}”" for title in split_list(titles or "")]
    return " and ".join([", ".join(quoted[:-1]), quoted[-1]] if len(quoted) > 1 else quoted)


def _offers(change: Change) -> str:
    before, after = split_list(change.before or ""), split_list(change.after or "")
    old, new = frozenset(before), frozenset(after)  # a list of time zones, or of packages, has thousands
    more = [item for item in after if item not in old]
    less = [item for item in before if item not in new]
    halves = (("now offers", more), ("no longer offers", less))
    return " and ".join(f"{word} {', '.join(items)}" for word, items in halves if items)


def _under(change: Change) -> str:
    """The condition of a trial, the group of software, or whom a score is for."""
    words = {What.CHECK_CHANGED: " with {}", What.CHECK_FIRST: " with {}", What.SCORE_CHANGED: " for {}"}.get(
        change.what, " ({})"
    )
    return words.format(change.under) if change.under else ""


def _answer(change: Change) -> str:
    """What stood at a question that came or went; nothing when it was typed and not noted, or says no more than yes."""
    value = change.after or change.before
    if change.what in {What.SOFTWARE_NEW, What.SOFTWARE_GONE} and value in {"yes", "none"}:
        return ""
    return f" ({value})" if value else ""
