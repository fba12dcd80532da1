"""What the recorder's screens have in common: a mistake in the program ends them without a traceback."""

from __future__ import annotations

from textual.app import App


class QuietApp(App[None]):
    """A Textual program that ends quietly and says afterwards why."""

    ENABLE_COMMAND_PALETTE = False

    @property
    def failure(self) -> Exception | None:
        """What made it end that nobody had thought of; None when nothing did."""
        return self._exception

    def _fatal_error(self) -> None:
        """Ends without the traceback that would be printed, values of variables included; see ``failure``."""
        self._close_messages_no_wait()
