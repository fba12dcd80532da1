"""Knows by its key what must never be written down: passwords, passphrases, PINs, keys."""

from __future__ import annotations

import re
from functools import lru_cache

NEVER_KEPT = (
    r"pass[ _-]?(?:word|phrase|code|key)|\b(?:pin|secret|token|credentials?)\b"
    r"|\b(?:recovery|encryption|private|network|wireless|wpa|security|access)[ _-]?key\b"
)
"""A pattern that finds the name of a secret, in capital or small letters."""

_NOT_SECRET = frozenset(
    {"", "yes", "no", "on", "off", "none", "asked", "empty", "set", "not set", "optional", "required"}
)
_AFTER_SECRET = frozenset(
    {"again", "twice", "repeated", "confirmation", "confirmed", "hint", "strength", "check", "code", "required"}
)
"""Words that may follow the name of a secret without being one: “password again”."""


@lru_cache(4096)  # the keys of choices are few, and each comes up in every run
def is_secret(key: str) -> bool:
    """Whether a value of this key must never be written down."""
    return re.search(NEVER_KEPT, key, re.IGNORECASE) is not None


def secret_key(key: str, value: str) -> str | None:
    """The key under which a secret was given, after an equals sign or without one; None when none was."""
    match = re.search(NEVER_KEPT, key, re.IGNORECASE)
    if match is None:
        return None
    name, rest = key[: match.end()], key[match.end() :]
    is_value = value.lower() not in _NOT_SECRET or not _AFTER_SECRET.issuperset(rest.lower().replace("-", " ").split())
    return name if is_value else None
