"""What reaches a terminal: harmless, in columns, in ASCII where need be, and as tabs in a pipe."""

import re
import unittest
from collections.abc import Sequence

from hypothesis import given
from hypothesis import strategies as st
from rich.cells import cell_len
from rich.color import ColorSystem

from metrograph.compare.flow_records import Change, Side, What
from metrograph.measures.show import show_number
from metrograph.run.records import Run
from metrograph.show.charts.layouts.lanes_layout import lay_lanes
from metrograph.show.report.model import Column, Row, Table, texts
from metrograph.show.safe import readable, visible
from metrograph.show.terminal.terminal_lanes import render_lanes
from metrograph.show.terminal.text import Medium, abbreviate, fit, pad, render_table, shorten, width
from metrograph.words.change_words import sentence
from tests.helpers import demo_side, run_of
from tests.shown import show_run, show_sides

HOSTILE = "0:00 screen \x1b[31mRed\x07 \u202egnihtemos\u2066 \x9b2J 語言 🙂 שלום\n0:01 note \x1b]0;title\x07\n0:02 issue \x1b[2J: x\n1:00 end done"
TITLES = ["Language", "語言を選んでください", "🙂🙂🙂", "اللغة", "עברית", "Zażółć gęślą jaźń", "a" * 90, "e\u0301" * 12]


class Safety(unittest.TestCase):
    def test_nothing_that_a_terminal_obeys_gets_through(self) -> None:
        run = run_of(HOSTILE)
        for text in (
            show_run(run, Medium()),
            show_run(run, Medium(piped=True)),
            show_sides([Side("a", (run,)), Side("b", (run,))], Medium()),
        ):
            self.assertIsNone(re.search("[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069]", text))
            self.assertIn("語言 🙂 שלום", text)

    @given(st.text())
    def test_visible_text_has_no_control_characters(self, text: str) -> None:
        self.assertIsNone(
            re.search("[\x00-\x1f\x7f-\x9f\u200e\u200f\u2028-\u202e\u2066-\u2069\ud800-\udfff]", visible(text))
        )

    def test_records_are_made_visible_whole(self) -> None:
        run = readable(run_of(HOSTILE))
        self.assertNotIn("\x1b", repr(run).replace("\\x1b", "\x1b"))
        self.assertEqual(run.clock, run_of(HOSTILE).clock)


class Columns(unittest.TestCase):
    def render(self, columns: Sequence[Column], rows: Sequence[Sequence[str]], paper: Medium) -> str:
        table = Table(tuple(columns), tuple(Row(texts(*row)) for row in rows))
        fitted = fit(table, paper)
        assert fitted is not None
        return render_table(table, fitted, paper)

    @given(st.text(st.characters(exclude_categories=["Cc", "Cs", "Cf", "Zl", "Zp"]), max_size=40), st.integers(1, 30))
    def test_shortened_text_fits_and_padded_text_fills(self, text: str, columns: int) -> None:
        self.assertLessEqual(width(shorten(text, columns)), columns)
        self.assertEqual(width(pad(text, columns)), columns)

    def test_the_middle_is_left_out(self) -> None:
        self.assertEqual(shorten("larkmoor-8.0-heron-1", 11), "larkm…ron-1")
        self.assertEqual(shorten("語言を選んで", 7), "語言…で")

    def test_names_lose_letters_before_numbers(self) -> None:
        names = ["larkmoor-7.0-heron-1", "larkmoor-8.0-heron-12", "heron"]
        self.assertEqual([abbreviate(name, 14) for name in names], ["lar-7.0-her-1", "lar-8.0-her-12", "heron"])
        self.assertEqual(abbreviate("1234567890", 5), "12…90")

    def test_tables_line_up_by_display_width(self) -> None:
        rows = [[title, "1:00"] for title in TITLES]
        lines = self.render(
            [Column("screen", gives=True), Column("time", right=True)], rows, Medium(width=40)
        ).splitlines()
        self.assertEqual({width(line) for line in lines}, {40})
        self.assertTrue(all(line.endswith(("1:00", "time")) for line in lines))

    def test_in_a_pipe_cells_are_whole_and_apart_by_tabs(self) -> None:
        rows = [["a" * 200, "1:00"]]
        text = self.render([Column("screen", gives=True), Column("time")], rows, Medium(width=40, piped=True))
        self.assertEqual(text, "screen\ttime\n" + "a" * 200 + "\t1:00\n")

    def test_every_line_of_the_views_fits(self) -> None:
        sides = [demo_side("larkmoor-7.0-heron"), demo_side("larkmoor-8.0-heron")]
        for columns in (80, 100, 160):
            paper = Medium(width=columns)
            texts = [
                show_sides(sides, paper),
                *(show_run(run, paper) for run in sides[1].runs),
            ]
            for line in "".join(texts).splitlines():
                self.assertLessEqual(width(line), columns, line)


class Colours(unittest.TestCase):
    RUN: Run = run_of(
        "0:00 screen Disk\n1:00 wait\n2:00 pause\n3:00 resume\n4:00 cut ?\n5:00 issue a: Ünsafe — “x”\n6:00 end done"
    )

    def test_none_in_a_pipe_and_some_on_a_terminal(self) -> None:
        self.assertNotIn("\x1b", show_run(self.RUN, Medium()))
        self.assertIn("\x1b[38;2;", show_run(self.RUN, Medium(colours=ColorSystem.TRUECOLOR)))

    def test_without_unicode_everything_is_still_said(self) -> None:
        text = show_run(self.RUN, Medium(plain=True))
        self.assertTrue(text.isascii())
        self.assertIn("QQQqqq", text)
        self.assertIn("(1) ", text)
        self.assertIn('?nsafe - "x"', text)


class Lanes(unittest.TestCase):
    def draw(self, cues: str, totals: int = len("1:00")) -> list[str]:
        """The lane's lines without the margin; 60 columns of it for 60 seconds."""
        lanes = lay_lanes([run_of(cues, "r")])
        return [line[3:] for line in render_lanes(lanes, Medium(width=3 + 60 + 1 + totals)).splitlines()]

    def test_to_scale_from_the_left(self) -> None:
        lines = self.draw("0:00 screen Disk\n0:20 screen Copying files\n0:50 phase restart\n1:00 end done")
        self.assertEqual(lines[0], "╷" + " " * 19 + "╷" + " " * 29 + "▾installed")
        self.assertEqual(lines[1], "Q" * 20 + "c" * 30 + "R" * 10 + " 1:00")
        self.assertEqual(lines[2], "╵questions" + " " * 10 + "╵copy" + " " * 25 + "╵restart")

    def test_flags_stand_at_their_moment_and_no_two_phases_look_alike(self) -> None:
        lines = self.draw("0:00 screen Disk\n0:10 screen Copying files\n0:30 screen Finished\n0:34 phase desktop\n"
                          "0:40 phase own\n0:50 phase odd\n1:00 end done")  # fmt: skip
        self.assertEqual((lines[0].index("installed▾") + 9, lines[0].index("▾desktop")), (30, 34))
        self.assertEqual(lines[1], "Q" * 10 + "c" * 20 + "C" * 4 + "D" * 6 + "O" * 10 + "A" * 10 + " 1:00")

    def test_breaks_tears_failures_and_issues_show(self) -> None:
        lines = self.draw(
            "0:00 wait\n0:10 fail x\n0:20 retry\n0:30 pause\n9:30 resume\n9:40 cut ?\n9:50 issue x\n10:00 end done",
            len("≥ 1:00"),
        )
        self.assertEqual(lines[1], "╱" * 20 + "B" * 10 + "┊" + "B" * 9 + "≈" + "B" * 19 + " ≥ 1:00")
        self.assertEqual(lines[3], " " * 50 + "①")


class Sentences(unittest.TestCase):
    def test_offers_are_told_by_what_came_and_went(self) -> None:
        change = Change(
            "a", "b", What.OFFER_CHANGED, "disk", "Disk", "swap", "none, partition", "none, file\\, fast, zram"
        )
        self.assertEqual(
            sentence(change), "On “Disk”, swap now offers file, fast, zram and no longer offers partition."
        )

    def test_braces_in_titles_are_text(self) -> None:
        self.assertEqual(
            sentence(Change("a", "b", What.SCREEN_NEW, "other", "{kind} {0}")), "New screen “{kind} {0}” (other)."
        )

    def test_times_known_between_bounds_differ_between_bounds(self) -> None:
        cut, whole = (
            run_of("0:00 screen Disk\n1:00 cut 1:00..5:00\n2:00 end done", "a"),
            run_of("0:00 screen Disk\n4:00 end done", "b"),
        )
        text = show_sides([Side("a", (cut,)), Side("b", (whole,))], Medium(piped=True))
        self.assertIn("on the clock\t3:00–7:00\t4:00\t−3:00 to +1:00\n", text)

    def test_figures(self) -> None:
        self.assertEqual(
            [show_number(812 << 20, "bytes"), show_number(0.5, "%"), show_number(41, "")], ["812 MiB", "0.5 %", "41"]
        )


class Answers(unittest.TestCase):
    """What a comparison says first, and how it fits."""

    NAMES = ("larkmoor-7.0-heron", "larkmoor-8.0-heron", "larkmoor-9.0-beta-heron")

    def render(self, sides: Sequence[Side], columns: int) -> list[str]:
        return show_sides(sides, Medium(width=columns)).splitlines()

    def test_the_first_lines_say_what_matters_most(self) -> None:
        for count, columns in ((2, 80), (3, 80), (2, 120), (3, 120)):
            lines = self.render([demo_side(name) for name in self.NAMES[3 - count :]], columns)
            first = re.sub(r"\s+", " ", "\n".join(lines[: lines.index("Read with care")]))
            self.assertLess(lines.index("Read with care"), 12 * (count - 1) + 4, (count, columns))
            for word in (
                "larkmoor-9.0-beta-heron is installed 4:30 sooner than larkmoor-8.0-heron, but fully updated 17:44",
                "The tour hangs at its third step (major, one of two runs; not looked for in larkmoor-8.0-heron).",
            ):  # fmt: skip
                self.assertIn(word, first, (count, columns))

    def test_nothing_is_wider_than_the_paper(self) -> None:
        for columns in (80, 100, 120, 160):
            for line in self.render([demo_side(name) for name in self.NAMES], columns):
                self.assertLessEqual(cell_len(line), columns, line)

    def test_it_can_be_read_without_colours_and_without_signs(self) -> None:
        sides = [demo_side(name) for name in self.NAMES]
        text = show_sides(sides, Medium(width=120, plain=True))
        self.assertTrue(text.isascii())
        self.assertNotIn(
            "?",
            text.replace("Where are you?", "")
            .replace("Where should it go?", "")
            .replace("Write the changes?", "")
            .replace("Light or dark?", ""),
        )
        self.assertIn("> 0:13 *", text)

    def test_runs_without_anything_in_them_are_compared_too(self) -> None:
        empty, over = Side("empty", (run_of("", "e"),)), Side("over", (run_of("0:00 end done", "o"),))
        full = Side("full", (run_of("0:00 screen Disk\n1:00 end done", "f"),))
        for sides in ([empty, over], [empty, full], [full, over]):
            self.assertIn(
                "Nothing in" if sides[1] is over and sides[0] is empty else "Disk", "\n".join(self.render(sides, 80))
            )

    def test_more_releases_than_fit_are_a_line_each(self) -> None:
        def release(number: int) -> Side:
            cues = f"0:00 screen Language\n1:00 screen Disk\n1:01 keep swap = {number % 2}\n{number}:30 phase desktop\n20:00 end done"
            return Side(f"moor-{number}", (run_of(cues, f"moor-{number}-1"),))

        for columns, most in ((80, 3), (120, 6)):
            sides = [release(number) for number in range(2, 3 + most)]
            lines = self.render(sides, columns)
            self.assertTrue(lines[0].startswith(f"moor-2 (1 run) to moor-{2 + most} (1 run), {most + 1} releases"))
            start = lines.index("Releases")
            self.assertEqual([line.split() for line in lines[start + 2 : start + 4]],
                             [["moor-2", "1", "2", "1", "2:30", "2:30", "0:00", "—", "0"],
                              ["moor-3", "1", "2", "1", "3:30", "3:30", "0:00", "1", "0"]])  # fmt: skip
            self.assertIn(f"  Below, moor-{2 + most} against moor-2; --json has all.", lines)
            self.assertNotIn("Releases", self.render(sides[1:], columns))
            for line in lines:
                self.assertLessEqual(cell_len(line), columns, line)
