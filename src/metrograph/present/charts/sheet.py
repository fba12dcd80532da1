"""The sheet that every figure is drawn on: its style, its measures in points, its title and caption, its file forms."""

from __future__ import annotations

import io
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache, lru_cache
from typing import TYPE_CHECKING, Any

import msgspec

from metrograph.present.terminal.text import shorten, width

if TYPE_CHECKING:
    from matplotlib.figure import Figure
    from matplotlib.text import Text

INK, SOFT, FAINT = "#22262c", "#6b7280", "#e6e8eb"
WIDTH = 921.6  # points, of every figure: 1280 pixels
MARGIN = 18.0
TITLE, CAPTION, LABEL, SMALL = 14.0, 9.0, 10.0, 8.5  # points of type
ENDINGS = ("svg", "png", "pdf")
_DPI = 100
_TOLD = 300  # columns of a title that are told to those who listen
_NAMESPACES = {
    "": "http://www.w3.org/2000/svg",
    "xlink": "http://www.w3.org/1999/xlink",
    "cc": "http://creativecommons.org/ns#",
    "dc": "http://purl.org/dc/elements/1.1/",
    "rdf": "http://www.w3.org/1999/02/22-rdf-syntax-ns#",
}
_TALLEST = 14_000.0  # points; more than any screen, less than what PNG and PDF can hold
_FONT = "DejaVu Sans"
_OTHER_FONTS = (
    "Noto Sans CJK JP", "Noto Sans CJK SC", "Noto Sans Arabic", "Noto Sans Hebrew", "Noto Sans Devanagari",
    "WenQuanYi Zen Hei", "Droid Sans Fallback", "Unifont",
)  # fmt: skip
"""For scripts that the first has not, as far as they are installed."""
_STYLE = {
    "hatch.linewidth": 0.6,
    "svg.fonttype": "none",  # text stays text
    "svg.hashsalt": "metrograph",  # the same runs give the same file
    "text.parse_math": False,  # a title with a dollar sign is not a formula
}


class Sheet(msgspec.Struct, frozen=True):
    """A figure under way. Everything is placed in points from its upper left corner."""

    figure: Any
    height: float

    def text(self, x: float, y: float, text: str, size: float = LABEL, **look: Any) -> Text:
        """Writes a text; ``ha`` and ``va`` say which of its points stands there, left and centre unless given."""
        place = {"ha": "left", "va": "center", "color": INK} | look
        written: Text = self.figure.text(x / WIDTH, 1 - y / self.height, text, fontsize=size, **place)
        return written

    def fitting(self, text: str, size: float, room: float, bold: bool = False) -> str:
        """The text, its middle left out where it takes more room than there is."""
        if len(text) * size <= room:  # no letter is wider than the type is high
            return text
        if self.measure(text[:400], size, bold) <= room and len(text) <= 400:
            return text
        low, high = 1, min(width(text), 400)
        while low < high:
            middle = (low + high + 1) // 2
            fits = self.measure(shorten(text, middle), size, bold) <= room
            low, high = (middle, high) if fits else (low, middle - 1)
        return shorten(text, low)

    def measure(self, text: str, size: float, bold: bool = False) -> float:
        """How wide a text is, in points."""
        return _width(text, size, bold)

    def line(self, xs: list[float], ys: list[float], **look: Any) -> None:
        """Draws a line through points."""
        from matplotlib.lines import Line2D

        heights = [1 - y / self.height for y in ys]
        self.figure.add_artist(Line2D([x / WIDTH for x in xs], heights, transform=self.figure.transFigure, **look))

    def curve(self, start: tuple[float, float], end: tuple[float, float], bulge: float, **look: Any) -> None:
        """Draws a bend from one point to another, to the side by ``bulge`` points."""
        from matplotlib.patches import PathPatch
        from matplotlib.path import Path

        turns = [start, (start[0] + bulge, start[1]), (end[0] + bulge, end[1]), end]
        vertices = [(x / WIDTH, 1 - y / self.height) for x, y in turns]
        path = Path(vertices, [Path.MOVETO, Path.CURVE4, Path.CURVE4, Path.CURVE4])
        self.figure.add_artist(PathPatch(path, transform=self.figure.transFigure, fill=False, **look))

    def heading(self, title: str, caption: str) -> None:
        """What is compared, and how it was measured."""
        self.text(MARGIN, 24, self.fitting(title, TITLE, WIDTH - 2 * MARGIN, bold=True), TITLE, fontweight="bold")
        self.text(MARGIN, 45, self.fitting(caption, CAPTION, WIDTH - 2 * MARGIN), CAPTION, color=SOFT)


@cache
def _fonts() -> list[str]:
    """The fonts that there are for all scripts, the usual one first."""
    from matplotlib.font_manager import fontManager

    installed = {font.name for font in fontManager.ttflist}
    return [_FONT, *(font for font in _OTHER_FONTS if font in installed)]


@lru_cache(4096)
def _width(text: str, size: float, bold: bool) -> float:
    """How wide a text is, in points; the same ones come up over and over."""
    wide: float = _renderer().get_text_width_height_descent(text, _font(size, bold), ismath=False)[0]
    return wide * 72 / _DPI


@cache
def _font(size: float, bold: bool) -> Any:
    from matplotlib.font_manager import FontProperties

    return FontProperties(family=_fonts(), size=size, weight="bold" if bold else "normal")


@cache
def _renderer() -> Any:
    from matplotlib.backends.backend_agg import RendererAgg

    return RendererAgg(1, 1, _DPI)  # type: ignore[no-untyped-call]


@contextmanager
def new_sheet(height: float) -> Iterator[Sheet]:
    """An empty sheet of so many points, and the style for all that is done with it."""
    from matplotlib import rc_context, rcdefaults
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.figure import Figure

    tall = min(height, _TALLEST)
    rcdefaults()  # a matplotlibrc in the working folder was read by then, and is somebody else's
    with rc_context(_STYLE | {"font.family": _fonts()}), warnings.catch_warnings():  # type: ignore[arg-type]  # its stubs want a literal
        warnings.filterwarnings("ignore", message="Glyph .* missing from font")  # a viewer of the SVG may have it
        figure = Figure(figsize=(WIDTH / 72, tall / 72), dpi=_DPI, facecolor="white")
        FigureCanvasAgg(figure)
        yield Sheet(figure, tall)


def save(figure: Figure, ending: str, title: str, description: str) -> bytes:
    """The file's bytes. title, description: for those who hear a figure instead of seeing it."""
    title, description = shorten(title, _TOLD), shorten(description, 10 * _TOLD)
    buffer = io.BytesIO()
    figure.savefig(buffer, format=ending, metadata=_metadata(ending, title, description))
    data = buffer.getvalue()
    return _spoken(data, title, description) if ending == "svg" else data


def _metadata(ending: str, title: str, description: str) -> dict[str, str | None]:
    """No date and no program's name, so that the same runs give the same file."""
    if ending == "svg":
        return {"Title": title, "Description": description, "Date": None, "Creator": None}
    if ending == "png":
        return {"Title": title, "Description": description, "Software": None}
    return {"Title": title, "Subject": description, "CreationDate": None, "Producer": None}


def _spoken(svg: bytes, title: str, description: str) -> bytes:
    """The picture with its title and description as its first elements, which is where screen readers look."""
    from xml.etree import ElementTree as ET

    for prefix, space in _NAMESPACES.items():
        ET.register_namespace(prefix, space)
    root = ET.fromstring(svg)  # noqa: S314 - it was drawn here a moment ago
    root.attrib |= {"role": "img", "aria-labelledby": "title desc"}
    for place, (name, text) in enumerate({"title": title, "desc": description}.items()):
        element = ET.Element(f"{{{_NAMESPACES['']}}}{name}", {"id": name})
        element.text = text
        root.insert(place, element)
    spoken: bytes = ET.tostring(root, encoding="utf-8", xml_declaration=True)
    return spoken


def spread_out(wanted: list[float], least: float) -> list[float]:
    """Places in the order of the wanted ones, each at its own or as little after it as keeps a least distance."""
    order = sorted(range(len(wanted)), key=lambda index: wanted[index])
    places = [0.0] * len(wanted)
    last = None
    for index in order:
        last = places[index] = wanted[index] if last is None else max(wanted[index], last + least)
    return places
