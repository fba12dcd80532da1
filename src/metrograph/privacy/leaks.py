"""Recognises in free text what should not be in it: secrets, which are never kept, and what tells who and where."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache

import msgspec

from metrograph.log.cues import Cue, Fault, Log
from metrograph.log.verbs import VERBS, Trait
from metrograph.privacy.secrets import is_hinted, never_kept

_SIGNS = "@:./"  # one of them is in everything that is personal; most titles and values have none
_KEY_BLOCK = r"-----BEGIN [A-Z ]*PRIVATE KEY-----"
_LOGIN_IN_ADDRESS = r"(?<=://)(?:[^\s/:@]+:(?!\d{1,5}/)[^\s@]+|[^\s/:@]{20,})(?=@)"
_VALUE = r"[“\"']?(?P<value>[^\s“”\"',;|]+)"
_AFTER_NAME = (
    r"(?:\s*\([^()]{0,30}\))?(?:\s+(?:for|of|to)(?:\s+[\w-]+){1,2})?\s*(?P<sign>[:=：]|\b(?:is|was|ist|est|es|è|é|jest)\b|\bto\b)"
    rf"\s*{_VALUE}"
)
_OPTION = (
    r"(?i)(?:--?(?:[\w-]{0,30}-)?(?:pass(?:word|phrase|wd|code)?|pwd|psk|token|secret|(?:api-?)?key)(?:=|\s+)"
    rf"|\bsshpass\s+-p\s*){_VALUE}"
)
_LOGIN_OPTION = r"(?:-u|--user)[=\s]\s*[^\s:]+:(?P<value>[^\s“”\"',;|]+)"
_MIXED = r"(?=\S*[^\W\d_])(?=\S*[\d!@#$%^&*+?])\S{5,}|\S*[a-z]\S*[A-Z]\S*"
_LONGEST_VALUE = 100  # letters of a value that are looked at; the pattern takes the square of their number
_NO_VALUE = frozenset({"yes", "no", "on", "off", "none", "asked", "empty", "set", "not", "the", "a", "too", "optional"})
_PERSONAL = {
    "mail address": r"(?<![\w.+-])[\w.+-]+@[\w-]+(?:\.[\w-]+)+",
    "hardware address": r"(?<![\w:-])(?:[0-9a-fA-F]{2}:){5}[0-9a-fA-F]{2}(?![\w:-])",
    "user name": r"(?<=/home/)[\w.-]*\w",
}


_DOTTED = r"(?<![\w.:-])\d{1,3}(?:\.\d{1,3}){3}(?![\w.-])"
_COLONS = r"(?<![\w:])[0-9a-fA-F]*:[0-9a-fA-F:]+(?![\w:])"
_AT_HOME = frozenset({10, 169, 172, 192})
"""What addresses of a network at home begin with."""

LEFT_OUT = "[left out]"


class Leak(msgspec.Struct, frozen=True):
    """A piece of a text from ``start`` to ``end``.

    what: what it seems to be, as a key would call it.
    secret: whether it must not be kept at all; otherwise it is personal, and masked where it is published.
    """

    start: int
    end: int
    what: str
    secret: bool = False


def leaks_in(text: str) -> list[Leak]:
    """What was recognised in a text, by place; where two overlap, the first."""
    leaks: list[Leak] = []
    for leak in sorted([*secrets_in(text), *_personal(text)], key=lambda leak: (leak.start, not leak.secret)):
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


def secrets_in(text: str) -> list[Leak]:
    """The secrets alone; quick where nothing hints at one, since every cue that is typed is asked for them."""
    return list(_secrets(text)) if is_hinted(text) else []


@cache
def _keyed() -> str:
    """A pattern that finds the name of a secret with what is said to be its value."""
    return rf"(?i)(?:{never_kept()}){_AFTER_NAME}"


def _secrets(text: str) -> Iterator[Leak]:
    for match in re.finditer(_KEY_BLOCK, text):
        yield Leak(match.start(), len(text), "private key", secret=True)
    for match in re.finditer(_LOGIN_IN_ADDRESS, text):
        yield Leak(*match.span(), "password", secret=True)
    for match in re.finditer(_OPTION, text):
        if not match["value"].startswith(("-", "$", "<", "[", "/")):
            yield Leak(*match.span("value"), "password", secret=True)
    for match in re.finditer(_LOGIN_OPTION, text):
        if not match["value"].startswith(("$", "[")):
            yield Leak(*match.span("value"), "password", secret=True)
    end = len(text.rstrip(" .”\"'"))
    for match in re.finditer(_keyed(), text):
        if _is_value(match["sign"], match["value"], last=match.end("value") >= end):
            what = text[match.start() : match.start("sign")].strip().lower()
            yield Leak(*match.span("value"), what, secret=True)


def _is_value(sign: str, value: str, last: bool) -> bool:
    """Whether what follows the name of a secret is one, and not a word about it."""
    if value.lower().strip(".") in _NO_VALUE or LEFT_OUT.startswith(value):
        return False
    return sign == "=" or (sign == ":" and last) or looks_secret(value)


def looks_secret(word: str) -> bool:
    """Whether a word is made like a secret: with letters and other signs, with capitals within, or of digits alone."""
    return re.fullmatch(rf"{_MIXED}|\d{{4,}}", word[:_LONGEST_VALUE].rstrip(".,;")) is not None


def _personal(text: str) -> Iterator[Leak]:
    if not any(sign in text for sign in _SIGNS):
        return
    for what, pattern in _PERSONAL.items():
        for match in re.finditer(pattern, text):
            yield Leak(*match.span(), what)
    for match in re.finditer(f"{_DOTTED}|{_COLONS}", text):
        if _is_address(match[0]):
            yield Leak(*match.span(), "network address")


def _is_address(text: str) -> bool:
    """Whether numbers with dots or colons are an address; four numbers may be a version as well.

    One of four has to be large, or the first be that of a network at home.
    """
    import ipaddress

    try:
        address = ipaddress.ip_address(text)
    except ValueError:
        return False
    return address.version == 6 or address.packed[0] in _AT_HOME or max(address.packed) >= 100


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
