"""The gate in: wherever a cue comes from, typed or read from a file, it enters no log with a secret in it."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from metrograph.errors import MetrographError
from metrograph.log.cues import Cue, Fault, Log
from metrograph.log.quantities.times import format_time
from metrograph.log.verbs import VERBS, Shape
from metrograph.privacy.leaks import blot, secrets_in
from metrograph.privacy.secrets import is_secret, secret_key

_SETTINGS = frozenset(word for word, verb in VERBS.items() if verb.shape in {Shape.SETTING, Shape.MAYBE_SETTING})


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
    for text in _texts(cue):
        for leak in secrets_in(text):
            message = f"this looks like a {leak.what}, and secrets are never kept"
            raise SecretError(message, "the same without it", clean(cue))


def clean(cue: Cue) -> Cue:
    """The cue as it may be written: of a secret the key alone, and in other texts its value left out."""
    key = _secret_key(cue)
    if key is not None:
        return _key_alone(cue, key)
    fields = tuple((name, blot(value)) for name, value in cue.fields)
    return msgspec.structs.replace(cue, text=blot(cue.text), fields=fields)


def sift(log: Log, faults: tuple[Fault, ...]) -> tuple[Log, tuple[Fault, ...]]:
    """A log that was read from a file, and its faults: a cue that answers for a secret becomes a fault.

    Free text is left to ``lint``: what was written by hand long ago is not taken away because it looks like one.
    """
    wrong = [(cue, key) for cue in log.cues if (key := _secret_key(cue)) is not None]
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


def _texts(cue: Cue) -> Iterator[str]:
    yield cue.text
    for _, value in cue.fields:
        yield value
