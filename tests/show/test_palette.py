"""The palette as a colour library sees it: for eyes that lack a kind of cone, and for grey print."""

import unittest
from itertools import combinations, pairwise, permutations

from coloraide import Color

from metrograph.show.palette import PHASE_COLOURS, colours, pale

EYES = (None, "protan", "deutan", "tritan")
"""All cones; without those for long, middle, and short waves."""

ORDER = ("boot", "live", "questions", "copy", "restart", "setup", "desktop", "update")


def seen(colour: str, eye: str | None = None) -> Color:
    """A colour as an eye sees it."""
    return Color(colour) if eye is None else Color(colour).filter(eye, method="machado")


def apart(one: Color, other: Color) -> float:
    """How far two colours lie apart to the eye: two hundredths can just be told apart."""
    return one.distance(other, space="oklab")


def lightness(colour: str) -> float:
    """How light it prints in grey, 0 to 1."""
    return Color(colour).convert("oklab")["lightness"]


class Palette(unittest.TestCase):
    def test_every_eye_tells_any_two_phases_apart(self) -> None:
        for eye in EYES:
            for one, other in combinations(PHASE_COLOURS, 2):
                between = apart(seen(PHASE_COLOURS[one], eye), seen(PHASE_COLOURS[other], eye))
                self.assertGreaterEqual(between, 0.08, (eye, one, other))

    def test_no_phase_looks_like_the_waiting_of_another(self) -> None:
        for eye in EYES:
            for one, other in permutations(PHASE_COLOURS, 2):
                between = apart(seen(PHASE_COLOURS[one], eye), seen(pale(PHASE_COLOURS[other]), eye))
                self.assertGreaterEqual(between, 0.03, (eye, one, other))

    def test_phases_that_follow_each_other_differ_in_grey_print(self) -> None:
        for one, other in [*pairwise(ORDER), ("desktop", "tour"), ("setup", "tour")]:
            between = abs(lightness(PHASE_COLOURS[one]) - lightness(PHASE_COLOURS[other]))
            self.assertGreaterEqual(between, 0.05, (one, other))

    def test_every_phase_stands_out_from_the_paper(self) -> None:
        for name, colour in PHASE_COLOURS.items():
            self.assertGreaterEqual(apart(seen(colour), seen("#ffffff")), 0.15, name)

    def test_every_phase_has_a_colour_and_own_ones_get_others(self) -> None:
        found = colours(["boot", "workshop", "kettle"])
        self.assertEqual(found["boot"], PHASE_COLOURS["boot"])
        self.assertEqual(len(set(found.values())), 3)

    def test_pale_goes_towards_the_paper(self) -> None:
        self.assertEqual((pale("#000000", "#ffffff", 0.5), pale("#123456", share=0)), ("#7f7f7f", "#123456"))
