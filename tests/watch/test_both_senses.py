"""What was seen and what was said become one draft."""

import unittest

from metrograph.hearing.statements import Statement
from metrograph.intake.source import Event
from metrograph.log.cues import Cue
from metrograph.log.lexicon import load_lexicon
from metrograph.watch.drafts.both_senses import heard_events, joined
from metrograph.watch.drafts.heard_proposals import of_another

LEXICON = load_lexicon()


def event(at: int, sure: float, verb: str, name: str | None, text: str, kind: str = "") -> Event:
    return Event(Cue(0, verb, name, text, (("kind", kind),) if kind else ()), at=at * 1000, confidence=sure)


def told(events: list[Event]) -> list[tuple[str, float]]:
    return [(each.cue.text, round(each.confidence, 3)) for each in events]


class BothSenses(unittest.TestCase):
    def test_a_screen_that_is_talked_of_is_surer_and_proposed_once(self) -> None:
        seen = [event(60, 0.6, "screen", None, "Tastatur", "keyboard"), event(90, 0.7, "screen", None, "Disk", "disk")]
        heard = [event(70, 0.5, "screen", None, "Keyboard", "keyboard")]
        self.assertEqual(told(joined(seen, heard, LEXICON)), [("Tastatur", 0.8), ("Disk", 0.7)])

    def test_a_screen_that_was_not_seen_was_not_in_front(self) -> None:
        self.assertEqual(joined([], [event(70, 0.9, "screen", None, "Keyboard", "keyboard")], LEXICON), [])

    def test_what_is_said_and_seen_alike_is_surer_and_what_differs_is_neither(self) -> None:
        seen = [event(60, 0.6, "reading", "updates", "43"), event(60, 0.6, "choose", "swap", "file")]
        heard = [event(80, 0.5, "reading", "updates", "43"), event(80, 0.5, "keep", "swap", "none")]
        self.assertEqual(told(joined(seen, heard, LEXICON)), [("43", 0.8), ("file", 0.42), ("none", 0.35)])

    def test_figures_agree_where_what_they_may_be_overlaps(self) -> None:
        seen = [event(60, 0.6, "reading", "memory", "612 MB")]
        self.assertEqual(
            told(joined(seen, [event(80, 0.5, "reading", "memory", "~600 MB")], LEXICON)), [("612 MB", 0.8)]
        )
        other = joined(seen, [event(80, 0.5, "reading", "memory", "1.3 GB")], LEXICON)
        self.assertEqual([text for text, _ in told(other)], ["612 MB", "1.3 GB"])

    def test_what_was_only_said_is_proposed_at_its_moment(self) -> None:
        seen = [event(60, 0.6, "screen", None, "Disk", "disk")]
        heard = [event(30, 0.7, "fact", "kernel", "6.18"), event(400, 0.7, "check", "sound", "pass")]
        self.assertEqual([each.cue.text for each in joined(seen, heard, LEXICON)], ["6.18", "Disk", "pass"])

    def test_screens_that_are_for_nothing_in_particular_are_not_the_same(self) -> None:
        seen, heard = event(60, 0.3, "screen", None, "Unknown screen 1"), event(60, 0.9, "screen", None, "Some tour")
        self.assertEqual([each.confidence for each in joined([seen], [heard], LEXICON)], [0.3])

    def test_nothing_is_surer_than_certain_nor_less_sure_for_being_heard(self) -> None:
        (sure,) = joined([event(1, 1.0, "check", "sound", "pass")], [event(2, 0.9, "check", "sound", "pass")], LEXICON)
        self.assertEqual(sure.confidence, 1.0)

    def test_what_is_said_of_another_release_says_so(self) -> None:
        pairs = [
            (Statement(1.0, "fact", "kernel", "6.12", about, "desktop", 0.7), Cue(1000, "fact", "kernel", "6.12"))
            for about in ("this", "8.0")
        ]
        pairs.append(
            (Statement(1.0, "compare", "speed", "+", "8.0", "after", 0.7), Cue(1, "than", "8.0", "speed better"))
        )
        of_what = [(each.cue.verb, of_another(each.cue)) for each in heard_events(pairs)]
        self.assertEqual(of_what, [("fact", ""), ("fact", "8.0"), ("than", "")])
