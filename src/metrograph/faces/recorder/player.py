"""Shows a moment of a recording in the person's own player: the command of the settings, and nothing else."""

from __future__ import annotations

import shlex
import subprocess
from pathlib import Path

from metrograph.core.errors import MetrographError

_UNSET = "no player is set; for one: metrograph settings player 'my-player --start={at} {film}'"

_open: list[subprocess.Popen[bytes]] = []
"""Players that were started and may still be open."""


def play(command: str | None, film: Path | None, name: str, at: int) -> None:
    """Starts the player at a moment, in milliseconds, and does not wait for it.

    command: of the settings; film: the recording, None where it was not found; name: what it is called.
    Raises MetrographError when there is no player or no film.
    """
    if command is None:
        raise MetrographError(_UNSET)
    if film is None:
        raise MetrographError(f"{name or 'the recording'} is not here; metrograph confirm --film FILE says where it is")
    try:
        words = [each.format(film=film.absolute(), at=f"{at / 1000:g}") for each in shlex.split(command)]
    except (ValueError, KeyError, IndexError) as error:
        raise MetrographError(f"the setting “player” cannot be read: {error}; {_UNSET.partition('; ')[2]}") from error
    try:
        player = subprocess.Popen(  # noqa: S603 - the person's own command
            words,
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
    except OSError as error:
        raise MetrographError(f"{words[0]} cannot be started: {error.strerror}") from error
    _open[:] = [*(each for each in _open if each.poll() is None), player]
