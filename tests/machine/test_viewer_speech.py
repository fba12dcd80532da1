"""What a viewer says is passed on byte by byte, and known: presses with their place, keys without what is written."""

from __future__ import annotations

import struct
import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.core.errors import MetrographError
from metrograph.machine.viewer_speech import Act, ViewerSpeech

HELLO = b"RFB 003.008\n\x01"
ALONE, SHARED = b"\x00", b"\x01"
PRESS, LIFT = struct.pack(">BBHH", 5, 1, 640, 400), struct.pack(">BBHH", 5, 0, 640, 400)
SAID = (
    struct.pack(">Bxxx16x", 0)
    + struct.pack(">BxH3i", 2, 3, 0, 16, -223)
    + struct.pack(">BBHHHH", 3, 1, 0, 0, 64, 48)
    + PRESS + PRESS + LIFT
    + struct.pack(">BBxxI", 4, 1, ord("x")) + struct.pack(">BBxxI", 4, 0, ord("x"))
    + struct.pack(">BBxxI", 4, 1, 0xFF0D)
    + struct.pack(">Bxxxi", 6, 5) + b"hello"
    + struct.pack(">BBHII", 255, 0, 1, 0xFF1B, 1)
    + struct.pack(">BBH", 255, 1, 0) + struct.pack(">BBH6x", 255, 1, 2)
    + PRESS
)  # fmt: skip
LARGER = struct.pack(">BxHHBx16x", 251, 1920, 1080, 1)
DONE = [
    Act("press", (640, 400)),
    Act("key"),
    Act("key", key="Enter"),
    Act("key", key="Escape"),
    Act("press", (640, 400)),
]


class Speech(unittest.TestCase):
    @given(st.lists(st.integers(1, 40)))
    def test_in_whatever_pieces_it_comes_it_is_passed_on_whole_and_means_the_same(self, lengths: list[int]) -> None:
        speech, sent = ViewerSpeech(), b""
        done: list[Act] = []
        rest = HELLO + ALONE + LARGER + SAID
        for length in [*lengths, len(rest)]:
            said, acts = speech.take(rest[:length])
            rest, sent, done = rest[length:], sent + said, done + acts
        # A viewer that wants the display alone is given it with others; one that wants another size, as it is.
        self.assertEqual(sent, HELLO + SHARED + SAID)
        self.assertEqual(done, DONE)

    def test_every_step_of_the_greeting_is_passed_on_at_once_as_the_machine_answers_it(self) -> None:
        speech = ViewerSpeech()
        sent = [speech.take(part)[0] for part in (HELLO[:12], HELLO[12:], ALONE)]
        self.assertEqual(sent, [HELLO[:12], HELLO[12:], SHARED])

    def test_nothing_that_is_written_is_known(self) -> None:
        speech = ViewerSpeech()
        speech.take(HELLO + SHARED)
        _, acts = speech.take(b"".join(struct.pack(">BBxxI", 4, 1, ord(letter)) for letter in "Zhunter2pass"))
        self.assertEqual(acts, [Act("key")] * 12)

    def test_what_no_viewer_says_is_refused(self) -> None:
        for said, why in (
            (b"GET / HTTP/1.1\r\n", "this is no viewer"),
            (b"RFB 003.008\n\x02", "prove itself in way 2"),
            (HELLO + SHARED + b"\x63", "message of kind 99"),
            (HELLO + SHARED + b"\xff\x09", "extension of kind 9"),
            (HELLO + SHARED + struct.pack(">Bxxxi", 6, 1 << 30), "a clipboard of 1073741824 bytes"),
        ):
            with self.subTest(why), self.assertRaisesRegex(MetrographError, why):
                ViewerSpeech().take(said)


if __name__ == "__main__":
    unittest.main()
