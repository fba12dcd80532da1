"""The sheet that every figure is drawn on: its style, its measures in pixels, its title and caption, its file forms."""

from __future__ import annotations

import io
import warnings
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING, Any

import msgspec

from metrograph.show.charts.sheets.lettering import (
    ANSWER,
    CAPTION,
    DPI,
    LABEL,
    POINT,
    TITLE,
    fonts,
    measure,
    wrapped,
)
from metrograph.show.charts.sheets.paper import Colours, Paper
from metrograph.show.palette import lifted, pale
from metrograph.show.terminal.text import shorten

if TYPE_CHECKING:
    from matplotlib.text import Text

ENDINGS = ("svg", "png", "pdf")
_TOLD = 300  # columns of a title that are told to those who listen
_NAMESPACES = {
    "": "http://www.w3.org/2000/svg",
    "xlink": "http://www.w3.org/1999/xlink",
    "cc": "http://creativecommons.org/ns#",
    "dc": "http://purl.org/dc/elements/1.1/",
    "rdf": "http://www.w3.org/1999/02/22-rdf-syntax-ns#",
}
_TALLEST = 19_000.0  # pixels; more than any screen, less than what PNG and PDF can hold
_STYLE = {
    "hatch.linewidth": 0.6,
    "svg.fonttype": "none",  # text stays text
    "svg.hashsalt": "metrograph",  # the same runs give the same file
    "text.parse_math": False,  # a title with a dollar sign is not a formula
}


_TITLE_LINE, _ANSWER_LINE, _CAPTION_LINE = 34.0, 20.0, 17.0  # pixels from line to line of the heading
_SMALL_TITLE = 17.0  # pixels of type, where the title is too long for a narrow sheet
_ANSWER_ROWS, _CAPTION_ROWS = 3, 2  # lines of text above a figure: more would push it out of sight
Box = tuple[float, float, float, float]


@dataclass
class Sheet:
    """A figure under way. Everything is placed in pixels from its upper left corner.

    top: below its heading; taken: boxes in which something is written already; bars: boxes to be filled, by look.
    """

    figure: Any
    paper: Paper
    height: float
    top: float = 0.0
    taken: list[Box] = field(default_factory=list)
    bars: dict[tuple[str, float], list[Box]] = field(default_factory=dict)

    @property
    def colours(self) -> Colours:
        """The colours of the sheet's paper."""
        return self.paper.colours

    @property
    def left(self) -> float:
        """Where its left margin ends."""
        return self.paper.margin

    @property
    def right(self) -> float:
        """Where its right margin begins."""
        return self.paper.width - self.paper.margin

    @cached_property
    def place(self) -> Any:
        """From pixels to the figure's own measure."""
        from matplotlib.transforms import Affine2D

        own = Affine2D().scale(1 / self.paper.width, -1 / self.height).translate(0, 1)
        return own + self.figure.transFigure

    def text(self, x: float, y: float, text: str, size: float = LABEL, **look: Any) -> Text:
        """Writes a text; ``ha`` and ``va`` say which of its points stands there, left and centre unless given."""
        place: dict[str, Any] = {"ha": "left", "va": "center", "color": self.colours.ink, "zorder": 6} | look
        written: Text = self.figure.text(
            x / self.paper.width, 1 - y / self.height, text, fontsize=size * POINT, **place
        )
        self.taken.append(self.box(x, y, text, size, place["ha"], place.get("fontweight") == "bold"))
        return written

    def put(self, places: Sequence[tuple[float, float, str]], text: str, size: float = LABEL, **look: Any) -> bool:
        """Writes a text at the first of some places (x, y, ha) where nothing is written yet; whether it did."""
        bold = look.get("fontweight") == "bold"
        for x, y, ha in places:
            if self.is_free(self.box(x, y, text, size, ha, bold)):
                self.text(x, y, text, size, ha=ha, **look)
                return True
        return False

    def box(self, x: float, y: float, text: str, size: float, ha: str = "left", bold: bool = False) -> Box:
        """Left, top, right and bottom of a text that stands in the middle of a line."""
        wide = measure(text, size, bold)
        left = x - wide * {"left": 0.0, "center": 0.5, "right": 1.0}[ha]
        return left, y - size * 0.62, left + wide, y + size * 0.62

    def is_free(self, box: Box) -> bool:
        """Whether nothing is written there, and it lies on the sheet."""
        left, top, right, bottom = box
        inside = left >= 2 and right <= self.paper.width - 2 and top >= 0 and bottom <= self.height
        return inside and not any(
            left < other[2] + 3 and other[0] < right + 3 and top < other[3] and other[1] < bottom
            for other in self.taken
        )

    def take(self, box: Box) -> None:
        """Keeps a place free of text."""
        self.taken.append(box)

    def line(self, xs: Sequence[float], ys: Sequence[float], **look: Any) -> None:
        """Draws a line through points; its thickness in pixels."""
        from matplotlib.lines import Line2D

        look["linewidth"] = look.get("linewidth", 1.0) * POINT
        look.setdefault("color", self.colours.ink)
        self.figure.add_artist(Line2D(list(xs), list(ys), transform=self.place, **look))

    def bar(self, box: Box, colour: str, **look: Any) -> None:
        """Fills a box: left, top, right, bottom. Plain ones of one colour are drawn at once, which is much faster."""
        from matplotlib.patches import Rectangle

        if look.keys() <= {"zorder"}:
            self.bars.setdefault((colour, look.get("zorder", 1.0)), []).append(box)
            return
        left, top, right, bottom = box
        place: dict[str, Any] = {"linewidth": 0.0, "facecolor": colour} | look
        self.figure.add_artist(Rectangle((left, top), right - left, bottom - top, transform=self.place, **place))

    def fill_bars(self) -> None:
        """Fills what was to be filled; of one height, what was wanted first lies below."""
        from matplotlib.patches import PathPatch
        from matplotlib.path import Path

        for (colour, zorder), boxes in self.bars.items():
            corners = [
                point
                for left, top, right, bottom in boxes
                for point in ((left, top), (right, top), (right, bottom), (left, bottom), (left, top))
            ]
            codes = [Path.MOVETO, Path.LINETO, Path.LINETO, Path.LINETO, Path.CLOSEPOLY] * len(boxes)
            look = {"linewidth": 0.0, "facecolor": colour, "zorder": zorder, "transform": self.place}
            self.figure.add_artist(PathPatch(Path(corners, codes), **look))
        self.bars.clear()

    def area(self, points: Sequence[tuple[float, float]], colour: str, **look: Any) -> None:
        """Fills what lies between points."""
        from matplotlib.patches import Polygon

        place = {"linewidth": 0.0, "facecolor": colour} | look
        self.figure.add_artist(Polygon(list(points), closed=True, transform=self.place, **place))

    def ribbon(self, start: Box, end: Box, colour: str, **look: Any) -> None:
        """A band from the right side of one box to the left side of another, bending half-way."""
        from matplotlib.patches import PathPatch
        from matplotlib.path import Path

        x0, x1 = start[2], end[0]
        half = (x0 + x1) / 2
        points = [
            (x0, start[1]), (half, start[1]), (half, end[1]), (x1, end[1]),
            (x1, end[3]), (half, end[3]), (half, start[3]), (x0, start[3]), (x0, start[1]),
        ]  # fmt: skip
        codes = [Path.MOVETO, *[Path.CURVE4] * 3, Path.LINETO, *[Path.CURVE4] * 3, Path.CLOSEPOLY]
        place = {"linewidth": 0.0, "facecolor": colour} | look
        self.figure.add_artist(PathPatch(Path(points, codes), transform=self.place, **place))

    def number(self, x: float, y: float, number: str, colour: str | None = None) -> None:
        """A number in a ring."""
        hue = colour or self.colours.worse
        size = 13.0 if len(number) < 3 else 17.0
        self.line(
            [x], [y], marker="o", markersize=size * POINT, markerfacecolor=self.colours.paper, markeredgecolor=hue,
            markeredgewidth=1.1, zorder=7, linestyle="none",
        )  # fmt: skip
        self.text(x, y, number, 9.0, ha="center", va="center_baseline", color=hue, fontweight="bold", zorder=8)
        self.take((x - size / 2, y - size / 2, x + size / 2, y + size / 2))

    def fill(self, hue: str, waiting: bool = False) -> str:
        """How a hue is drawn on this paper: waiting is paler."""
        own = lifted(hue, self.colours.paper) if self.colours.lifted else hue
        return pale(own, self.colours.paper, self.colours.waiting) if waiting else own


def _heading(paper: Paper) -> list[tuple[str, float, float, dict[str, Any]]]:
    """The lines of the heading: text, size, pixels to the next, look."""
    room = paper.width - 2 * paper.margin
    if paper.bare:
        paper = msgspec.structs.replace(paper, title="", answer=())
    size = TITLE if not paper.narrow or measure(paper.title, TITLE, bold=True) <= room else _SMALL_TITLE
    titles = wrapped(paper.title, size, room, 2 if paper.narrow else 1, bold=True)
    lines: list[tuple[str, float, float, dict[str, Any]]] = [
        (line, size, _TITLE_LINE if line is titles[-1] else size * 1.2, {"fontweight": "bold"})
        for line in titles
        if line
    ]
    answer = wrapped(" ".join(paper.answer), ANSWER, room, _ANSWER_ROWS * (2 if paper.narrow else 1))
    lines += [(line, ANSWER, _ANSWER_LINE, {}) for line in answer if line]
    caption = wrapped(paper.caption, CAPTION, room, _CAPTION_ROWS * (2 if paper.narrow else 1))
    soft = {"color": paper.colours.soft}
    return lines + [(line, CAPTION, _CAPTION_LINE, soft) for line in caption if line]


@contextmanager
def new_sheet(paper: Paper, height: float) -> Iterator[Sheet]:
    """A sheet with its heading and so many pixels below it, and the style for all that is done with it."""
    from matplotlib import rc_context, rcdefaults
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.figure import Figure

    rcdefaults()  # a matplotlibrc in the working folder was read by then, and is somebody else's
    with rc_context(_STYLE | {"font.family": fonts()}), warnings.catch_warnings():  # type: ignore[arg-type]  # its stubs want a literal
        warnings.filterwarnings("ignore", message="Glyph .* missing from font")  # a viewer of the SVG may have it
        heading = _heading(paper)
        top = 16 + sum(step for _, _, step, _ in heading)
        tall = min(top + height, _TALLEST)
        figure = Figure(figsize=(paper.width / DPI, tall / DPI), dpi=DPI, facecolor=paper.colours.paper)
        FigureCanvasAgg(figure)
        sheet = Sheet(figure, paper, tall, top)
        y = 12.0
        for text, size, step, look in heading:
            sheet.text(paper.margin, y + size * 0.7, text, size, **look)
            y += step
        yield sheet


def save(sheet: Sheet, ending: str, title: str, description: str) -> bytes:
    """The file's bytes. title, description: for those who hear a figure instead of seeing it."""
    title, description = shorten(title, _TOLD), shorten(description, 10 * _TOLD)
    buffer = io.BytesIO()
    sheet.fill_bars()
    sheet.figure.savefig(buffer, format=ending, metadata=_metadata(ending, title, description))
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
