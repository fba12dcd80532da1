"""Notes made elsewhere: every form read, nothing left out."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.core.errors import MetrographError
from metrograph.intake.notes import Notes, TimedNote, read_notes, to_cue
from metrograph.intake.source import Timing, on_run_time
from metrograph.log.cues import Cue
from metrograph.store.clock import now

HEADINGS = ("time", "at", "start", "when", "timestamp")

VTT = """\
WEBVTT - an install day

NOTE not for anybody

STYLE
::cue { color: red }

first
00:00:05.250 --> 00:00:08.000 align:start
<v Bench>screen <i>Language</i></v>

00:07.000 --> 00:09.000
choose swap = file
| was none
"""
SRT = "1\r\n00:00:05,250 --> 00:00:08,000\r\nscreen Language\r\n\r\n2\r\n01:00:07,000 --> 01:00:09,000\r\n\r\n"
CSV = 'what;Time;more\n"screen ""Disk""";1:05;\nlost;soon;found\n;;\nkettle;90.5 s;on\n'
PLAIN = "before all\n[0:05] screen Language\nand a remark\n1:02:03.5 - the end\n(0:07) \n"


def read(text: str, name: str = "notes.txt") -> list[tuple[int, str]]:
    return [(note.at, note.text) for note in read_notes(text.encode(), name)]


class Reading(unittest.TestCase):
    def test_captions(self) -> None:
        self.assertEqual(read(VTT), [(5250, "screen Language"), (7000, "choose swap = file | was none")])
        self.assertEqual(read(SRT), [(5250, "screen Language")])

    def test_only_an_empty_line_ends_a_block_of_captions_and_none_is_lost(self) -> None:
        text = "WEBVTT\n\n0:05.000 --> 0:06.000\nThe guess\n \nis right\n0:07.000 --> 0:08.000\nDisk\n"
        self.assertEqual(read(text), [(5000, "The guess is right"), (7000, "Disk")])

    def test_tables(self) -> None:
        self.assertEqual(
            read(CSV, "a.CSV"), [(65_000, 'screen "Disk"'), (65_000, "lost soon found"), (90_500, "kettle on")]
        )
        self.assertEqual(read("0:05,wait\n0:06,ready\n", "a.csv"), [(5000, "wait"), (6000, "ready")])

    def test_plain_lines(self) -> None:
        self.assertEqual(
            read(PLAIN), [(0, "before all"), (5000, "screen Language"), (5000, "and a remark"), (3_723_500, "the end")]
        )

    def test_what_is_a_cue_and_what_stays_a_note(self) -> None:
        self.assertEqual(
            to_cue(TimedNote(5, "choose swap = file | was none"), as_cue=True),
            Cue(5, "choose", "swap", "file", (("was", "none"),)),
        )
        for text in (
            "sc Language",
            "The screen flickers",
            "check printer: perhaps",
            "a | b \\ c",
            "password is on the slip",
        ):
            self.assertEqual(to_cue(TimedNote(5, text), as_cue=True), Cue(5, "note", None, text))
        said = "screen savers are in the settings"
        self.assertEqual(to_cue(TimedNote(5, said)), Cue(5, "note", None, said))

    def test_what_begins_like_a_cue_and_is_none_is_a_fault(self) -> None:
        text = (
            "0:01 screeen Disk\n0:02 screen Disk | offered a, b\nCheck it twice\n0:03 looks fine\n0:04 chose = file\n"
        )
        faults = Notes(text.encode(), "n.txt", as_cues=True).faults
        self.assertEqual([(fault.line, fault.message) for fault in faults],
                         [(1, "there is no verb “screeen”"), (2, "“screen” has no field “offered”"),
                          (5, "there is no verb “chose”")])  # fmt: skip
        caption = Notes(b"WEBVTT\n\n0:01.000 --> 0:02.000\nreading\n\n", "n.vtt", as_cues=True)
        self.assertEqual([fault.line for fault in caption.faults], [4])
        self.assertEqual(
            [fault.line for fault in Notes(b"time,what\n0:01,reading\n", "n.csv", as_cues=True).faults], [2]
        )

    def test_a_secret_loses_its_value(self) -> None:
        for text in ("enter root password = hunter2", "enter root password hunter2"):
            self.assertEqual(to_cue(TimedNote(5, text), as_cue=True), Cue(5, "enter", "root password", ""))

    def test_other_encodings_and_sizes_are_refused(self) -> None:
        with self.assertRaisesRegex(MetrographError, "x.txt:2: this is not UTF-8"):
            read_notes(b"0:01 a\n0:02 \xe9\n", "x.txt")
        with self.assertRaisesRegex(MetrographError, "larger than"):
            read_notes(b" " * (65 << 20), "x.txt")
        with self.assertRaisesRegex(MetrographError, "x.csv cannot be read as a table: field larger"):
            read_notes(b"0:01," + b"x" * 200_000, "x.csv")

    @given(st.text(), st.sampled_from(["a.txt", "a.csv"]))
    def test_any_text_gives_a_result_and_plain_words_are_kept(self, text: str, name: str) -> None:
        for note in read_notes(text.encode(errors="replace"), name):
            to_cue(note)
        words = "".join(text.split())
        if words.isalpha() and words.casefold() not in HEADINGS:
            self.assertEqual("".join("".join(said.split()) for _, said in read(text, name)), words)

    def test_times_of_a_recording_on_the_runs_time(self) -> None:
        timing = Timing(now(), starts=40_000, cuts=((60_000, 480_000), (120_000, 1000)))
        self.assertEqual(
            [on_run_time(at, timing) for at in (0, 59_999, 60_000, 120_000)], [40_000, 99_999, 580_000, 641_000]
        )
        early = Timing(now(), starts=-65_000)
        self.assertEqual([on_run_time(at, early) for at in (0, 65_000, 70_000)], [0, 0, 5000])
