from __future__ import annotations

from collections.abc import Mapping

from metrograph.archive.answers import ScreenName, Usual
from metrograph.core.errors import MetrographError
from metrograph.faces.recorder import panels
from metrograph.log.cues import Cue
from metrograph.services.live.beside import OthersAsked
from tests.recorder.case import RecorderCase


class Heard(RecorderCase):
    def front(self, hearing: OthersAsked) -> str:
        """What stands beside the clock while a screen of disks is in front."""
        self.session.others = hearing
        return panels.front(self.session, self.session.status(), 80).plain

    def test_what_others_take_stands_beside_the_clock_once_it_is_known(self) -> None:
        self.session.write([Cue(0, "screen", None, "Disk")])
        hearing = OthersAsked(lambda: {("disk", False): Usual(35, 50, 70, 4), ("disk", True): Usual(1, 2, 3, 4)})
        self.assertEqual(self.front(hearing), "“Disk”, questions")
        hearing.run()
        self.assertEqual(self.front(hearing), "“Disk”, questions, 0:50 with 4 others (0:35–1:10)")
        self.assertEqual(
            panels.front(self.session, self.session.status(), 44).plain, "“Disk”, questions, 0:50 with 4 others"
        )
        self.assertEqual(panels.front(self.session, self.session.status(), 30).plain, "“Disk”, questions")
        self.session.write([Cue(0, "issue", None, "Nothing at all is to be seen on it")])
        narrow = panels.front(self.session, self.session.status(), 70).plain
        self.assertRegex(narrow, "“Disk”, questions, 0:50 with 4 others   1 open issue: Nothing at a.*…")
        self.assertNotIn("others", panels.front(self.session, self.session.status(), 50).plain)
        few = OthersAsked(lambda: {("disk", False): Usual(50, 50, 50, 1)})
        few.run()
        self.assertIn(", questions, 0:50 with one other   1 open issue", self.front(few))

    def test_an_archive_that_cannot_be_asked_is_told_and_the_recorder_goes_on(self) -> None:
        def broken() -> Mapping[ScreenName, Usual]:
            raise MetrographError("it is away")

        hearing = OthersAsked(broken)
        hearing.run()
        self.assertEqual(hearing.trouble, "others could not be asked: it is away")
        self.assertEqual(self.front(hearing), "no screen, boot")
