"""Makes the text of a log that came from elsewhere, and makes sure that it reads back as the same log."""

from __future__ import annotations

from metrograph.errors import MetrographError
from metrograph.language.bodies import Kinds
from metrograph.language.reader import read_log
from metrograph.language.suggest import suggest
from metrograph.language.writer import format_log
from metrograph.model.cues import Log
from metrograph.model.verbs import VERBS


def rebuilt(log: Log, kinds: Kinds) -> str:
    """The text of a log; raises MetrographError when the language does not have what the log holds.

    kinds: those that a screen may be of.
    """
    for number, cue in enumerate(log.cues, 1):
        if cue.verb not in VERBS:
            raise MetrographError(
                f"cue {number} of {log.file}: there is no verb “{cue.verb}”; expected: {suggest(cue.verb, list(VERBS))}"
            )
    text = format_log(log.header, log.cues)
    back, faults = read_log(text, log.file, kinds)
    errors = [fault for fault in faults if fault.level == "error"]
    if errors:
        first = errors[0]
        expected = f"; expected: {first.expected}" if first.expected else ""
        raise MetrographError(f"{log.file}, line {first.line}: {first.message}{expected}")
    if (back.header, back.cues) != (log.header, log.cues):
        raise MetrographError(f"{log.file} holds what a run log cannot: it would not read back the same")
    return text
