"""Looks through a log for secrets and personal values that slipped into free text."""

from __future__ import annotations

from metrograph.log.cues import Cue, Fault, Log
from metrograph.privacy.leaks import leaks_in

_KEYED = frozenset({"keep", "choose", "enter", "fact"})  # their values are told to be personal by their keys


def leak_warnings(log: Log) -> tuple[Fault, ...]:
    """A warning for each, by line."""
    warnings = (warning for cue in log.by_time() for warning in _of_cue(log.file, cue))
    return tuple(sorted(warnings, key=lambda fault: fault.line))


def _of_cue(file: str, cue: Cue) -> list[Fault]:
    warnings = []
    for text in (cue.text, *(value for _, value in cue.fields)):
        for leak in leaks_in(text):
            if leak.secret:
                message = f"this looks like a {leak.what}, and secrets are never kept"
                expected = f"the same without it: metrograph mend {cue.line} ..."
            elif cue.verb not in _KEYED:
                message = f"this holds a {leak.what}, which is masked where it is published"
                expected = "words that do not tell who or where"
            else:
                continue
            warnings.append(Fault(file, cue.line, 1, "warning", message, expected=expected))
    return warnings
