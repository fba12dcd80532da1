"""Finds dialogs, a few lines with buttons over a page that stays, and tells whether the machine is at work."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from metrograph.watch.pages.page import Page, Text, can_be_pressed
from metrograph.watch.pages.sameness import inside, same_line, share_of, shared
from metrograph.watch.reading.words import plain, tells_of_waiting
from metrograph.watch.screens.static_regions import StaticRegions

_OUTSIDE = 0.6  # of the lines outside a box that have to stay for it to be a dialog
_DIALOG = 0.4  # of the page: a larger box of lines is a page
_PAGE = 0.85  # of the picture: where more has changed, a page has come
_ENDING = frozenset({"answer", "forward", "cancel"})  # buttons that take a dialog away
_APART = 90  # pixels between a dialog's text and its buttons, and between these


def dialog_over(before: Page, page: Page, regions: StaticRegions) -> tuple[Text, ...]:
    """The lines of a dialog that has come up over the page before; none when it is no dialog."""
    if share_of(page.changed, page) > _PAGE or not any(text.button in _ENDING for text in page.said):
        return ()
    new = [text for text in page.said if not any(same_line(text, old) or _cut_off(text, old) for old in before.said)]
    buttons = [text for text in new if text.button in _ENDING]
    if not buttons:
        return ()
    inner = _around(buttons[0], new)
    box = _bounds(inner)
    words = [text for text in inner if not text.button and len(plain(text.text).split()) >= 2]
    outside = [text for text in regions.own(before) if not inside(text, box)]
    if not words or share_of(box, page) > _DIALOG or not outside:
        return ()
    return tuple(inner) if shared(outside, page.said) >= _OUTSIDE * len(outside) else ()


def seen_again(lines: Iterable[Text], page: Page) -> list[Text]:
    """The lines of a page that stood in the same places before."""
    return [text for text in page.said if any(same_line(text, line) for line in lines)]


def _cut_off(text: Text, old: Text) -> bool:
    """Whether a line is what a dialog has left of one that stood there before."""
    return (
        abs(text.top - old.top) <= old.height and len(text.text) < len(old.text) and plain(text.text) in plain(old.text)
    )


def _around(button: Text, lines: Sequence[Text]) -> list[Text]:
    """The lines that stand together with a button, none further from the next than a dialog's parts are."""
    found, rest = [button], [line for line in lines if line is not button]
    for line in found:
        near = [
            other for other in rest
            if max(other.top - line.bottom, line.top - other.bottom) <= _APART
            and max(other.left - line.right, line.left - other.right) <= 2 * _APART
        ]  # fmt: skip
        found += near
        rest = [other for other in rest if other not in near]
    return sorted(found, key=lambda line: (line.top, line.left))


def _bounds(lines: Sequence[Text]) -> tuple[int, int, int, int]:
    return (
        min(line.left for line in lines),
        min(line.top for line in lines),
        max(line.right for line in lines),
        max(line.bottom for line in lines),
    )


_RESTLESS = 0.03  # of the picture: a page of which more moves by itself is at work


def at_work(page: Page, regions: StaticRegions) -> bool:
    """Whether nothing can be pressed to go on, and something tells that the machine is at work."""
    if page.blank or page.console:
        return True
    own = regions.own(page)
    if not own:
        return True
    if any(can_be_pressed(text, own) for text in own if text.button in {"forward", "answer"}):
        return False
    return page.restless > _RESTLESS or page.moving or any(tells_of_waiting(text.text) for text in own)
