from __future__ import annotations

import unittest

import numpy as np

from metrograph.watch.inputs.frames import Frame, Grey
from metrograph.watch.reading.motion import Still, changed_blocks, larger_than_pointer, stills
from tests.watch.drawn import frame, picture

FIRST = picture((40, 40, "Keyboard layout"), (40, 90, "Choose the layout of your keyboard"))
SECOND = picture((40, 40, "Where should it go?"), (40, 90, "The disk has 25 GiB and is empty"))


def shown(*pictures: tuple[float, Grey], until: float) -> list[Frame]:
    """Three looks a second at what is shown from each moment on, in seconds."""
    frames = []
    for look in range(int(until * 3) + 1):
        at = look / 3
        grey = next(grey for begun, grey in reversed(pictures) if begun <= at + 1e-9)
        frames.append(frame(round(at * 1000), grey))
    return frames


def found(frames: list[Frame]) -> list[tuple[int, bool]]:
    return [(still.start, still.moving) for still in stills(frames)]


class MotionTest(unittest.TestCase):
    def test_a_picture_that_stands_is_read_once_from_when_it_came_up(self) -> None:
        # It came up between the looks at 4.667 and 5 s.
        self.assertEqual(found(shown((0, FIRST), (5, SECOND), until=9)), [(0, False), (4833, False)])

    def test_what_was_there_before_is_read_again(self) -> None:
        self.assertEqual(
            [start for start, _ in found(shown((0, FIRST), (3, SECOND), (6, FIRST), until=9))], [0, 2833, 5833]
        )

    def test_a_pointer_is_no_new_picture_but_how_it_was_left_is_read(self) -> None:
        def with_pointer(x: int) -> Grey:
            grey = FIRST.copy()
            grey[200:216, x : x + 12] = 0
            return grey

        moved = shown(*((step, with_pointer(60 + 40 * step)) for step in range(6)), until=7)
        self.assertEqual([start for start, _ in found(moved)], [0, 7000])

    def test_a_box_that_is_ticked_before_the_next_page_is_seen(self) -> None:
        ticked = FIRST.copy()
        ticked[200:212, 60:72] = 0
        read = list(stills(shown((0, FIRST), (3, ticked), (4, SECOND), until=7)))
        # It stood so at the look of 3.667 s, the last before the next page; 4 s is a look of that page.
        self.assertEqual(
            [(still.start, int(still.grey[205, 65])) for still in read], [(0, 255), (3667, 0), (3833, 255)]
        )

    def test_a_page_that_is_left_as_it_was_read_is_read_once(self) -> None:
        self.assertEqual(len(found(shown((0, FIRST), (4, SECOND), until=7))), 2)

    def test_noise_of_coding_is_no_new_picture(self) -> None:
        chance = np.random.default_rng(1)
        noisy = [
            (step, np.clip(FIRST.astype(int) + chance.integers(-9, 10, FIRST.shape), 0, 255).astype(np.uint8))
            for step in range(5)
        ]
        self.assertEqual(len(found(shown(*noisy, until=6))), 1)

    def test_what_changes_by_itself_is_left_out_after_a_while(self) -> None:
        def with_slide(step: int) -> Grey:
            grey = FIRST.copy()
            grey[160:320, 40:600] = 40 + 60 * (step % 3)
            return grey

        frames = [frame(step * 333, with_slide(step)) for step in range(60)]
        read = list(stills(frames))
        self.assertTrue(read[0].moving or len(read) < 8, [still.at for still in read])
        self.assertEqual(
            [still for still in read if still.at > 8000], [], "it is known by then that the slide moves by itself"
        )

    def test_another_size_begins_anew(self) -> None:
        small = picture((10, 10, "Boot menu"), size=(320, 200))
        frames = [
            *(frame(look * 333, small) for look in range(4)),
            *(frame(2000 + look * 333, FIRST) for look in range(4)),
        ]
        self.assertEqual([still.grey.shape for still in stills(frames)], [(200, 320), (400, 640)])

    def test_a_size_that_changes_twice_at_once_is_nothing_to_stumble_over(self) -> None:
        small = picture((10, 10, "Boot menu"), size=(320, 200))
        frames = shown((0, FIRST), (3, small), (3.3, FIRST), until=6)
        self.assertEqual([still.grey.shape for still in stills(frames)], [(400, 640), (400, 640)])

    def test_a_gap_is_told_once(self) -> None:
        frames = [*shown((0, FIRST), until=2), *(frame(9000 + look * 333, SECOND, gap=not look) for look in range(5))]
        self.assertEqual([still.gap for still in stills(frames)], [False, True])

    def test_blocks_differ_where_two_pixels_do(self) -> None:
        before, now = np.zeros((64, 64), np.uint8), np.zeros((64, 64), np.uint8)
        now[8, 0] = 255  # one point is noise
        now[0, 16] = now[1, 16] = 255  # two are not; eight looked-at points make a block
        now[40, 40] = now[41, 40] = 20  # and this is no difference
        self.assertEqual(np.argwhere(changed_blocks(before, now)).tolist(), [[0, 2]])

    def test_groups_of_three_by_three_blocks_are_a_pointer(self) -> None:
        blocks = np.zeros((10, 20), np.bool_)
        blocks[1:4, 1:4] = True
        blocks[6:8, 3:9] = True
        self.assertEqual(larger_than_pointer(blocks).sum(), 12)


class StartTest(unittest.TestCase):
    def test_a_page_that_is_painted_in_parts_began_with_its_larger_part(self) -> None:
        half = SECOND.copy()
        half[80:] = 255
        read: list[Still] = list(stills(shown((0, FIRST), (4, half), (4.34, SECOND), until=8)))
        self.assertEqual(len(read), 2)
        self.assertLessEqual(abs(read[1].start - 4000), 700, "a screen is to be found within a second")
