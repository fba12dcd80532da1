"""Writes cues and headers in the form the reader reads back as the same."""

from __future__ import annotations

from collections.abc import Iterable

from metrograph.log.cues import Cue, Header
from metrograph.log.escapes import encode
from metrograph.log.header import VERSION
from metrograph.log.quantities.times import format_time
from metrograph.log.verbs import VERBS, Shape

INDENT = "    "


def format_log(header: Header, cues: Iterable[Cue]) -> str:
    """A whole log: header, blank line, cues with their fields below them."""
    return format_header(header) + "\n" + "".join(format_cue(cue) for cue in cues)


def format_header(header: Header) -> str:
    """The header's lines, without the blank line after them."""
    begun = header.begun.isoformat() if header.begun else ""
    lines = [("release", header.release), ("rig", header.rig), ("begun", begun), *header.others]
    return f"metrograph {VERSION}\n" + "".join(f"{key}: {value}\n" for key, value in lines if value)


def format_cue(cue: Cue) -> str:
    """A cue as it stands in the file: its line, then one for each field, each with its line break."""
    fields = "".join(f"{INDENT}{key}: {encode(value, bars=False)}\n" for key, value in cue.fields)
    return f"{format_time(cue.at)} {format_words(cue)}\n{fields}"


def format_line(cue: Cue) -> str:
    """A cue on one line, without its time, as a person would type it."""
    return " | ".join([format_words(cue), *(_inline(key, value) for key, value in cue.fields)])


def _inline(key: str, value: str) -> str:
    """A field after a bar; a value that begins with a colon would be taken for one after the key."""
    return f"{key}: {encode(value)}" if value.startswith(":") else f"{key} {encode(value)}"


def format_words(cue: Cue) -> str:
    """Verb and body of a cue, without time and fields."""
    body = _body(VERBS[cue.verb].shape, cue.name, cue.text)
    return f"{cue.verb} {body}" if body else cue.verb


def _body(shape: Shape, name: str | None, text: str) -> str:
    written = encode(text)
    if shape in {Shape.SETTING, Shape.MAYBE_SETTING}:
        return f"{encode(name or '')} = {written}" if text else encode(name or "")
    if shape in {Shape.MAYBE_NAMED, Shape.GROUPED} and name is None:
        return _unnamed(written)
    if name is not None:
        return f"{encode(name)}: {written}" if text else encode(name)
    return written


def _unnamed(text: str) -> str:
    """A text without a name; where its beginning would be read as one, the colon is escaped."""
    head, colon, rest = text.partition(":")
    return f"{head}\\:{rest}" if colon and head and "," not in head else text
