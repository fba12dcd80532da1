"""Prints any record as JSON; the shape is that of the record, as docs/json.md lists it."""

from __future__ import annotations

import json
import re

import msgspec

_UNSAFE = re.compile(
    "[\x7f-\x9f\xad\u061c\u180e\u200b-\u200f\u2028-\u202e\u2060-\u206f\ufeff]"
)  # escaped, all come back


SHAPE = 1  # of the documents; a change that breaks a reader raises it


"""The version of the shape of what is printed: it grows by one when a key changes its meaning, or goes."""


def document(record: object, ascii_only: bool = False) -> str:
    """A JSON object that says the version of its shape first; a record that is no object has no keys to be told by."""
    text = to_json(record, ascii_only)
    inside = text.removeprefix("{").lstrip("\n")
    if inside == text:
        raise TypeError(f"{type(record).__name__} is no object")
    return f'{{\n  "shape": {SHAPE}' + (",\n" if inside.strip() != "}" else "\n") + inside


def to_json(record: object, ascii_only: bool = False) -> str:
    """One JSON document that ends with a line break; control characters are escaped, everything else is UTF-8.

    ascii_only: escape all that is not ASCII, for a stream that takes nothing else.
    """
    data = msgspec.json.encode(record)
    if ascii_only:
        return json.dumps(msgspec.json.decode(data), indent=2) + "\n"
    text = msgspec.json.format(data, indent=2).decode()
    return _UNSAFE.sub(lambda match: f"\\u{ord(match[0]):04x}", text) + "\n"
