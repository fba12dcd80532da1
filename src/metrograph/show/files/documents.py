"""The documents of --json that are more than a record: beside codes, the sentences that go with them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import msgspec

from metrograph.compare.flow_records import LogPlace
from metrograph.findings.finding_records import Amount, Finding, Subject, Sureness, Way
from metrograph.findings.telling import findings_of
from metrograph.ledgers.claims import CheckedImage
from metrograph.ledgers.comparison import Comparison, Neighbours
from metrograph.ledgers.readings import ReadingLedger
from metrograph.words.answers.finding_words import of_trouble_alone, sentences
from metrograph.words.caveat_words import caveat_sentence
from metrograph.words.ledger_words import reading_warning, right_of, wrong_of


class FindingDocument(msgspec.Struct, frozen=True):
    """A finding as a program gets it.

    of: the earlier and the later release; better: None where it is neither better nor worse.
    how_much: how much the figure differs, between its bounds in its unit, and the steps in which that arises; None of
        what is no figure. how_sure: noted, clear or likely.
    rests_on: cues, or of figures the runs that count; text: the sentence that tells it, maybe with others.
    """

    what: Subject
    of: tuple[str, str]
    thing: str
    better: bool | None
    how_much: Amount | None
    how_sure: Sureness
    rests_on: tuple[LogPlace | str, ...]
    text: str


def finding_documents(comparison: Comparison, called: Comparison) -> list[FindingDocument]:
    """The findings of a comparison, those of each pair of neighbours together. called: the same by human names."""
    left_out = {each.run for each in comparison.selection.left_out}
    runs = dict(zip(comparison.releases, comparison.runs, strict=True))
    found = []
    for pair, human in zip(comparison.neighbours, called.neighbours, strict=True):
        for each, text in zip(findings_of(comparison, pair), _texts(called, human), strict=True):
            counted = tuple(run for name in each.of for run in runs.get(name, ()) if run not in left_out)
            amount = each.detail if isinstance(each.detail, Amount) else None
            found.append(
                FindingDocument(
                    each.what, each.of, each.thing, _BETTER[each.way], amount, each.sure,
                    each.rests_on if amount is None else counted, text,
                )
            )  # fmt: skip
    return found


def trouble_documents(found: Sequence[Finding], called: Sequence[Finding]) -> list[FindingDocument]:
    """Findings that are trouble and trials only. called: the same by human names."""
    told = {id(finding): each.text for each in of_trouble_alone(called) for finding in each.findings}
    return [
        FindingDocument(
            each.what, each.of, each.thing, _BETTER[each.way], None, each.sure, each.rests_on, told[id(named)]
        )
        for each, named in zip(found, called, strict=True)
    ]


def _texts(comparison: Comparison, pair: Neighbours) -> list[str]:
    """For each finding of a pair, in their order, the sentence that tells it."""
    findings = findings_of(comparison, pair)
    told = {id(finding): each.text for each in sentences(findings, comparison) for finding in each.findings}
    return [told.get(id(finding), "") for finding in findings]


_BETTER = {Way.BETTER: True, Way.WORSE: False, Way.OTHER: None}


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
