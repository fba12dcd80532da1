"""Says in plain sentences what a comparison found."""

from __future__ import annotations

from metrograph.language.escapes import split_list
from metrograph.language.sizes import show_size
from metrograph.language.times import show_difference, show_duration
from metrograph.model.comparison import Change, Moment
from metrograph.model.contrasts import Contrast
from metrograph.model.figures import FIGURES


def sentence(change: Change) -> str:
    """One change, as a person would tell it."""
    said = _tell(change, _SENTENCES[change.what])
    return f"{said.removesuffix('.')}, as it was in {change.as_in}." if change.as_in else said


def rests_on(change: Change) -> str:
    """The cues that a change rests on, by run and moment: ``(3:49 in run 2 → 3:51 in run 4)``; empty without any."""
    known = [_moment(each) for each in (change.before_at, change.after_at) if each is not None]
    return f" ({' → '.join(known)})" if known else ""


def _moment(moment: Moment) -> str:
    number = moment.run.rpartition("-")[2]
    where = f" in run {number}" if number.isdecimal() else f" in {moment.run}"
    return show_duration(moment.at) + where


def deviation(change: Change) -> str:
    """One change from a plan to the run that follows it, as it is told while the run is going on."""
    return _tell(change, _DEVIATIONS.get(change.what) or _SENTENCES[change.what])


def conclusion(contrast: Contrast) -> str:
    """What may be concluded of one figure: ``to installed: −4:30 shorter (−6:29 to −2:26), clear``."""
    return f"{words_of(contrast)}: {difference_of(contrast)}{_interval(contrast)}, {contrast.verdict}"


def words_of(contrast: Contrast) -> str:
    """What the figure is."""
    return FIGURES[contrast.name].words if contrast.name in FIGURES else contrast.name


def difference_of(contrast: Contrast) -> str:
    """How much longer or shorter, more or less; between bounds where a cut leaves it open."""
    low, high = contrast.difference
    words = ("longer", "shorter") if contrast.unit == "s" else ("more", "less")
    if low is not None and low == high:
        return tell_difference(low, contrast.unit, words)
    return " to ".join("?" if bound is None else tell_difference(bound, contrast.unit) for bound in (low, high))


def tell_difference(value: float, unit: str, words: tuple[str, str] = ("", "")) -> str:
    """A difference with its sign, and the first of two words when it is above nothing, the second below."""
    if unit == "s":
        said, nothing = show_difference(value), round(value) == 0
    else:
        sign = "+" if value > 0 else "−"
        said, nothing = sign + show_size(round(abs(value))), value == 0
    if nothing:
        return "same"
    return f"{said} {words[0] if value > 0 else words[1]}".rstrip()


def _interval(contrast: Contrast) -> str:
    if contrast.interval is None:
        return ""
    low, high = (tell_difference(bound, contrast.unit) for bound in contrast.interval)
    return f" (between {low} and {high})"


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
    )


_DEVIATIONS = {
    "screen-new": "The screen “{title}” is not in the plan.",
    "screen-gone": "The screen “{title}” was skipped.",
    "screen-renamed": "“{before}” is called “{after}” here.",
    "screen-moved": "“{title}” comes at another place: {after}; in the plan: {before}.",
    "screen-crossed": "“{title}” comes on the other side of the restart: {after}; in the plan: {before}.",
    "screen-split": "“{title}” of the plan is split here into {parts}.",
    "screen-merged": "{wholes} of the plan are one screen here, “{title}”.",
    "question-new": "“{title}” asks for {key}{answer}; in the plan it does not.",
    "question-gone": "On “{title}” nothing was noted for {key}{answer}.",
    "question-moved": "{key} is asked on “{after}”; in the plan on “{before}”.",
    "preset-changed": "{key} is pre-set differently: {after}, not {before}.",
    "choice-changed": "{key} was answered {after}, not {before}.",
    "offer-changed": "{key} {offers}.",
    "typing-changed": "{key} was {after}, not {before}.",
    "check-changed": "The trial {key} came out {after}, not {before}.",
    "layout-changed": "The disk is laid out differently: {key} is {after}, not {before}.",
}
_SENTENCES: dict[str, str] = {
    "overview-new": "The installer is now one overview, “{title}”, with doors to the other screens.",
    "overview-gone": "The installer is no longer one overview; it was “{title}”.",
    "screen-new": "New screen “{title}” ({kind}).",
    "screen-gone": "The screen “{title}” ({kind}) is gone.",
    "screen-renamed": "The {kind} screen “{before}” is now called “{after}”.",
    "screen-moved": "“{title}” has moved: it stood in {before}; now it stands in {after}.",
    "screen-crossed": "“{title}” has moved across the restart: it stood in {before}; now it stands in {after}.",
    "screen-split": "“{title}” is now split into {parts}.",
    "screen-merged": "{wholes} are now one screen, “{title}”.",
    "question-new": "“{title}” now asks for {key}{answer}.",
    "question-gone": "“{title}” no longer asks for {key}{answer}.",
    "question-moved": "{key} is now asked on “{after}”; it was on “{before}”.",
    "preset-changed": "On “{title}”, {key} is no longer pre-set to {before} but to {after}.",
    "choice-changed": "On “{title}”, {key} was answered {after}; before it was {before}.",
    "offer-changed": "On “{title}”, {key} {offers}.",
    "typing-changed": "On “{title}”, {key} was {after}; before it was {before}.",
    "check-changed": "The trial “{key}” came out {after}; before it was {before}.",
    "layout-changed": "On the disk, {key} is now {after}; it was {before}.",
    "phase-new": "The phase {key} is new.",
    "phase-gone": "The phase {key} is gone.",
    "hands-changed": "In the phase {key} it is now the {after} who works; it was the {before}.",
}


def _quoted(titles: str | None) -> str:
    """A comma list as titles: ``“Place” and “Keyboard”``."""
    quoted = [f"“{title}”" for title in split_list(titles or "")]
    return " and ".join([", ".join(quoted[:-1]), quoted[-1]] if len(quoted) > 1 else quoted)


def _offers(change: Change) -> str:
    before, after = split_list(change.before or ""), split_list(change.after or "")
    more = [each for each in after if each not in before]
    less = [each for each in before if each not in after]
    said = [f"{word} {', '.join(items)}" for word, items in (("now offers", more), ("no longer offers", less)) if items]
    return " and ".join(said)


def _answer(change: Change) -> str:
    """What stood at a question that came or went; nothing when it was typed and not noted."""
    value = change.after or change.before
    return f" ({value})" if value else ""
