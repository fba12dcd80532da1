"""The gate in: wherever a cue comes from, typed or read from a file, it enters no log with a secret in it."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.log.cues import Cue, Fault, Header, Log
from metrograph.log.quantities.times import format_time
from metrograph.log.verbs import VERBS, Content, Shape
from metrograph.privacy.leaks import blot
from metrograph.privacy.secret_places import LEFT_OUT, looks_secret, secrets_in
from metrograph.privacy.secrets import is_secret, secret_key

_RESULTS = frozenset(
    word
    for word, verb in VERBS.items()
    if verb.rule.check in {Content.ONE_OF, Content.RATING, Content.COMPARED} or verb.shape is Shape.GROUPED
)
"""Verbs whose text is a result, or names software, whatever they are about: ``check change password: pass``."""
_SETTINGS = (
    frozenset(word for word, verb in VERBS.items() if verb.shape in {Shape.SETTING, Shape.MAYBE_SETTING}) - _RESULTS
)


class SecretError(MetrographError):
    """A secret was given. Its value is left out on purpose: an error is shown and may be published.

    message, expected: what is wrong, and what could stand there.
    instead: the cue as it may be written.
    """

    def __init__(self, message: str, expected: str, instead: Cue) -> None:
        super().__init__(f"{message}; expected: {expected}. Nothing was recorded")
        self.message, self.expected, self.instead = message, expected, instead


def check(cue: Cue) -> None:
    """Raises SecretError when a cue holds a secret."""
    key = _secret_key(cue)
    # The value is given up even where it is none: better an answer lost than a password kept.
    if key is not None:
        raise SecretError(
            f"the value of “{key}” is a secret and is never kept", f"the key alone: enter {key}", _key_alone(cue, key)
        )
    for what in _leaks(cue):
        raise SecretError(f"this looks like a {what}, and secrets are never kept", "the same without it", clean(cue))


def clean(cue: Cue) -> Cue:
    """The cue as it may be written: of a secret the key alone, and in other texts its value left out."""
    key = _secret_key(cue)
    if key is not None:
        return _key_alone(cue, key)
    fields = tuple((name, LEFT_OUT if _given(name, value) else blot(value)) for name, value in cue.fields)
    text = LEFT_OUT if cue.verb not in _RESULTS and _given(cue.name, cue.text) else blot(cue.text)
    return msgspec.structs.replace(cue, text=text, fields=fields)


def check_header(header: Header) -> None:
    """Raises MetrographError when a line of a header holds a secret."""
    for key, value in header.others:
        leaks = secrets_in(value)
        if leaks or secret_key(key, value) is not None:
            what = leaks[0].what if leaks else key
            raise MetrographError(f"the header line “{key}” holds what looks like a {what}, and secrets are never kept")


def sift(log: Log, faults: tuple[Fault, ...]) -> tuple[Log, tuple[Fault, ...]]:
    """A log that was read from a file, and its faults: a cue that answers for a secret becomes a fault.

    Free text is left to ``lint``: what was written by hand long ago is not taken away because it looks like one.
    """
    settings = [cue for cue in log.cues if cue.verb in _SETTINGS]
    wrong = [(cue, key) for cue in settings if (key := _secret_key(cue)) is not None]
    if not wrong:
        return log, faults
    refused = {id(cue) for cue, _ in wrong}
    added = (
        Fault(
            log.file, cue.line, len(format_time(cue.at)) + 2, "error",
            f"the value of “{key}” is a secret and is never kept", expected=f"the key alone: enter {key}",
        )
        for cue, key in wrong
    )  # fmt: skip
    kept = tuple(cue for cue in log.cues if id(cue) not in refused)
    ordered = sorted((*faults, *added), key=lambda fault: (fault.line, fault.column))
    return msgspec.structs.replace(log, cues=kept), tuple(ordered)


def _secret_key(cue: Cue) -> str | None:
    if cue.name is None or cue.verb not in _SETTINGS or not is_secret(cue.name):
        return None
    return secret_key(cue.name, cue.text)


def _key_alone(cue: Cue, key: str) -> Cue:
    return Cue(cue.at, "enter", key, "")


def _leaks(cue: Cue) -> Iterator[str]:
    """What in the texts of a cue is a secret, as a key would call it."""
    own = None if cue.verb in _RESULTS else cue.name
    for name, value in ((own, cue.text), *cue.fields):
        if name is not None and _given(name, value):
            yield name
        yield from (leak.what for leak in secrets_in(value))


def _given(name: str | None, value: str) -> bool:
    """Whether something that is named like a secret has one for its text: ``issue password: hunter2``."""
    return name is not None and is_secret(name) and secret_key(name, value) is not None and looks_secret(value)
