from __future__ import annotations

import unittest
from collections.abc import Sequence

from msgspec.structs import replace

from metrograph.log.lexicon import load_lexicon
from metrograph.watch.pages.page import Page, SkippedTime, cleaned
from metrograph.watch.reading.marks import TickMark
from metrograph.watch.reading.words import button_of, tells_of_trouble, tells_of_waiting
from metrograph.watch.screens.screen_figures import versions_on
from metrograph.watch.screens.spans import Span, find_spans
from tests.watch.drawn import numbered, page

LEXICON = load_lexicon()


def seen(*pages: Page, end: float | None = None) -> list[Span]:
    return find_spans(
        numbered(*pages), LEXICON, pages[-1].at + 5000 if end is None and pages else round((end or 0) * 1000)
    )


def said(spans: list[Span]) -> list[str]:
    """Each span in a line: start, end, title, and what is special."""
    marks = ("waiting", "returns", "error", "dialog")
    return [
        " ".join(
            [
                f"{span.start / 1000:g}-{span.end / 1000:g}",
                span.title or "?",
                *(mark for mark in marks if getattr(span, mark)),
            ]
        )
        for span in spans
    ]


LANGUAGE = page(0, "# Language", "In which language should it speak?", "English", "Deutsch", "[Next]")
KEYBOARD = page(
    10, "# Keyboard layout", "Type here to test the layout of it", "English (UK)", "German", "[Back]", "[Next]"
)
DISK = page(
    20, "# Where should it go?", "The disk has 25 GiB and is empty", "Whole disk", "By hand", "[Back]", "[Next]"
)
OWN = {
    "Language": "In which one should it speak?",
    "Keyboard": "Type here and look",
    "Account": "Who are you, and what is your name?",
    "Network": "Without wires, or with?",
}
WORDS = (
    ("Good day to you", "it begins here"),
    ("Lisbon lies far", "as does Porto"),
    ("Type something", "qwerty or not"),
    ("Nothing written yet", "look once more"),
)


STEPS = ("Welcome", "Location", "Keyboard", "Summary")


def _by_steps(words: Sequence[tuple[str, ...]]) -> list[Page]:
    """Pages without a title of their own, one a step of the list at their side, in which it is marked."""
    return [
        page(10 * number, *(f"{'*' if step == here else ''}| {step}" for step in STEPS), *said_there, "[Next]")
        for number, (here, said_there) in enumerate(zip(STEPS, words, strict=True))
    ]


def moved(shown: Page, seconds: int) -> Page:
    """A page that comes later."""
    return replace(shown, start=shown.start + 1000 * seconds, at=shown.at + 1000 * seconds)


def _marked(shown: Page, on: set[str], circles: bool, rows: set[str] | None = None) -> Page:
    """A page whose rows from the third on have boxes or circles before them, or these rows."""
    texts = [
        replace(text, mark=TickMark(text.text in on, circles))
        if (text.text in rows if rows else number > 1 and not text.button)
        else text
        for number, text in enumerate(shown.texts)
    ]
    return replace(shown, texts=tuple(texts))


class SpansTest(unittest.TestCase):
    def test_screens_follow_each_other(self) -> None:
        self.assertEqual(
            said(seen(LANGUAGE, KEYBOARD, DISK, end=30)),
            ["0-10 Language", "10-20 Keyboard layout", "20-30 Where should it go?"],
        )

    def test_kinds_come_from_titles_and_else_from_the_sentence_below(self) -> None:
        odd = page(30, "# One more thing", "Choose a password for the administrator account", "[Next]")
        self.assertEqual([span.kind for span in seen(LANGUAGE, KEYBOARD, odd)], ["language", "keyboard", "admin"])

    def test_what_is_typed_and_picked_changes_no_screen(self) -> None:
        typed = page(
            13,
            "# Keyboard layout",
            "Type here to test the layout of it",
            "English (UK)",
            "German",
            "qwertz",
            "[Back]",
            "[Next]",
        )
        self.assertEqual(len(seen(LANGUAGE, KEYBOARD, typed, DISK)), 3)

    def test_a_list_that_is_scrolled_is_the_same_screen(self) -> None:
        scrolled = page(
            13, "# Keyboard layout", "Type here to test the layout of it", "Finnish", "French", "[Back]", "[Next]"
        )
        self.assertEqual(len(seen(LANGUAGE, KEYBOARD, scrolled, DISK)), 3)

    def test_one_heading_over_two_questions_is_two_screens(self) -> None:
        host = page(10, "# Configure the network", "Please enter the name of this host", "[Next]")
        domain = page(20, "# Configure the network", "The domain stands to the right of it", "[Next]")
        self.assertEqual(
            said(seen(LANGUAGE, host, domain, end=25))[1:],
            ["10-20 Configure the network", "20-25 Configure the network"],
        )

    def test_a_screen_that_comes_again_returns(self) -> None:
        again = page(
            30, "# Keyboard layout", "Type here to test the layout of it", "English (UK)", "German", "[Back]", "[Next]"
        )
        self.assertEqual(said(seen(LANGUAGE, KEYBOARD, DISK, again, end=40))[-1], "30-40 Keyboard layout returns")

    def test_nothing_to_be_seen_is_a_wait_without_a_title(self) -> None:
        self.assertEqual(said(seen(LANGUAGE, page(10), page(12, console=True), KEYBOARD, end=14))[1], "10-10 ? waiting")
        self.assertEqual(
            said(seen(LANGUAGE, page(5), DISK, end=30)), ["0-5 Language", "5-20 ? waiting", "20-30 Where should it go?"]
        )

    def test_slides_while_it_copies_are_one_wait_under_the_title_that_stays(self) -> None:
        slides = [
            page(
                30 + 5 * step,
                "# Copying files",
                "This takes a few minutes of time",
                f"# Slide number {step} of them",
                f"unpacking {step}0 %",
            )
            for step in range(4)
        ]
        self.assertEqual(said(seen(LANGUAGE, KEYBOARD, DISK, *slides, end=60))[-1], "30-60 Copying files waiting")

    def test_where_something_can_be_pressed_the_machine_does_not_wait(self) -> None:
        self.assertEqual(
            said(seen(LANGUAGE, page(10, "# Installing", "Ready when you are to install it", "[Install now]"), end=20))[
                1
            ],
            "10-20 Installing",
        )

    def test_trouble_that_comes_up_is_told_with_its_moment(self) -> None:
        refused = page(
            14,
            "# Keyboard layout",
            "Type here to test the layout of it",
            "English (UK)",
            "German",
            "Error: this cannot be used",
            "[Back]",
            "[Next]",
        )
        span = seen(LANGUAGE, KEYBOARD, refused, DISK)[1]
        self.assertEqual((span.error, span.trouble, span.trouble_at), (True, "Error: this cannot be used", 14000))

    def test_hints_that_stand_there_from_the_beginning_are_no_trouble(self) -> None:
        hint = page(10, "# Password", "It must be longer than eight letters", "[Next]")
        self.assertFalse(seen(LANGUAGE, hint, DISK)[1].error)

    def test_a_dialog_lies_over_its_screen(self) -> None:
        lines = ("# Where should it go?", "The disk has 25 GiB and is empty", "Whole disk", "By hand")
        over = page(
            24, *lines, "Are you sure that you want it?", "All data on it will be lost", "(Yes)", "[Back]", "[Next]"
        )
        over = Page(over.start, over.at, over.size, over.texts, changed=(140, 130, 560, 380))
        after = page(28, *lines, "[Back]", "[Next]")
        self.assertEqual(
            said(seen(LANGUAGE, KEYBOARD, DISK, over, after, end=40))[2:],
            ["20-40 Where should it go?", "24-28 Are you sure that you want it? dialog"],
        )

    def test_banners_and_names_of_steps_are_no_titles(self) -> None:
        frame = ("# Larkmoor 9.0 is here", "| Hello", "| Keys", "| Disk")
        pages = [page(10 * number, *frame, title, words, "[Next]") for number, (title, words) in enumerate(OWN.items())]
        self.assertEqual([span.title for span in seen(*pages)], list(OWN))

    def test_without_a_heading_the_marked_step_is_the_title(self) -> None:
        self.assertEqual([span.title for span in seen(*_by_steps(WORDS))], list(STEPS))

    def test_headings_of_an_overview_that_name_other_steps_are_no_titles(self) -> None:
        overview = ("This is what it will do", "# Location", "Lisbon in the west", "# Keyboard", "qwerty as it was")
        self.assertEqual([span.title for span in seen(*_by_steps((*WORDS[:3], overview)))], list(STEPS))

    def test_a_marked_row_is_what_is_picked_and_what_stood_there_first_was_pre_set(self) -> None:
        rows = ("# Keyboard layout", "Type here to test the layout of it")
        first = page(10, *rows, "*English (US)", "English (UK)", "German", "French", "[Next]")
        after = page(14, *rows, "English (US)", "English (UK)", "*German", "French", "[Next]")
        choices = seen(LANGUAGE, first, after, DISK)[1].choices
        self.assertEqual([(choice.value, choice.was) for choice in choices], [("German", "English (US)")])
        kept = seen(LANGUAGE, first, DISK)[1].choices
        self.assertEqual([(choice.value, choice.was) for choice in kept], [("English (US)", None)])

    def test_boxes_say_what_was_ticked_and_unticked_and_circles_what_was_taken(self) -> None:
        rows = ("# Packages", "Pick what you need on it", "Web server", "Print server", "Games", "[Next]")
        before, after = (
            _marked(page(at, *rows), {"Web server", there}, False)
            for at, there in ((10, "Games"), (14, "Print server"))
        )
        (boxes,) = seen(LANGUAGE, before, after, DISK)[1].choices
        self.assertEqual((boxes.value, boxes.was), ("+Print server, -Games", "Web server, Games"))
        (same,) = seen(LANGUAGE, before, DISK)[1].choices
        self.assertEqual((same.value, same.was, same.offered), ("Web server, Games", None, rows[2:5]))
        before, after = (_marked(page(at, *rows), {there}, True) for at, there in ((10, "Games"), (14, "Print server")))
        (circles,) = seen(LANGUAGE, before, after, DISK)[1].choices
        self.assertEqual((circles.value, circles.was), ("Print server", "Games"))
        (none,) = seen(LANGUAGE, before, _marked(page(14, *rows), set(), True), DISK)[1].choices
        self.assertEqual((none.value, none.was), ("none", "Games"))

    def test_nothing_is_picked_where_one_of_several_boxes_was_not_seen(self) -> None:
        rows = ("# Packages", "Pick what you need on it", "Web server", "Print server", "Games", "[Next]")
        whole = _marked(page(10, *rows), {"Games"}, False)
        for number, text in enumerate(whole.texts):
            if text.mark is not None and text.text != "Web server":  # above the first stands what they are about
                texts = (*whole.texts[:number], replace(text, mark=None), *whole.texts[number + 1 :])
                self.assertEqual(seen(LANGUAGE, replace(whole, texts=texts), DISK)[1].choices, (), text.text)
        written = page(10, "# Packages", "Which do you need on it?", "[x] Web server ", "L]_Print server", "[Next]")
        self.assertEqual(seen(LANGUAGE, written, DISK)[1].choices, ())
        self.assertEqual(
            seen(LANGUAGE, _marked(page(10, *rows), {"Games"}, False), _marked(page(14, *rows), {"Games"}, True), DISK)[1].choices,
            (),
            "boxes that turn into circles were misread",
        )  # fmt: skip

    def test_a_box_by_itself_is_told_apart_from_a_mark_beside_a_button(self) -> None:
        done = ("# All done", "Take the medium out of the machine", "Restart now", "[Close]")
        (choice,) = seen(LANGUAGE, KEYBOARD, _marked(page(20, *done), {"Restart now"}, False, {"Restart now"}))[
            2
        ].choices
        self.assertEqual(choice.value, "Restart now")
        beside = page(20, "# All done", "Take the medium out of the machine", "[Close]", "[Next]")
        self.assertEqual(seen(LANGUAGE, KEYBOARD, _marked(beside, {"Next"}, False, {"Next"}))[2].choices, ())

    def test_what_a_screen_says_in_figures(self) -> None:
        work = page(30, "# Installing", "About 12 minutes remaining", "Please wait")
        later = page(90, "# Installing", "About 3 minutes remaining", "Please wait")
        updates = page(120, "# Updates are available", "143 packages are new", "To be downloaded: 1.2 GiB", "[Install]")
        summary = page(140, "# Summary", "This will be done", "/ ext4 22.9 GiB on the first disk", "[Install]")
        told = [said for span in seen(LANGUAGE, work, later, updates, summary) for said in span.figures]
        self.assertEqual(
            [(said.at // 1000, said.measure or said.line) for said in told],
            [
                (30, "About 12 minutes remaining"),
                (120, ("updates", "143")),
                (120, ("update download", "1.2 GiB")),
                (140, "/ ext4 22.9 GiB on the first disk"),
            ],
        )

    def test_the_version_in_a_banner_is_known_by_standing_there_again(self) -> None:
        pages = [page(at, "Larkmoor 9.0", "# Title", "with 1.2 once" if at else "", "[Next]") for at in range(3)]
        self.assertEqual(versions_on(numbered(*pages)), ["Larkmoor 9.0"])

    def test_a_gap_divides_what_looks_alike(self) -> None:
        self.assertEqual(
            [
                span.gap is not None
                for span in seen(LANGUAGE, KEYBOARD, page(20, *(text.text for text in KEYBOARD.texts), gap=True))
            ],
            [False, False, True],
        )

    def test_a_clock_that_went_on_by_more_than_the_film_tells_how_much_was_cut_out(self) -> None:
        def clocks(*shown: str) -> list[tuple[int, SkippedTime | None]]:
            pages = [page(60 * at, clock, f"# Screen {at}", f"Ask {at}", "[Next]") for at, clock in enumerate(shown)]
            return [(span.start // 60_000, span.gap) for span in seen(*pages) if span.gap]

        self.assertEqual(
            clocks("10:00", "10:01", "10:16", "10:17"), [(2, SkippedTime(14 * 60_000, within=60_000, sure=0.8))]
        )
        self.assertEqual(clocks("10:00", "10:01", "11:02", "11:03"), [], "another zone was chosen")
        self.assertEqual(clocks("10:00", "10:01", "10:47", "10:03", "10:04"), [], "a digit was misread")
        self.assertEqual(clocks("10:00", "10:01", "10:02", "10:03"), [])

    def test_progress_that_crept_and_jumps_may_be_a_cut(self) -> None:
        def progress(*parts: int) -> list[bool]:
            pages = [
                page(2 * at, "# Copying files", f"Copied {part} %", "Please wait") for at, part in enumerate(parts)
            ]
            return [span.gap is not None for span in seen(LANGUAGE, *(moved(each, 10) for each in pages))]

        self.assertEqual(progress(4, 6, 8, 60, 62), [False, False, True])
        self.assertEqual(progress(4, 40, 70, 99), [False, False], "it never crept")

    def test_nothing_comes_of_nothing(self) -> None:
        self.assertEqual(seen(), [])


class WordsTest(unittest.TestCase):
    def test_buttons_in_several_languages_and_misread(self) -> None:
        for words, button in {
            "Next": "forward", "< Weiter >": "forward", "Précédent": "back", "Cancelar": "cancel", "Installieren": "forward", "Instalieren": "forward",
            "Text": None, "Nextcloud": None, "Yes": "answer", "The next day": None, "Bank": None,
        }.items():  # fmt: skip
            self.assertEqual(button_of(words), button, words)

    def test_waiting_and_trouble_are_words_of_their_own(self) -> None:
        self.assertEqual(
            [tells_of_waiting(text) for text in ("Please wait", "Copying files (12 %)", "Waiter", "Reinstalling")],
            [True, True, False, False],
        )
        self.assertEqual(
            [tells_of_trouble(text) for text in ("Die Passwörter stimmen nicht überein.", "Terror", "All is well")],
            [True, False, False],
        )

    def test_marks_of_urgency_before_a_title_are_none_of_it_well_read_or_not(self) -> None:
        for read in ("[!!] Disk setup", "(!!] Disk setup", "[!] Disk setup", "Disk setup |"):
            self.assertEqual(cleaned(read), "Disk setup")
        self.assertEqual(cleaned("(*) Whole disk"), "(*) Whole disk")
