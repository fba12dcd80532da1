"""Makes the text of a log that came from elsewhere, and makes sure that it reads back as the same log."""

from __future__ import annotations

from metrograph.errors import MetrographError
from metrograph.log.bodies import Terms
from metrograph.log.cues import Log
from metrograph.log.reader import read_log
from metrograph.log.writer import format_log


def round_trip(log: Log, terms: Terms) -> str:
    """The text of a log; raises MetrographError when the language does not have what the log holds.

    terms: gives what screens and readings there are.
    """
    text = format_log(log.header, log.cues)
    back, faults = read_log(text, log.file, terms)
    errors = [fault for fault in faults if fault.level == "error"]
    if errors:
        first = errors[0]
        expected = f"; expected: {first.expected}" if first.expected else ""
        raise MetrographError(f"{log.file}, line {first.line}: {first.message}{expected}")
    if (back.header, back.cues) != (log.header, log.cues):
        raise MetrographError(f"{log.file} holds what a run log cannot: it would not read back the same")
    return text
