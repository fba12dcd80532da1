from __future__ import annotations

import json
import socket
import tempfile
import threading
import time
import unittest
from itertools import permutations
from pathlib import Path

import pyte
from hypothesis import example, given, settings
from hypothesis import strategies as st

from metrograph.core.errors import MetrographError
from metrograph.log.lexicon import load_lexicon
from metrograph.watch.inputs.terminal_sources import Output, read_recording, watch_line
from metrograph.watch.pages.terminal_pages import Terminal, found_in_text
from metrograph.watch.screens.choices import _rows
from metrograph.watch.screens.spans import find_spans
from tests.watch.drawn import numbered

HEADER = {"version": 2, "width": 80, "height": 25}


_SENT = (
    "\x1b[2J\x1b[H", "\x1b[5;20r", "\x1b[r", "\x1b[10;10Hhere", "\r50 %\r60 %", "\x1b[31mred",
    *("".join(f"{'long ' * (each % 40)}{each}{end}" for each in range(count)) for count in (3, 30, 90) for end in ("\r\n", "\n", " ")),
)  # fmt: skip


def boxed(title: str, text: str, button: str) -> str:
    """What a full-screen program draws: a blue screen, a grey box with a title on its frame, a button."""
    rows = [f"\x1b[{row};1H\x1b[44m{' ' * 80}" for row in range(1, 25)]
    box = [f"\x1b[{row};10H\x1b[47;30m{' ' * 50}" for row in range(6, 16)]
    said = [f"\x1b[6;12H┤ {title} ├", f"\x1b[8;14H{text}", f"\x1b[14;30H\x1b[41m <{button}> "]
    return "\x1b[2J" + "".join(rows + box + said) + "\x1b[0m"


def _speak(listening: socket.socket, *parts: bytes) -> None:
    link, _ = listening.accept()
    with link:
        for part in parts:
            link.sendall(part)
            time.sleep(0.1)


class FramesTest(unittest.TestCase):
    def test_frames_in_the_other_set_of_letters_are_no_text(self) -> None:
        drawn = (
            "\x1b[2J\x1b[44m"
            + f"{' ' * 80}\r\n" * 24
            + "\x1b[5;3H\x1b[47;30m\x1b(0lqqqqqu\x1b(B Où aller ? \x1b(0tqqqqqk\x1b(B"
        )
        found = list(found_in_text([Output(0, drawn), Output(2000, "")], lambda _: True))
        self.assertEqual([text.text for text in found[-1].page.said], ["Où aller ?"])


class ColoursTest(unittest.TestCase):
    """A list in one colour with a row in another, for every two of a console's, and for reversed ones."""

    GROUNDS = (*range(40, 48), *range(100, 108))

    def marked(self, usual: str, other: str) -> list[str]:
        rows = [f"\x1b[{row};1H\x1b[0;{usual}m{' ' * 80}" for row in range(7, 16)]
        said = [
            f"\x1b[{8 + row};20H\x1b[0;{other if row == 2 else usual}m  {text:<20}"
            for row, text in enumerate(("Guided, whole disk", "Guided, with volumes", "By hand", "With encryption"))
        ]
        drawn = "\x1b[2J" + "".join(rows + said) + "\x1b[0m"
        page = list(found_in_text([Output(0, drawn), Output(2000, "")], lambda _: True))[-1].page
        return _rows(page.said)

    def test_the_marked_row_is_found_on_any_two_grounds(self) -> None:
        for usual, other in permutations(self.GROUNDS, 2):
            self.assertEqual(self.marked(str(usual), str(other)), ["By hand"], (usual, other))

    def test_a_row_with_its_colours_turned_round_is_found(self) -> None:
        for ink, ground in permutations(range(8), 2):
            colours = f"{30 + ink};{40 + ground}"
            self.assertEqual(self.marked(colours, f"{colours};7"), ["By hand"], colours)


class ScrollingTest(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @example([_SENT[8], _SENT[10], "\x1b[5;20r", "\x1b[r", _SENT[9]])  # lines written over longer ones
    @given(st.lists(st.sampled_from(_SENT), min_size=1, max_size=6))
    def test_what_scrolls_by_leaves_the_same_screen_as_when_every_letter_is_drawn(self, sent: list[str]) -> None:
        whole = pyte.Screen(80, 24)
        pyte.Stream(whole).feed("".join(sent))
        terminal = Terminal()
        for text in sent:
            terminal.take(Output(0, text))
        self.assertEqual([row.rstrip() for row in terminal.show()], [row.rstrip() for row in whole.display])


class TerminalTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def recorded(self, *lines: object, name: str = "a.cast") -> Path:
        path = self.folder / name
        path.write_text("".join(f"{json.dumps(line)}\n" for line in lines), "utf-8")
        return path

    def titles(self, path: Path, timing: Path | None = None) -> list[tuple[float, str]]:
        found = [found.page for found in found_in_text(read_recording(path, timing), lambda _: True)]
        return [(page.start / 1000, page.texts[0].text) for page in found if page.texts]

    def test_questions_that_are_asked_line_by_line(self) -> None:
        asked = self.recorded(
            HEADER, [0.5, "o", "Osterby setup\r\nWhich language? [en_US] "], [3.0, "o", "en_GB\r\n"], [3.2, "o", "Fetching\r\n"],
            [9.0, "o", "Host name: "], [12.0, "o", "shed\r\nErase vda? [y/N] "], [15.0, "o", "y\r\n"],
        )  # fmt: skip
        self.assertEqual(self.titles(asked), [(0.5, "Which language?"), (9.0, "Host name"), (12.0, "Erase vda?")])

    def test_a_full_screen_program_is_read_by_its_cells(self) -> None:
        drawn = self.recorded(
            HEADER, [0.5, "o", boxed("Select a language", "Which language should be spoken?", "Continue")],
            [5.0, "o", boxed("Host name", "Please say how it is called.", "Continue")], [9.0, "o", " "],
        )  # fmt: skip
        pages = numbered(
            *(found.page for found in found_in_text(read_recording(drawn), lambda _: True) if found.page.texts)
        )
        spans = find_spans(pages, load_lexicon(), 9500)
        self.assertEqual(
            [(span.start, span.title, span.kind) for span in spans],
            [(500, "Select a language", "language"), (5000, "Host name", "host")],
        )
        self.assertEqual([text.button for text in pages[0].texts if text.button], ["forward"])

    def test_version_three_counts_from_event_to_event(self) -> None:
        third = self.recorded(
            {"version": 3, "term": {"cols": 80, "rows": 25}},
            [0.5, "o", "User name: "],
            [2.0, "o", "wren\r\n"],
            [2.0, "o", "Password: "],
            [1.0, "x", "0"],
        )
        self.assertEqual(self.titles(third), [(0.5, "User name"), (4.5, "Password")])

    def test_what_script_wrote_is_taken_apart_by_its_times(self) -> None:
        typescript, times = self.folder / "typescript", self.folder / "times"
        said = "Naïve name? ".encode()
        typescript.write_bytes(b"Script started on a day\n" + said + b"x\r\nSure? ")
        for lines in (f"0.5 {len(said)}\n2.0 9\n", f"H 0.0 TERM\nO 0.5 {len(said)}\nI 0.1 1\nO 2.0 9\n"):
            times.write_text(lines)
            self.assertEqual(self.titles(typescript, times), [(0.5, "Naïve name?"), (2.5, "Sure?")])

    def test_what_is_no_recording_is_named_with_its_line(self) -> None:
        for lines, words in (
            (([1],), "a.cast:1"), (({"version": 9},), "a.cast:1"), ((HEADER, "text"), "a.cast:2"), ((HEADER, [0.1, "o", "x"], ["a", "o", "x"]), "a.cast:3"),
            (({"version": [2]},), "a.cast:1"), (("text",), "a.cast:1"), ((HEADER, [1e308, "o", "x"]), "a.cast:2"),
            ((HEADER, [0.1, "o", ["x"]]), "a.cast:2"), ((HEADER, [0.1, 5, "x"]), "a.cast:2"),
        ):  # fmt: skip
            with self.assertRaises(MetrographError) as caught:
                self.titles(self.recorded(*lines))
            self.assertIn(words, str(caught.exception))

    def test_times_of_a_typescript_that_cannot_be_are_named(self) -> None:
        typescript, times = self.folder / "typescript", self.folder / "times"
        typescript.write_bytes(b"Name? ")
        for told in ("nan 3", "inf 3", "1e300 3", "-1 3", "0.1 -3", "0.1", "²  3"):
            times.write_text(f"{told}\n")
            with self.assertRaisesRegex(MetrographError, "times:1", msg=told):
                self.titles(typescript, times)

    def test_what_no_terminal_understands_is_passed_over_and_the_next_is_read(self) -> None:
        for odd in (
            "\x1b[?5A",
            "\x1b[1;2;3;4;5H",
            "\x1b[²;3H",
            f"\x1b[{'9' * 5000}A",
            "\x1b[?1;2;3r",
            "\x1b#9",
            "\x9b?3;3;3K",
            "e" + "\u0301" * 50,
        ):
            for at in (0.5, 0.6):
                asked = self.recorded(HEADER, [0.4, "r", "²x²"], [at, "o", f"{odd}\r\nHost name? "])
                self.assertEqual([title for _, title in self.titles(asked)], ["Host name?"], repr(odd))

    def test_letters_hold_few_marks_however_they_come(self) -> None:
        terminal = Terminal()
        terminal.take(Output(0, "e" + "\u0315" * 100_000))
        for _ in range(20):
            terminal.take(Output(0, "\x1b[m\u0315"))
        self.assertLess(len(terminal.show()[0].rstrip()), 10)

    def test_rows_that_were_looked_at_before_are_as_they_stand_now(self) -> None:
        looked, once = Terminal(), Terminal()
        for output in [Output(0, text, size) for text in _SENT for size in (None, (40, 10), (90, 30))]:
            looked.take(output)
            looked.show()
            once.take(output)
        self.assertEqual(looked.show(), once.show())
        self.assertEqual(looked.full_screen, once.full_screen)

    def test_lines_of_any_length_cost_no_more_than_a_line_may_have(self) -> None:
        long = self.folder / "long.cast"
        long.write_bytes(json.dumps(HEADER).encode() + b'\n[0.1, "o", "' + b"a" * (9 << 20) + b'"]\n')
        with self.assertRaises(MetrographError) as caught:
            self.titles(long)
        self.assertIn("long.cast:2", str(caught.exception))

    def test_a_terminal_of_any_size_is_one_that_can_be(self) -> None:
        huge = self.recorded({"version": 2, "width": 10**9, "height": -4}, [0.5, "o", "Name? "])
        self.assertEqual(next(iter(read_recording(huge))), Output(0, "", (500, 24)))

    def test_a_line_is_read_as_it_speaks_until_it_ends(self) -> None:
        listening = socket.socket(socket.AF_UNIX)
        self.addCleanup(listening.close)
        listening.bind(str(self.folder / "line"))
        listening.listen()
        said = watch_line(self.folder / "line")
        threading.Thread(target=_speak, args=(listening, b"Host name? \xc3", b"\xa9"), daemon=True).start()
        self.assertEqual("".join(output.text for output in said), "Host name? é")
        with self.assertRaises(MetrographError):
            next(iter(watch_line(self.folder / "nothing")))

    def test_it_stops_where_it_is_told_to(self) -> None:
        asked = self.recorded(HEADER, [0.5, "o", "One? "], [5.0, "o", "\r\nTwo? "], [9.0, "o", "\r\nThree? "])
        found = list(found_in_text(read_recording(asked), lambda at: at < 6000))
        self.assertEqual([page.page.texts[0].text for page in found if page.page.texts], ["One?", "Two?"])
