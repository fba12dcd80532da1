"""The line that cues are typed on: keys are done in the order in which they come, however fast that is."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from textual.binding import Binding, BindingType
from textual.events import Key, Paste
from textual.widgets import Input

from metrograph.log.verbs import VERBS, Shape

_BURST = 0.05  # seconds in which no more keys come of those that came at once, as when something is pasted


class TypingLine(Input):
    """A line that is empty as soon as it is entered, so that what is typed next is never added to what was.

    entered: told what stood on it; actions: what else keys do while it has the focus. Left to the program's bindings,
    they would be done when letters that came later stand on the line already.
    """

    def __init__(self, entered: Callable[[str], None], actions: Mapping[str, str], placeholder: str = "") -> None:
        super().__init__(id="line", placeholder=placeholder, select_on_focus=False)
        self._entered = entered
        self.refused: list[str] = []  # lines that could not be written and wait for an empty line to be mended on
        self._actions = {**actions_of(Input.BINDINGS), **actions}

    def enter(self) -> None:
        """Tells what stands on the line, and empties it."""
        text, self.value = self.value, ""
        self._entered(text)

    @property
    def left(self) -> list[str]:
        """What was typed and is written nowhere, in the order in which it is offered again."""
        return [text for text in (self.value, *self.refused) if text.strip()]

    def refuse(self, text: str) -> None:
        """Puts a line back to be mended, once nothing else stands there."""
        self.refused.append(text)
        self.offer_after_burst()

    def offer_after_burst(self) -> None:
        """Offers what waits, once all keys that came at once are done."""
        self.set_timer(_BURST, self._offer_unless_keys_wait)

    def _offer_unless_keys_wait(self) -> None:
        if self.app.message_queue_size or self.message_queue_size:
            self.offer_after_burst()
        else:
            self.offer_refused()

    def offer_refused(self) -> bool:
        """Puts the next line that waits on an empty one; whether it did."""
        if not self.refused or self.value:
            return False
        self.value = self.refused.pop(0)
        self.cursor_position = len(self.value)
        return True

    async def _on_key(self, event: Key) -> None:
        action = self._actions.get(event.key)
        if action is not None or event.key == "enter":
            event.stop()
            event.prevent_default()
        if event.key == "enter":
            self.enter()
        elif action is not None:
            await self.run_action(action)

    def _as_list(self, text: str) -> str:
        """What is pasted behind the verb of a list as one list; any other text as it is."""
        verb = self.value.strip().partition(" ")[0]
        items = [line.strip(" ,") for line in text.splitlines() if line.strip(" ,")]
        shape = VERBS[verb].shape if verb in VERBS else None
        return ", ".join(items) if shape is Shape.GROUPED and len(items) > 1 else text

    def _on_paste(self, event: Paste) -> None:
        """Enters each whole line of what is pasted; what has no end yet is as if it were typed."""
        event.stop()
        event.prevent_default()
        text = self._as_list(event.text)
        for piece in text.replace("\r\n", "\n").replace("\r", "\n").splitlines(keepends=True):
            self.insert_text_at_cursor("".join(sign for sign in piece if sign.isprintable()))
            if piece.endswith("\n") and self.value.strip():  # an empty line would take what is offered
                self.enter()


def actions_of(bindings: list[BindingType], whose: str = "") -> dict[str, str]:
    """The keys of some bindings, each with the name of its action."""
    return {
        key: f"{whose}{binding.action}"
        for binding in bindings
        if isinstance(binding, Binding)
        for key in binding.key.split(",")
    }
