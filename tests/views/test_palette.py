"""The palette, by computation: for eyes that lack a kind of cone, and for grey print."""

import unittest
from itertools import combinations, pairwise, permutations

import numpy as np
import numpy.typing as npt

from metrograph.views.palette import PHASE_COLOURS, colours, pale

Numbers = npt.NDArray[np.float64]
# Machado, Oliveira and Fernandes (2009): what is left of a colour, in linear light, where one kind of cone is missing.
EYES = {
    "all cones": np.eye(3),
    "no long": np.array([[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216], [-0.003882, -0.048116, 1.051998]]),
    "no middle": np.array([[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413], [-0.011820, 0.042940, 0.968881]]),
    "no short": np.array([[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602], [0.004733, 0.691367, 0.303900]]),
}  # fmt: skip
# Ottosson's Lab (2020): a space in which distances are what they look like; two hundredths can just be told apart.
CONES = np.array([[0.4122214708, 0.5363325363, 0.0514459929], [0.2119034982, 0.6806995451, 0.1073969566], [0.0883024619, 0.2817188376, 0.6299787005]])  # fmt: skip
LAB = np.array([[0.2104542553, 0.7936177850, -0.0040720468], [1.9779984951, -2.4285922050, 0.4505937099], [0.0259040371, 0.7827717662, -0.8086757660]])  # fmt: skip
ORDER = ("boot", "live", "questions", "copy", "restart", "setup", "desktop", "update")


def seen(colour: str, eye: Numbers) -> Numbers:
    """Where a colour lies in the perceptual space for an eye."""
    values = np.array([int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)])
    linear = np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4)
    return np.asarray(LAB @ np.cbrt(CONES @ np.clip(eye @ linear, 0, 1)))


class Palette(unittest.TestCase):
    def test_black_and_white_lie_where_they_should(self) -> None:
        np.testing.assert_allclose(seen("#ffffff", EYES["all cones"]), [1, 0, 0], atol=1e-3)
        np.testing.assert_allclose(seen("#000000", EYES["no long"]), [0, 0, 0], atol=1e-9)
        # Red and green of one lightness, which an eye without middle cones can hardly tell apart.
        red, green = (seen(colour, EYES["no middle"]) for colour in ("#b8601c", "#7f7f19"))
        self.assertLess(float(np.linalg.norm(red - green)), 0.06)

    def test_every_eye_tells_any_two_phases_apart(self) -> None:
        for name, eye in EYES.items():
            for one, other in combinations(PHASE_COLOURS, 2):
                apart = float(np.linalg.norm(seen(PHASE_COLOURS[one], eye) - seen(PHASE_COLOURS[other], eye)))
                self.assertGreaterEqual(apart, 0.08, (name, one, other))

    def test_no_phase_looks_like_the_waiting_of_another(self) -> None:
        for name, eye in EYES.items():
            for one, other in permutations(PHASE_COLOURS, 2):
                apart = seen(PHASE_COLOURS[one], eye) - seen(pale(PHASE_COLOURS[other]), eye)
                self.assertGreaterEqual(float(np.linalg.norm(apart)), 0.03, (name, one, other))

    def test_phases_that_follow_each_other_differ_in_grey_print(self) -> None:
        grey = {name: float(seen(colour, EYES["all cones"])[0]) for name, colour in PHASE_COLOURS.items()}
        for one, other in [*pairwise(ORDER), ("desktop", "tour"), ("setup", "tour")]:
            self.assertGreaterEqual(abs(grey[one] - grey[other]), 0.05, (one, other))

    def test_every_phase_stands_out_from_the_paper(self) -> None:
        for name, colour in PHASE_COLOURS.items():
            self.assertGreaterEqual(float(np.linalg.norm(seen(colour, EYES["all cones"]) - [1, 0, 0])), 0.15, name)

    def test_every_phase_has_a_colour_and_own_ones_get_others(self) -> None:
        found = colours(["boot", "workshop", "kettle"])
        self.assertEqual(found["boot"], PHASE_COLOURS["boot"])
        self.assertEqual(len(set(found.values())), 3)

    def test_pale_goes_towards_the_paper(self) -> None:
        self.assertEqual((pale("#000000", "#ffffff", 0.5), pale("#123456", share=0)), ("#808080", "#123456"))
