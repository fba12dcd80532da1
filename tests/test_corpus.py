"""Inputs that a reader once could not bear, or that somebody made to hurt it, given to it again."""

import unittest

from bench.fuzzing import CORPUS, DOORS, changed, given, inputs_of
from hypothesis import given as for_all
from hypothesis import settings
from hypothesis import strategies as st


class Corpus(unittest.TestCase):
    def test_what_was_made_to_hurt_is_borne(self) -> None:
        tried = 0
        for name, door in DOORS.items():
            for path in sorted((CORPUS / name).glob("*")):
                wrong, _ = given(door, path.read_bytes(), timed=False)
                self.assertEqual(wrong, "", path)
                tried += 1
        self.assertGreater(tried, 20)

    @settings(max_examples=60, deadline=None)
    @for_all(st.sampled_from(sorted(DOORS)), st.randoms(use_true_random=False))
    def test_so_is_what_comes_of_it_by_chance(self, name: str, chance: object) -> None:
        data = changed(chance, DOORS[name], inputs_of(name))  # type: ignore[arg-type]
        self.assertEqual(given(DOORS[name], data, timed=False)[0], "", data[:300])


if __name__ == "__main__":
    unittest.main()
