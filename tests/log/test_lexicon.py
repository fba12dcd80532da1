"""The lexicon: titles to kinds, kinds to phases."""

import unittest

from metrograph.log.lexicon import Kind, load_lexicon
from metrograph.log.verbs import PHASES


class Lexicons(unittest.TestCase):
    def setUp(self) -> None:
        self.lexicon = load_lexicon()

    def test_titles_suggest_kinds(self) -> None:
        for title, kind in {
            "Boot menu": "boot-menu",
            "Where are you?": "place",
            "Install the boot loader": "loader",
            "Online accounts": "accounts",
            "Your account": "account",
            "Extra drivers": "extras",
            "Choose your software": "software",
            "WRITE THE CHANGES?": "warning",
            "Copying files": "copying",
            "Tastaturbelegung": "keyboard",
            "Riskometer": "other",  # “disk” is in no word's beginning
            "": "other",
            "語言": "other",
        }.items():
            self.assertEqual(self.lexicon.kind_of(title), kind, title)

    def test_the_restart_decides_where_a_question_is_at_home(self) -> None:
        self.assertEqual(self.lexicon.phase_of("language", "live", restarted=False), "questions")
        self.assertEqual(self.lexicon.phase_of("language", "restart", restarted=True), "setup")
        self.assertEqual(self.lexicon.phase_of("language", "setup", restarted=True), "setup")
        self.assertEqual(self.lexicon.phase_of("other", "live", restarted=False), "live")

    def test_a_logbook_may_replace_and_add(self) -> None:
        self.assertEqual(self.lexicon.with_own({}, about=0.3).about, 0.3)
        self.assertEqual(self.lexicon.with_own({}).about, self.lexicon.about)
        own = self.lexicon.with_own({"licence": Kind(words=("licence",)), "disk": Kind(words=("platter",))})
        self.assertEqual((own.kind_of("Licence"), own.kind_of("Platter")), ("licence", "disk"))
        self.assertEqual(own.kind_of("Disk"), "other")

    def test_the_data_file_uses_known_phases_and_small_words(self) -> None:
        for name, kind in self.lexicon.kinds.items():
            self.assertLessEqual(set(kind.phases), set(PHASES), name)
            self.assertEqual([word.casefold() for word in kind.words], list(kind.words), name)
