"""Makes the records of what was noted from their cues, one a cue. To add one, add a row to ``MADE``."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from metrograph.log.bodies import compared
from metrograph.log.cues import Cue
from metrograph.log.escapes import split_list
from metrograph.log.lexicon import Lexicon
from metrograph.log.quantities.quantity import parse_quantity
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.ratings import RatingSaid, parse_rating
from metrograph.log.quantities.units import BYTES
from metrograph.run.folding.timeline import CuePlace
from metrograph.run.noted import (
    Addition,
    Beside,
    Check,
    Circumstances,
    Fact,
    Note,
    Rating,
    Remark,
    SameAs,
    Shot,
    Tweak,
    Verdict,
)


def said_with(cue: Cue) -> dict[str, Any]:
    """The circumstances that a cue was said with, as the fields of ``Circumstances``."""
    return {key: value for key, value in cue.fields if key in _CIRCUMSTANCES} if cue.fields else {}


_CIRCUMSTANCES = frozenset(Circumstances.__struct_fields__)


def _fact(cue: Cue, place: CuePlace, lexicon: Lexicon) -> Fact:
    name = cue.name or ""
    return Fact(name, cue.text, place.clock, lexicon.is_personal(name), **said_with(cue))


def _check(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Check:
    return Check(cue.name or "", cue.text, cue.field("detail"), place.clock, cue.field("with"), **said_with(cue))


def _tweak(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Tweak:
    return Tweak(cue.text, cue.field("why"), cue.every("command"), place.clock, **said_with(cue))


def _addition(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Addition:
    download, disk, frees = (_data(cue.field(key)) for key in ("download", "disk", "frees"))
    return Addition(
        cue.text, download, disk, cue.field("from"), cue.field("why"), place.clock, frees, cue.field("groups"),
        cue.field("instead"), **said_with(cue),
    )  # fmt: skip


def _data(text: str | None) -> Range | None:
    """Bytes as they were said; None where nothing was."""
    return None if text is None else parse_quantity(text, BYTES).amount


def _rating(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Rating:
    said = parse_rating(cue.text) or RatingSaid(0, 1)
    return Rating(cue.name or "", said.part, said.whole, cue.field("why"), place.clock, said.in_words, **said_with(cue))


def _shot(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Shot:
    return Shot(cue.text, cue.field("sha256"), place.clock, **said_with(cue))


def _note(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Note:
    return Note(cue.text, place.clock, **said_with(cue))


def _verdict(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Verdict:
    return Verdict(
        cue.text, cue.field("for"), cue.field("against"), cue.field("score"), cue.every("whom"), place.clock,
        **said_with(cue),
    )  # fmt: skip


def _remark(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Remark:
    return Remark(cue.text, cue.verb == "praise", cue.field("why"), place.clock, **said_with(cue))


def _beside(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> Beside:
    thing, way = compared(cue.text) or (cue.text, "same")
    return Beside(cue.name or "", thing, way, cue.field("why"), place.clock, **said_with(cue))


def _same_as(cue: Cue, place: CuePlace, _lexicon: Lexicon) -> SameAs:
    return SameAs(cue.name or "", split_list(cue.text.removeprefix("but ")), place.clock, **said_with(cue))


MADE: dict[str, tuple[tuple[str, ...], Callable[[Cue, CuePlace, Lexicon], Any]]] = {
    "facts": (("fact",), _fact),
    "checks": (("check",), _check),
    "tweaks": (("tweak",), _tweak),
    "added": (("add",), _addition),
    "shots": (("shot",), _shot),
    "notes": (("note",), _note),
    "ratings": (("rate",), _rating),
    "verdicts": (("verdict",), _verdict),
    "remarks": (("praise", "dislike"), _remark),
    "beside": (("than",), _beside),
    "same_as": (("same",), _same_as),
}
"""Each field of ``Noted`` that the cues of some verbs fill, one record a cue, and how that is made of it."""
