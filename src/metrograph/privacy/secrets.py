"""Knows by its key what must never be written down: passwords, passphrases, PINs, keys, in many languages."""

from __future__ import annotations

import re
from functools import cache, lru_cache
from unicodedata import normalize

from metrograph.languages.language_tables import words_of

_GAP = r"[\s_-]*"
_ENGLISH = (
    rf"pass{_GAP}(?:word|phrase|code|key|wd)|\b(?:pwd|psk|pin|secret|token|credentials?)\b"
    rf"|\b(?:recovery|encryption|private|network|wireless|wi-?fi|wlan|wpa\d?|luks|api|ssh|security|access){_GAP}key\b"
)
_ENGLISH_HINTS = ("pass", "pin", "pwd", "psk", "secret", "token", "credential", "key", "://", "-u", "pw", "bearer")
_ALIKE = {
    "ł": "[łl]",
    "ı": "[ıi]",
    "ß": "(?:ß|ss)",
}  # letters that are no letter with an accent, and are written without


@cache
def never_kept() -> str:
    """A pattern that finds the name of a secret in any language, in capital or small letters."""
    return "|".join([_ENGLISH, *map(_pattern, words_of("private", "secret"))])


@cache
def _hints() -> tuple[str, ...]:
    return tuple(dict.fromkeys([*_ENGLISH_HINTS, *map(_hint, words_of("private", "secret"))]))


def is_hinted(text: str) -> bool:
    """Whether anything in a text may be the name of a secret.

    Most texts need no pattern then, and a cue that is typed does not wait for one to be put together.
    """
    folded = text.casefold()
    return any(hint in folded for hint in _hints())


def _pattern(word: str) -> str:
    """A word or phrase with or without its accents, whatever joins its words; a whole word where = stands before it."""
    whole = word.startswith("=")
    signs = (_GAP if sign in " -" else _with_accent(sign) for sign in normalize("NFC", word.removeprefix("=")))
    pattern = "".join(signs)
    return rf"\b{pattern}\b" if whole else pattern


@cache
def _with_accent(sign: str) -> str:
    """A pattern of one sign, with its accent or without."""
    if sign in _ALIKE:
        return _ALIKE[sign]
    apart = normalize("NFD", sign)
    base, accents = apart[0], apart[1:]
    if not accents or not base.isalpha() or base > _LAST_OF_ACCENTS:
        return re.escape(sign)
    return f"(?:{sign}|{apart}|{base})"


def _hint(word: str) -> str:
    """The longest piece of a word that is written in one way only."""
    plain = "".join(sign if _is_plain(sign) else " " for sign in word)
    return max(plain.split(), key=len)


@cache
def _is_plain(sign: str) -> bool:
    """Whether a sign is written in one way only."""
    return sign not in " -=" and _with_accent(sign) == re.escape(sign)


_LAST_OF_ACCENTS = "\u04ff"  # of the scripts in which accents are left out: Latin, Greek, Cyrillic


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


@cache
def _key() -> str:
    """In a key the short word is one as well; in a text it is what a trial does."""
    return rf"{never_kept()}|\bpass\b"


@lru_cache(4096)  # the keys of choices are few, and each comes up in every run
def is_secret(key: str) -> bool:
    """Whether a value of this key must never be written down."""
    return is_hinted(key) and re.search(_key(), key, re.IGNORECASE) is not None


def secret_key(key: str, value: str) -> str | None:
    """The key under which a secret was given, after an equals sign or without one; None when none was."""
    match = re.search(_key(), key, re.IGNORECASE)
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
