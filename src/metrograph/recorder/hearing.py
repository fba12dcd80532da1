"""Asks a shared archive beside the recorder what others take on each screen; nobody ever waits for the answer."""

from __future__ import annotations

import threading
from collections.abc import Callable, Mapping

from metrograph.archive.usual import ScreenName, Usual
from metrograph.errors import MetrographError
from metrograph.log.lexicon import is_after_restart


class Hearing(threading.Thread):
    """An archive that is asked once, in its own thread.

    ask: gives what others take on each screen; trouble: why it could not, empty where it could.
    """

    def __init__(self, ask: Callable[[], Mapping[ScreenName, Usual]]) -> None:
        super().__init__(daemon=True)
        self._ask = ask
        self._known: Mapping[ScreenName, Usual] = {}
        self.trouble = ""

    def run(self) -> None:
        """Asks; what goes wrong is kept to be said."""
        try:
            self._known = self._ask()
        except MetrographError as error:
            self.trouble = f"others could not be asked: {error}"

    def on(self, title: str | None, phase: str) -> Usual | None:
        """What others take on the screen in front; None where nobody says, or the answer is still to come."""
        return None if title is None else self._known.get((title.lower(), is_after_restart(phase)))
