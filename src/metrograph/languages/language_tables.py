"""Gives the tables of all languages: to add one, add a folder, and nothing else knows which there are."""

from __future__ import annotations

import tomllib
from functools import cache
from pathlib import Path
from typing import Any, Literal

FOLDER = Path(__file__).parent
"""Where the languages lie, each in a folder that is called by its code of three letters (ISO 639-3)."""

FIRST = "eng"
"""The language whose words come before those of others."""

Table = Literal["kinds", "screens", "private", "statements"]
"""What screens are for; what a line on one is; what tells who and where, and what is secret; what is said."""


@cache
def tables(name: Table) -> dict[str, dict[str, Any]]:
    """The table of this name of every language that has one, by the language's code, English first."""
    paths = sorted(FOLDER.glob(f"*/{name}.toml"), key=lambda path: (path.parent.name != FIRST, path.parent.name))
    texts = {path.parent.name: path.read_text("utf-8") for path in paths}
    # Words are compared in small letters, of which some scripts have several; what is said is written so already, as
    # beside its patterns stands what they state.
    return {code: tomllib.loads(text if name == "statements" else text.casefold()) for code, text in texts.items()}


def words_of(name: Table, key: str) -> tuple[str, ...]:
    """The words under a key of a table, of all languages, each once."""
    return tuple(dict.fromkeys(word for table in tables(name).values() for word in table.get(key, ())))
