"""Shows one sheet on a whole terminal with curses, and stays: ``python -m bench.looks.curses_page STYLE SHEET``."""

from __future__ import annotations

import curses
import sys
from time import sleep

import msgspec

from bench.looks.flow import Sheet


def main() -> None:
    """Shows the sheet."""
    curses.wrapper(_show, sys.argv[1], msgspec.json.decode(sys.argv[2], type=Sheet))


def _show(window: curses.window, style: str, sheet: Sheet) -> None:
    curses.curs_set(0)
    for number, (ink, ground) in enumerate(
        (
            (curses.COLOR_WHITE, curses.COLOR_BLUE),
            (curses.COLOR_BLACK, curses.COLOR_CYAN),
            (curses.COLOR_YELLOW, curses.COLOR_BLUE),
        ),
        1,
    ):
        curses.init_pair(number, ink, ground)
    window.bkgd(" ", curses.color_pair(1) if style == "keys" else curses.A_NORMAL)
    rows, columns = window.getmaxyx()
    heading = curses.color_pair(3) | curses.A_BOLD if style == "keys" else curses.A_BOLD
    window.addstr(1, 2, " Tallow 4 ")
    window.hline(2, 1, curses.ACS_HLINE, columns - 2)
    window.addstr(4, 4, sheet.heading, heading)
    row = 6
    for text in dict.fromkeys(part for part in (sheet.sentence, sheet.question) if part):
        window.addstr(row, 4, text)
        row += 2
    for number, item in enumerate(sheet.items):
        if sheet.control == "progress":
            continue
        sign = {
            "radios": "(*) " if number == sheet.picked else "( ) ",
            "checks": "[x] " if number in sheet.ticked else "[ ] ",
        }
        picked = sheet.control in {"list", "combo", "radios"} and number == sheet.picked
        window.addstr(
            row, 6, f"{sign.get(sheet.control, '')}{item}", curses.color_pair(2) if picked else curses.A_NORMAL
        )
        if sheet.control == "fields":
            window.addstr(row, 40, (sheet.typed[number] if number < len(sheet.typed) else "").ljust(30, "_"))
        row += 1
    if sheet.control == "progress":
        full = round((columns - 12) * sheet.share)
        window.addstr(row, 5, "#" * full + "." * (columns - 12 - full))
        window.addstr(row + 2, 5, sheet.items[sheet.picked])
        window.addstr(row + 2, columns - 10, f"{sheet.share:.0%}")
    if sheet.error:
        window.addstr(row + 1, 4, sheet.error, curses.A_BOLD)
    _foot(window, style, sheet, rows, columns)
    if sheet.dialog:
        _dialog(window, sheet, rows, columns)
    window.refresh()
    sleep(9)


def _foot(window: curses.window, style: str, sheet: Sheet, rows: int, columns: int) -> None:
    back, onward, cancel = sheet.buttons
    if style == "keys":
        window.addstr(rows - 2, 2, f"F1 {cancel}   F9 {back}   F10 {onward}".ljust(columns - 4), curses.color_pair(2))
        return
    place = columns - 6 - sum(len(text) + 6 for text in (back, onward))
    for text, live in ((back, sheet.live[0]), (onward, sheet.live[1])):
        style_of = curses.A_REVERSE if text == onward and live else curses.A_NORMAL if live else curses.A_DIM
        window.addstr(rows - 3, place, f"[ {text} ]", style_of)
        place += len(text) + 6


def _dialog(window: curses.window, sheet: Sheet, rows: int, columns: int) -> None:
    title, text, one, two = sheet.dialog
    wide = min(max(len(text), len(title)) + 10, columns - 4)
    box = window.derwin(8, wide, rows // 2 - 4, (columns - wide) // 2)
    box.erase()
    box.bkgd(" ", curses.color_pair(2))
    box.box()
    box.addstr(0, 3, f" {title} ")
    box.addstr(3, 4, text)
    box.addstr(6, wide // 2 - len(one) - 6, f"< {one} >", curses.A_REVERSE)
    box.addstr(6, wide // 2 + 2, f"< {two} >")


if __name__ == "__main__":
    main()
