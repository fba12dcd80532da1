"""The line that cues are typed on: keys are done in the order in which they come, however fast that is."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from textual.binding import Binding, BindingType
from textual.events import Key, Paste
from textual.widgets import Input


class Line(Input):
    """A line that is empty as soon as it is entered, so that what is typed next is never added to what was.

    entered: told what stood on it; actions: what else keys do while it has the focus. Left to the program's bindings,
    they would be done when letters that came later stand on the line already.
    """

    def __init__(self, entered: Callable[[str], None], actions: Mapping[str, str], placeholder: str = "") -> None:
        super().__init__(id="line", placeholder=placeholder, select_on_focus=False)
        self._entered = entered
        self._actions = {**actions_of(Input.BINDINGS), **actions}

    def enter(self) -> None:
        """Tells what stands on the line, and empties it."""
        text, self.value = self.value, ""
        self._entered(text)

    async def _on_key(self, event: Key) -> None:
        action = self._actions.get(event.key)
        if action is not None or event.key == "enter":
            event.stop()
            event.prevent_default()
        if event.key == "enter":
            self.enter()
        elif action is not None:
            await self.run_action(action)

    def _on_paste(self, event: Paste) -> None:
        """Enters each whole line of what is pasted; what has no end yet is as if it were typed."""
        event.stop()
        event.prevent_default()
        for piece in event.text.replace("\r\n", "\n").replace("\r", "\n").splitlines(keepends=True):
            self.insert_text_at_cursor("".join(sign for sign in piece if sign.isprintable()))
            if piece.endswith("\n") and self.value.strip():  # an empty line would take what is offered
                self.enter()


def actions_of(bindings: list[BindingType], whose: str = "") -> dict[str, str]:
    """What each key does."""
    return {
        key: f"{whose}{binding.action}"
        for binding in bindings
        if isinstance(binding, Binding)
        for key in binding.key.split(",")
    }
