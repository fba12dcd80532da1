"""The house as its documents describe it: the map, the sizes, and one word for one thing."""

import ast
import re
import unittest
from collections import Counter
from pathlib import Path
from typing import ClassVar

from tests.helpers import ROOT

SOURCES = ROOT / "src/metrograph"
MODULES = sorted(SOURCES.rglob("*.py"))


class Map(unittest.TestCase):
    TEXT = (ROOT / "CONTRIBUTING.md").read_text()

    def test_every_path_that_is_named_is_there(self) -> None:
        for path in re.findall(r"`((?:src|docs|tests)/[\w./]+)`", self.TEXT):
            self.assertTrue((ROOT / path).exists(), path)

    def test_every_room_is_on_the_map(self) -> None:
        for room in SOURCES.iterdir():
            if (room / "__init__.py").is_file():
                self.assertIn(f"| `src/metrograph/{room.name}/` |", self.TEXT)


class Sizes(unittest.TestCase):
    def test_no_module_is_too_long_and_no_room_too_full(self) -> None:
        for module in MODULES:
            # The probe is copied to other systems, so it is one file.
            self.assertLess(module.read_text().count("\n"), 560 if module.name == "probe.py" else 350, module)
        for folder in {module.parent for module in MODULES}:
            rooms = [path for path in folder.glob("*.py") if path.name != "__init__.py"]
            self.assertLessEqual(len(rooms), 12, folder)

    def test_every_module_says_why_it_exists(self) -> None:
        for module in MODULES:
            told = ast.get_docstring(ast.parse(module.read_text())) or ""
            self.assertRegex(told, r"^[A-Z][^\n]{11,}", module)


class Words(unittest.TestCase):
    ROWS: ClassVar = [
        [cell.strip() for cell in line.split("|")[1:5]]
        for line in (ROOT / "docs/glossary.md").read_text().partition("## Names")[0].splitlines()
        if line.startswith("| ") and not line.startswith("| word ")
    ]

    def test_every_word_is_explained_once(self) -> None:
        words = [row[0] for row in self.ROWS]
        self.assertEqual(len(set(words)), len(words))

    def test_words_that_are_not_ours_stand_nowhere(self) -> None:
        banned = {word.strip() for row in self.ROWS for word in row[2].split(",") if word.strip()}
        self.assertLessEqual({"doubt", "spill", "hub", "likeness", "journal"}, banned)
        pattern = re.compile(rf"(?<![A-Za-z])({'|'.join(map(re.escape, sorted(banned)))})s?(?![A-Za-z])", re.IGNORECASE)
        renamed = re.compile(r'rename=\{.*?\}|"(?:rival_)?likeness"', re.DOTALL)
        for module in MODULES:
            found = pattern.search(renamed.sub("", module.read_text()))
            self.assertIsNone(found, f"{Path(module).relative_to(ROOT)}: {found}")

    def test_a_name_means_one_thing(self) -> None:
        modules = Counter(module.stem for module in MODULES if module.name != "__init__.py")
        classes = Counter(
            node.name.lstrip("_")
            for module in MODULES
            for node in ast.walk(ast.parse(module.read_text()))
            if isinstance(node, ast.ClassDef)
        )
        self.assertEqual([name for names in (modules, classes) for name, count in names.items() if count > 1], [])
