"""How fast films are gone through, and in how much memory: `python -m bench.watching_speed FOLDER`."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from pathlib import Path

from msgspec.structs import replace

from bench.films.film import film
from bench.films.painter import Screen
from bench.films.story import Shown
from bench.films.themes import Theme, draw_theme
from bench.films.words import CONTROLS, ENGLISH
from metrograph.watch.inputs.video import Film

_EACH = 30  # seconds that a screen is in front: a person reads, thinks and talks
_FILMS = (
    ("1280x800, 25 frames a second, 4 minutes", (1280, 800), 25, 8),
    ("1920x1080, 30 frames a second, 4 minutes", (1920, 1080), 30, 8),
    ("1280x800, 1 frame a second, 4 hours", (1280, 800), 1, 480),
)


def shown(screens: int) -> list[Shown]:
    """Screens one after the other, with a pointer that moves and slides while it copies."""
    kinds, found = list(CONTROLS), []
    titles = tuple(ENGLISH.screens[kind].titles[0] for kind in kinds)
    for number in range(screens):
        kind = kinds[number % len(kinds)]
        text = ENGLISH.screens[kind]
        screen = Screen(
            kind,
            f"{text.titles[0]} {number // len(kinds) or ''}".strip(),
            text.label,
            text.items,
            CONTROLS[kind],
            number % len(kinds),
            titles,
        )
        steps = 20 if kind == "copying" else 6
        for step in range(steps):
            at = _EACH * (number + step / steps)
            found.append(
                (at, replace(screen, pointer=(300 + 40 * step, 400), share=step / steps, minute=int(at // 60) % 60))
            )
    return found


def theme(size: tuple[int, int], rate: int) -> Theme:
    """A plain look."""
    return replace(
        draw_theme(1),
        size=size,
        tongue="en",
        letters=17,
        heading="content",
        window=False,
        steps="none",
        rate=rate,
        quality=26,
        text_mode=False,
    )


def main() -> None:
    """Prints the table."""
    folder = Path(sys.argv[1])
    folder.mkdir(exist_ok=True)
    print("| film | times real time | decoding alone | most memory |\n| --- | --- | --- | --- |")
    for words, size, rate, screens in _FILMS:
        path = folder / f"{size[0]}-{rate}-{screens}.mp4"
        if not path.exists():
            film(theme(size, rate), shown(screens), float(screens * _EACH), path)
        began = time.monotonic()
        command = [str(Path(sys.executable).with_name("metrograph")), "scan", str(path), "--json"]
        _, status, used = os.wait4(subprocess.Popen(command, stdout=subprocess.DEVNULL).pid, 0)
        took = time.monotonic() - began
        print(
            f"| {words} | {screens * _EACH / took:.0f} | {screens * _EACH / _decoded(path):.0f} | {used.ru_maxrss / 1024:.0f} MB |{' failed' if status else ''}",
            flush=True,
        )


def _decoded(path: Path) -> float:
    """Seconds that it takes to look at every frame that is looked at, and to do nothing with it."""
    began = time.monotonic()
    for _ in Film(str(path)).frames():
        pass
    return time.monotonic() - began


if __name__ == "__main__":
    main()
