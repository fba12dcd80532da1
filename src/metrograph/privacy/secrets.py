"""Knows by its key what must never be written down: passwords, passphrases, PINs, keys, in many languages."""

from __future__ import annotations

import re
from functools import lru_cache

_GAP = r"[\s_-]*"
NEVER_KEPT = (
    rf"pass{_GAP}(?:word|phrase|code|key|wd)|\b(?:pwd|psk|pin|secret|token|credentials?)\b"
    rf"|\b(?:recovery|encryption|private|network|wireless|wi-?fi|wlan|wpa\d?|luks|api|ssh|security|access){_GAP}key\b"
    # Further languages: what installers in them ask for.
    rf"|(?:pass|kenn)wort|mot{_GAP}de{_GAP}passe|contrase(?:ñ|n\u0303?)a|senha\b|\bparola\b|wachtwoord|has[łl]o\b|l[öo]senord"
    r"|adgangskode|salasana|\bheslo\b|\bjelsz[óo]\b|пароль|密[码碼]|パスワード|비밀번호"
)
"""A pattern that finds the name of a secret, in capital or small letters."""

HINTS = (
    "pass", "pin", "pwd", "psk", "secret", "token", "credential", "key", "://", "-u", "wort", "contrase", "senha",
    "parola", "wachtwoord", "has", "senord", "kode", "salasana", "heslo", "jelsz", "пароль", "密", "パス", "비밀",
)  # fmt: skip
"""One of these is in every name of a secret, so that most texts need no pattern."""

_KEY = rf"{NEVER_KEPT}|\bpass\b"
"""In a key the short word is one as well; in a text it is what a trial does."""

_TELLS_NOTHING = frozenset(
    {
        "yes", "no", "on", "off", "true", "false", "none", "asked", "empty", "set", "not set", "optional", "required",
        "ticked", "unticked", "checked", "unchecked", "shown", "hidden", "visible", "always", "never", "weak", "fair",
        "good", "strong", "immediately", "at once",
    }
)  # fmt: skip
"""Answers to a question about a secret: whether to use it again, to ask for it, to show it."""

_DELAY = re.compile(r"(?:after )?\d{1,3} ?(?:s|sec(?:onds?)?|min(?:utes?)?|h|hours?|days?)", re.IGNORECASE)
_AFTER_SECRET = frozenset(
    {"again", "twice", "repeated", "confirmation", "confirmed", "hint", "strength", "check", "code", "required"}
)
"""Words that may follow the name of a secret without being one: “password again”."""

_PROGRAM = re.compile(r"\s*(?:manager|store|safe|vault|generator|agent|ring)\b", re.IGNORECASE)
"""What follows the name of a secret in the name of what looks after them, or of a program."""


@lru_cache(4096)  # the keys of choices are few, and each comes up in every run
def is_secret(key: str) -> bool:
    """Whether a value of this key must never be written down."""
    return re.search(_KEY, key, re.IGNORECASE) is not None


def secret_key(key: str, value: str) -> str | None:
    """The key under which a secret was given, after an equals sign or without one; None when none was."""
    match = re.search(_KEY, key, re.IGNORECASE)
    if match is None or _PROGRAM.match(key, match.end()):
        return None
    name, rest = key[: match.end()], key[match.end() :].lower().replace("-", " ").split()
    if not value.strip():
        tells = not _AFTER_SECRET.issuperset(rest)
    elif value.strip().lower() in _TELLS_NOTHING or _DELAY.fullmatch(value.strip()):
        # A question about it, in words; what has other signs may be the secret itself.
        tells = not all(word.strip("?.,:’'“”\"()").isalpha() for word in rest)
    else:
        tells = True
    return name if tells else None
