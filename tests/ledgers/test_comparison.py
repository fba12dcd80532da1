"""Comparing: what changed, what it cost, what stands, and why to be careful."""

import unittest
from typing import Any, ClassVar

import msgspec

from metrograph.compare.flow_records import Change, LogPlace, Side, What
from metrograph.ledgers.comparison import Background, Comparison, compare
from metrograph.run.cards import Release, Rig
from tests.helpers import demo_side, run_of, seconds


def sides(*logs: str) -> list[Side]:
    """A side of one run for each of these logs, named a, b, c."""
    return [Side(name, (run_of(log, name),)) for name, log in zip("abcd", logs, strict=False)]


def told(comparison: Comparison) -> list[tuple[str | None, ...]]:
    """The changes, without between whom."""
    return [(each.what, each.title, each.key, each.before, each.after) for each in comparison.changes]


class Changes(unittest.TestCase):
    def test_screens(self) -> None:
        found = compare(sides(
            "0:00 screen Language\n0:10 screen Keyboard\n0:20 screen Where are you?\n0:30 screen Package source\n0:40 screen Disk\n1:00 end done",
            "0:00 screen Language\n0:10 screen Time zone\n0:20 screen Disk\n0:30 screen Keyboard\n0:40 screen Extra drivers\n1:00 end done",
        ))  # fmt: skip
        self.assertEqual(
            told(found),
            [
                ("screen-new", "Extra drivers", None, None, None),
                ("screen-gone", "Package source", None, None, None),
                ("screen-moved", "Keyboard", None, "questions, after “Language”", "questions, after “Disk”"),
                ("screen-renamed", "Time zone", None, "Where are you?", "Time zone"),
            ],
        )

    def test_after_the_restart_is_a_move_even_in_the_same_order(self) -> None:
        before = "0:00 screen Your account\n1:00 screen Copying files\n2:00 phase desktop\n3:00 end done"
        after = "0:00 screen Copying files\n1:00 phase restart\n2:00 screen Your account\n3:00 end done"
        change = compare(sides(before, after)).changes[0]
        self.assertEqual((change.what, change.before, change.after),
                         ("screen-crossed", "questions, first", "setup, after “Copying files”"))  # fmt: skip

    def test_answers(self) -> None:
        before = """
            0:00 screen Disk
            0:01 keep swap = none
                offered: none, partition
            0:02 choose groups = +a, -b
                was: +b
            0:03 enter test text
            0:04 end done
        """
        after = """
            0:00 screen Disk
            0:01 choose swap = none
                was: file
                offered: none, file
            0:02 choose groups = -b, +a
                was: +b
            0:03 keep encryption = off
            0:04 end done
        """
        self.assertEqual(
            told(compare(sides(before, after))),
            [
                ("preset-changed", "Disk", "swap", "none", "file"),
                ("question-new", "Disk", "encryption", None, "off"),
                ("question-gone", "Disk", "test text", None, None),
                ("offer-changed", "Disk", "swap", "none, partition", "none, file"),
            ],
        )

    def test_a_question_is_told_with_what_is_pre_set_and_else_with_what_was_answered(self) -> None:
        for cue, value in (("choose swap = none", "none"), ("choose swap = none | was file", "file")):
            found = compare(sides(f"0:00 screen Disk\n0:01 {cue}\n0:02 keep look = dark\n0:04 end done",
                                  "0:00 screen Disk\n0:02 keep look = dark\n0:04 end done"))  # fmt: skip
            self.assertEqual([(each.what, each.before) for each in found.changes], [("question-gone", value)])

    def test_trials(self) -> None:
        found = compare(
            sides(
                "0:00 check printer: pass\n0:01 check share: skipped",
                "0:00 check printer: fail\n0:01 check share: pass",
            )
        )
        moments = LogPlace("a", seconds(0)), LogPlace("b", seconds(0))
        self.assertEqual(
            found.changes, (Change("a", "b", What.CHECK_CHANGED, None, None, "printer", "pass", "fail", *moments),)
        )

    def test_a_trial_that_is_first_made_and_fails_is_told_and_one_that_passes_or_is_of_another_line_is_not(
        self,
    ) -> None:
        logs = "0:00 check share: pass", "0:00 check suspend: fail\n0:01 check video: pass"
        (first,) = compare(sides(*logs)).changes
        self.assertEqual(
            (first.what, first.key, first.before, first.after), (What.CHECK_FIRST, "suspend", None, "fail")
        )
        apart = [msgspec.structs.replace(side, line=side.name) for side in sides(*logs)]
        self.assertEqual(compare(apart).changes, ())

    def test_a_screen_split_in_two_and_two_made_one(self) -> None:
        one = """
            0:00 screen Language
            0:10 screen Place and keyboard
            0:11 keep timezone = Lisbon
            0:12 keep layout = English
            0:20 screen Disk
            1:00 end done
        """
        two = """
            0:00 screen Language
            0:10 screen Keyboard
            0:12 keep layout = Danish
            0:15 screen Place
            0:16 keep timezone = Lisbon
            0:20 screen Disk
            1:00 end done
        """
        before, after = sides(one, two)
        self.assertEqual(
            told(compare([before, after])),
            [("screen-split", "Place and keyboard", None, "Place and keyboard", "Keyboard, Place"),
             ("preset-changed", "Keyboard", "layout", "English", "Danish")],
        )  # fmt: skip
        self.assertEqual(
            told(compare([after, before])),
            [("screen-merged", "Place and keyboard", None, "Keyboard, Place", "Place and keyboard"),
             ("preset-changed", "Place and keyboard", "layout", "Danish", "English")],
        )  # fmt: skip

    def test_without_questions_the_words_of_the_titles_tell_of_a_split(self) -> None:
        before, after = sides(
            "0:00 screen Disk\n0:10 screen Place and keyboard\n0:20 screen Summary\n1:00 end done",
            "0:00 screen Disk\n0:10 screen Place\n0:15 screen Keyboard\n0:20 screen Summary\n1:00 end done",
        )
        self.assertEqual([each[0] for each in told(compare([before, after]))], ["screen-split"])
        self.assertEqual([each[0] for each in told(compare([after, before]))], ["screen-merged"])

    def test_a_question_that_went_to_another_screen_is_neither_gone_nor_new(self) -> None:
        before, after = sides(
            "0:00 screen Disk\n0:01 keep method = whole\n0:02 keep swap = none\n0:10 screen Summary\n0:11 keep go = yes\n1:00 end done",
            "0:00 screen Disk\n0:01 keep method = whole\n0:10 screen Summary\n0:11 keep go = yes\n0:12 enter swap = file\n1:00 end done",
        )
        self.assertEqual(
            told(compare([before, after])),
            [("question-moved", "Summary", "swap", "Disk", "Summary"), ("typing-changed", "Summary", "swap", "picked", "typed"),
             ("choice-changed", "Summary", "swap", "none", "file")],
        )  # fmt: skip

    def test_an_overview_and_the_order_of_its_doors(self) -> None:
        pages = (
            "0:00 screen Language\n0:10 screen Disk\n0:20 screen Your account\n0:30 screen Copying files\n1:00 end done"
        )
        here = "0:00 screen Overview\n0:05 screen {}\n0:10 screen Overview\n0:15 screen {}\n0:20 screen Overview\n0:25 screen {}\n0:30 screen Overview\n0:40 screen Copying files\n1:00 end done"
        one, other = here.format("Language", "Disk", "Your account"), here.format("Your account", "Disk", "Language")
        self.assertEqual(told(compare(sides(one, other))), [])
        found = compare(sides(pages, one))
        self.assertEqual([each[:2] for each in told(found)], [("overview-new", "Overview"), ("screen-new", "Overview")])
        self.assertEqual(found.overviews, (None, "Overview"))
        self.assertEqual([cell.returns for row in found.rows if (cell := row.cells[1])], [0] * 5)

    def test_disks_phases_and_whose_work_it_is(self) -> None:
        before = """
            0:00 phase live
            0:30 layout whole disk
                disk: 25 GiB
                part: / ext4 24 GiB
                swap: none
            1:00 phase desktop
            1:01 wait
            2:00 end done
        """
        after = """
            0:00 phase tour
            0:30 layout whole disk
                disk: 25 GiB
                part: / btrfs 24 GiB
                swap: file 2 GiB
            1:00 phase desktop
            2:00 end done
        """
        self.assertEqual(
            told(compare(sides(before, after))),
            [("layout-changed", None, "/", "ext4 24 GiB", "btrfs 24 GiB"), ("layout-changed", None, "swap", "none", "file 2 GiB"),
             ("phase-new", None, "tour", None, None), ("hands-changed", None, "desktop", "machine", "person")],
        )  # fmt: skip
        self.assertEqual(told(compare(sides(before, after.replace("25 GiB", "30 GiB"))))[0][0], "phase-new")

    def test_whose_work_a_phase_is_is_said_where_it_is_one_or_the_other(self) -> None:
        own = "0:00 screen Disk\n1:00 phase setup\n3:00 phase desktop\n4:00 end done"
        both = own.replace("3:00", "2:00 wait\n3:00")
        self.assertEqual([each.what for each in compare(sides(own, both)).changes if each.what == "hands-changed"], [])

    def test_a_part_of_the_disk_that_only_one_has(self) -> None:
        log = "0:00 screen Disk\n0:10 layout whole disk\n    disk: 25 GiB\n    part: / ext4 20 GiB\n{}1:00 end done"
        found = told(compare(sides(log.format("    part: /home ext4 2 GiB\n"), log.format(""))))
        self.assertEqual(found, [("layout-changed", None, "/home", "ext4 2 GiB", None)])

    def test_a_value_that_is_back_says_where_it_was_and_the_baseline_is_held_against_all(self) -> None:
        logs = [
            f"0:00 screen Disk\n0:0{n} keep swap = {value}\n1:00 end done"
            for n, value in enumerate(("none", "file", "none", "zram"))
        ]
        found = compare(sides(*logs), baseline="b")
        self.assertEqual([(each.later, each.as_in) for each in found.changes], [("b", None), ("c", "a"), ("d", None)])
        self.assertEqual([(each.earlier, each.later) for each in found.since_baseline], [("b", "d")])
        self.assertEqual(found.changes[1].after_at, LogPlace("c", seconds(2)))

    def test_what_few_runs_of_a_release_noted_says_nothing_of_the_installer(self) -> None:
        plain, more = (
            run_of(f"0:00 screen Disk\n0:01 keep swap = none\n{extra}1:00 end done", name)
            for name, extra in (("r-1", ""), ("r-2", "0:02 enter test\n"))
        )
        other = Side("x", (run_of("0:00 screen Disk\n0:01 keep swap = none\n1:00 end done"),))
        self.assertEqual(told(compare([Side("r", (plain, more)), other])), [])

    def test_a_run_against_itself_has_none(self) -> None:
        side = demo_side("larkmoor-8.0-heron")
        self.assertEqual(compare([side, Side("again", side.runs)]).changes, ())


class Figures(unittest.TestCase):
    def test_times_are_medians_and_ranges_stay_ranges(self) -> None:
        ends = ("1:00 end done", "3:00 end done", "1:00 cut 1:00..5:00\n2:00 end done")
        logs = [f"0:00 screen Disk\n0:00 wait\n{end}" for end in ends]
        side = Side("all", tuple(run_of(log) for log in logs))
        times = compare([side, Side("again", side.runs)]).times[0]
        self.assertEqual((times.runs, times.machine, times.person), (3, seconds(180), seconds(0)))
        self.assertEqual(compare([Side("x", side.runs[2:]), side]).times[0].on_clock, seconds(180, 420))

    def test_readings_meet_in_one_state_only(self) -> None:
        live, installed = (
            f"0:00 screen Disk\n0:00 phase {phase}\n0:01 reading memory = {size} GiB\n1:00 end done"
            for phase, size in (("live", 1), ("desktop", 2))
        )
        rows = compare(sides(live, installed)).readings
        self.assertEqual(
            [(row.state, row.values) for row in rows],
            [("live", (seconds(2**30), None)), ("installed", (None, seconds(2**31)))],
        )


class Demo(unittest.TestCase):
    def setUp(self) -> None:
        self.found = compare([demo_side("larkmoor-7.0-heron"), demo_side("larkmoor-8.0-heron")])

    def test_the_story_can_be_read_off(self) -> None:
        told_of = told(self.found)
        self.assertIn(("preset-changed", "Disk", "swap", "none", "file"), told_of)
        self.assertIn(("preset-changed", "Keyboard", "layout", "English (US)", "English (UK)"), told_of)
        self.assertIn(("check-changed", None, "printer", "pass", "fail"), told_of)
        standing = {row.name: [(cell.seen, cell.status) for cell in row.cells] for row in self.found.issues}
        self.assertEqual(standing["disk-hidden"], [(0, "absent"), (1, "new")])
        self.assertEqual([len(row.cells) - row.cells.count(None) for row in self.found.rows], [2] * 15)

    def test_a_gap_in_the_record_stays_a_range_and_lunch_is_off_the_clock(self) -> None:
        run = demo_side("osterby-2026.1").runs[0]
        # 1:01:30 in the file, less 45:30 of lunch, plus a gap of 8 to 12 minutes.
        self.assertEqual((run.clock.on_clock, run.clock.paused), (seconds(1440, 1680), seconds(2730)))
        # From the issue at 3:50 to its fix at 4:40, with the gap between them.
        self.assertEqual((run.clock.lost, run.issues[0].lost), (seconds(530, 770), seconds(530, 770)))
        self.assertEqual(run.milestones.installed, seconds(1252, 1492))

    def test_lost_time_is_that_of_the_lost_attempt(self) -> None:
        runs = demo_side("larkmoor-8.0-heron").runs
        self.assertEqual(
            {run.run[-1]: run.clock.lost for run in runs}, dict.fromkeys("134", seconds(0)) | {"2": seconds(687)}
        )
        lost = [time.lost for time in self.found.times]
        self.assertEqual(lost, [seconds(0), seconds(0)])  # the median of three times 0:00 and one 11:27

    def test_readings_under_load_are_not_mixed_with_those_at_rest(self) -> None:
        begun = "0:00 screen Disk\n0:00 phase desktop\n"
        found = compare(sides(f"{begun}0:01 reading memory = 1 GiB | load rest\n0:02 reading memory = 3 GiB | load busy\n1:00 end done",
                              f"{begun}0:01 reading memory = 2 GiB | load rest\n1:00 end done"))  # fmt: skip
        self.assertEqual([(row.load, row.values) for row in found.readings],
                         [("rest", (seconds(1 << 30), seconds(2 << 30))), ("busy", (seconds(3 << 30), None))])  # fmt: skip


class Caveats(unittest.TestCase):
    RIGS: ClassVar = {"bench-vm": Rig(memory=4 << 30), "loan-laptop": Rig(memory=8 << 30)}

    def caveats(self, *sides: Side, **known: Any) -> dict[str, tuple[tuple[str, ...], str]]:
        found = compare(list(sides), Background(self.RIGS, **known))
        return {each.what: (each.values, each.affects) for each in found.caveats}

    def test_each_way_in_which_machines_differ(self) -> None:
        told = {
            "machine": (Rig(kind="virtual"), Rig(kind="physical"), "virtual", "physical"),
            "processors": (Rig(processors=2), Rig(processors=4), "2", "4"),
            "disk": (Rig(disk=8 << 30), Rig(disk=16 << 30), "8 GiB", "16 GiB"),
            "firmware": (Rig(firmware="uefi"), Rig(firmware="bios"), "uefi", "bios"),
            "graphics": (Rig(graphics="plain"), Rig(graphics="fast"), "plain", "fast"),
            "network": (Rig(network="cable"), Rig(network="wireless"), "cable", "wireless"),
        }
        one, other = (
            Side(name, (msgspec.structs.replace(run_of("0:00 screen Disk\n1:00 end done", f"{name}-1"), rig=name),))
            for name in ("one", "other")
        )
        for what, (was, now, before, after) in told.items():
            found = compare([one, other], Background({"one": was, "other": now})).caveats
            self.assertEqual({str(each.what): each.values for each in found}.get(what), (before, after), what)

    def test_a_rig_in_common_leaves_times_to_compare(self) -> None:
        seven, eight = demo_side("larkmoor-7.0-heron"), demo_side("larkmoor-8.0-heron")
        self.assertEqual(
            self.caveats(seven, eight),
            {
                "rig": (("bench-vm", "bench-vm, loan-laptop"), "results"),
                "memory": (("4 GiB", "4 GiB, 8 GiB"), "results"),
            },
        )
        laptop = Side("laptop", tuple(run for run in eight.runs if run.rig == "loan-laptop"))
        found = self.caveats(seven, laptop)
        self.assertEqual(
            [(what, found[what][1]) for what in ("rig", "memory")], [("rig", "times"), ("memory", "times")]
        )
        self.assertEqual(list(found)[:2], ["rig", "memory"])

    def test_cuts_open_and_single_runs(self) -> None:
        found = self.caveats(*sides("0:00 cut 1:00", "0:00 screen Disk\n1:00 end done"))
        self.assertEqual(
            found, {"open": (("1", "0"), "times"), "cuts": (("1", "0"), "results"), "runs": (("1", "1"), "results")}
        )
        self.assertEqual(self.caveats(*sides("0:00 cut ?\n1:00 end done", "1:00 end done"))["cuts"][1], "times")

    def test_what_was_ticked_picked_encrypted_and_how_old_the_image_was(self) -> None:
        before = "0:00 screen Disk\n0:01 choose groups = +a, -b\n0:02 choose look = dark | was light\n0:03 keep swap = none\n0:04 layout whole | crypt yes\n1:00 end done"
        after = "0:00 screen Disk\n0:01 choose groups = -b, +c\n0:02 keep look = light\n0:03 keep swap = file\n0:04 layout whole\n1:00 end done"
        one, other = sides(before, after)
        found = self.caveats(one, other)
        self.assertEqual(found["extras"], (("+a, -b", "+c, -b"), "times"))
        self.assertEqual(found["choices"], (("look: dark", "look: light"), "results"))
        self.assertEqual(found["encryption"], (("encrypted", "not encrypted"), "times"))
        later = msgspec.structs.replace(other.runs[0], release="x")
        cards = {"larkmoor-8.0-heron": Release(released="2026-05-01"), "x": Release(released="2026-04-01")}
        self.assertEqual(self.caveats(one, Side("x", (later,)), cards=cards)["image age"][0], ("1 day", "31 days"))
        cards["x"] = Release(released="2026-04-24")
        self.assertEqual(self.caveats(one, Side("x", (later,)), cards=cards)["image age"][0], ("1 day", "8 days"))
        cards["x"] = Release(released="2026-04-25")
        self.assertNotIn("image age", self.caveats(one, Side("x", (later,)), cards=cards))

    def test_readings_taken_in_different_states_only(self) -> None:
        found = self.caveats(
            *sides("0:00 phase live\n0:01 reading memory = 1 GiB", "0:00 phase desktop\n0:01 reading memory = 2 GiB")
        )
        self.assertEqual(found["state"][0], ("live", "installed"))
