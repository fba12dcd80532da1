"""Films of whole ways: boot menu, boot lines, live desktop, the installer in a window, restart, greeter, desktop, first boot."""

from __future__ import annotations

import random
from collections.abc import Iterator
from pathlib import Path

import msgspec
from msgspec.structs import replace
from PIL import Image, ImageDraw

from bench.films.film import code
from bench.films.themes import face, mono
from bench.looks.desktop import Desktop
from bench.looks.film import Filmed
from bench.looks.flow import FlowTeller, Meant
from bench.looks.look import TEXT, Look, flow_of
from bench.looks.toolkits import draw

Shown = tuple[float, Image.Image]
"""A picture and for how many seconds it is to be seen."""
_ENTRIES = ("Try Tallow", "Install Tallow", "Check the medium", "Firmware settings")
_FIRST_BOOT = ("privacy", "appearance")


class WholeWay:
    """Tells the way of one look; ``shown`` and ``meant`` are filled as it goes."""

    def __init__(self, look: Look) -> None:
        if look.family in TEXT:
            raise ValueError("a terminal has no desktop")
        self.look = replace(look, window=True)
        self.desk, self.chance = Desktop(self.look), random.Random(look.seed)
        self.shown: list[Shown] = []
        self.meant: list[Meant] = []
        self.now = 0.0
        self.tell()

    def show(self, picture: Image.Image, seconds: float) -> None:
        """Something to be seen for so long."""
        self.shown.append((seconds, picture))
        self.now += seconds

    def tell(self) -> None:
        """All of it, from power-on on."""
        self.menu()
        self.boot()
        self.show(self.desk.with_page(None, 0), self.chance.uniform(4, 8))
        flow = flow_of(self.look)
        pages = draw(self.look, flow.sheets)
        self.pages([(at, pages[number]) for at, number in flow.shown], flow.seconds, flow.meant)
        self.boot()
        self.greeter()
        self.show(self.desk.with_page(None, 3), self.chance.uniform(3, 6))
        self.first_boot()
        self.show(self.desk.with_page(None, 4), self.chance.uniform(3, 5))

    def menu(self) -> None:
        """The machine's own menu, whose marked row moves."""
        start, width, height = self.now, *self.look.size
        letters = face(mono()[0], 18)
        for marked in (0, 1, 1):
            image = Image.new("RGB", self.look.size, (0, 0, 0) if self.look.seed % 2 else (28, 40, 70))
            drawing = ImageDraw.Draw(image)
            drawing.text((width // 2 - 90, height // 5), "Tallow 4 boot menu", "white", letters)
            for number, entry in enumerate(_ENTRIES):
                top = height // 3 + number * 30
                if number == marked:
                    drawing.rectangle((width // 4, top - 3, 3 * width // 4, top + 24), (170, 170, 170))
                drawing.text((width // 4 + 10, top), entry, "black" if number == marked else "white", letters)
            drawing.text((width // 4, height - 80), "Use the arrow keys and press Enter", "white", letters)
            self.show(image, self.chance.uniform(1.5, 2.5))
        self.meant.append(Meant(start, self.now, "Tallow 4 boot menu", "", "boot-menu"))

    def boot(self) -> None:
        """Firmware, kernel and services, and black in between."""
        start, letters = self.now, face(mono()[0], 15)
        self.show(Image.new("RGB", self.look.size), self.chance.uniform(1, 2))
        lines: list[str] = []
        for number in range(9):
            new = [f"[{number / 3:12.6f}] bus {number}.{place}: device found, irq {place % 16}" for place in range(4)]
            lines += new if number < 4 else [f"[  OK  ] Started service {number}.{place}." for place in range(3)]
            image = Image.new("RGB", self.look.size)
            drawing = ImageDraw.Draw(image)
            for row, line in enumerate(lines[-self.look.size[1] // 20 + 2 :]):
                drawing.text((0, row * 20), line, (190, 190, 190), letters)
            self.show(image, self.chance.uniform(0.3, 0.9))
        self.show(Image.new("RGB", self.look.size), self.chance.uniform(1, 2.5))
        self.meant.append(Meant(start, self.now, "", "", "", waiting=True))

    def pages(self, pages: list[tuple[float, Image.Image]], seconds: float, meant: list[Meant]) -> None:
        """Pages in their window, from their moments on."""
        start = self.now
        ends = [at for at, _ in pages[1:]] + [seconds]
        for (at, page), end in zip(pages, ends, strict=True):
            self.show(self.desk.with_page(page, int(self.now // 60)), end - at)
        self.meant += [replace(each, start=each.start + start, end=each.end + start) for each in meant]

    def greeter(self) -> None:
        """Who logs in, and the password, which is refused once."""
        start, width, height = self.now, *self.look.size
        letters = face(mono()[0], 18)
        for typed in ("", "....", "........", "........"):
            image = self.desk.empty.copy()
            drawing = ImageDraw.Draw(image)
            drawing.rectangle((width // 2 - 180, height // 2 - 90, width // 2 + 180, height // 2 + 90), (40, 42, 48))
            drawing.text((width // 2 - 60, height // 2 - 70), "Wren Ashby", "white", letters)
            drawing.rectangle((width // 2 - 150, height // 2 - 20, width // 2 + 150, height // 2 + 14), (70, 72, 78))
            drawing.text((width // 2 - 140, height // 2 - 14), typed or "Password", "white", letters)
            drawing.text((width // 2 - 30, height // 2 + 40), "Log in", "white", letters)
            self.show(image, self.chance.uniform(0.8, 1.5))
        self.meant.append(Meant(start, self.now, "", "", "greeter"))

    def first_boot(self) -> None:
        """A program of the first boot, in another window."""
        teller = FlowTeller(self.look.tongue, self.look.seed, "own", step_names=False)
        for kind in _FIRST_BOOT:
            teller.tell_one(kind)
        pages = draw(self.look, teller.sheets)
        self.pages([(at, pages[number]) for at, number in teller.shown], teller.now, teller.meant)


def write_whole_way(look: Look, path: Path) -> None:
    """Films the way of a look; its truth lies beside it."""
    way = WholeWay(look)
    code(way.look, _frames(way.shown, look.rate), path)
    path.with_suffix(".json").write_bytes(msgspec.json.encode(Filmed(way.look, way.now, way.meant)))


def _frames(shown: list[Shown], rate: int) -> Iterator[Image.Image]:
    done, until = 0, 0.0
    for seconds, picture in shown:
        until += seconds
        while done / rate < until:
            yield picture
            done += 1
