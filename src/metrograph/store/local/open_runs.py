"""A small file that names the runs that were begun and not ended, so that a cue need not read the whole logbook.

It is a hint and no more: it is made anew from the logs when it names none, and a cue that is on the disk stays
acknowledged when the hint cannot be written.
"""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

from metrograph.errors import MetrographError
from metrograph.store.local.files import replace

_HINT = ".open"


def open_hints(runs: Path) -> list[str]:
    """The runs that the hint names, each once."""
    try:
        return list(dict.fromkeys((runs / _HINT).read_text("utf-8").split()))
    except (OSError, UnicodeDecodeError):
        return []


def note_open(runs: Path, run: str, is_open: bool) -> None:
    """Puts a run on the hint, or takes it off; the caller holds the lock."""
    others = [other for other in open_hints(runs) if other != run]
    names = [*others, run] if is_open else others
    try:
        replace(runs / _HINT, "".join(f"{name}\n" for name in names))
    except MetrographError:
        # One that is out of date would send cues to another run that is open; without one, all logs are looked at.
        with suppress(OSError):
            (runs / _HINT).unlink()
