"""Figures as they are shown, what is left of them so, and whose turn it was: by hand."""

import unittest

from metrograph.log.quantities.ranges import Range
from metrograph.measures.reducing import by_key, words_for
from metrograph.measures.show import as_shown, show_figure
from metrograph.measures.taking import RunMetrics
from tests.helpers import run_of

MIB = 1 << 20


class Shown(unittest.TestCase):
    def test_each_unit_has_one_way(self) -> None:
        for amount, unit, name, expected in (
            (Range(812 * MIB, 812 * MIB), "bytes", "", "812 MiB"),
            (Range(500 * MIB, 600 * MIB), "bytes", "", "500–600 MiB"),
            (Range(512 * MIB, 2048 * MIB), "bytes", "", "512 MiB–2 GiB"),
            (Range(3, 5), "", "", "3–5"),
            (Range(18.4, 18.4), "s", "boot time", "18.4 s"),
            (Range(18.4, 18.4), "s", "hands-on", "0:18"),
            (Range(2, None), "W", "", "> 2 W"),
            (Range(0, 7), "W", "", "< 7 W"),
            (Range(12.345, 12.345), "%", "", "12.3 %"),
        ):
            self.assertEqual(show_figure(amount, unit, name), expected)

    def test_sums_start_from_what_a_reader_sees(self) -> None:
        self.assertEqual(as_shown(Range(18.4, 18.6), "s", "hands-on"), Range(18, 19))
        self.assertEqual(as_shown(Range(18.4, 18.4), "s", "boot time"), Range(18.4, 18.4))
        self.assertEqual(as_shown(Range(12.345, None), "%"), Range(12.3, None))


class Reduced(unittest.TestCase):
    READINGS = run_of(
        "0:01 reading memory = 700 MiB\n0:02 reading memory = 800 MiB\n0:03 reading load = low\n0:04 reading load = 0.5\n"
        "0:05 reading updates = 4\n0:06 reading updates = many\n0:10 end done\n"
    ).readings

    def test_of_several_readings_the_last_counts_as_an_amount_or_in_words(self) -> None:
        amounts = {key.name: amount.low for key, amount in by_key(self.READINGS).items()}
        self.assertEqual(amounts["memory"], 800 * MIB)
        state = self.READINGS[0].state
        words = {name: words_for(self.READINGS, name, state, None) for name in ("memory", "load", "updates")}
        self.assertEqual(words, {"memory": None, "load": None, "updates": "many"})


class Turns(unittest.TestCase):
    def test_a_wait_of_no_length_calls_nobody_back(self) -> None:
        run = run_of(
            "0:00 screen Disk\n0:10 wait\n0:10 ready\n0:20 pause\n0:50 resume\n1:00 wait\n2:00 ready\n2:30 end done\n"
        )
        turns = [(who, length.low) for who, length in RunMetrics(run).turns]
        self.assertEqual(turns, [("person", 30), ("machine", 60), ("person", 30)])


if __name__ == "__main__":
    unittest.main()
