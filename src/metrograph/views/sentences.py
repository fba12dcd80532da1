"""Says in plain sentences what a comparison found."""

from __future__ import annotations

from metrograph.language.escapes import split_list
from metrograph.model.comparison import Change


def sentence(change: Change) -> str:
    """One change, as a person would tell it."""
    return _tell(change, _SENTENCES[change.what])


def _tell(change: Change, words: str) -> str:
    return words.format(
        title=change.title,
        kind=change.kind,
        key=change.key,
        before=change.before,
        after=change.after,
        offers=_offers(change),
        answer=_answer(change),
    )


def deviation(change: Change) -> str:
    """One change from a plan to the run that follows it, as it is told while the run is going on."""
    return _tell(change, _DEVIATIONS.get(change.what) or _SENTENCES[change.what])


_DEVIATIONS = {
    "screen-new": "The screen “{title}” is not in the plan.",
    "screen-gone": "The screen “{title}” was skipped.",
    "screen-renamed": "“{before}” is called “{after}” here.",
    "screen-moved": "“{title}” comes at another place: {after}; in the plan: {before}.",
    "question-new": "“{title}” asks for {key}{answer}; in the plan it does not.",
    "question-gone": "On “{title}” nothing was noted for {key}{answer}.",
    "preset-changed": "{key} is pre-set differently: {after}, not {before}.",
    "choice-changed": "{key} was answered {after}, not {before}.",
    "offer-changed": "{key} {offers}.",
    "check-changed": "The trial {key} came out {after}, not {before}.",
}
_SENTENCES: dict[str, str] = {
    "screen-new": "New screen “{title}” ({kind}).",
    "screen-gone": "The screen “{title}” ({kind}) is gone.",
    "screen-renamed": "The {kind} screen “{before}” is now called “{after}”.",
    "screen-moved": "“{title}” has moved: it stood in {before}; now it stands in {after}.",
    "question-new": "“{title}” now asks for {key}{answer}.",
    "question-gone": "“{title}” no longer asks for {key}{answer}.",
    "preset-changed": "On “{title}”, {key} is now pre-set to {after}; it was {before}.",
    "choice-changed": "On “{title}”, {key} was answered {after}; before it was {before}.",
    "offer-changed": "On “{title}”, {key} {offers}.",
    "check-changed": "The trial “{key}” came out {after}; before it was {before}.",
}


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
