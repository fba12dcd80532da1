"""Recognises in free text what should not be in it: secrets, which are never kept, and what tells who and where."""

from __future__ import annotations

from metrograph.log.cues import Cue, Fault, Log
from metrograph.log.verbs import VERBS, Trait
from metrograph.privacy.personal_places import personal_in
from metrograph.privacy.secret_places import LEFT_OUT, Leak, secrets_in


def leaks_in(text: str) -> list[Leak]:
    """What was recognised in a text, by place; where two overlap, the first."""
    leaks: list[Leak] = []
    for leak in sorted([*secrets_in(text), *personal_in(text)], key=lambda leak: (leak.start, not leak.secret)):
        if not leaks or leak.start >= leaks[-1].end:
            leaks.append(leak)
    return leaks


def blot(text: str) -> str:
    """The text with every secret in it left out."""
    # What is left out may bring two words together that are a secret then; with each round there is less to find.
    while secrets := secrets_in(text):
        kept, end = [], 0
        for secret in sorted(secrets, key=lambda secret: secret.start):
            if secret.start >= end:
                kept += [text[end : secret.start], LEFT_OUT]
                end = secret.end
        text = "".join(kept) + text[end:]
    return text


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
            elif Trait.KEYED not in VERBS[cue.verb].traits:
                message = f"this holds a {leak.what}, which is masked where it is published"
                expected = "words that do not tell who or where"
            else:
                continue
            warnings.append(Fault(file, cue.line, 1, "warning", message, expected=expected))
    return warnings
