"""The reader: reads all that can be read, and locates every fault in one pass."""

import re
import unittest
from textwrap import dedent

from hypothesis import given, settings
from hypothesis import strategies as st

from metrograph.log.cues import Cue, Header
from metrograph.log.quantities.quantity import parse_quantity
from metrograph.log.reader import read_log, read_log_bytes
from metrograph.log.verbs import VERBS
from metrograph.log.writer import format_log
from tests.helpers import DEMO, HEADER, ROOT, cues, log_of

WRONG = """\
metrograph 1
release: larkmoor-8.0-heron
begun: yesterday
why not
way: sideways

0:10 scren Language
    kind: languge
0:70 screen Language
1:00 screen
1:01 screen Disk
    kind: dsik
    colour: blue
    kind: disk
    kind: disk
2:00 choose swap
2:01 check printer: pas | detail x
2:02 enter pass phrase
2:03 screen A | nonsense! here
2:04 cut 12:00..8:00
2:05 reading memory = 812
2:06 layout whole disk
    part: /boot 300 MiB
    swap: yes please
2:07
2:08 end finished
hello
    and: goodbye
3:00 note the last word | x-own it | x-own twice
"""


class Faults(unittest.TestCase):
    def test_every_fault_is_found_in_one_pass_at_its_place(self) -> None:
        log, faults = read_log(WRONG, "wrong.metro")
        expected = [
            (1, 1, "the header has no “rig”", "rig: bench-vm"),
            (3, 8, "the time “yesterday” cannot be read", "a date and time with its offset, such as 2026-05-02T10:04:11+02:00"),
            (4, 1, "this header line cannot be read", "key: value, or a blank line before the first cue"),
            (5, 6, "there is no way to install called “sideways”", "one of fresh, upgrade, beside, inside, live, tour, later"),
            (7, 6, "there is no verb “scren”", "screen"),
            (9, 1, "the time “0:70” cannot be read", "a time such as 4:10, 1:04:10 or 0:07.25"),
            (10, 6, "“screen” needs more", "something like “screen Language”"),
            (12, 11, "there is no kind of screen “dsik”", "disk"),
            (13, 5, "“screen” has no field “colour”", "one of kind, text"),
            (15, 5, "the field “kind” stands twice", "one line of it"),
            (16, 13, "“choose” needs a key and a value", "key = value, something like “choose swap = file | was none”"),
            (17, 21, "“pas” cannot stand here", "pass"),
            (19, 17, "what follows a bar is not a field", "a field, such as “was none”; a bar meant literally is \\|"),
            (20, 10, "“12:00..8:00” is no range", "the smaller first, both in one unit: 500..600 MB"),
            (21, 23, "“812” does not say in what", "a unit after it: bytes, MiB, MB and the like"),
            (23, 11, "“/boot 300 MiB” cannot be read here", "a mount point, a file system and a size or “rest”, such as /boot/efi fat32 300 MiB"),
            (24, 11, "“yes please” cannot be read here", "none, file or partition, with a size and “hibernate” or without, such as file 2 GiB"),
            (25, 5, "a verb is missing after the time", None),
            (26, 10, "“finished” cannot stand here", "one of done, abandoned"),
            (27, 1, "this line cannot be read", "a time such as 4:10, 1:04:10 or 0:07.25, then a verb"),
        ]  # fmt: skip
        found = [(f.line, f.column, f.message, f.expected if f.line != 25 else None) for f in faults]
        self.assertEqual(found, expected)
        self.assertTrue(all(fault.file == "wrong.metro" and fault.level == "error" for fault in faults))
        self.assertEqual(
            [(cue.verb, cue.line) for cue in log.cues], [("screen", 11), ("enter", 18), ("layout", 22), ("note", 29)]
        )

    def test_a_stray_field_and_another_version(self) -> None:
        text = HEADER.replace("metrograph 1", "metrograph 2") + "    kind: disk\n"
        messages = [fault.message for fault in read_log(text)[1]]
        self.assertEqual(len(messages), 2)
        self.assertIn("version 2", messages[0])
        self.assertEqual(messages[1], "this field belongs to no cue")


class TornLines(unittest.TestCase):
    def test_a_line_cut_short_is_said_and_the_rest_is_read(self) -> None:
        log, faults = read_log(HEADER + "0:01 screen Language\n0:02 choose lang")
        self.assertEqual([cue.text for cue in log.cues], ["Language"])
        self.assertEqual([(f.line, f.level, f.message) for f in faults],
                         [(7, "error", "the last line was cut short; everything above it has been read")])  # fmt: skip

    def test_a_line_without_its_break_counts_and_warns(self) -> None:
        log, faults = read_log(HEADER + "0:01 screen Language")
        self.assertEqual(len(log.cues), 1)
        self.assertEqual([fault.level for fault in faults], ["warning"])

    def test_cut_anywhere_the_whole_lines_above_survive(self) -> None:
        text = (DEMO / "runs/larkmoor-8.0-heron-1.metro").read_text()
        whole = read_log(text)[0].cues
        for length in range(len(HEADER) + 40, len(text), 97):
            log, _ = read_log(text[:length])
            complete = [cue for cue in whole if text[:length].count("\n") > cue.line + len(cue.fields)]
            self.assertEqual(list(log.cues[: len(complete)]), complete, length)


class Encodings(unittest.TestCase):
    def test_another_encoding_is_located_and_the_rest_is_read(self) -> None:
        data = (HEADER + "0:01 screen Où êtes-vous ?\n0:02 screen Disk\n").encode("latin-1")
        log, faults = read_log_bytes(data, "old.metro")
        self.assertEqual([(f.line, f.column, f.expected) for f in faults], [(6, 14, "UTF-8 text")])
        self.assertEqual(log.cues[-1].text, "Disk")

    def test_what_else_is_wrong_is_told_beside_it(self) -> None:
        data = (HEADER + "0:01 screen Où\n0:02 frobnicate\n0:03 screeen Disk\n").encode("latin-1")
        _, faults = read_log_bytes(data, "old.metro")
        self.assertEqual([fault.line for fault in faults], [6, 7, 8])

    def test_utf_16_is_named(self) -> None:
        _, faults = read_log_bytes(HEADER.encode("utf-16"))
        self.assertIn("UTF-16", faults[0].message)

    def test_byte_order_mark_and_foreign_line_ends(self) -> None:
        text = "\ufeff" + (HEADER + "0:01 screen Disk \n    kind: disk\n").replace("\n", "\r\n")
        log, faults = read_log_bytes(text.encode())
        self.assertEqual((log.cues, faults), ((Cue(1000, "screen", None, "Disk", (("kind", "disk"),)),), ()))


class Forms(unittest.TestCase):
    def test_one_line_form_and_fields_below_are_the_same(self) -> None:
        below = log_of("0:01 choose swap = file\n    was: none\n    # why not\n    offered: none, file\n")
        behind = log_of("0:01 choose swap = file | was none | offered: none, file\n")
        self.assertEqual(below.cues, behind.cues)

    def test_tabs_and_remarks_between(self) -> None:
        log = log_of("0:01\tscreen\tA \\| b\n\n# remark\n0:00.5 note x\n")
        self.assertEqual([cue.text for cue in log.cues], ["A | b", "x"])
        self.assertEqual([cue.text for cue in log.by_time()], ["x", "A | b"])

    def test_cues_of_one_moment_keep_their_order(self) -> None:
        log = log_of("0:02 note c\n0:01 note a\n0:01 note b\n")
        self.assertEqual([cue.text for cue in log.by_time()], ["a", "b", "c"])

    def test_issue_names(self) -> None:
        named = {
            "issue disk-hidden: No disk": ("disk-hidden", "No disk"),
            "issue Disk: No disk": (None, "Disk: No disk"),
            "issue disk\\: no disk": (None, "disk: no disk"),
            "issue No disk": (None, "No disk"),
        }
        for body, (name, text) in named.items():
            cue = log_of(f"0:01 {body}\n").cues[0]
            self.assertEqual((cue.name, cue.text), (name, text))

    def test_demo_logs_are_without_fault(self) -> None:
        for path in sorted((DEMO / "runs").glob("*.metro")):
            self.assertEqual(read_log(path.read_text(), path.name)[1], (), path.name)


class Days(unittest.TestCase):
    """Records of months, in which a day stands in the place of a time."""

    LATER = HEADER.rstrip("\n") + "\nway: later\n\n"

    def test_they_read_sort_and_read_back(self) -> None:
        log, faults = read_log(self.LATER + "2026-05 note last\n2026-03-02 note first\n    tell: first\n")
        self.assertEqual(faults, ())
        self.assertEqual([(cue.text, cue.fields[0]) for cue in log.by_time()],
                         [("first", ("day", "2026-03-02")), ("last", ("day", "2026-05"))])  # fmt: skip
        self.assertEqual(read_log(format_log(log.header, log.cues))[0].cues, log.cues)
        self.assertIn("\n2026-03-02 note first\n    tell: first\n", format_log(log.header, log.cues))

    def test_elsewhere_and_where_there_is_no_such_day_they_are_faults(self) -> None:
        for text, found in ((HEADER + "2026-05 note x\n", "2026-05"), (self.LATER + "2026-13 note x\n", "2026-13"),
                            (self.LATER + "2026-02-30 note x\n", "2026-02-30")):  # fmt: skip
            log, faults = read_log(text)
            self.assertEqual((log.cues, [fault.found for fault in faults]), ((), [found]))


class Documented(unittest.TestCase):
    def test_every_example_in_the_description_of_the_language_reads(self) -> None:
        blocks = (ROOT / "docs/run-log.md").read_text().split("```metro\n")[1:]
        self.assertGreaterEqual(len(blocks), 3)
        for block in blocks:
            body = dedent(block.split("```")[0])
            text = body if body.startswith("metrograph") else HEADER + body
            log, faults = read_log(text)
            self.assertEqual(faults, (), body)
            self.assertEqual(read_log(format_log(log.header, log.cues))[0].cues, log.cues)

    def test_the_table_of_verbs_is_the_language(self) -> None:
        table = (ROOT / "docs/run-log.md").read_text().split("## The verbs")[1].split("```")[0]
        rows = [row.split("|") for row in re.findall(r"^\| (`.*) \|$", table, re.MULTILINE)]
        found = {
            verb: set(re.findall(r"`([a-z0-9-]+)`", re.sub(r"\([^)]*\)", "", row[2])))
            for row in rows
            for verb in re.findall(r"`([a-z]+)`", row[0])
        }
        self.assertEqual(found, {word: set(verb.fields) for word, verb in VERBS.items()})

    def test_the_table_of_quantities_is_read(self) -> None:
        table = (ROOT / "docs/run-log.md").read_text().split("### Quantities")[1].split("```")[0]
        for row in re.findall(r"^\| (`.*?) \|", table, re.MULTILINE):
            for text in re.findall(r"`([^`]*\d[^`]*)`", row):
                self.assertIsNotNone(parse_quantity(text).amount, text)


class Properties(unittest.TestCase):
    def test_long_lines_take_no_longer_than_their_length(self) -> None:
        for line in ("0:01 note" + " " * 10**6, "0:01 " + "a" * 10**6, "0:01 issue " + "a-" * 10**6, " " * 10**6 + "x"):
            read_log(HEADER + line + "\n")  # would take hours if any pattern tried all ways to divide it

    @settings(max_examples=300)
    @given(st.text())
    def test_any_text_gives_a_result(self, text: str) -> None:
        read_log(text)
        read_log(HEADER + text)

    @given(
        st.lists(
            st.sampled_from(
                ["0:01 ", "screen ", "    ", "kind", ": ", "|", "\\", "\n", "x-", "=", "é", "layout", "part", "#", "\r"]
            )
        ).map("".join)
    )
    def test_any_jumble_of_its_parts_gives_a_result(self, text: str) -> None:
        log, faults = read_log(HEADER + text)
        for fault in faults:
            self.assertGreaterEqual(min(fault.line, fault.column), 1)
        self.assertEqual(read_log(format_log(log.header, log.cues))[0].cues, log.cues)

    @given(st.binary())
    def test_any_bytes_give_a_result(self, data: bytes) -> None:
        read_log_bytes(data)

    @given(st.lists(cues(), max_size=6).map(tuple))
    def test_what_is_written_is_read_back(self, written: tuple[Cue, ...]) -> None:
        header = Header("larkmoor-8.0-heron", "bench-vm", log_of("").header.begun, (("reviewer", "bench"),))
        log, faults = read_log(format_log(header, written))
        self.assertEqual(faults, ())
        self.assertEqual(log.header, header)
        self.assertEqual(log.cues, written)
