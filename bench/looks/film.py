"""Films an installation in a look, with its truth beside it, as a recorder would have: coded, with a pointer, half painted."""

from __future__ import annotations

import random
from collections.abc import Iterator
from pathlib import Path

import msgspec
from PIL import Image

from bench.films.film import code
from bench.looks.desktop import Desktop
from bench.looks.flow import Flow, Meant
from bench.looks.look import Look, flow_of
from bench.looks.toolkits import draw


class Filmed(msgspec.Struct, frozen=True):
    """What lies beside a film. seconds: of it all; meant: what is true of its screens."""

    look: Look
    seconds: float
    meant: list[Meant]


def write_film(look: Look, path: Path, again: int = 0) -> None:
    """Films a look. again: another installation of the same installer."""
    flow = flow_of(look, again)
    code(look, _pictures(look, flow, draw(look, flow.sheets)), path)
    path.with_suffix(".json").write_bytes(msgspec.json.encode(Filmed(look, flow.seconds, flow.meant)))


def _pictures(look: Look, flow: Flow, pages: list[Image.Image]) -> Iterator[Image.Image]:
    """One picture for every frame."""
    desk, chance = Desktop(look), random.Random(look.seed)
    starts = {meant.start for meant in flow.meant if not meant.dialog and not meant.error}
    pointer = look.size[0] // 2, look.size[1] // 2
    place, made, last = 0, Image.new("RGB", look.size), (-1, -1, (0, 0), False)
    for number in range(int(flow.seconds * look.rate)):
        now = number / look.rate
        while place + 1 < len(flow.shown) and flow.shown[place + 1][0] <= now:
            place += 1
            if chance.random() < 0.6:
                pointer = chance.randrange(20, look.size[0] - 20), chance.randrange(20, look.size[1] - 20)
        start, page = flow.shown[place]
        half = look.half_painted and start in starts and now - start < 0.25
        state = (page, int(now // 60), pointer, half)
        if state != last:
            last = state
            made = desk.with_page(_half(pages[page]) if half else pages[page], state[1])
            if look.pointer:
                made = desk.with_pointer(made, pointer)
        yield made


def _half(page: Image.Image) -> Image.Image:
    """A page of which only the upper part is painted."""
    part = Image.new("RGB", page.size, page.getpixel((page.width - 3, page.height // 2)))
    part.paste(page.crop((0, 0, page.width, page.height // 4)), (0, 0))
    return part
