"""The whole way from a talk to a confirmed run: the keys of a person who knows the truth, and what the run has then.

    python -m bench.whole_way FOLDER    each narration of a folder, heard with weights that were made without it and
                                        without the phrases that it alone says; for one alone with those of the program

What is sure to 0.9 is taken unseen, as ``confirm`` does. What is less sure is looked at one by one: Enter where it is
right; ``k`` as often as it takes where another kind is; ``j`` where it is wrong. ``l`` shows what was hardly heard, which
is gone through in the same way. Typing the same facts into the recorder takes the letters of their cues and an Enter.
"""  # fmt: skip

from __future__ import annotations

import sys
from collections.abc import Sequence
from pathlib import Path

import msgspec

from bench.hearing import Narration, Truth, left_out, pairs, read
from metrograph.hearing.heard_cues import cue_of
from metrograph.hearing.listening import Ears, language_of, listen
from metrograph.hearing.statements import Statement
from metrograph.log.writer import format_words
from metrograph.watch.drafts.heard_proposals import ASKED, FAINT, as_next_kind
from metrograph.watch.drafts.seen import SURE

_OTHER_KINDS = 3  # times that somebody presses k before j is pressed instead


class Way(msgspec.Struct, frozen=True):
    """What the way took. keys: that were pressed; typed: of typing what came of it; told: facts of the narration.

    right, wrong: of those that are in the run.
    """

    keys: int
    typed: int
    told: int
    right: int
    wrong: int


def walked(narration: Narration, found: Sequence[Statement], listens: bool) -> Way:
    """A person goes through what was heard. listens: whether what was hardly heard is looked at as well."""
    matched = pairs(found, narration.truths)
    keys, right, wrong, typed = 2 + listens, 0, 0, 0  # confirm, w, and l
    for place, said in enumerate(found):
        good = matched.get(place, (0, False))[1]
        if said.about != "this" or (said.sure < ASKED and not listens):
            continue
        if said.sure >= SURE:
            right, wrong = right + good, wrong + (not good)
        else:
            presses = 0 if good else _kinds_to_the_right_one(said, narration.truths)
            keys += 1 + presses
            right += good or presses > 0
        typed += (len(format_words(cue_of(said, {}))) + 1) * good
    return Way(keys, typed, sum(each.about == "this" for each in narration.truths), right, wrong)


def _kinds_to_the_right_one(said: Statement, truths: Sequence[Truth]) -> int:
    """How often k is pressed until a statement is right; nought where that makes nothing of it."""
    cue = cue_of(said, {})
    for presses in range(1, _OTHER_KINDS + 1):
        other = as_next_kind(cue)
        if other is None:
            return 0
        cue = other
        near = [each for each in truths if abs(each.at - said.at) <= _NEAR]
        if any((cue.verb, cue.text) == (each.kind, each.value) for each in near):
            return presses
    return 0


_NEAR = 15.0  # seconds between a statement and the fact that it was meant to be


def main(folder: Path) -> None:
    """Prints the table."""
    narrations = read(folder)
    heard = _heard(narrations)
    for listens in (False, True):
        ways = [walked(each, found, listens) for each, found in zip(narrations, heard, strict=True)]
        told, right, wrong = (sum(getattr(way, name) for way in ways) for name in ("told", "right", "wrong"))
        keys, typed = sum(way.keys for way in ways), sum(way.typed for way in ways)
        what = "what was hardly heard too" if listens else "what is asked"
        print(
            f"{what}: {right} of {told} facts are in the run ({right / told:.0%}), {wrong} false in {right + wrong}"
            f" ({wrong / max(right + wrong, 1):.1%}); {keys} keys against {typed} of typing them ({keys / max(typed, 1):.1%})"
        )


def _heard(narrations: Sequence[Narration]) -> list[Sequence[Statement]]:
    """What is heard of each, by weights made of the others; of one alone by those of the program."""
    if len(narrations) == 1:
        (one,) = narrations
        language = language_of(one.words)
        return [listen(one.words, Ears(one.names, language, least=FAINT)).statements]
    ears = [(one.narration, msgspec.structs.replace(one.ears, least=FAINT)) for one in left_out(narrations)]
    return [listen(each.words, known).statements for each, known in ears]


if __name__ == "__main__":
    main(Path(sys.argv[1]))
