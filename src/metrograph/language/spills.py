"""Recognises in free text what should not be in it: secrets, which are never kept, and what tells who and where."""

from __future__ import annotations

import re
from collections.abc import Iterator

import msgspec

from metrograph.language.faults import Unreadable
from metrograph.language.secrets import NEVER_KEPT
from metrograph.model.cues import Cue

_HINTS = ("pass", "pin", "secret", "token", "credential", "key", "://")
_SIGNS = "@:./"  # one of them is in everything that is personal; most titles and values have none
_KEY_BLOCK = r"-----BEGIN [A-Z ]*PRIVATE KEY-----"
_LOGIN_IN_ADDRESS = r"(?<=://)[^\s/:@]+:[^\s/@]+(?=@)"
_VALUE = r"[“\"']?(?P<value>[^\s“”\"',;|]+)"
_KEYED = rf"(?:{NEVER_KEPT})(?:\s+(?:for|of|to)(?:\s+[\w-]+){{1,2}})?\s*(?P<sign>[:=]|\b(?:is|was)\b|\bto\b)\s*{_VALUE}"
_OPTION = rf"(?i)--?(?:password|passphrase|passwd|token|secret)(?:=|\s+){_VALUE}"
_MIXED = r"(?=\S*[^\W\d_])(?=\S*[\d!@#$%^&*+?])\S{5,}|\S*[a-z]\S*[A-Z]\S*"
_ENOUGH = 100  # letters of a value that are looked at; the pattern takes the square of their number
_NO_VALUE = frozenset({"yes", "no", "on", "off", "none", "asked", "empty", "set", "not", "the", "a", "too", "optional"})
_PERSONAL = {
    "mail address": r"(?<![\w.+-])[\w.+-]+@[\w-]+(?:\.[\w-]+)+",
    # Four numbers may be a version as well: one of them has to be large, or the first that of a network at home.
    "network address": r"(?<![\w.:-])(?=(?:10|169|172|192)\.|(?:\d{1,3}\.){0,3}[12]\d\d\b)"
    r"(?:(?:25[0-5]|2[0-4]\d|1?\d?\d)\.){3}(?:25[0-5]|2[0-4]\d|1?\d?\d)(?![\w.-])"
    r"|(?<![\w:])(?:[0-9a-fA-F]{1,4}:){7}[0-9a-fA-F]{1,4}(?![\w:])"
    r"|(?<![\w:])[0-9a-fA-F]{1,4}(?::[0-9a-fA-F]{1,4})*::(?:[0-9a-fA-F]{1,4}(?::[0-9a-fA-F]{1,4})*)?(?![\w:])",
    "hardware address": r"(?<![\w:-])(?:[0-9a-fA-F]{2}:){5}[0-9a-fA-F]{2}(?![\w:-])",
    "user name": r"(?<=/home/)[\w.-]*\w",
}


class Spill(msgspec.Struct, frozen=True):
    """A piece of a text from ``start`` to ``end``.

    what: what it seems to be, as a key would call it.
    secret: whether it must not be kept at all; otherwise it is personal, and masked where it is published.
    """

    start: int
    end: int
    what: str
    secret: bool = False


class SpilledSecretError(Unreadable):
    """A secret was typed in free text. Its value is left out on purpose: a fault is shown and may be published."""

    def __init__(self, spill: Spill) -> None:
        super().__init__(f"this looks like a {spill.what}, and secrets are never kept", expected="the same without it")


def spills(text: str) -> list[Spill]:
    """What was recognised in a text, by place; where two overlap, the first."""
    found: list[Spill] = []
    for each in sorted([*secrets_in(text), *_personal(text)], key=lambda spill: (spill.start, not spill.secret)):
        if not found or each.start >= found[-1].end:
            found.append(each)
    return found


def refuse_spilled(cue: Cue) -> None:
    """Raises SpilledSecretError when a cue that was typed has a secret in its free text."""
    for text in (cue.text, *(value for _, value in cue.fields)):
        for secret in secrets_in(text):
            raise SpilledSecretError(secret)


def blot(text: str, mask: str = "[left out]") -> str:
    """The text with every secret in it replaced."""
    for secret in sorted(secrets_in(text), key=lambda spill: -spill.start):
        text = text[: secret.start] + mask + text[secret.end :]
    return text


def secrets_in(text: str) -> list[Spill]:
    """The secrets alone; quick where nothing hints at one, since every cue that is typed is asked for them."""
    plain = text.casefold()
    return list(_secrets(text)) if any(hint in plain for hint in _HINTS) else []


def _secrets(text: str) -> Iterator[Spill]:
    for found in re.finditer(_KEY_BLOCK, text):
        yield Spill(found.start(), len(text), "private key", secret=True)
    for found in re.finditer(_LOGIN_IN_ADDRESS, text):
        yield Spill(*found.span(), "password", secret=True)
    for found in re.finditer(_OPTION, text):
        if not found["value"].startswith(("-", "$", "<")):
            yield Spill(*found.span("value"), "password", secret=True)
    for found in re.finditer(f"(?i){_KEYED}", text):
        if _is_value(found["sign"], found["value"], last=found.end("value") >= len(text.rstrip(" .”\"'"))):
            what = text[found.start() : found.start("sign")].strip().lower()
            yield Spill(*found.span("value"), what, secret=True)


def _is_value(sign: str, value: str, last: bool) -> bool:
    """Whether what follows the name of a secret is one, and not a word about it."""
    if value.lower().strip(".") in _NO_VALUE:
        return False
    return sign == "=" or (sign == ":" and last) or re.fullmatch(_MIXED, value[:_ENOUGH]) is not None


def _personal(text: str) -> Iterator[Spill]:
    if not any(sign in text for sign in _SIGNS):
        return
    for what, pattern in _PERSONAL.items():
        for found in re.finditer(pattern, text):
            yield Spill(*found.span(), what)
