"""The documents of --json that are more than a record: beside codes, the sentences that go with them."""

from __future__ import annotations

from typing import Any

import msgspec

from metrograph.ledgers.claims import CheckedImage
from metrograph.ledgers.comparison import Comparison
from metrograph.ledgers.readings import ReadingLedger
from metrograph.words.caveat_words import caveat_sentence
from metrograph.words.ledger_words import reading_warning, right_of, wrong_of


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
