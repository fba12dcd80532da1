from __future__ import annotations

from collections.abc import Iterator

from metrograph.core.errors import MetrographError
from metrograph.log.lexicon import load_lexicon
from metrograph.services.live.beside import Watcher
from metrograph.watch.drafts.scanning import Scan
from metrograph.watch.pages.watching import FoundPage, Going
from tests.recorder.case import RecorderCase
from tests.watch.drawn import page

PAGES = (
    page(0, "# Language", "In which language should it speak?", "English", "Deutsch", "[Next]"),
    page(6, "# Keyboard layout", "Type here to test the layout of it", "English (UK)", "German", "[Next]"),
)


class Live:
    length = None

    def found(self, _since: int, going: Going) -> Iterator[FoundPage]:
        for each in PAGES:
            if going(each.at + 5000):
                yield FoundPage(each)


class Broken:
    length = None

    def found(self, _since: int, _going: Going) -> Iterator[FoundPage]:
        raise MetrographError("the display closed the connection")


class WatcherTest(RecorderCase):
    def test_what_is_seen_is_offered_with_its_moment_and_taken_by_enter(self) -> None:
        session, self.seconds = self.session, 90.0
        session.watcher = Watcher(Live(), Scan(load_lexicon()), load_lexicon(), 60_000)
        session.watcher.run()
        offer = session.offer()
        assert offer is not None and offer.cue is not None
        self.assertEqual((offer.cue.text, offer.at), ("Keyboard layout", 66_000))
        self.assertGreater(offer.sure or 0, 0.5)
        session.accept(offer)
        self.assertIn("1:06 screen Keyboard layout", self.cues())
        after = session.offer()
        self.assertTrue(after is None or after.at is None, "what the log has is not offered again")

    def test_a_source_that_breaks_is_told_and_the_recorder_goes_on(self) -> None:
        session, self.seconds = self.session, 90.0
        session.watcher = Watcher(Broken(), Scan(load_lexicon()), load_lexicon(), 0)
        session.watcher.run()
        self.assertEqual(session.watcher.trouble, "the display closed the connection")
        session.offer()
