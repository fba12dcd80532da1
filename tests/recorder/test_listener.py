"""What is said while a run is recorded: understood as the captions grow, offered with its moment."""

from __future__ import annotations

import io
import tempfile
from pathlib import Path

from metrograph.faces.cli.environment import Environment
from metrograph.log.cues import Cue
from metrograph.services.live.growing_talk import GrowingTalk, TalkListener
from tests.recorder.case import RecorderCase

BEGINS = (
    "WEBVTT\n\n00:00.500 --> 00:09.000\nHere we are on the desktop. In the menu there is a terminal, the file manager, a text"
    " editor and the system monitor.\n\n00:10.000 --> 00:16.000\nThe memory at rest is 612 megabytes.\n"
)
GOES_ON = "\n00:20.000 --> 00:26.000\nThe kernel is 6.18 and init is systemd.\n"


class ListenerTest(RecorderCase):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.captions = Path(folder.name) / "talk.vtt"
        desk = Environment(io.StringIO(), io.StringIO(), Path(folder.name), {}, self.clock, self.clock)
        self.talk = GrowingTalk(desk, self.session.book, self.session.log.header.release, self.captions, begun=60_000)
        self.session.listener = TalkListener(self.talk)

    def test_what_was_said_is_offered_once_and_not_what_the_log_has(self) -> None:
        self.assertFalse(self.talk.grown(), "there is no file yet")
        self.captions.write_text(BEGINS)
        self.assertTrue(self.talk.grown(patient=False))
        self.assertFalse(self.talk.grown(patient=False), "it has not grown")
        self.seconds = 80.0
        offer = self.session.offer()
        assert offer is not None and offer.cue is not None
        self.assertEqual((offer.cue.verb, offer.cue.name, offer.cue.text), ("reading", "memory", "612 MB"))
        self.assertEqual(offer.cue.fields, (), "its words stay behind")
        self.assertGreater(offer.cue.at, 70_000, "on the run's time")
        self.session.accept(offer)
        after = self.session.offer()
        self.assertTrue(after is None or after.cue is None or after.cue.name != "memory")

    def test_it_goes_on_as_the_captions_do_and_old_words_are_not_offered(self) -> None:
        self.captions.write_text(BEGINS + GOES_ON)
        self.talk.grown(patient=False)
        self.session.write([Cue(75_000, "reading", "memory", "612 MB")])
        self.seconds = 90.0
        offer = self.session.offer()
        assert offer is not None and offer.cue is not None
        self.assertIn(offer.cue.name, {"kernel", "init"})
        self.seconds = 600.0
        later = self.session.offer()
        self.assertTrue(later is None or later.sure is None)

    def test_captions_that_are_half_written_are_waited_for(self) -> None:
        self.captions.write_text("WEBV")
        self.assertFalse(self.talk.grown(patient=False))
        self.captions.write_text(BEGINS)
        self.assertTrue(self.talk.grown(patient=False))
