from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

import numpy as np
from PIL import Image

from metrograph.compare.flow_records import Side
from metrograph.ledgers.comparison import compare
from metrograph.run.route import NO_RULINGS
from metrograph.show.charts.album_chart import differing, draw_album
from metrograph.show.charts.layouts.album_layout import Album, AlbumCell, AlbumRow, lay_album, with_folder
from metrograph.show.charts.sheets.paper import Paper
from tests.helpers import run_of

OLD = run_of(
    "0:00 screen Disk\n0:01 shot shots/a.png\n1:00 screen Keyboard\n1:30 shot shots/b.png\n2:00 end done", "heron-1"
)
NEW = run_of(
    "0:00 screen Where should it go?\n    kind: disk\n1:00 screen Keyboard\n1:10 shot shots/c.png\n2:00 screen Updates\n3:00 end done",
    "heron-2",
)


class AlbumTest(unittest.TestCase):
    def test_pictures_stand_by_the_screen_that_was_in_front(self) -> None:
        sides = [Side("old", (OLD,)), Side("new", (NEW,))]
        album = lay_album(sides, compare(sides), NO_RULINGS)
        self.assertEqual(
            album.rows,
            (
                AlbumRow(
                    "Disk → Where should it go?",
                    (AlbumCell("Disk", "shots/a.png"), AlbumCell("Where should it go?", None)),
                ),
                AlbumRow("Keyboard", (AlbumCell("Keyboard", "shots/b.png"), AlbumCell("Keyboard", "shots/c.png"))),
            ),
            "what has no picture at all is left out",
        )

    def test_what_differs_is_framed_where_it_is(self) -> None:
        before = np.full((200, 320, 3), 240, np.uint8)
        now = before.copy()
        now[100:140, 160:240] = 0
        ((left, top, right, bottom),) = differing(before, now)
        for value, wanted in zip((left, top, right, bottom), (0.5, 0.5, 0.75, 0.7), strict=True):
            self.assertAlmostEqual(value, wanted, delta=0.05)
        self.assertEqual(differing(before, before), [])

    def test_only_pictures_of_the_logbook_are_drawn(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            (Path(name) / "shots").mkdir()
            Image.new("RGB", (64, 40), "red").save(Path(name) / "shots/a.png")
            Image.new("RGB", (64, 40), "red").save(Path(name) / "outside.png")
            (Path(name) / "shots/b.png").write_bytes(b"\x89PNG nothing")
            cells = tuple(
                AlbumCell("Disk", path) for path in ("shots/a.png", "../outside.png", "shots/b.png", "shots/none.png")
            )
            drawn = draw_album(
                with_folder(Album(("a", "b", "c", "d"), (AlbumRow("Disk", cells),)), Path(name)), Paper("Heron"), "svg"
            )
        self.assertEqual((drawn.count(b"<image"), drawn.count(b"no picture")), (1, 3))
