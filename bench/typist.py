"""A person at the recorder who knows every key and wastes none: the keys that bring a known log into a run."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from metrograph.log.cues import Cue
from metrograph.log.lexicon import load_lexicon
from metrograph.log.verbs import VERBS
from metrograph.log.writer import format_line
from metrograph.plan.plan import cues_of
from metrograph.services.live.session import Session

_NAMES = {" ": "space", "/": "slash"}


def record(session: Session, cues: Sequence[Cue]) -> list[str]:
    """The keys that record these cues, each by the way that takes the fewest."""
    wanted, keys = [_bare(cue) for cue in cues], []
    while wanted:
        pressed, written = _by_one_key(session, wanted) or _by_line(session, wanted[0])
        keys += pressed
        session.write([msgspec.structs.replace(cue, at=session.now()) for cue in written])
        wanted = wanted[len(written) :]
    return keys


def _bare(cue: Cue) -> Cue:
    """The cue without its time, and without a kind that goes without saying."""
    implied = ("kind", load_lexicon().kind_of(cue.text))
    return Cue(0, cue.verb, cue.name, cue.text, tuple(field for field in cue.fields if field != implied))


def _by_one_key(session: Session, wanted: list[Cue]) -> tuple[list[str], list[Cue]] | None:
    """F2, Enter, or F3, where one of them writes what is wanted."""
    planned = cues_of(session.step, same=True) if session.step else []
    if planned and [_bare(cue) for cue in planned] == wanted[: len(planned)]:
        return ["f2"], planned
    offer = session.offer()
    if offer is not None and offer.cue is not None and offer.away is None and _bare(offer.cue) == wanted[0]:
        return ["enter"], [offer.cue]
    if wanted[0].verb in {"wait", "ready"} and not wanted[0].text:
        return ["f3"], [wanted[0]]
    return None


def _by_line(session: Session, cue: Cue) -> tuple[list[str], list[Cue]]:
    """Typing, from an empty line or from what Enter puts on it, whichever takes fewer keys."""
    wanted = format_line(cue)
    ways = [_typed(session, "", wanted)]
    offer = session.offer()
    if offer is not None and offer.away is None:
        words, cursor = offer.words
        ways += [["tab", *keys] for keys in _changed(session, words[:cursor], words[cursor:], wanted)]
    return [*min(ways, key=len), "enter"], [cue]


def _changed(session: Session, head: str, tail: str, wanted: str) -> list[list[str]]:
    """The ways from words on the line, the cursor between head and tail, to those that are wanted."""
    kept = next(i for i in range(len(head), -1, -1) if wanted.startswith(head[:i]))
    back = ["backspace"] * (len(head) - kept)
    ways = [[*back, *["delete"] * len(tail), *_typed(session, head[:kept], wanted)]]
    place = wanted.find(tail, kept) if tail else -1
    if place >= 0:
        middle = [*back, *_typed(session, head[:kept], wanted[:place])]
        behind = wanted[place + len(tail) :]
        ways.append([*middle, *(["end", *_typed(session, wanted[: place + len(tail)], wanted)] if behind else [])])
    return ways


def _typed(session: Session, line: str, wanted: str) -> list[str]:
    """The keys from one line to another, with a completion wherever it saves some."""
    keys: list[str] = []
    if not line:
        keys, line = _verb(wanted)
    while line != wanted:
        made = [line[: each.start] + each.text for each in session.completions(line)]
        gains = [
            (len(each) - len(line) - place, -place, each)
            for place, each in enumerate(made)
            if wanted.startswith(each.rstrip()) and len(each.rstrip()) > len(line)
        ]
        gain, place, best = max(gains, default=(0, 0, ""))
        if gain > 1:
            keys += ["down"] * -place + ["tab"]
            line = wanted[: len(best)]
        else:
            keys += _letters(wanted[len(line)])
            line = wanted[: len(line) + 1]
    return keys


def _verb(wanted: str) -> tuple[list[str], str]:
    """The verb cut as short as can be, and the line it stands for."""
    verb, blank, _ = wanted.partition(" ")
    short = next(
        verb[:i]
        for i in range(1, len(verb) + 1)
        if sum(word.startswith(verb[:i]) for word in VERBS) == 1 or verb[:i] == verb
    )
    return _letters(short + blank), verb + blank


def _letters(text: str) -> list[str]:
    return [_NAMES.get(each, each) for each in text]
