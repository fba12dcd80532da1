"""Everything that can be watched or gone through is an input of one kind: opened by its name, it gives pages in order."""

from __future__ import annotations

import json
import os
import pty
import re
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import av
import numpy as np
from PIL import Image

from metrograph.core.errors import MetrographError
from metrograph.watch.inputs.frames import Frame
from metrograph.watch.opening import EXPECTED, Input, LiveInput, TextInput, open_live, open_recording
from tests.watch.drawn import frame, picture
from tests.watch.server import Packed, Server, hello, update
from tests.watch.test_terminal import boxed

SHOWN = picture((40, 40, "Welcome to the installer"), (40, 120, "Choose a language"), letters=24)


class Opened(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def read(self, each: Input) -> str:
        """What stands on its first page that is not empty."""
        pages = (" ".join(text.text for text in found.page.said) for found in each.found(0, lambda _: True))
        return next((said for said in pages if said), "")

    def recordings(self) -> dict[str, Path]:
        """A recording of each kind that says the same."""
        (self.folder / "pictures").mkdir()
        Image.fromarray(SHOWN).save(self.folder / "pictures/1.png")
        with av.open(str(self.folder / "film.mkv"), "w") as container:
            stream = container.add_stream("libx264", rate=2)
            stream.width, stream.height, stream.pix_fmt = SHOWN.shape[1], SHOWN.shape[0], "yuv420p"
            for _ in range(8):
                container.mux(stream.encode(av.VideoFrame.from_ndarray(np.stack([SHOWN] * 3, axis=-1), format="rgb24")))
            container.mux(stream.encode(None))
        said = boxed("Language", "Choose a language", "OK")
        head = {"version": 2, "width": 80, "height": 25}
        (self.folder / "terminal.cast").write_text(
            f'{json.dumps(head)}\n{json.dumps([0.1, "o", said])}\n[9, "o", ""]\n'
        )
        (self.folder / "typescript").write_bytes(b"Script started\n" + said.encode())
        (self.folder / "timing").write_text(f"0.1 {len(said.encode())}\n")
        return {name: self.folder / name for name in ("pictures", "film.mkv", "terminal.cast", "typescript")}

    def test_every_recording_is_gone_through_alike(self) -> None:
        for name, path in self.recordings().items():
            timing = self.folder / "timing" if name == "typescript" else None
            self.assertIn("Choose a language", self.read(open_recording(path, timing)), name)

    def test_every_address_is_watched_alike(self) -> None:
        packed = Packed()
        server = Server(*hello(size=(640, 400)), update(packed.rectangle(0, 0, np.stack([SHOWN] * 3, axis=-1))), stay=5)
        self.addCleanup(server.close)
        (self.folder / "coming").mkdir()
        ours, theirs = pty.openpty()
        self.addCleanup(os.close, ours)
        self.addCleanup(os.close, theirs)
        addresses = {
            "rfb": f"rfb://127.0.0.1:{server.port}", "folder": f"folder:{self.folder}/coming",
            "serial": f"serial:{os.ttyname(theirs)}", "v4l2": "v4l2:/dev/video9", "x11": "x11::9",
        }  # fmt: skip
        self.assertEqual(set(addresses), set(re.findall(r"\b([a-z0-9]+):(?://)?[A-Z]", EXPECTED)))

        class Device:
            """One that there is."""

            def __init__(self, *_: object) -> None: ...

            def frames(self) -> list[Frame]:
                return [frame(0, SHOWN)]

        with mock.patch("metrograph.watch.inputs.video.Film", Device):
            for name, address in addresses.items():
                opened = open_live(address, None, lambda _: None)
                self.assertIsInstance(opened, TextInput if name == "serial" else LiveInput)
                if name == "rfb":
                    self.assertIn("Choose a language", self.read(opened))

    def test_what_is_none_is_refused(self) -> None:
        for address in ("", "vnc:1", "folder:", "serial:", "v4l2:", "rfb:"):
            with self.assertRaises(MetrographError):
                open_live(address, None, lambda _: None)
        os.mkfifo(self.folder / "pipe")
        for path in (self.folder / "nothing", self.folder / "pipe"):
            with self.assertRaises(MetrographError):
                open_recording(path)


if __name__ == "__main__":
    unittest.main()
