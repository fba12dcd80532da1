"""Draws sheets with programs of terminals, in a console's own letters: ``python -m bench.looks.terminals SHEETS.json FOLDER``."""

from __future__ import annotations

import gzip
import os
import struct
import sys
from collections.abc import Sequence
from pathlib import Path
from time import monotonic
from typing import cast

import msgspec
import pexpect
import pyte
from PIL import Image, ImageDraw, ImageFont

from bench.looks.drawing import order_of
from bench.looks.flow import Sheet
from bench.looks.look import Look

_FONTS = Path("/usr/share/consolefonts")
_SETS = {"rus": "CyrSlav", "ell": "Greek"}
_SHADES = {
    "black": (0, 0, 0), "red": (170, 0, 0), "green": (0, 170, 0), "brown": (170, 85, 0), "blue": (0, 0, 170),
    "magenta": (170, 0, 170), "cyan": (0, 170, 170), "white": (170, 170, 170),
}  # fmt: skip
_BRIGHT = {name: tuple(min(value + 85, 255) for value in shade) for name, shade in _SHADES.items()}


def main() -> None:
    """Draws all sheets of an order."""
    order, folder = order_of(Path(sys.argv[1])), Path(sys.argv[2])
    font = ConsoleFont(order.look)
    columns, rows = order.look.size[0] // font.width, order.look.size[1] // font.height
    for number, sheet in enumerate(order.sheets):
        screen = _shown(_words(order.look, sheet, columns, rows), columns, rows)
        font.draw(screen, order.look.size).save(folder / f"{number}.png")


class ConsoleFont:
    """A console's letters (PSF, version 1 or 2, with its table of signs); what it lacks is drawn from a larger set."""

    def __init__(self, look: Look) -> None:
        letters = (
            "VGA" if look.letters in {14, 16} and look.seed % 2 else "Fixed" if look.letters < 20 else "Terminus20x10"
        )
        size = "" if letters.startswith("Terminus") else str(look.letters)
        raw = gzip.decompress((_FONTS / f"{_SETS.get(look.tongue, 'Uni2')}-{letters}{size}.psf.gz").read_bytes())
        if raw[:2] == b"\x36\x04":
            count, bytes_each, self.height, self.width = 512 if raw[2] & 1 else 256, raw[3], raw[3], 8
            start, table = 4, self._table1(raw[4 + count * bytes_each :])
        else:
            _, _, start, _, count, bytes_each, self.height, self.width = struct.unpack("<8I", raw[:32])
            table = self._table2(raw[start + count * bytes_each :])
        glyphs = [raw[start + n * bytes_each : start + (n + 1) * bytes_each] for n in range(count)]
        self._glyphs = {sign: glyphs[place] for sign, place in table.items() if place < count}
        self._wide = ImageFont.truetype("/usr/share/fonts/opentype/unifont/unifont_jp.otf", 16)

    def draw(self, screen: pyte.Screen, size: tuple[int, int]) -> Image.Image:
        """The picture of a terminal's screen."""
        image = Image.new("RGB", size)
        for row in range(screen.lines):
            for column in range(screen.columns):
                cell = screen.buffer[row][column]
                ink, ground = self._inks(cell)
                at = column * self.width, row * self.height
                image.paste(ground, (*at, at[0] + self.width, at[1] + self.height))
                if cell.data.strip():
                    self._sign(image, cell.data, at, ink)
        return image

    def _inks(self, cell: pyte.screens.Char) -> tuple[tuple[int, ...], tuple[int, ...]]:
        ink = (_BRIGHT if cell.bold else _SHADES).get(cell.fg if cell.fg != "default" else "white", (170, 170, 170))
        ground = _SHADES.get(cell.bg, (0, 0, 0))
        return (ground, ink) if cell.reverse else (ink, ground)

    def _sign(self, image: Image.Image, sign: str, at: tuple[int, int], ink: tuple[int, ...]) -> None:
        glyph = self._glyphs.get(sign)
        if glyph is not None:
            row = -(-self.width // 8)
            mask = Image.frombytes("1", (row * 8, self.height), glyph[: row * self.height])
            image.paste(ink, at, mask.crop((0, 0, self.width, self.height)))
            return
        drawing = ImageDraw.Draw(image)
        drawing.fontmode = "1"
        drawing.text(at, sign, ink, self._wide)

    @staticmethod
    def _table1(raw: bytes) -> dict[str, int]:
        found: dict[str, int] = {}
        place = 0
        for (code,) in struct.iter_unpack("<H", raw[: len(raw) // 2 * 2]):
            if code == 0xFFFF:
                place += 1
            elif code != 0xFFFE:
                found.setdefault(chr(code), place)
        return found

    @staticmethod
    def _table2(raw: bytes) -> dict[str, int]:
        found: dict[str, int] = {}
        for place, entry in enumerate(raw.split(b"\xff")):
            for sign in entry.split(b"\xfe")[0].decode("utf-8", "ignore"):
                found.setdefault(sign, place)
        return found


def _shown(words: Sequence[str], columns: int, rows: int) -> pyte.Screen:
    """What a program shows on a terminal before anything is pressed."""
    # A terminal that paints what it erases, as the one below keeps no ground for that.
    world = os.environ | {"TERM": "screen", "LANG": "C.UTF-8", "LC_ALL": "C.UTF-8", "NCURSES_NO_UTF8_ACS": "1"}
    program = pexpect.spawn(words[0], list(words[1:]), dimensions=(rows, columns), env=world)
    screen = pyte.Screen(columns, rows)
    stream = pyte.ByteStream(screen)
    calm = monotonic()
    while monotonic() - calm < 0.25:
        try:
            stream.feed(cast(bytes, program.read_nonblocking(65536, timeout=0.05)))
            calm = monotonic()
        except pexpect.TIMEOUT:
            continue
        except pexpect.EOF:
            break
    program.close(force=True)
    return screen


def _words(look: Look, sheet: Sheet, columns: int, rows: int) -> list[str]:
    """The command that shows a sheet."""
    if look.family == "curses":
        return [sys.executable, "-m", "bench.looks.curses_page", look.style, msgspec.json.encode(sheet).decode()]
    newt = look.family == "newt"
    yes, no = ("--yes-button", "--no-button") if newt else ("--yes-label", "--no-label")
    ok, cancel = ("--ok-button", "--cancel-button") if newt else ("--ok-label", "--cancel-label")
    program = [
        "whiptail" if newt else "dialog",
        "--backtitle",
        "Tallow 4",
        ok,
        sheet.buttons[1],
        cancel,
        sheet.buttons[0],
    ]
    if sheet.dialog:
        title, text, one, two = sheet.dialog
        return [*program, "--title", title, yes, one, no, two, "--yesno", text, "9", "56"]
    program += ["--title", sheet.heading]
    if sheet.control == "progress":
        gauge = [
            *program,
            "--gauge",
            sheet.items[sheet.picked],
            "8",
            str(min(columns - 8, 74)),
            str(round(sheet.share * 100)),
        ]
        return ["/bin/sh", "-c", 'sleep 9 | "$@"', "sh", *gauge]
    return [*program, *_box(look, sheet, min(columns - 8, 74), min(rows - 4, 9 + 2 * len(sheet.items)))]


def _box(look: Look, sheet: Sheet, columns: int, rows: int) -> list[str]:
    """The words that ask for one sort of box, as both programs have them."""
    said = "\n\n".join(dict.fromkeys(part for part in (sheet.error, sheet.sentence, sheet.question) if part))
    size = [str(rows), str(columns)]
    boxes = {"radios": "--radiolist", "checks": "--checklist"}
    if sheet.control in {"list", "combo"} or (sheet.control == "radios" and look.seed % 2):
        items = [part for item in sheet.items for part in (item, "")]
        return ["--default-item", sheet.items[sheet.picked], "--menu", said, *size, str(len(sheet.items)), *items]
    if sheet.control in boxes:
        on = {sheet.picked} if sheet.control == "radios" else set(sheet.ticked)
        items = [part for n, item in enumerate(sheet.items) for part in (item, "", "ON" if n in on else "OFF")]
        return [boxes[sheet.control], said, *size, str(len(sheet.items)), *items]
    if sheet.control == "fields":
        place = max(len(sheet.typed) - 1, 0)
        return [
            "--inputbox",
            f"{said}\n\n{sheet.items[place]}:",
            "14",
            size[1],
            sheet.typed[place] if sheet.typed else "",
        ]
    box = "--yesno" if sheet.kind in {"summary", "partitions"} else "--msgbox"
    return [box, "\n".join([said, "", *sheet.items]), "16", size[1]]


if __name__ == "__main__":
    main()
