"""A machine that is watched is looked at while its pages are read, and what was proposed of it grows."""

from __future__ import annotations

import unittest
from collections.abc import Generator, Sequence
from threading import Event
from unittest import mock

from msgspec.structs import replace

from metrograph.faces.cli.proposal_teller import ProposalTeller
from metrograph.intake.source import Event as Source
from metrograph.log.cues import Cue
from metrograph.log.lexicon import load_lexicon
from metrograph.watch.inputs.frames import Frame, Grey
from metrograph.watch.pages.lookout import Lookout
from metrograph.watch.pages.watching import found_live
from metrograph.watch.reading.motion import Still, stills
from metrograph.watch.reading.text_reader import LineReader, ReadLine
from metrograph.watch.screens import page_groups
from metrograph.watch.screens.spans import GrowingSpans, find_spans
from tests.watch.drawn import frame, numbered, page, picture

SHOWN = [
    picture((40, 40, f"Screen {name}"), (40, 90 + 40 * at, f"It asks for {name}")) for at, name in enumerate("ABC")
]
LEXICON = load_lexicon()


def looks(*pictures: Grey) -> Generator[Frame]:
    """Each for four looks, a third of a second apart."""
    for number, grey in enumerate(each for each in pictures for _ in range(4)):
        yield frame(number * 333, grey)


class BusyEngine:
    """Reads nothing before it is let."""

    def __init__(self, let: Event) -> None:
        self._let = let

    def read(self, pictures: Sequence[Grey], language: str) -> list[ReadLine]:  # noqa: ARG002 - it cannot read
        if not self._let.wait(10):
            raise AssertionError("nobody looks while a page is read")
        return [ReadLine("Words", 0.9) for _ in pictures]

    def languages(self) -> list[str]:
        return ["eng"]


class Looking(unittest.TestCase):
    def test_what_comes_while_a_page_is_read_is_read_after_it(self) -> None:
        over = Event()

        def shown() -> Generator[Frame]:
            yield from looks(*SHOWN)
            over.set()

        found = list(found_live(shown(), LineReader(BusyEngine(over)), lambda _: True))
        self.assertEqual([each.page.start for each in found], [0, 1165, 2497])

    def test_what_was_seen_before_an_interruption_is_read(self) -> None:
        over = Event()

        def shown() -> Generator[Frame]:
            yield from looks(*SHOWN)
            over.set()
            while True:
                yield frame(9000, SHOWN[2])

        found = list(found_live(shown(), LineReader(BusyEngine(over)), lambda _: not over.is_set()))
        self.assertEqual(len(found), 3)

    def test_where_too_much_waits_what_never_stood_is_left_out(self) -> None:
        behind = Event()
        still = next(iter(stills(looks(SHOWN[0]))))

        def seen(_: object) -> Generator[Still]:
            yield from (replace(still, start=number, moving=True) for number in range(9))
            behind.set()
            yield from (replace(still, start=number) for number in (20, 30))

        with (
            mock.patch("metrograph.watch.pages.lookout._WAITING", 3),
            mock.patch("metrograph.watch.pages.lookout.stills", seen),
            Lookout(looks(), lambda each: each) as lookout,
        ):
            self.assertTrue(behind.wait(10))
            read = [each.start for each in lookout if each is not None]
        self.assertEqual(read, [0, 1, 2, 20, 30])

    def test_what_the_source_raises_is_raised_where_it_is_read(self) -> None:
        def lost() -> Generator[Frame]:
            yield from looks(SHOWN[0])
            raise OSError("unplugged")

        with self.assertRaisesRegex(OSError, "unplugged"), Lookout(lost(), lambda each: each) as lookout:
            self.assertEqual(len([still for still in lookout if still is not None]), 1)


class Growing(unittest.TestCase):
    TITLES = ("Language", "Keyboard", "Time zone", "Disk", "Account", "Network", "Summary")
    PAGES = numbered(
        *(
            page(10 * at, f"# {name}", "| Welcome", f"*| {name}", "| Finish", f"Which {name} do you want?", "[Back]", "[Next]")
            for at, name in enumerate(TITLES)
        )
    )  # fmt: skip

    def test_page_by_page_the_end_is_that_of_all_at_once(self) -> None:
        growing = GrowingSpans(LEXICON)
        for count in range(1, len(self.PAGES) + 1):
            for _ in range(2):  # what is asked twice changes nothing
                spans = growing.spans(self.PAGES[:count], 10_000 * count, goes_on=True)
            self.assertEqual([span.title for span in spans], list(self.TITLES[:count]))
        self.assertEqual(growing.spans(self.PAGES, 90_000), find_spans(self.PAGES, LEXICON, 90_000))

    def test_a_page_more_is_grouped_alone(self) -> None:
        growing = GrowingSpans(LEXICON)
        growing.spans(self.PAGES[:-1], goes_on=True)
        with mock.patch.object(page_groups, "titles_on", wraps=page_groups.titles_on) as asked:
            growing.spans(self.PAGES, goes_on=True)
        self.assertEqual({call.args[0].number for call in asked.call_args_list}, {len(self.PAGES) - 1})


class Telling(unittest.TestCase):
    def test_what_is_new_is_told_and_what_is_no_longer_so_is_taken_back(self) -> None:
        said: list[str] = []
        environment = mock.Mock(say=said.append)
        teller = ProposalTeller(environment)

        def proposed(*lines: tuple[int, str, str]) -> list[str]:
            said.clear()
            teller.tell([Source(Cue(0, verb, None, text), at=at, confidence=0.9) for at, verb, text in lines])
            return list(said)

        language, disk = (3000, "screen", "Language"), (9000, "screen", "Disk")
        self.assertEqual(proposed(language), ["    0:03  0.90  screen Language"])
        self.assertEqual(proposed(language, (8999, "note", "picked")), ["    0:08  0.90  note picked"])
        # The note moves with the end of its screen; the screen turns out to have another title.
        self.assertEqual(
            proposed(language, (9999, "note", "picked"), disk, (20000, "screen", "Language")),
            ["    0:09  0.90  screen Disk", "    0:20  0.90  screen Language"],
        )
        self.assertEqual(
            proposed((3000, "screen", "Langue"), disk),
            [
                "    0:03  0.90  screen Langue  (not: screen Language)",
                "    0:09  no    note picked  (it was none)",
                "    0:20  no    screen Language  (it was none)",
            ],
        )


if __name__ == "__main__":
    unittest.main()
