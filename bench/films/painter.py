"""Paints one screen of an installer that never was, in the look of a theme."""

from __future__ import annotations

import msgspec
from PIL import Image, ImageDraw

from bench.films.themes import Ink, Theme, face
from bench.films.words import TONGUES


class Screen(msgspec.Struct, frozen=True):
    """All that is to be seen.

    kind, title, label, items: as the words have them; control: list, combo, radios, checks, fields, paragraphs, progress.
    picked: which item; typed: what stands in the fields; offset: how far a list is scrolled; pop: whether a combo is open.
    dialog: heading, text and two buttons over the page; error: a line of trouble on it; share: of progress, 0 to 1.
    part: how much of the page is painted, 0 to 1; minute: what the clock says; pointer: where it is, None when away.
    """

    kind: str = ""
    title: str = ""
    label: str = ""
    items: tuple[str, ...] = ()
    control: str = ""
    number: int = 0
    steps: tuple[str, ...] = ()
    picked: int = 0
    typed: tuple[str, ...] = ()
    offset: int = 0
    pop: bool = False
    dialog: tuple[str, str, str, str] | None = None
    error: str = ""
    share: float = 0.0
    slide: str = ""
    part: float = 1.0
    minute: int = 0
    pointer: tuple[int, int] | None = None
    black: bool = False
    desktop: bool = False
    console: tuple[str, ...] = ()


def paint(theme: Theme, screen: Screen) -> Image.Image:
    """The picture of a screen."""
    image = Image.new("RGB", theme.size, (0, 0, 0) if screen.black or screen.console else theme.desk)
    painter = _Painter(theme, screen, ImageDraw.Draw(image))
    if screen.console:
        painter.console()
    elif screen.desktop:
        painter.desktop()
    elif not screen.black:
        painter.page()
    return image


class _Painter:
    """Draws from the window inwards; ``left, top, right, bottom`` is the place that is still free."""

    def __init__(self, theme: Theme, screen: Screen, draw: ImageDraw.ImageDraw) -> None:
        self.theme, self.screen, self.draw = theme, screen, draw
        width, height = theme.size
        inset = min(width, height) // 9 if theme.window else 0
        self.left, self.top, self.right, self.bottom = inset, inset, width - inset, height - inset
        self.line = round(theme.letters * 1.6)

    def page(self) -> None:
        theme, screen = self.theme, self.screen
        self.draw.rectangle((self.left, self.top, self.right, self.bottom), theme.ground)
        if theme.clock:
            self.text(theme.size[0] // 2, 4, f"10:{screen.minute:02d}", _against(theme.desk))
        self.window_bar()
        self.banner()
        self.step_names()
        self.button_row()
        if screen.part < 0.3:
            return
        self.heading()
        if screen.part < 0.7:
            return
        self.content()
        if screen.dialog:
            self.dialog(*screen.dialog)
        if screen.pointer:
            x, y = screen.pointer
            self.draw.polygon([(x, y), (x, y + 16), (x + 5, y + 12), (x + 11, y + 11)], (0, 0, 0), (255, 255, 255))

    def desktop(self) -> None:
        """A desktop with nothing open: its panel, a clock, two icons."""
        theme, (width, height) = self.theme, self.theme.size
        self.draw.rectangle((0, height - 36, width, height), theme.accent)
        self.text(12, height - 30, "Larkmoor", (255, 255, 255))
        self.text(width - 70, height - 30, f"10:{self.screen.minute:02d}", (255, 255, 255))
        for place, name in enumerate(("Home", "Wastebasket")):
            self.draw.rounded_rectangle((40, 40 + place * 110, 100, 100 + place * 110), 8, theme.ground)
            self.text(34, 106 + place * 110, name, _against(theme.desk))

    def console(self) -> None:
        theme = self.theme
        font = face(theme.font, 15)
        for row, line in enumerate(self.screen.console[-(theme.size[1] // 18) :]):
            self.draw.text((2, row * 18), line, (190, 190, 190), font)

    def text(self, x: int, y: int, words: str, ink: Ink, size: int = 0, bold: bool = False) -> int:
        """Writes words; gives where they end."""
        theme = self.theme
        font = face(theme.bold if bold else theme.font, size or theme.letters)
        self.draw.text((x, y), words, ink, font)
        return x + round(font.getlength(words))

    def window_bar(self) -> None:
        theme, title = self.theme, self.screen.title
        if not theme.window:
            return
        height = self.line + 6
        self.draw.rectangle((self.left, self.top, self.right, self.top + height), theme.faint)
        words = title if theme.heading == "bar" else "Larkmoor"
        width = face(theme.font, theme.letters).getlength(words)
        self.text(round((self.left + self.right - width) / 2), self.top + 4, words, _against(theme.faint))
        self.top += height

    def banner(self) -> None:
        theme = self.theme
        if theme.banner is None:
            return
        height = round(theme.heading_letters * 2.2)
        self.draw.rectangle((self.left, self.top, self.right, self.top + height), theme.banner)
        if theme.heading == "banner":
            words = self.screen.title if self.screen.part >= 0.3 else ""
            self.text(
                self.left + 24,
                self.top + height // 4,
                words,
                (255, 255, 255),
                theme.heading_letters,
                theme.heading_bold,
            )
        else:
            self.text(
                self.left + 24, self.top + height // 4, "Larkmoor 9.0", (255, 255, 255), theme.heading_letters, True
            )
        self.top += height

    def step_names(self) -> None:
        theme, screen = self.theme, self.screen
        if len(screen.steps) < 3:  # nobody lists two
            return
        if theme.steps == "side":
            width = round(max(face(theme.bold, theme.letters).getlength(step) for step in screen.steps)) + 50
            self.draw.rectangle((self.left, self.top, self.left + width, self.bottom), theme.field)
            for number, step in enumerate(screen.steps):
                y = self.top + 16 + number * (self.line + 8)
                here = number == screen.number
                if here:
                    self.draw.rectangle((self.left, y - 4, self.left + width, y + self.line), theme.accent)
                self.text(self.left + 16, y, step, (255, 255, 255) if here else theme.ink, bold=here)
            self.left += width
        elif theme.steps == "top":
            x = self.left + 16
            for number, step in enumerate(screen.steps[max(screen.number - 2, 0) :][:5]):
                here = number == min(screen.number, 2)
                x = self.text(x, self.top + 8, step, theme.ink if here else theme.faint, bold=here) + 28 + theme.letters
            self.top += self.line + 16

    def button_row(self) -> None:
        theme, screen = self.theme, self.screen
        forward, back, cancel, install = TONGUES[theme.tongue].buttons
        y = self.bottom - self.line - 24
        if screen.control == "progress":
            names = [cancel] if theme.seed % 2 else []
        else:
            names = [back, install if screen.kind == "summary" else forward] if screen.number else [forward]
            names = [cancel, *names] if theme.seed % 3 else names
        font = face(theme.font, theme.letters)
        widths = [round(font.getlength(name)) + 36 for name in names]
        total = sum(widths) + 12 * len(widths)
        x = {"left": self.left + 20, "centre": (self.left + self.right - total) // 2}.get(
            theme.buttons, self.right - total - 8
        )
        for number, (name, width) in enumerate(zip(names, widths, strict=True)):
            if theme.buttons == "apart" and number == 0 and len(names) > 1:
                self.button(self.left + 20, y, width, name)
            else:
                self.button(x, y, width, name)
            x += width + 12
        self.bottom = y - 12

    def button(self, x: int, y: int, width: int, name: str) -> None:
        theme = self.theme
        if theme.text_mode:
            self.text(x, y + 6, f"<{name}>", theme.ink)
            return
        if not theme.flat_buttons:
            self.draw.rounded_rectangle((x, y, x + width, y + self.line + 8), 4, theme.field, theme.faint)
        self.text(x + 18, y + 5, name, theme.ink)

    def heading(self) -> None:
        theme = self.theme
        if theme.heading == "content":
            self.text(
                self.left + 28, self.top + 18, self.screen.title, theme.ink, theme.heading_letters, theme.heading_bold
            )
            self.top += theme.heading_letters + 30
        self.left, self.top = self.left + 28, self.top + 14
        self.right -= 28

    def content(self) -> None:
        screen = self.screen
        if screen.slide:
            self.slide()
        self.text(self.left, self.top, screen.label, self.theme.ink)
        self.top += self.line + 8
        {"list": self.rows, "combo": self.combo, "radios": self.marks, "checks": self.marks, "fields": self.fields,
         "paragraphs": self.paragraphs, "progress": self.progress}[screen.control]()  # fmt: skip
        if screen.error:
            self.text(self.left, self.top + 10, screen.error, (200, 60, 50))

    def rows(self) -> None:
        theme, screen = self.theme, self.screen
        self.draw.rectangle((self.left, self.top, self.right, self.bottom), theme.field, theme.faint)
        items = screen.items * 3
        room = (self.bottom - self.top - 8) // self.line
        for number, item in enumerate(items[screen.offset :][:room]):
            y = self.top + 4 + number * self.line
            here = number + screen.offset == screen.picked
            if here:
                self.draw.rectangle((self.left + 2, y, self.right - 2, y + self.line - 1), theme.accent)
            self.text(self.left + 12, y + 2, item, (255, 255, 255) if here else theme.ink)
        self.top = self.bottom

    def combo(self) -> None:
        theme, screen = self.theme, self.screen
        box = (self.left, self.top, self.left + 320, self.top + self.line + 6)
        self.draw.rectangle(box, theme.field, theme.faint)
        self.text(self.left + 10, self.top + 4, screen.items[screen.picked], theme.ink)
        self.draw.polygon(
            [(box[2] - 18, box[1] + 10), (box[2] - 8, box[1] + 10), (box[2] - 13, box[1] + 17)], theme.ink
        )
        self.top = box[3] + 4
        if screen.pop:
            height = min(len(screen.items) * self.line + 6, self.bottom - self.top)
            self.draw.rectangle((self.left, self.top, self.left + 320, self.top + height), theme.field, theme.ink)
            for number, item in enumerate(screen.items[: height // self.line]):
                self.text(self.left + 10, self.top + 3 + number * self.line, item, theme.ink)

    def marks(self) -> None:
        theme, screen = self.theme, self.screen
        size = theme.letters - 2
        for number, item in enumerate(screen.items):
            on = number == screen.picked or (screen.control == "checks" and number < screen.picked)
            x, y = self.left, self.top + 4
            if theme.text_mode:
                self.text(
                    x,
                    y,
                    ("[*]" if on else "[ ]") if screen.control == "checks" else ("(*)" if on else "( )"),
                    theme.ink,
                )
            elif screen.control == "checks":
                self.draw.rectangle((x, y, x + size, y + size), theme.field, theme.ink)
                if on:
                    self.draw.line(
                        [(x + 3, y + size // 2), (x + size // 2, y + size - 3), (x + size - 2, y + 3)], theme.accent, 3
                    )
            else:
                self.draw.ellipse((x, y, x + size, y + size), theme.field, theme.ink)
                if on:
                    self.draw.ellipse((x + 4, y + 4, x + size - 4, y + size - 4), theme.accent)
            self.text(x + size * 2 + 6, self.top, item, theme.ink)
            self.top += self.line + 8

    def fields(self) -> None:
        theme, screen = self.theme, self.screen
        for number, item in enumerate(screen.items):
            self.text(self.left, self.top + 4, item, theme.ink)
            box = (self.left + 220, self.top, self.left + 520, self.top + self.line + 6)
            self.draw.rectangle(box, theme.field, theme.faint)
            words = screen.typed[number] if number < len(screen.typed) else ""
            self.text(box[0] + 8, self.top + 4, "•" * len(words) if number >= 2 else words, theme.ink)
            self.top += self.line + 16

    def paragraphs(self) -> None:
        for item in self.screen.items:
            self.text(self.left, self.top, item, self.theme.ink)
            self.top += self.line + 6

    def progress(self) -> None:
        theme, screen = self.theme, self.screen
        y = self.bottom - 2 * self.line - 10
        self.draw.rectangle((self.left, y, self.right, y + 18), theme.field, theme.faint)
        self.draw.rectangle(
            (self.left, y, self.left + round((self.right - self.left) * screen.share), y + 18), theme.accent
        )
        task = screen.items[min(int(screen.share * len(screen.items)), len(screen.items) - 1)]
        self.text(self.left, y + 24, f"{task} ({round(screen.share * 100)} %)", theme.ink)

    def slide(self) -> None:
        theme = self.theme
        box = (self.left, self.top + self.line + 8, self.right, self.bottom - 2 * self.line - 30)
        shade = (theme.seed * 37 + len(self.screen.slide) * 23) % 140 + 40
        self.draw.rectangle(box, (shade, 90, 200 - shade))
        self.text(box[0] + 40, box[1] + 30, self.screen.slide, (255, 255, 255), round(theme.letters * 1.6), True)

    def dialog(self, title: str, text: str, yes: str, no: str) -> None:
        theme = self.theme
        width, height = theme.size
        box = (width // 2 - 230, height // 2 - 80, width // 2 + 230, height // 2 + 90)
        self.draw.rectangle(box, theme.ground, theme.ink, 2)
        self.text(box[0] + 24, box[1] + 16, title, theme.ink, bold=True)
        self.text(box[0] + 24, box[1] + 24 + self.line, text, theme.ink)
        self.button(box[2] - 220, box[3] - self.line - 24, 90, no)
        self.button(box[2] - 110, box[3] - self.line - 24, 90, yes)


def _against(ground: Ink) -> Ink:
    return (0, 0, 0) if sum(ground) > 380 else (255, 255, 255)
