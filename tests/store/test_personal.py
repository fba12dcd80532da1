from __future__ import annotations

import os
import tempfile
import unittest
from unittest import mock

from metrograph.core.errors import MetrographError
from metrograph.store.preferences import Preferences, load_preferences, preferences_path, set_preference


class PersonalTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        patch = mock.patch.dict(os.environ, {"XDG_CONFIG_HOME": folder.name})
        patch.start()
        self.addCleanup(patch.stop)

    def test_what_is_set_is_there_and_goes_and_a_remark_stays(self) -> None:
        self.assertEqual(load_preferences(), Preferences())
        set_preference("reviewer", "Wren Ashby")
        with preferences_path().open("a") as file:
            file.write("# figures for the blog\n")
        set_preference("theme", "dark")
        self.assertEqual(load_preferences(), Preferences(reviewer="Wren Ashby", theme="dark"))
        set_preference("reviewer", None)
        self.assertEqual(load_preferences(), Preferences(theme="dark"))
        self.assertIn("# figures for the blog", preferences_path().read_text())

    def test_what_cannot_be_is_refused_and_nothing_is_written(self) -> None:
        for name, value, told in (
            ("them", "dark", "there is no setting “them”; expected: theme"),
            ("theme", "purple", "“theme” cannot be “purple”; expected: light or dark"),
            ("reviewer", "a\x1b[31m", "“reviewer” cannot be"),
        ):
            with self.assertRaisesRegex(MetrographError, told):
                set_preference(name, value)
        self.assertFalse(preferences_path().exists())

    def test_a_file_of_anything_else_is_named(self) -> None:
        preferences_path().parent.mkdir(parents=True)
        for text, told in (
            ("sizes = 3", "settings.toml: “sizes” cannot be “3”"),
            ("= =", "cannot be read as settings"),
        ):
            preferences_path().write_text(text)
            with self.assertRaisesRegex(MetrographError, told):
                load_preferences()
