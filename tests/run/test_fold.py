"""Folding: cues to a run, worked out by hand, and the properties that hold for any log."""

import random
import unittest

import msgspec
from hypothesis import given
from hypothesis import strategies as st

from metrograph.log.cues import Cue, Header, Log
from metrograph.log.quantities.ranges import ZERO, Range, exactly
from metrograph.run.folding.fold import fold
from metrograph.run.records import Screen
from tests.helpers import LEXICON, cues, run_of, seconds

STORY = """
    0:00 screen Boot menu
    0:10 wait
    1:00 screen Language
    1:05 choose language = English
        was: German
    1:20 screen Disk
    1:30 issue no-disk: Lists no disk
    2:00 fail nothing to install on
        issue: no-disk
    3:00 fix no-disk: plain mode
    3:10 retry from power-on
    3:20 screen Boot menu
    3:30 screen Language
    3:40 screen Disk
    3:45 screen Language
    3:50 screen Disk
    4:00 screen Copying files
    9:00 phase restart
    9:00 wait
    9:40 screen Greeter
    10:00 phase desktop
    10:30 end done
"""


def screen(run_cues: str, title: str, attempt: int = 1) -> Screen:
    """One screen of a run, by title and attempt."""
    return next(each for each in run_of(run_cues).screens if each.title == title and each.attempt == attempt)


class Clocks(unittest.TestCase):
    def test_where_the_time_of_a_story_went(self) -> None:
        clock = run_of(STORY).clock
        self.assertEqual(clock.elapsed, seconds(630))
        # Waiting: 0:10-1:00 in the boot menu, 4:00-9:00 copying, 9:00-9:40 restarting.
        self.assertEqual((clock.machine, clock.person), (seconds(50 + 300 + 40), seconds(240)))
        # The failed attempt, 0:00-3:10; the issue's own span lies within it and counts no second time.
        self.assertEqual(clock.lost, seconds(190))

    def test_phases_follow_kinds_and_cues(self) -> None:
        phases = {phase.name: phase.on_clock.low for phase in run_of(STORY).phases}
        self.assertEqual(phases, {"boot": 60 + 20, "questions": 130 + 30, "copy": 300, "restart": 60, "desktop": 30})

    def test_attempts(self) -> None:
        one, two = run_of(STORY).attempts
        self.assertEqual((one.failed, one.start, one.on_clock), ("nothing to install on", ZERO, seconds(190)))
        self.assertEqual((two.failed, two.start, two.on_clock), (None, seconds(190), seconds(440)))

    def test_returns_belong_to_the_screen(self) -> None:
        disk = screen(STORY, "Disk", attempt=2)
        self.assertEqual((disk.returns, disk.on_clock, disk.start), (1, seconds(5 + 10), seconds(220)))

    def test_milestones_are_the_last_attempts(self) -> None:
        milestones = run_of(STORY).milestones
        self.assertEqual(milestones.first_question, seconds(210))
        self.assertEqual((milestones.installed, milestones.desktop), (seconds(540), seconds(600)))
        self.assertIsNone(milestones.updated)

    def test_pauses_are_off_the_clock(self) -> None:
        clock = run_of("0:00 screen Disk\n1:00 pause lunch\n31:00 resume\n32:00 end done").clock
        self.assertEqual((clock.elapsed, clock.on_clock, clock.paused), (seconds(1920), seconds(120), seconds(1800)))

    def test_waiting_goes_on_after_a_pause(self) -> None:
        clock = run_of("0:00 wait\n1:00 pause\n2:00 resume\n3:00 ready\n4:00 end done").clock
        self.assertEqual((clock.machine, clock.person), (seconds(120), seconds(60)))

    def test_cuts_make_ranges_of_all_they_lie_in(self) -> None:
        run = run_of("0:00 screen Copying files\n1:00 cut 8:00..12:00\n2:00 screen Finished\n2:10 cut ?\n3:00 end done")
        self.assertEqual(run.clock.machine, seconds(600, 840))
        self.assertEqual(run.screens[1].start, seconds(600, 840))
        self.assertEqual(run.clock.on_clock, seconds(660, None))

    def test_a_cut_in_a_pause_is_paused(self) -> None:
        clock = run_of("0:00 pause\n1:00 cut 10:00\n2:00 resume\n3:00 end done").clock
        self.assertEqual((clock.paused, clock.on_clock), (seconds(720), seconds(60)))

    def test_nothing_happens_after_the_end(self) -> None:
        run = run_of("0:00 screen Disk\n1:00 end done\n9:00 note forgotten")
        self.assertEqual((run.clock.elapsed, run.ended, run.notes[0].at), (seconds(60), "done", seconds(60)))


class LostTime(unittest.TestCase):
    def test_overlapping_trouble_counts_once_and_each_issue_has_its_own(self) -> None:
        run = run_of("""
            1:00 issue a: first
            2:00 issue b: second
            3:00 fix b: so
            3:30 issue c: never fixed
            4:00 fix a: so
            5:00 issue a: again
            5:30 fix a: so
            6:00 end done
        """)
        self.assertEqual([issue.lost for issue in run.issues], [seconds(180), seconds(60), None, seconds(30)])
        self.assertEqual(run.clock.lost, seconds(210))

    def test_pauses_are_not_lost_and_cuts_are(self) -> None:
        run = run_of("1:00 issue a: x\n2:00 pause\n3:00 resume\n4:00 cut 1:00..2:00\n5:00 fix a: y\n6:00 end done")
        self.assertEqual(run.clock.lost, seconds(240, 300))
        self.assertEqual(run.issues[0].lost, run.clock.lost)

    def test_a_failure_without_another_attempt_goes_on_to_the_end(self) -> None:
        self.assertEqual(run_of("1:00 fail no disk\n2:00 end abandoned").clock.lost, seconds(120))


class Phases(unittest.TestCase):
    def test_questions_after_the_restart_are_set_up(self) -> None:
        run = run_of("""
            0:00 screen Language
            1:00 screen Copying files
            2:00 phase restart
            3:00 screen Keyboard
            4:00 screen Your account
            5:00 screen Desktop
            6:00 end done
        """)
        self.assertEqual([s.phase for s in run.screens], ["questions", "copy", "setup", "setup", "desktop"])

    def test_a_cue_that_begins_another_phase_ends_the_screen_in_front(self) -> None:
        run = run_of(
            "0:00 screen Boot menu\n0:30 phase boot\n1:00 phase live\n2:00 note x\n3:00 screen Boot menu\n4:00 end done"
        )
        self.assertEqual([(s.on_clock, s.returns) for s in run.screens], [(seconds(120), 1)])
        self.assertEqual([stretch.screen for stretch in run.stretches], [0, None, 0])

    def test_a_phase_that_was_given_holds_until_another_is(self) -> None:
        run = run_of("0:00 phase workshop\n1:00 screen Kettle\n2:00 screen Disk\n3:00 phase copy\n3:30 end done")
        self.assertEqual([s.phase for s in run.screens], ["workshop", "workshop"])
        self.assertEqual([p.name for p in run.phases], ["workshop", "copy"])

    def test_once_the_desktop_is_there_no_title_moves_a_run_back(self) -> None:
        run = run_of("""
            0:00 screen Language
            1:00 screen Copying files
            2:00 phase desktop
            2:30 screen Welcome
            3:00 screen Keyboard
            3:30 screen Updates
            5:00 end done
        """)
        self.assertEqual([s.phase for s in run.screens], ["questions", "copy", "desktop", "desktop", "update"])
        self.assertEqual(run.milestones.first_question, seconds(0))

    def test_the_machine_starting_anew_ends_a_given_phase(self) -> None:
        run = run_of("0:00 phase copy\n1:00 screen Greeter\n2:00 screen Your account\n3:00 end done")
        self.assertEqual([s.phase for s in run.screens], ["restart", "setup"])

    def test_a_bare_install_is_copying_and_more_words_are_not(self) -> None:
        titles = ("Install", "Installing", "Performing installation", "Install beside another system")
        self.assertEqual([LEXICON.kind_of(title) == "copying" for title in titles], [True, True, True, False])

    def test_retry_from_a_screen_keeps_the_phase(self) -> None:
        run = run_of("0:00 screen Disk\n1:00 fail x\n2:00 retry from the disk screen\n3:00 screen Disk\n4:00 end done")
        self.assertEqual([phase.name for phase in run.phases], ["questions"])


class Records(unittest.TestCase):
    def test_answers(self) -> None:
        choices = screen(
            """
            0:00 screen Disk
            0:01 keep method = whole disk
                offered: whole disk, by hand
            0:02 choose groups = +office, -games
                was: +games
                why: No games at work
            0:03 enter password
            0:04 enter host = reading-room
            1:00 end done
        """,
            "Disk",
        ).choices
        self.assertEqual(
            [(c.key, c.value, c.preset, c.how) for c in choices],
            [
                ("method", "whole disk", "whole disk", "kept"),
                ("groups", "+office, -games", "+games", "chosen"),
                ("password", None, None, "typed"),
                ("host", "reading-room", None, "typed"),
            ],
        )
        self.assertEqual((choices[0].offered, choices[1].why), (("whole disk", "by hand"), "No games at work"))

    def test_a_choice_before_any_screen_is_kept_apart(self) -> None:
        run = run_of("0:00 keep entry = live\n0:01 screen Disk\n0:02 end done")
        self.assertEqual(([c.key for c in run.choices], run.screens[0].choices), (["entry"], ()))

    def test_layout(self) -> None:
        layout = run_of("""
            0:00 layout whole disk
                table: gpt
                disk: 25 GiB
                part: /boot/efi fat32 300 MiB
                part: / ext4 24 GiB
                swap: file 2 GiB
                crypt: everything
        """).layout
        assert layout is not None
        self.assertEqual((layout.disk, [part.size for part in layout.parts]), (25 << 30, [300 << 20, 24 << 30]))
        self.assertEqual((layout.swap and layout.swap.size, layout.encryption), (2 << 30, "everything"))

    def test_readings_carry_the_state_they_were_taken_in(self) -> None:
        run = run_of("""
            0:00 phase live
            0:01 reading memory = 884 MiB
            0:02 phase desktop
            0:03 reading memory = 1012 MB
            0:04 phase update
            0:04 wait
            0:05 phase desktop
            0:06 reading packages = 1874
            0:07 reading fan = 40 %
        """)
        self.assertEqual(
            [(r.value, r.unit, r.state) for r in run.readings],
            [
                (seconds(884 << 20), "bytes", "live"),
                (seconds(1_012_000_000), "bytes", "installed"),
                (seconds(1874), "", "updated"),
                (seconds(40), "%", "updated"),
            ],
        )

    def test_the_first_update_is_over_when_the_machine_has_done_its_work(self) -> None:
        run = run_of("0:00 screen Disk\n0:10 phase desktop\n1:00 screen Updates\n1:10 wait\n3:00 ready\n4:00 end done")
        self.assertEqual(run.milestones.updated, seconds(180))

    def test_a_wait_in_a_phase_of_ones_own_is_no_update(self) -> None:
        run = run_of(
            "0:00 screen Disk\n0:30 phase zeal\n1:00 wait\n2:00 ready\n2:01 reading memory = 1 GiB\n4:00 end done"
        )
        self.assertNotEqual(run.readings[0].state, "updated")

    def test_a_cut_lies_before_the_cue_that_follows_it(self) -> None:
        run = run_of("0:00 screen A\n1:00 cut 2:00..3:00\n2:00 screen B\n3:00 end done")
        spent = [(screen.title, screen.on_clock) for screen in run.screens]
        self.assertEqual(spent, [("A", Range(240, 300)), ("B", seconds(60))])

    def test_only_work_that_is_done_in_an_update_makes_it_one(self) -> None:
        cases = {
            "0:00 phase update\n0:10 wait\n0:20 phase desktop": "updated",
            "0:00 phase update\n0:20 phase desktop": "installed",  # somebody turned to something else
            "0:00 phase update\n0:10 wait\n0:20 ready": "updated",
            "0:00 phase update\n0:20 ready": "installed",  # nothing was waited for
            "0:00 phase desktop\n0:10 wait\n0:20 ready": "installed",  # no update
            "0:00 phase desktop\n0:10 wait\n0:20 phase update\n0:30 phase desktop": "installed",  # work of before
            "0:00 phase update\n0:10 task update: y\n0:20 done update": "updated",
            "0:00 phase update\n0:10 task image: y\n0:20 done image": "installed",
            "0:00 phase update\n0:10 wait\n0:20 phase desktop\n0:30 fail x\n0:40 retry from power-on\n0:50 phase desktop": "installed",
        }
        for text, state in cases.items():
            run = run_of(f"{text}\n1:00 reading memory = 1 GiB")
            self.assertEqual(run.readings[-1].state, state, text)

    def test_an_empty_log_is_a_run_of_nothing(self) -> None:
        run = fold(Log("", Header()), "x-1")
        self.assertEqual((run.clock.elapsed, run.screens, len(run.attempts), run.check_sums()), (ZERO, (), 1, []))

    def test_wrong_sums_are_noticed(self) -> None:
        run = run_of(STORY)
        wrong = msgspec.structs.replace(run, clock=msgspec.structs.replace(run.clock, person=seconds(1)))
        self.assertEqual(len(wrong.check_sums()), 2)


LOGS = st.lists(cues(st.integers(0, 600_000)), max_size=25)


class Properties(unittest.TestCase):
    @given(LOGS)
    def test_the_parts_always_sum_to_the_whole(self, written: list[Cue]) -> None:
        self.assertEqual(fold(Log("", Header(), tuple(written)), "x-1").check_sums(), [])

    @given(LOGS, st.randoms(use_true_random=False))
    def test_the_order_of_writing_does_not_matter(self, written: list[Cue], shuffler: random.Random) -> None:
        apart = [msgspec.structs.replace(cue, at=cue.at // 100 * 100 + i) for i, cue in enumerate(written)]
        shuffled = shuffler.sample(apart, len(apart))
        self.assertEqual(fold(Log("", Header(), tuple(shuffled)), "x"), fold(Log("", Header(), tuple(apart)), "x"))

    @given(
        LOGS.map(lambda log: [cue for cue in log if cue.verb not in {"pause", "resume", "end"}]),
        st.integers(0, 600_000),
    )
    def test_a_pause_changes_nothing_on_the_clock(self, written: list[Cue], moment: int) -> None:
        hour = 3_600_000
        later = [msgspec.structs.replace(cue, at=cue.at + hour) if cue.at >= moment else cue for cue in written]
        paused = [Cue(moment, "pause", None, ""), Cue(moment + hour, "resume", None, "")]
        before = fold(Log("", Header(), tuple(written)), "x").clock
        after = fold(Log("", Header(), tuple(paused + later)), "x").clock
        if any(cue.at >= moment for cue in written):
            self.assertEqual((after.on_clock, after.person, after.lost), (before.on_clock, before.person, before.lost))
            self.assertEqual(after.paused, before.paused + exactly(hour))
