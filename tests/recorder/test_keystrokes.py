"""Keystrokes: what the plan saves, and that the counted keys really write the log."""

from bench.keystrokes import FIRST, REPEAT, SECOND, cues_of, keys_of, open_session

from metrograph.compare.flow_records import What
from metrograph.demo import copy_demo
from metrograph.log.writer import format_line
from metrograph.services.live.session import Session
from metrograph.store.local.logbook import Logbook, make_logbook
from tests.recorder.case import AppCase, driven

_SAMPLE = 14  # cues; a key takes a tenth of a second here


class Keystrokes(AppCase):
    def test_with_the_first_release_as_plan_the_second_takes_a_quarter_of_the_keys(self) -> None:
        verdict = frozenset({"verdict"})
        self.assertLess(len(keys_of(SECOND, FIRST, verdict)), len(keys_of(FIRST, None, verdict)) / 4)
        self.assertLess(len(keys_of(REPEAT, FIRST)), len(keys_of(FIRST, None)) / 10)

    def test_nothing_but_enter_repeats_a_run(self) -> None:
        demo = copy_demo(self.book.path / "demo")
        for run in ("larkmoor-8.0-heron-2", "larkmoor-9.0-beta-heron-1", "osterby-2026.1-1"):
            book = Logbook(self.book.path / run)
            make_logbook(book.path)
            book.log(run).write_bytes(demo.log(run).read_bytes())
            session = open_session(book, run.rpartition("-")[0], run)
            while (offer := session.offer()) is not None:
                if offer.cue is not None:
                    session.accept(offer)
                else:  # what was measured, and how it came out, is all that a person has to type
                    values = {"reading": "5", "fact": "x", "layout": "whole disk", "check": "pass"}
                    value = values.get(offer.line.split()[0], "")
                    said = session.read(offer.line[: offer.cursor] + value + offer.line[offer.cursor :])
                    assert said.cue is not None, offer.line
                    session.write([said.cue])
            assert session.plan is not None
            self.assertEqual(
                [screen.title for screen in session.run.screens], [step.screen.title for step in session.plan.steps]
            )
            # Where a trial failed last time it passes now, as it was typed; nothing else is off the plan.
            left = [each for each in session.settled.deviations if each.what is not What.CHECK_CHANGED]
            self.assertEqual((session.run.ended, left), ("done", []), run)

    @driven
    async def test_the_keys_that_are_counted_write_the_log_they_stand_for(self) -> None:
        demo = copy_demo(self.book.path / "demo")
        self.book.log(FIRST).write_bytes(demo.log(FIRST).read_bytes())
        wanted = cues_of(demo, SECOND)[:_SAMPLE]
        self.session = open_session(self.book, "larkmoor-8.0-heron", FIRST)
        self.run_name, self.clock = self.session.name, self.session.clock  # type: ignore[method-assign]
        async with self.recorder(100, 30) as pilot:
            await pilot.press(*keys_of(SECOND, FIRST, most=_SAMPLE))
        written = Session(self.book, self.run_name, self.clock).log.cues
        self.assertEqual([format_line(cue).replace(" | kind other", "") for cue in written if cue.verb != "screen"],
                         [format_line(cue) for cue in wanted if cue.verb != "screen"])  # fmt: skip
        self.assertEqual([cue.text for cue in written if cue.verb == "screen"],
                         [cue.text for cue in wanted if cue.verb == "screen"])  # fmt: skip
