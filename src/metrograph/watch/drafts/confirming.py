"""Carries out what a person decides about proposals: taken, said better, joined, none at all."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from metrograph.log.cues import Cue
from metrograph.log.lexicon import OTHER, UNCONFIRMED, UNTITLED, Lexicon, is_untitled
from metrograph.watch.drafts.heard_proposals import ASKED, SAID, is_only_heard, of_another
from metrograph.watch.drafts.proposals import PAGE

CONFIRMED = "1"
_KIND = 0.6  # from here on what a screen is for is said, as that takes a word of its title only
_OURS = frozenset({"sure", "seen", PAGE, SAID})


def sure(cue: Cue) -> float:
    """How sure a proposal is; what bears no figure was written by a person."""
    return float(cue.field("sure") or CONFIRMED)


def is_confirmed(cue: Cue) -> bool:
    """Whether a person has decided on it."""
    return cue.field("sure") in {None, CONFIRMED}


def was_decided(cue: Cue) -> bool:
    """Whether a person has decided on a proposal; what was sure from the beginning says it with its decimals."""
    return cue.field("sure") == CONFIRMED


def taken(cue: Cue) -> Cue:
    """A proposal that a person takes as it is."""
    return _with(cue, sure=CONFIRMED)


def retitled(cue: Cue, title: str, lexicon: Lexicon) -> Cue:
    """A screen with another title; a kind that its new title has anyhow is not said."""
    kept = tuple(pair for pair in cue.fields if pair[0] != "kind" or pair[1] != lexicon.kind_of(title))
    return taken(msgspec.structs.replace(cue, text=title, fields=kept))


def of_kind(cue: Cue, kind: str, lexicon: Lexicon) -> Cue:
    """A screen that is for something else."""
    fields = tuple(pair for pair in cue.fields if pair[0] != "kind")
    if kind != lexicon.kind_of(cue.text):
        fields = (("kind", kind), *fields)
    return taken(msgspec.structs.replace(cue, fields=fields))


def reworded(cue: Cue, said: Cue) -> Cue:
    """A proposal that says something else; what it rests on stays."""
    ours = tuple(pair for pair in cue.fields if pair[0] in _OURS)
    return taken(msgspec.structs.replace(said, at=cue.at, fields=(*said.fields, *ours)))


def no_screen(cue: Cue) -> Cue:
    """What was taken for a screen was the machine at work."""
    return Cue(cue.at, "wait", None, "", (("sure", CONFIRMED),))


def next_unsure(cues: Sequence[Cue], after: int, bound: float) -> int | None:
    """The next proposal, by place, that a person has not decided on and that is less sure; None where there is none."""
    places = [place for place, cue in enumerate(cues) if is_asked(cue) and sure(cue) < bound]
    return next((place for place in places if place > after), places[0] if places else None)


def is_asked(cue: Cue) -> bool:
    """Whether a person is asked about a proposal: it is open, and sure enough to be worth a look."""
    return not is_confirmed(cue) and not is_unasked(cue)


def is_unasked(cue: Cue) -> bool:
    """Whether nobody is asked about a proposal: it was hardly heard, or is of another release, and is not decided."""
    return not is_confirmed(cue) and bool((is_only_heard(cue) and sure(cue) < ASKED) or of_another(cue))


def accepted(cues: Sequence[Cue], bound: float) -> tuple[list[Cue], list[Cue]]:
    """The proposals that are at least so sure, and the others; what is of another release is never taken."""
    right = [cue for cue in cues if sure(cue) >= bound and not of_another(cue)]
    return right, [cue for cue in cues if sure(cue) < bound or (of_another(cue) and not is_confirmed(cue))]


def standing_in(left: Sequence[Cue], lexicon: Lexicon) -> list[Cue]:
    """What stands in a run for screens that nobody has confirmed: that there was one, and what it seems to be.

    Left out, they would be taken for gone. One that was only talked of may never have been there.
    """
    found: list[Cue] = []
    number = 0
    for cue in (cue for cue in left if cue.verb == "screen" and not is_only_heard(cue)):
        number += is_untitled(cue.text)
        kind = cue.field("kind") or lexicon.kind_of(cue.text)
        title = f"{UNTITLED} {number}" if is_untitled(cue.text) else f"{cue.text}{UNCONFIRMED}"
        kind = kind if sure(cue) >= _KIND else OTHER
        # Said where it is known, and where the words of the title would say one that is not.
        fields = (("kind", kind),) if {kind, lexicon.kind_of(title)} != {OTHER} else ()
        found.append(Cue(cue.at, "screen", None, title, fields))
    return found


def as_run(cues: Sequence[Cue], checksums: dict[str, str]) -> list[Cue]:
    """Proposals as cues of a run: how sure they were goes, and what was seen is shown.

    checksums: of the pictures by their paths.
    """
    found: list[Cue] = []
    for cue in cues:
        found.append(msgspec.structs.replace(cue, fields=tuple(pair for pair in cue.fields if pair[0] not in _OURS)))
        seen = cue.field("seen")
        if seen in checksums:
            found.append(Cue(cue.at, "shot", None, seen, (("sha256", checksums[seen]),)))
    return found


def _with(cue: Cue, **fields: str) -> Cue:
    kept = tuple(pair for pair in cue.fields if pair[0] not in fields)
    return msgspec.structs.replace(cue, fields=(*kept, *fields.items()))
