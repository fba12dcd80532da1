"""Sets a toolkit's picture into a desktop: wallpaper, panel with a clock, a window's title bar, a pointer."""

from __future__ import annotations

import random

import numpy as np
from PIL import Image, ImageDraw, ImageFilter, ImageFont
from PIL.Image import Resampling

from bench.films.themes import face, faces
from bench.looks.drawing import place_of_window, title_bar
from bench.looks.look import TEXT, Look

_POINTER = ((0, 0), (0, 17), (4, 13), (7, 19), (10, 18), (7, 12), (12, 12))


class Desktop:
    """Everything around the pages of a look; always the same one for a seed."""

    def __init__(self, look: Look) -> None:
        self.look, self.chance = look, random.Random(look.seed)
        self.empty = self._wallpaper()

    def _wallpaper(self) -> Image.Image:
        width, height = self.look.size
        shades = np.random.default_rng(self.look.seed).integers(20, 220, (5, 7, 3)).astype(np.uint8)
        wall = Image.fromarray(shades).resize((width, height), Resampling.BICUBIC).filter(ImageFilter.GaussianBlur(6))
        drawing = ImageDraw.Draw(wall)
        for number, name in enumerate(("Home", "Trash", "Install Tallow")):
            drawing.rounded_rectangle((30, 80 + number * 110, 78, 128 + number * 110), 8, (230, 230, 240))
            drawing.text((22, 132 + number * 110), name, "white", self._face(13))
        return wall

    def _face(self, letters: int) -> ImageFont.FreeTypeFont:
        return face(faces()[self.look.seed % len(faces())][0], letters)

    def with_page(self, page: Image.Image | None, minute: int) -> Image.Image:
        """A page on the desktop, or the whole screen; the desktop alone where there is none."""
        look = self.look
        if page is not None and not look.window:
            whole = Image.new("RGB", look.size, "black" if look.family in TEXT else page.getpixel((0, 0)))
            whole.paste(page, (0, 0))
            return whole
        whole, width, height = self.empty.copy(), *look.size
        drawing = ImageDraw.Draw(whole)
        low = look.seed % 2
        drawing.rectangle((0, height - 28 if low else 0, width, height if low else 28), (24, 26, 30))
        top = height - 23 if low else 5
        drawing.text(
            (width // 2 - 20 if look.seed % 3 else width - 70, top), f"10:{minute:02d}", "white", self._face(14)
        )
        drawing.text((12, top), "Activities" if look.seed % 4 else "Menu", "white", self._face(14))
        if page is not None:
            self._window(whole, drawing, page)
        return whole

    def _window(self, whole: Image.Image, drawing: ImageDraw.ImageDraw, page: Image.Image) -> None:
        look, bar = self.look, title_bar()
        left, top = place_of_window(look)
        dark = look.dark or look.seed % 3 == 0
        ground, ink = ((40, 42, 46), "white") if dark else ((222, 221, 219), "black")
        drawing.rectangle((left - 1, top - bar, left + page.width, top + page.height), ground, (20, 20, 20))
        title, letters = f"Install Tallow {4 + look.seed % 3}", self._face(14)
        middle = left + page.width // 2 - int(letters.getlength(title)) // 2 if look.seed % 2 else left + 12
        drawing.text((middle, top - bar + 6), title, ink, letters)
        for number in range(3):
            place = left + page.width - 24 - number * 24
            drawing.ellipse((place, top - bar + 9, place + 12, top - bar + 21), outline=ink)
        whole.paste(page, (left, top))

    def with_pointer(self, picture: Image.Image, place: tuple[int, int]) -> Image.Image:
        """A picture with the pointer on it."""
        picture = picture.copy()
        shape = [(place[0] + x, place[1] + y) for x, y in _POINTER]
        ImageDraw.Draw(picture).polygon(shape, "white", "black")
        return picture
