from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

import msgspec

from metrograph.intake.notes import TimedNote
from metrograph.log.cues import Cue
from metrograph.log.lexicon import load_lexicon
from metrograph.log.writer import format_line
from metrograph.privacy.mask import Mask
from metrograph.watch.drafts import confirming
from metrograph.watch.drafts.looks import Looks, look_of, recognised
from metrograph.watch.drafts.proposals import Watched, said_at, sure_of
from metrograph.watch.drafts.scanning import Scan, read_kept, seen_of
from metrograph.watch.pages.page import Page, SkippedTime
from metrograph.watch.pages.watching import FoundPage
from metrograph.watch.screens.choices import Picked
from metrograph.watch.screens.spans import Span, find_spans
from tests.watch.drawn import numbered, page

LEXICON = load_lexicon()


def span(start: float, end: float, title: str = "", kind: str = "other", **more: object) -> Span:
    """A span that is sure of its title, unless it is said otherwise."""
    known = {"points": 3.0, "margin": 2.0, "read": 0.96} | more
    return Span(round(start * 1000), round(end * 1000), title, kind, **known)  # type: ignore[arg-type]


def proposed(*spans: Span, ended: bool = False) -> list[str]:
    events = Watched(list(spans), LEXICON, "film", ended=ended).events()
    return [f"{(event.at or 0) / 1000:g} {format_line(event.cue).split(' | x-page')[0]}" for event in events]


class ProposalsTest(unittest.TestCase):
    def test_screens_waits_and_the_end(self) -> None:
        self.assertEqual(
            proposed(
                span(0, 5, "Language", "language"), span(5, 9, waiting=True), span(9, 20, "Odd", "disk"), ended=True
            ),
            ["0 screen Language", "5 wait", "9 screen Odd | kind disk", "20 note the recording ends here"],
        )

    def test_an_installation_is_over_with_a_page_that_says_so_or_with_a_screen_after_a_restart(self) -> None:
        copying = span(0, 60, "Copying files", "copying", waiting=True)
        restart, desk = span(60, 70, waiting=True), span(70, 80, "Home")
        self.assertEqual(proposed(copying, ended=True)[-1], "60 note the recording ends here")
        self.assertEqual(proposed(copying, restart, ended=True)[-1], "70 note the recording ends here")
        self.assertEqual(proposed(copying, restart, desk, ended=True)[-1], "80 end done")
        self.assertEqual(proposed(copying, span(60, 63, "Finished", "finished"), ended=True)[-1], "63 end done")

    def test_a_wait_after_copying_that_is_long_enough_is_a_restart(self) -> None:
        copying = span(0, 60, "Copying files", "copying", waiting=True)
        self.assertEqual(proposed(copying, span(60, 62, waiting=True))[1:], ["60 wait"])
        self.assertEqual(proposed(copying, span(60, 70, waiting=True))[1:], ["60 phase restart", "60 wait"])

    def test_what_is_missing_is_a_cut_as_long_as_it_is_known(self) -> None:
        copying = span(0, 60, "Copying files", "copying", waiting=True)
        after = span(60, 90, "Copying files", "copying", waiting=True, gap=SkippedTime(14 * 60_000, 60_000, 0.8))
        self.assertEqual(proposed(copying, after), ["0 screen Copying files", "60 cut 13:00..15:00"])
        self.assertEqual(proposed(span(60, 90, "Disk", "disk", gap=SkippedTime()))[0], "60 cut ?")

    def test_a_title_that_is_not_sure_is_not_said(self) -> None:
        self.assertEqual(proposed(span(0, 5, "Hom3", points=0.5, margin=0.1, read=0.5)), ["0 screen Unknown screen 1"])

    def test_trouble_and_gaps(self) -> None:
        self.assertEqual(
            proposed(
                span(0, 9, "Network", "network", error=True, trouble="No network was found", trouble_at=4000),
                span(9, 12, "Disk", "disk", gap=SkippedTime()),
            ),
            ["0 screen Network", "4 issue No network was found", "9 cut ?", "9 screen Disk"],
        )

    def test_the_screen_under_a_dialog_is_in_front_again(self) -> None:
        self.assertEqual(
            proposed(span(0, 9, "Disk", "disk"), span(4, 6, "Are you sure?", "warning", dialog=True)),
            ["0 screen Disk", "4 screen Are you sure?", "6 screen Disk"],
        )

    def test_secrets_on_a_screen_stay_there(self) -> None:
        said = proposed(span(0, 5, "password: hunter2secret"))
        self.assertNotIn("hunter2secret", " ".join(said))

    def test_what_was_typed_about_somebody_leaves_the_gate_masked(self) -> None:
        for kind in ("account", "host", "network", "admin"):
            typed = span(0, 5, "Konto", kind, choices=(Picked("zanzibar", "mina", 0.9, ("zanzibar-2",)),))
            seen = Mask([]).apply(seen_of("film", [typed], 5000, LEXICON))
            self.assertEqual(seen.spans[0].choices[0].value, f"[{kind}]")
            self.assertNotIn("zanzibar", msgspec.json.encode(seen).decode())
        plain = seen_of("film", [span(0, 5, "Disk", "disk", choices=(Picked("ext4", None, 0.9),))], 5000, LEXICON)
        self.assertEqual(Mask([]).apply(plain), plain)

    def test_captions_are_notes_and_trouble_and_never_cues(self) -> None:
        events = list(
            said_at(
                [
                    TimedNote(0, "Good morning"),
                    TimedNote(1, "screen Desktop"),
                    TimedNote(2, "The printer could not be found"),
                ]
            )
        )
        self.assertEqual(
            [(event.cue.verb, event.confidence) for event in events], [("note", 1.0), ("note", 1.0), ("issue", 0.5)]
        )

    def test_what_stands_apart_and_is_read_well_is_surer(self) -> None:
        weak, strong = span(0, 5, "Disk", points=1.0, margin=0.2), span(0, 5, "Disk", points=2.5, margin=1.0)
        self.assertLess(sure_of(weak), 0.7)
        self.assertGreater(sure_of(strong), 0.9)
        self.assertLess(sure_of(msgspec.structs.replace(strong, pressed=False)), sure_of(strong))


class LooksTest(unittest.TestCase):
    def test_a_confirmed_screen_gives_its_title_to_the_next_that_looks_like_it(self) -> None:
        pages = numbered(
            page(0, "# Larkmoor", "Whlch language?", "It can be changed at any time", "[Next]"),
            page(10, "# Larkmoor", "Where to?", "The disk is empty and has 25 GiB", "[Next]"),
        )
        looks = Looks([look_of(pages[0], "Language", "language"), look_of(pages[1], "Disk", "disk")])
        again = numbered(page(3, "# Larkmoor", "Which language?", "It can be changed at any time", "[Next]"))
        found = recognised([span(3, 9, "Larkmoor", page=0)], again, looks)
        self.assertEqual([(each.title, each.kind, sure_of(each)) for each in found], [("Language", "language", 0.98)])

    def test_a_screen_that_was_renamed_does_not_get_its_old_title(self) -> None:
        before = numbered(page(0, "# Disk", "The disk is empty and has 25 GiB", "Whole disk", "By hand", "[Next]"))
        now = numbered(
            page(0, "# Where should it go?", "The disk is empty and has 25 GiB", "Whole disk", "By hand", "[Next]")
        )
        looks = Looks([look_of(before[0], "Disk", "disk")])
        self.assertEqual(
            recognised([span(0, 5, "Where should it go?", page=0)], now, looks)[0].title, "Where should it go?"
        )

    def test_what_no_look_is_alike_stays_as_it_was(self) -> None:
        pages = numbered(page(0, "# Language", "Which one should be spoken?", "[Next]"))
        other = numbered(page(0, "# Keyboard", "Type here to test it, please", "[Next]"))
        self.assertEqual(
            recognised([span(0, 5, "Keyboard", page=0)], other, Looks([look_of(pages[0], "Language", "language")]))[
                0
            ].title,
            "Keyboard",
        )


class ConfirmingTest(unittest.TestCase):
    CUES = (
        Cue(0, "screen", None, "Language", (("sure", "0.97"), ("seen", "shots/a.webp"))),
        Cue(1000, "screen", None, "Your account", (("sure", "0.62"),)),
        Cue(2000, "note", None, "typed by hand"),
    )

    def test_what_is_taken_and_what_stays(self) -> None:
        taken, left = confirming.accepted(self.CUES, 0.9)
        self.assertEqual(
            ([cue.text for cue in taken], [cue.text for cue in left]), (["Language", "typed by hand"], ["Your account"])
        )
        self.assertEqual(confirming.next_unsure(self.CUES, -1, 0.9), 1)
        self.assertIsNone(confirming.next_unsure([confirming.taken(cue) for cue in self.CUES], -1, 0.9))

    def test_a_run_shows_what_was_seen_and_not_how_sure_it_was(self) -> None:
        cues = confirming.as_run(self.CUES[:1], {"shots/a.webp": "0" * 64})
        self.assertEqual(
            [format_line(cue) for cue in cues], ["screen Language", f"shot shots/a.webp | sha256 {'0' * 64}"]
        )

    def test_what_nobody_confirmed_is_not_taken_for_gone(self) -> None:
        self.assertEqual(
            [format_line(cue) for cue in confirming.standing_in(self.CUES[1:2], LEXICON)],
            ["screen Your account (not confirmed) | kind account"],
        )

    def test_titles_and_kinds_are_said_anew(self) -> None:
        odd = Cue(0, "screen", None, "Whereto", (("kind", "disk"), ("sure", "0.3")))
        self.assertEqual(format_line(confirming.retitled(odd, "Disk", LEXICON)), "screen Disk | sure 1")
        self.assertEqual(
            format_line(confirming.of_kind(odd, "network", LEXICON)), "screen Whereto | kind network | sure 1"
        )
        self.assertEqual(format_line(confirming.no_screen(odd)), "wait | sure 1")


class ScanTest(unittest.TestCase):
    def test_it_goes_on_where_it_stopped_and_a_torn_line_costs_itself_only(self) -> None:
        first, second = page(0, "# Language", "Which one?", "[Next]"), page(9, "# Disk", "Which one of them?", "[Next]")
        with tempfile.TemporaryDirectory() as name:
            list(Scan(LEXICON, Path(name)).take([FoundPage(first)]))
            with (Path(name) / "pages.jsonl").open("ab") as file:
                file.write(b'{"page": {"sta')
            scan = Scan(LEXICON, Path(name))
            self.assertEqual(scan.since, first.at)
            list(scan.take([FoundPage(second)]))
            scan.end = 15_000
            self.assertEqual([span.title for span in scan.spans()], ["Language", "Disk"])
            self.assertEqual(len(list(read_kept(Path(name)))), 2, "what follows a torn line stands by itself")

    def test_pages_once_through_are_what_they_were(self) -> None:
        pages = numbered(
            page(0, "# Language", "Which one?", "[Next]"), page(9, "# Disk", "Which one of them?", "[Next]")
        )
        self.assertEqual(msgspec.json.decode(msgspec.json.encode(pages), type=list[Page]), pages)
        self.assertEqual(find_spans(pages, LEXICON), find_spans(list(pages), LEXICON))
