"""What a page asks, which of its lines are steps, what it is for, and in which language it is: by lines alone."""

import unittest
from collections.abc import Sequence

from msgspec.structs import replace

from metrograph.log.lexicon import load_lexicon
from metrograph.watch.inputs.frames import Grey
from metrograph.watch.pages.one_size import in_one_size
from metrograph.watch.pages.page import Page, Text
from metrograph.watch.pages.step_lists import step_lines
from metrograph.watch.reading.screen_language import ScreenLanguage
from metrograph.watch.reading.text_reader import ReadLine
from metrograph.watch.reading.words import button_of
from metrograph.watch.screens.page_kinds import kind_of, stands_alone
from metrograph.watch.screens.questions import question_of, same_question
from metrograph.watch.screens.spans import find_spans
from metrograph.watch.screens.static_regions import StaticRegions
from metrograph.watch.screens.stretches import Stretches

LEXICON = load_lexicon()


def line(text: str, left: int = 300, top: int = 0) -> Text:
    return Text(left, top, left + 8 * len(text), top + 14, text, 0.95, False, 240, 12, 200, button_of(text))


def column(*texts: str, left: int = 300, top: int = 40, step: int = 30) -> list[Text]:
    return [line(text, left, top + step * number) for number, text in enumerate(texts)]


def page(number: int, *texts: Text, ring: bytes = b"", size: tuple[int, int] = (1000, 600)) -> Page:
    return Page(number * 5000, number * 5000 + 1000, size, texts, number=number, ring=ring)


class Questions(unittest.TestCase):
    def asked(self, *texts: str) -> str:
        title = line("Network", top=10)
        return question_of([title, *column(*texts)], title)

    def test_a_question_is_the_last_line_that_asks_and_no_sentence(self) -> None:
        self.assertEqual(
            self.asked("Ready?", "It may take long.", "How do you connect?", "Cable"), "How do you connect?"
        )
        self.assertEqual(self.asked("The name that others see, one word of letters.", "Name of this machine:"), "Name of this machine:")  # fmt: skip
        self.assertEqual(self.asked("Where to", "This explains all of it at some length."), "Where to")
        self.assertEqual(self.asked("This explains all of it at some length."), "")

    def test_labels_of_several_fields_are_no_question(self) -> None:
        self.assertEqual(self.asked("Your name:", "Login name:", "Password:"), "")

    def test_two_questions_are_one_only_with_as_many_words(self) -> None:
        self.assertTrue(same_question("Choose a mirror:", "Choose a miror:"))
        self.assertFalse(same_question("Choose a mirror:", "Choose a mirror country:"))


class Steps(unittest.TestCase):
    def test_a_column_that_names_several_things_is_a_list_of_steps(self) -> None:
        steps = column("Welcome", "Keyboard", "Your account", "Summary", left=40)
        self.assertEqual(step_lines([*steps, line("Keyboard", top=10)], LEXICON.kind_of), set(steps))

    def test_a_form_and_an_overview_with_values_are_none(self) -> None:
        form = column("User name", "Password", "Host name", "Keyboard", left=40)
        self.assertEqual(step_lines(form, LEXICON.kind_of), set())
        labels = column("Language", "Keyboard", "Host name", "Disk", left=40)
        values = column("English", "British", "quokka", "25 GiB", left=400)
        self.assertEqual(step_lines([*labels, *values], LEXICON.kind_of), set())


class Kinds(unittest.TestCase):
    def test_a_question_tells_where_the_heading_stands_over_several(self) -> None:
        self.assertEqual(kind_of("Network", "Host name:", (), LEXICON), "network")
        shared = [
            replace(shown, start=5000 * number, at=5000 * number + 1000, number=number)
            for number, shown in enumerate(
                page(0, line("Network", top=10), line(asked, top=60), line("Next", 800, 560))
                for asked in ("How do you connect?", "Host name:")
            )
        ]
        self.assertEqual(
            [(span.name, span.kind) for span in find_spans(shared, LEXICON)],
            [("Network: How do you connect?", "network"), ("Network: Host name", "host")],
        )

    def test_what_stands_on_a_page_tells_where_its_words_do_not(self) -> None:
        for lines, kind in (
            (("English", "Deutsch", "Français", "Polski"), "language"),
            (("/boot/efi 512 MB", "/ 24 GB ext4"), "partitions"),
            (("English (UK)", "English (Dvorak)"), "keyboard"),
            (("Language: English", "Keyboard: British", "Disk: 25 GB"), "summary"),
            (("One thing", "Another"), "other"),
        ):
            with self.subTest(kind):
                self.assertEqual(kind_of("Step 3", "", column(*lines), LEXICON), kind)

    def test_a_desktop_and_a_greeter_are_known_by_what_they_lack(self) -> None:
        clock, icons = line("10:04", 480, 4), column("Home", "Trash", left=20, top=100, step=110)
        self.assertEqual(stands_alone(page(0, clock, *icons), LEXICON), "desktop")
        greeter = [line("Wren", top=200), line("Password", top=240), line("Log in", top=280)]
        self.assertEqual(stands_alone(page(0, *icons, *greeter), LEXICON), "greeter")
        asks = line("What should be installed on it?", top=100)
        self.assertEqual(stands_alone(page(0, clock, *icons, asks), LEXICON), "")
        row = [line("Back", 600, 500), line("Next", 700, 500)]
        self.assertEqual(stands_alone(page(0, clock, *icons, *row), LEXICON), "")


class Surroundings(unittest.TestCase):
    def test_each_stretch_has_its_own(self) -> None:
        dark, light = bytes(52 * 3), bytes([200] * 52 * 3)
        bar, heading = line("Larkmoor", 10, 4), line("Larkmoor", 10, 4)
        desk = [page(n, bar, line(f"Window {n}"), ring=dark) for n in range(4)]
        other = [page(4 + n, heading if n == 1 else line(f"Page {n}", 10, 4), ring=light) for n in range(4)]
        regions = StaticRegions([*desk, *other], Stretches([*desk, *other]))
        self.assertEqual(regions.stale(bar, desk[0]), 1.0)
        self.assertEqual(regions.stale(heading, other[1]), 0.0)
        # A wallpaper that changes a little is the same one.
        near = replace(desk[0], number=9, ring=bytes([9] * 52 * 3))
        self.assertEqual(Stretches([*desk, near]).of(near), Stretches(desk).of(desk[0]))

    def test_a_desktop_that_surrounds_everything_is_still_a_desktop_after_a_black_screen(self) -> None:
        words = [line("10:04", 480, 4), *column("Home", "Trash", left=20, top=100, step=110)]
        desk, black = page(0, *words, ring=bytes(52 * 3)), replace(page(0), blank=True)
        told: list[Page] = []
        for name in ("Alder", "Birch", "Cedar", "Dogwood"):
            rows = column(*(f"{name}{part}" for part in ("leaf", "stem", "root", "bark")))
            told += [page(0, line(name, top=10), *rows, ring=bytes([200] * 52 * 3)), black, desk]
        times = [{"start": 5000 * n, "at": 5000 * n + 1000, "number": n} for n in range(len(told))]
        shown = [replace(each, changed=(0, 0, 1000, 600), **time) for each, time in zip(told, times, strict=True)]
        found = [(span.title, span.waiting) for span in find_spans(shown, LEXICON)]
        self.assertEqual(found[1::3] + found[2::3], [("", True)] * 4 + [("Desktop", False)] * 4)

    def test_pages_are_brought_into_the_size_that_most_have(self) -> None:
        large = page(0, replace(line("Disk", 600, 400), tall=24), size=(2000, 1200))
        first, *_ = in_one_size([large, page(1, line("Disk")), page(2, line("Disk"))])
        self.assertEqual((first.size, first.texts[0].left, first.texts[0].top, first.texts[0].tall), ((1000, 600), 300, 200, 12))  # fmt: skip


class NoEngine:
    def read(self, pictures: Sequence[Grey], language: str) -> list[ReadLine]:
        raise AssertionError(f"{len(pictures)} lines are read in {language}")

    def languages(self) -> list[str]:
        return ["deu", "eng"]


class Languages(unittest.TestCase):
    def after(self, *pages: tuple[str, ...]) -> str:
        spoken, now = ScreenLanguage(NoEngine()), "eng"
        for texts in pages:
            now = spoken.after([ReadLine(text, 0.9) for text in texts], now)
        return now

    def test_a_language_is_told_by_words_that_it_alone_has(self) -> None:
        self.assertEqual(self.after(("Wählen Sie, wie die Platte genutzt wird", "Weiter", "Zurück")), "deu")
        # Read by somebody who knows no accents.
        self.assertEqual(self.after(("Vilket sprak talar du?", "Nasta", "Tillbaka", "Avbryt")), "swe")
        self.assertEqual(self.after(("Larkmoor 9.0",)), "eng")
        # As much of one as of another: a list of languages, or of layouts.
        self.assertEqual(self.after(("Weiter", "Zurück", "Nästa", "Tillbaka")), "eng")

    def test_pages_that_tell_little_tell_together_and_a_name_changes_nothing(self) -> None:
        self.assertEqual(self.after(("Dalej", "8.0"), ("Dalej", "Wstecz")), "pol")
        self.assertEqual(self.after(("Weiter", "Abbrechen", "Sie"), ("Larkmoor",), ("Larkmoor",)), "deu")
