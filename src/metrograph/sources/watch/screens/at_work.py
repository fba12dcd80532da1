"""Tells whether the machine is at work: nothing can be pressed, and something says that it is busy."""

from __future__ import annotations

from metrograph.sources.watch.screens.page import Page, can_be_pressed
from metrograph.sources.watch.screens.surround import Surround
from metrograph.sources.watch.screens.words import tells_of_waiting

_RESTLESS = 0.03  # of the picture: a page of which more moves by itself is at work


def at_work(page: Page, around: Surround) -> bool:
    """Whether nothing can be pressed to go on, and something tells that the machine is at work."""
    if page.blank or page.console:
        return True
    own = around.own(page)
    if not own:
        return True
    if any(can_be_pressed(text, own) for text in own if text.button in {"forward", "answer"}):
        return False
    return page.restless > _RESTLESS or page.moving or any(tells_of_waiting(text.text) for text in own)
