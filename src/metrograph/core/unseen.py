"""Signs in a text that nobody sees, though a terminal obeys them, or a reader is deceived by them."""

from __future__ import annotations

import re

# Control characters, those that turn the direction of writing around what follows them, and those that have no width.
# Joiners have their place between letters of scripts that need them, and are deceit between others.
UNSEEN = (
    "[\x00-\x1f\x7f-\x9f\xad\u061c\u180e\u200b\u200e\u200f\u2028-\u202e\u2060-\u206f\ufeff\ud800-\udfff]"
    "|(?<![^\x00-\u02ff])[\u200c\u200d]|[\u200c\u200d](?![^\x00-\u02ff])"
)
_ALSO_SPELT = f"{UNSEEN}|<(?=U\\+[0-9A-F]{{4,6}}>)"
_SPELT = r"<U\+([0-9A-F]{4,6})>"


def name_of_sign(sign: str) -> str:
    """``<U+202E>``: a sign by its number."""
    return f"<U+{ord(sign):04X}>"


def spelt(text: str) -> str:
    """The text with every sign that nobody sees by its number; ``unspelt`` gives the text again."""
    return re.sub(_ALSO_SPELT, lambda match: name_of_sign(match[0]), text)


def unspelt(text: str) -> str:
    """The text as it was before signs were spelt; numbers that are no sign's stay."""
    return re.sub(_SPELT, lambda match: chr(int(match[1], 16)) if int(match[1], 16) <= 0x10FFFF else match[0], text)
