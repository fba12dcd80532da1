"""Names of runs, releases and rigs: what they may be made of, and what was meant by one that is not known."""

from __future__ import annotations

import re

from metrograph.core.errors import MetrographError
from metrograph.log.faults import near_misses

_ID = re.compile(r"[a-z0-9](?:[a-z0-9._-]{0,78}[a-z0-9])?")
_RUN = re.compile(r"(.+)-([1-9][0-9]{0,5})")
_MOST_LISTED = 8  # names that are listed where none is similar to the one that was given


def check_id(text: str, what: str) -> str:
    """The id itself; raises MetrographError when it could not be a file's name everywhere."""
    if not is_id(text):
        raise MetrographError(
            f"“{text}” cannot be the name of a {what}: it takes small letters, digits, dots and dashes,"
            " such as larkmoor-8.0-heron"
        )
    return text


def is_id(text: str) -> bool:
    """Whether a text can be the name of a run, a release or a rig."""
    return _ID.fullmatch(text) is not None and ".." not in text


def split_run(run: str) -> tuple[str, int]:
    """Release and number of a run's name; number 0 when it has none."""
    match = _RUN.fullmatch(run)
    return (match[1], int(match[2])) if match else (run, 0)


def unknown(what: str, name: str, known: list[str], hint: str = "") -> MetrographError:
    """The error that says a name is not known, what might have been meant, and what to do."""
    near = near_misses(name, known)
    if near:
        meant = f"; did you mean {' or '.join(near)}?"
    elif 0 < len(known) <= _MOST_LISTED:
        meant = f"; known: {', '.join(known)}."
    else:
        meant = "."  # a whole archive helps nobody; the hint says how to list it
    return MetrographError(f"there is no {what} “{name}”{meant} {hint}".rstrip())
