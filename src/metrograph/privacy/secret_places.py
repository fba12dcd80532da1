"""Finds secrets in free text by what stands before them, and tokens by how they look."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import cache
from pathlib import Path

import msgspec

from metrograph.privacy.secrets import is_hinted, never_kept

VALUE = r"[“\"']?(?P<value>[^\s“”\"',;|]+)"
"""A value as it stands in a sentence."""
AFTER_NAME = (
    r"(?:\s*\([^()]{0,30}\))?(?:\s+(?:for|of|to)(?:\s+[\w-]+){1,2})?\s*(?P<sign>[:=：]|\b(?:is|was|ist|est|es|è|é|jest)\b|\bto\b)"
    rf"\s*{VALUE}"
)
"""What joins a name to its value."""
NO_VALUE = frozenset({"yes", "no", "on", "off", "none", "asked", "empty", "set", "not", "the", "a", "too", "optional"})
"""Words that follow the name of a secret, or of a person, and are none."""
LEFT_OUT = "[left out]"

_KEY_BLOCK = r"(?s)(?P<value>-----BEGIN [A-Z ]*PRIVATE KEY-----.*)"
_LOGIN_IN_ADDRESS = r"(?P<value>(?<=://)(?:[^\s/:@]+:(?!\d{1,5}/)[^\s@]+|[^\s/:@]{20,})(?=@))"
_OPTION = (
    r"(?i)(?:--?(?:[\w-]{0,30}-)?(?:pass(?:word|phrase|wd|code)?|pwd|psk|token|secret|(?:api-?)?key)(?:=|\s+)"
    rf"|\bsshpass\s+-p\s*){VALUE}"
)
_LOGIN_OPTION = r"(?:-u|--user)[=\s]\s*[^\s:]+:(?P<value>[^\s“”\"',;|]+)"
_JOINING = rf"\bwpa_passphrase\s+(?:\"[^\"]*\"|'[^']*'|\S+)\s+{VALUE}"
_MAKING_KEYS = rf"\bssh-keygen\b[^|;&]{{0,200}}?\s-[NP]\s*{VALUE}"
_BEARER = r"(?i)\bbearer\s+(?P<value>[A-Za-z0-9._~+/=-]{12,})"
_BESIDE = rf"(?i)\b(?:pw|pin|pwd|passwd|password|passphrase)\s+{VALUE}"
_LICENCE = r"(?<![\w-])(?=[A-Z-]*\d)(?P<value>(?:[A-Z0-9]{4,8}-){3,9}[A-Z0-9]{4,8})(?![\w-])"
# All shapes have one or the other: most texts need no more, and a cue that is written has to wait for it.
_MAY_BE_SHAPED = r"(?=\w{0,40}(?:\d|[a-z][A-Z]))\w{13}|[A-Z0-9]{4,8}(?:-[A-Z0-9]{4,8}){2}"
_MIXED = r"(?=\S*[^\W\d_])(?=\S*[\d!@#$%^&*+?])\S{5,}|\S*[a-z]\S*[A-Z]\S*"
_LONGEST_VALUE = 100  # letters of a value that are looked at; the pattern takes the square of their number


class Leak(msgspec.Struct, frozen=True):
    """A piece of a text from ``start`` to ``end``.

    what: what it seems to be, as a key would call it.
    secret: whether it must not be kept at all; otherwise it is personal, and masked where it is published.
    """

    start: int
    end: int
    what: str
    secret: bool = False


def looks_secret(word: str) -> bool:
    """Whether a word is made like a secret: with letters and other signs, with capitals within, or of digits alone."""
    return re.fullmatch(rf"{_MIXED}|\d{{4,}}", word[:_LONGEST_VALUE].rstrip(".,;")) is not None


def secrets_in(text: str) -> list[Leak]:
    """The secrets alone; quick where nothing hints at one, since every cue that is typed is asked for them."""
    found: list[Leak] = []
    if is_hinted(text):
        found += [*_by_command(text), *_by_name(text)]
    if re.search(_MAY_BE_SHAPED, text) is not None:
        found += [Leak(*match.span(), what, secret=True) for what, shape in _shapes() for match in shape.finditer(text)]
    return found


def _is_given(value: str) -> bool:
    """Whether it stands there itself, and is not taken from elsewhere."""
    return not value.startswith(("-", "$", "<", "[", "/"))


_BY_COMMAND: tuple[tuple[str, str, Callable[[str], bool]], ...] = (
    (_KEY_BLOCK, "private key", bool),
    (_LOGIN_IN_ADDRESS, "password", bool),
    (_OPTION, "password", _is_given),
    (_LOGIN_OPTION, "password", _is_given),
    (_JOINING, "password", _is_given),
    (_MAKING_KEYS, "password", _is_given),
    (_BEARER, "token", bool),
    (_BESIDE, "password", lambda value: _is_given(value) and looks_secret(value)),
)
"""Patterns of what goes before a secret, what that is, and which values are one."""


def _by_command(text: str) -> Iterator[Leak]:
    for pattern, what, is_one in _BY_COMMAND:
        for match in re.finditer(pattern, text):
            if is_one(match["value"]):
                yield Leak(*match.span("value"), what, secret=True)


@cache
def _keyed() -> str:
    """A pattern that finds the name of a secret with what is said to be its value."""
    return rf"(?i)(?:{never_kept()}){AFTER_NAME}"


def _by_name(text: str) -> Iterator[Leak]:
    end = len(text.rstrip(" .”\"'"))
    for match in re.finditer(_keyed(), text):
        if _is_value(match["sign"], match["value"], last=match.end("value") >= end):
            what = text[match.start() : match.start("sign")].strip().lower()
            yield Leak(*match.span("value"), what, secret=True)


def _is_value(sign: str, value: str, last: bool) -> bool:
    """Whether what follows the name of a secret is one, and not a word about it."""
    if value.lower().strip(".") in NO_VALUE or LEFT_OUT.startswith(value):
        return False
    return sign == "=" or (sign == ":" and last) or looks_secret(value)


@cache
def _shapes() -> tuple[tuple[str, re.Pattern[str]], ...]:
    """How tokens and licence keys look, which are known without a name beside them."""
    import tomllib  # the shapes are wanted for texts alone that may hold one

    table = tomllib.loads(Path(__file__).with_name("token_shapes.toml").read_text("utf-8"))
    shapes = {**table["shapes"], "licence key": _LICENCE}
    return tuple((what, re.compile(shape)) for what, shape in shapes.items())
