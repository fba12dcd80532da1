"""Films and terminals on which secrets and names are shown: none of them is in any file that the program writes."""

import base64
import json
import os
import re
import unittest
from pathlib import Path

import av
import numpy as np
from PIL import Image, ImageDraw
from rapidfuzz import fuzz

from metrograph.core.bare_pictures import pixels_of
from metrograph.watch.inputs.frames import Colour, grey_of
from metrograph.watch.reading.lines import find_lines
from metrograph.watch.reading.text_reader import LineReader, Tesseract
from tests.e2e.case import LogbookCase
from tests.watch.drawn import picture
from tests.watch.test_page_gate import ADDRESS, HOST, KEY, MAIL, NEIGHBOUR, PASSWORD, PHRASE, PLANTED, USER, WORDS

LANGUAGES = tuple(WORDS) if os.environ.get("METROGRAPH_PLANTED") == "all" else ("eng", "pol")
_SIZE = (800, 500)
_ALIKE = 75  # of 100: a reader that misreads two letters of ten has read it all the same


def painted(title: str, rows: list[tuple[str, str]], boxed: bool) -> Colour:
    """A page with values beside labels, in drawn fields or without."""
    heading = picture((60, 30, title), (680, 450, "Next"), size=_SIZE, letters=26)
    words = [
        each
        for row, (label, value) in enumerate(rows)
        for each in ((60, 120 + 50 * row, label), (360, 120 + 50 * row, value))
    ]
    image = Image.fromarray(np.minimum(heading, picture(*words, size=_SIZE, letters=17)))
    if boxed:
        for row in range(len(rows)):
            ImageDraw.Draw(image).rectangle((350, 112 + 50 * row, 700, 148 + 50 * row), outline=90)
    return np.stack([np.asarray(image)] * 3, axis=-1)


def pages(language: str) -> list[Colour]:
    """An account, networks, a recovery key, and the summary of it all, in fields and without."""
    account, user, password, host, network, summary = WORDS[language]
    typed = [(user, USER), ("E-mail", MAIL), (password, PASSWORD), (host, HOST)]
    return [
        painted(account, typed, boxed=True),
        painted(account, typed, boxed=False),
        painted(network, [(network, NEIGHBOUR), ("IP", ADDRESS)], boxed=False),
        painted(password, [("LUKS", PHRASE), ("Key", KEY)], boxed=True),
        painted(summary, [*typed, ("IP", ADDRESS), ("LUKS", PHRASE), ("Key", KEY)], boxed=False),
    ]


def film(path: Path, shown: list[Colour]) -> None:
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=3)
        stream.width, stream.height, stream.pix_fmt = *_SIZE, "yuv420p"
        for page in shown:
            for _ in range(9):
                container.mux(stream.encode(av.VideoFrame.from_ndarray(page, format="rgb24")))
        container.mux(stream.encode(None))


class Planted(LogbookCase):
    here = True

    def test_no_file_and_no_picture_holds_what_was_shown(self) -> None:
        for number, language in enumerate(LANGUAGES, 1):
            outside = self.folder.parent / f"{self.folder.name}-{language}.mp4"
            self.addCleanup(outside.unlink, missing_ok=True)
            film(outside, pages(language))
            self.run_command("scan", str(outside), "larkmoor-8.0-heron", "--rig", "bench-vm")
            self.run_command("confirm", "--accept", "0.3")
            self.assertTrue((self.folder / f"runs/larkmoor-8.0-heron-{number}.metro").exists(), language)
            self.assertNothingPlanted(language)
        self.assertGreater(len(list((self.folder / "shots").iterdir())), 0)
        self.ok("report", "larkmoor-8.0-heron-1", "larkmoor-8.0-heron-2", "-o", "page.html")
        for data in re.findall(r"data:image/webp;base64,([A-Za-z0-9+/=]+)", (self.folder / "page.html").read_text()):
            self.assertNothingRead(pixels_of(base64.b64decode(data)), "page.html")

    def test_nor_of_a_terminal(self) -> None:
        asked = [
            ("User name", USER),
            ("Password", PASSWORD),
            ("Host name", HOST),
            ("Passphrase", PHRASE),
            ("SSID", NEIGHBOUR),
        ]
        lines = [{"version": 2, "width": 80, "height": 25}]
        events = [
            [at, "o", text]
            for number, (label, value) in enumerate(asked)
            for at, text in ((number * 9 + 1, f"{label}: "), (number * 9 + 4, f"{value}\r\n"))
        ]
        outside = self.folder.parent / f"{self.folder.name}.cast"
        self.addCleanup(outside.unlink, missing_ok=True)
        outside.write_text("\n".join(map(json.dumps, [*lines, *events, [60, "o", "Done? "]])) + "\n")
        self.run_command("scan", str(outside), "larkmoor-8.0-heron", "--rig", "bench-vm")
        self.run_command("confirm", "--accept", "0.3")
        self.assertTrue((self.folder / "runs/larkmoor-8.0-heron-1.metro").exists())
        self.assertNothingPlanted("terminal")

    def assertNothingPlanted(self, which: str) -> None:  # noqa: N802 - as unittest names them
        """Byte by byte, and every picture as the reader reads it."""
        for path in (path for path in self.folder.rglob("*") if path.is_file()):
            data = path.read_bytes()
            for value in PLANTED:
                self.assertNotIn(value.casefold().encode(), data.lower(), (which, path))
            if path.suffix in {".webp", ".png"}:
                self.assertNothingRead(pixels_of(data), f"{which}: {path}")

    def assertNothingRead(self, shown: Colour, where: str) -> None:  # noqa: N802
        large = np.asarray(
            Image.fromarray(shown).resize((shown.shape[1] * 2, shown.shape[0] * 2), Image.Resampling.BICUBIC)
        )
        grey = grey_of(large)
        for line in LineReader(Tesseract()).read(grey, find_lines(grey)):
            for value in PLANTED:
                self.assertLess(
                    fuzz.partial_ratio(value.casefold(), line.text.casefold()) * (len(line.text) > 5),
                    _ALIKE,
                    (where, line.text),
                )


if __name__ == "__main__":
    unittest.main()
