"""What is stated in a talk, of whom, and what is not stated though it sounds so."""

import unittest

from metrograph.hearing.heard_cues import cue_of
from metrograph.hearing.listening import Ears, all_that_may_be_said, listen
from metrograph.hearing.places import SLOTS, WINDOW, SlotModel, learn, slots_of
from metrograph.hearing.statements import Statement
from metrograph.hearing.stream.captions import Word
from metrograph.hearing.stream.programs import Program, known_names, mentions
from metrograph.hearing.stream.spoken import number_words, tokens_of
from metrograph.hearing.weighing import ClueWeights
from metrograph.log.writer import format_words

SURE = ClueWeights(5.0, {})
NAMES = known_names(
    [Program("Skimmer", "internet", True), Program("Page Light", "office", True), Program("Files", "tools", True)],
    [Program("Pondhopper", "games")],
)


def always(slot: str) -> SlotModel:
    """Weights by which all is said in one part of the job."""
    here = tuple(0.0 if each == slot else -1e6 for each in SLOTS)
    return SlotModel({}, tuple(here for _ in SLOTS), here)


EARS = Ears(NAMES, slots=always("desktop"), sureness=SURE)


def hear(text: str, slot: str = "desktop", release: str = "9.0") -> list[Statement]:
    """What is stated in a text that is said in one part of the job, whatever the weights that come along say."""
    said = [Word(place * 0.4, each, 0.0) for place, each in enumerate(text.split())]
    return list(listen(said, Ears(NAMES, release=release, slots=always(slot), sureness=SURE)).statements)


def told(text: str, slot: str = "desktop") -> list[tuple[str, str, str]]:
    return [(each.kind, each.key, each.value) for each in hear(text, slot)]


class Statements(unittest.TestCase):
    def test_figures_are_of_what_was_named_before_them(self) -> None:
        self.assertIn(("reading", "memory", "~600000000"), told("memory at rest is about six hundred megabytes"))
        self.assertIn(("fact", "kernel", "6.18"), told("the kernel is six point eighteen"))

    def test_a_figure_is_of_the_nearest_word_that_speaks_of_its_kind(self) -> None:
        said = [
            Word(n * 0.4, each, 0.0)
            for n, each in enumerate(["memory", "612", "megabytes", "then", "the", "disk", "is", "5.2", "gigs"])
        ]
        may_be = {(each.key, each.value): each.clues for each in all_that_may_be_said(said, EARS)}
        nearest = {
            key for (key, value), clues in may_be.items() if value == "5200000000" and "the nearest word" in clues
        }
        self.assertIn("disk-used", nearest)
        self.assertNotIn("memory", nearest)
        self.assertIn("usual size", may_be["memory", "612000000"])
        self.assertNotIn("usual size", may_be["memory", "5200000000"])

    def test_a_figure_that_is_corrected_is_none(self) -> None:
        found = told("memory at rest is 612 megabytes no sorry it is 640 megabytes")
        self.assertIn(("reading", "memory", "640000000"), found)
        self.assertNotIn("612000000", {value for *_, value in found})
        self.assertIn(
            ("reading", "memory", "612000000"), told("memory 612 megabytes and no trouble at all today since 2020")
        )

    def test_one_figure_is_one_thing(self) -> None:
        told_of = [each.kind for each in hear("updates and memory and disk 5.2 gigs") if each.value == "5200000000"]
        self.assertEqual(len(told_of), 1)

    def test_how_a_trial_went_is_said_around_it_and_not_behind_the_next(self) -> None:
        found = told("bluetooth hm the headphones didn't work. webcam works fine")
        self.assertIn(("check", "bluetooth", "fail"), found)
        self.assertIn(("check", "webcam", "pass"), found)
        self.assertNotIn(("check", "bluetooth", "pass"), found)

    def test_what_is_based_on_something_names_it(self) -> None:
        self.assertIn(("fact", "base", "Osterby"), told("granstead is based on osterby and so on", "before"))
        self.assertNotIn("base", {key for _, key, _ in told("it is based on the people", "before")})

    def test_what_a_missing_program_would_be_for_is_told_where_no_name_is(self) -> None:
        self.assertIn(("lacks", "-", "(games)"), told("and there's no games at all"))
        self.assertNotIn("lacks", {kind for kind, *_ in told("and there are games")})

    def test_programs_are_on_board_or_missing(self) -> None:
        found = told("internet there is skimmer and page light and no pond hopper")
        self.assertIn(("carries", "-", "Skimmer"), found)
        self.assertIn(("carries", "-", "Page Light"), found)
        self.assertIn(("lacks", "-", "Pondhopper"), found)

    def test_a_misheard_name_is_found_and_a_common_word_is_none(self) -> None:
        tokens = tokens_of(
            [Word(0.0, each, 0.0) for each in ["the", "pond", "hoper", "and", "then", "I", "moved", "my", "files"]],
            number_words("eng"),
        )
        self.assertEqual([each.name for each in mentions(tokens, NAMES)], ["Pondhopper"])

    def test_without_a_list_words_that_nobody_knows_are_names(self) -> None:
        said = [
            Word(place * 0.4, each, 0.0)
            for place, each in enumerate(["there", "is", "quibblet", "and", "a", "calendar"])
        ]
        found = listen(said, Ears(slots=always("desktop"), sureness=SURE)).statements
        self.assertEqual([(each.kind, each.value) for each in found], [("carries", "Quibblet")])
        self.assertEqual(told("there is quibblet and a calendar"), [], "with a list of the machine it is none of it")

    def test_what_is_said_of_another_release_is_its(self) -> None:
        (reading,) = [each for each in hear("memory in the eight was 700 megabytes") if each.kind == "reading"]
        self.assertNotEqual(reading.about, "this")
        (reading,) = [each for each in hear("memory is 700 megabytes") if each.kind == "reading"]
        self.assertEqual(reading.about, "this")

    def test_words_of_a_question_are_no_question_elsewhere(self) -> None:
        self.assertIn("screen", {kind for kind, *_ in told("now the keyboard", "questions")})
        self.assertNotIn("screen", {kind for kind, *_ in told("the keyboard has a nice click", "after")})

    def test_an_answer_is_of_what_was_asked_and_says_whose_it_was(self) -> None:
        asked = told(
            "next page keyboard it says english us i want german . swap . it says file and i leave it", "questions"
        )
        self.assertIn(("choose", "keyboard", "german"), asked)
        self.assertIn(("keep", "swap", "file"), asked)

    def test_a_talk_without_a_question_has_no_answer(self) -> None:
        self.assertEqual(told("well good evening", "questions"), [])

    def test_a_desktop_is_known_by_its_name_and_its_version_is_that_behind_it(self) -> None:
        found = told("here is the saffron desktop and saffron is at six point four")
        self.assertIn(("fact", "desktop", "Saffron"), found)
        self.assertIn(("fact", "desktop-version", "6.4"), found)

    def test_a_name_that_is_written_as_two_words_is_one(self) -> None:
        said = "today it is pell worm seven and pell worm seven is good because pell worm is"
        words = [Word(place * 0.4, each, 0.0) for place, each in enumerate(said.split())]
        self.assertEqual(listen(words, Ears(NAMES, sureness=SURE)).system, "Pell Worm 7")

    def test_one_thing_is_stated_once(self) -> None:
        self.assertEqual(len(told("skimmer skimmer skimmer")), 1)

    def test_the_words_it_rests_on_and_their_moment(self) -> None:
        (kernel,) = [each for each in hear("well the kernel is 6.18 today") if each.key == "kernel"]
        self.assertIn("kernel is 6.18", kernel.said)
        self.assertAlmostEqual(kernel.at, 1.6)


class Parts(unittest.TestCase):
    def test_the_way_through_the_parts_follows_the_words_and_not_each_of_them(self) -> None:
        place, copy = SLOTS.index("questions"), SLOTS.index("copy")
        model = learn([([{"choose"}, {"choose"}, {"wait"}, {"wait"}], [place, place, copy, copy])] * 9, "", 0.1)
        spoken = ["choose"] * 3 + ["wait"] * 3
        tokens = tokens_of([Word(n * WINDOW, each, 0.0) for n, each in enumerate(spoken)], number_words("eng"))
        self.assertEqual(slots_of(tokens, model), [(0.0, "questions"), (3 * WINDOW, "copy")])


class Cues(unittest.TestCase):
    ROWS = (
        ("reading", "memory", "~600000000", "reading memory = ~600 MB"),
        ("reading", "boot-time", "34", "reading boot time = 34 s"),
        ("elapsed", "install", "260", "reading install time = 4:20"),
        ("reading", "cpu-load", "0.02..0.03", "reading cpu load = 2 %..3 %"),
        ("reading", "battery", "23400", "reading battery = 6:30:00"),
        ("elapsed", "other", "1200", "reading other time = 20:00"),
        ("lacks", "-", "(games)", "lacks software: games"),
        ("fact", "kernel", "6.18", "fact kernel = 6.18"),
        ("fact", "other", "Skimmer 147", "fact Skimmer = 147"),
        ("carries", "-", "Skimmer", "carries internet: Skimmer"),
        ("keep", "swap", "file", "keep swap = file"),
        ("check", "sound", "pass", "check sound: pass"),
        ("screen", "boot-menu", "-", "screen Boot menu"),
        ("screen", "restart", "-", "phase restart"),
        ("compare", "memory", "+", "than before: memory better"),
        ("keep", "swap", "-", "note in its words"),
        ("claim", "support-until", "2031", "note in its words"),
    )

    def test_each_statement_is_a_cue_of_the_run_log(self) -> None:
        for kind, key, value, expected in self.ROWS:
            cue = cue_of(
                Statement(1.5, kind, key, value, "this", "desktop", said="in its words"), {"Skimmer": "internet"}
            )
            self.assertEqual((format_words(cue).split(" | ")[0], cue.at), (expected, 1500))
