"""What commands print with --json: the records themselves, and beside codes the sentences that go with them."""

from __future__ import annotations

import json
import re
from typing import Any

import msgspec

from metrograph.ledgers.claims import CheckedImage
from metrograph.ledgers.comparison import Comparison
from metrograph.ledgers.readings import ReadingLedger
from metrograph.words.caveats import caveat_sentence
from metrograph.words.ledgers import reading_warning, right_of, wrong_of

# Harmless inside a program, but a terminal would obey the first and be confused by the others: C1 controls, and marks
# that change the direction of writing.
_UNSAFE = re.compile("[\x7f-\x9f\u061c\u200e\u200f\u2028-\u202e\u2066-\u2069]")


SHAPE = 1
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


def comparison_document(comparison: Comparison) -> dict[str, Any]:
    """A comparison, each caveat with its sentence."""
    caveats = [
        {"what": caveat.what, "values": caveat.values, "sentence": caveat_sentence(caveat), "grounds": caveat.affects}
        for caveat in comparison.caveats
    ]
    return fields_of(comparison) | {"care": caveats}


def readings_document(ledger: ReadingLedger) -> dict[str, Any]:
    """Readings, each row with a word of warning where it cannot be compared."""
    rows = [fields_of(row) | {"warning": reading_warning(row)} for row in ledger.rows]
    return fields_of(ledger) | {"rows": rows}


def image_document(image: CheckedImage) -> dict[str, Any]:
    """An image, what of it agrees, and in words what is wrong."""
    return {
        "size": image.size,
        "checksums": image.checksums,
        "agrees": right_of(image),
        "wrong": wrong_of(image),
        "age": image.age,
    }


def fields_of(record: msgspec.Struct) -> dict[str, Any]:
    """The fields of a record by the names they have in JSON."""
    names = zip(record.__struct_fields__, record.__struct_encode_fields__, strict=True)
    return {encoded: getattr(record, name) for name, encoded in names}
