"""The steps that a reviewer takes on every release, tweaks and additions, and whether a run has taken one."""

from __future__ import annotations

import re
from collections.abc import Iterable


def steps_left(usual: Iterable[str], said: Iterable[str]) -> list[str]:
    """The usual steps that nothing of what was said is: a step is taken where all its words were said together."""
    taken = [_words(text) for text in said]
    return [step for step in dict.fromkeys(usual) if not any(_words(step) <= words for words in taken)]


def _words(text: str) -> set[str]:
    return set(re.findall(r"[^\W_]+", text.casefold()))
