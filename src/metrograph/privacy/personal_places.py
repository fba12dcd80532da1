"""Finds in free text what tells who and where: addresses, accounts, numbers of devices, and what is called a name."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from functools import cache
from typing import Any

from metrograph.languages.language_tables import words_of
from metrograph.privacy.secret_places import AFTER_NAME, NO_VALUE, Leak

_SIGNS = frozenset("@:./~-+0")  # one of them is in everything that is personal; most titles have none
_PERSONAL = {
    "mail address": r"(?<![\w.+-])[\w.+-]+@[\w-]+(?:\.[\w-]+)+",
    "account": r"(?<![\w.+@-])[a-z_][\w.-]{1,31}@[A-Za-z][\w-]+(?![\w.@-])",
    "hardware address": (
        r"(?<![\w:-])(?:(?:[0-9a-fA-F]{2}:){5}[0-9a-fA-F]{2}|(?:[0-9a-fA-F]{2}-){5}[0-9a-fA-F]{2})(?![\w:-])"
        r"|(?<![\w.])(?:[0-9a-fA-F]{4}\.){2}[0-9a-fA-F]{4}(?![\w.])"
    ),
    "user name": r"(?<=/home/)[\w.-]*\w|(?<=/Users/)[\w.-]*\w|(?<=~)(?<![\w/~]~)[a-z_][\w-]*(?=/)",
    "device number": r"(?<![\w-])[0-9a-fA-F]{8}(?:-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}(?![\w-])",
    "phone number": r"(?<![\w.+])(?:\+\d{1,3}[ ()/.-]{0,2}|\(0\d{1,4}\) ?|0\d{2,4}[ /-])(?:\d[ /-]?){5,11}\d(?![\w.])",
}
_DOTTED = r"(?<![\w.:-])\d{1,3}(?:\.\d{1,3}){3}(?![\w.-])"
_COLONS = r"(?<![\w:])[0-9a-fA-F]*:[0-9a-fA-F:]+(?![\w:])"
_AT_HOME = frozenset({10, 169, 172, 192})
"""What addresses of a network at home begin with."""


@cache
def _named() -> str:
    """A pattern that finds the name of what tells who or where, in any language, with what is said to be its value."""
    # Whole names, those with = before them, may be of anything where they stand in a sentence.
    words = {word for word in words_of("private", "personal") if not word.startswith("=")} - _TOO_PLAIN
    telling = _any_of(sorted(words)).replace(" ", r"[\s_-]?")
    return rf"(?i)(?<!\w){telling}\w{{0,6}}(?:[\s_-](?:number|name|no|nr|id)\b\.?)?(?!\w){AFTER_NAME}"


def _any_of(words: Iterable[str]) -> str:
    """A pattern that finds any of some words; what begins alike is looked at once, as there are many."""
    tree: dict[str, Any] = {}
    for word in words:
        node = tree
        for sign in word:
            node = node.setdefault(sign, {})
        node[""] = {}
    return _branches(tree)


def _escaped(sign: str) -> str:
    return sign if sign == " " else re.escape(sign)


def _branches(node: dict[str, Any]) -> str:
    if "" in node:
        return ""  # a word ends here: whatever it goes on with, it has been found
    branches = [_escaped(sign) + _branches(after) for sign, after in node.items()]
    return branches[0] if len(branches) == 1 else f"(?:{'|'.join(branches)})"


_TOO_PLAIN = frozenset({"address", "host", "domain", "initials", "gateway"})
"""Beginnings of names that in a sentence may be of anything as well."""


def personal_in(text: str) -> Iterator[Leak]:
    """What tells who or where, in any order."""
    for match in re.finditer(_named(), text):
        value = match["value"].rstrip(".,;")
        if value.lower() not in NO_VALUE and (match["sign"] in "=:：" or not value.islower()):
            what = text[match.start() : match.start("sign")].strip().lower()
            yield Leak(match.start("value"), match.start("value") + len(value), what)
    if _SIGNS.isdisjoint(text):
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
