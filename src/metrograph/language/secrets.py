"""Knows by its key what must never be written down: passwords, passphrases, PINs, keys."""

from __future__ import annotations

import re
from functools import lru_cache

from metrograph.language.faults import Unreadable

NEVER_KEPT = (
    r"pass[ _-]?(?:word|phrase|code|key)|\b(?:pin|secret|token|credentials?)\b"
    r"|\b(?:recovery|encryption|private|network|wireless|wpa|security|access)[ _-]?key\b"
)
"""A pattern that finds the name of a secret, in capital or small letters."""

_NOT_SECRET = frozenset(
    {"", "yes", "no", "on", "off", "none", "asked", "empty", "set", "not set", "optional", "required"}
)
_BEHIND_SECRET = frozenset(
    {"again", "twice", "repeated", "confirmation", "confirmed", "hint", "strength", "check", "code", "required"}
)


class SecretRefusedError(Unreadable):
    """A secret was typed. key: what it is the value of, as it may be written."""

    def __init__(self, key: str) -> None:
        super().__init__(f"the value of “{key}” is a secret and is never kept", expected=f"the key alone: enter {key}")
        self.key = key


@lru_cache(4096)  # the keys of choices are few, and each comes up in every run
def is_secret(key: str) -> bool:
    """Whether a value of this key must never be written down."""
    return re.search(NEVER_KEPT, key, re.IGNORECASE) is not None


def refuse_secret(key: str, value: str) -> None:
    """Raises SecretRefusedError when a secret was typed, behind an equals sign or without one."""
    found = re.search(NEVER_KEPT, key, re.IGNORECASE)
    name, rest = (key[: found.end()], key[found.end() :]) if found else (key, "")
    is_value = value.lower() not in _NOT_SECRET or not _BEHIND_SECRET.issuperset(rest.lower().replace("-", " ").split())
    if is_value:
        # What stood there is left out on purpose: a fault is shown and may be published.
        raise SecretRefusedError(name)
