"""One family of exceptions for all that can go wrong with a call, which know their exit codes; also a missing extra."""

from __future__ import annotations

from importlib import import_module
from typing import Any

import msgspec

UNDECODABLE = (msgspec.MsgspecError, RecursionError, UnicodeDecodeError)
"""What comes of decoding JSON, or the like, that somebody else has made: also where it is nested without end."""


class MetrographError(Exception):
    """A call or an input that cannot be used; its text is a sentence for the person who made it."""

    exit_code = 2


class NotWritableError(MetrographError):
    """The logbook could not be written: a full disk, a read-only folder, a file that somebody else owns."""

    exit_code = 3


def needs(module: str, extra: str) -> Any:
    """A module that comes with an extra; raises MetrographError that says how to get it."""
    try:
        return import_module(module)
    except ImportError as error:
        raise MetrographError(f"this needs what “pip install 'metrograph[{extra}]'” installs") from error


def refused(error: Exception) -> tuple[str, str]:
    """The mistake in a document, and its dotted path, empty for the whole.

    The library that decodes has no other way to say where than its text.
    """
    what, _, place = str(error).partition(" - at `$")
    return what, place.rstrip("`").removeprefix(".")
