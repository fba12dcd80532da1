"""Student's distribution for whole degrees of freedom, in closed form: a library takes half a second to load.

The sums are those of Abramowitz and Stegun, Handbook of Mathematical Functions (1964), 26.7.3 and 26.7.4.
"""

from __future__ import annotations

from functools import lru_cache
from math import atan, cos, pi, sin, sqrt, tan

_HALVINGS = 60  # of a quarter of a turn: beyond that, floating-point numbers do not tell angles apart


def within(t: float, degrees_of_freedom: int) -> float:
    """How likely a value lies no further from nothing than ``t``, at least 0. degrees_of_freedom: 1 or more."""
    return _within_angle(atan(t / sqrt(degrees_of_freedom)), degrees_of_freedom)


@lru_cache(256)
def reach(share: float, degrees_of_freedom: int) -> float:
    """How far from nothing a share of all values lies at the most, 0 to below 1: found by halving the angle."""
    low, high = 0.0, pi / 2
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        low, high = (middle, high) if _within_angle(middle, degrees_of_freedom) < share else (low, middle)
    return sqrt(degrees_of_freedom) * tan(low)


def _within_angle(angle: float, degrees_of_freedom: int) -> float:
    cosine, odd = cos(angle), degrees_of_freedom % 2
    term = cosine if odd else 1.0
    total = 0.0 if degrees_of_freedom == 1 else term
    for step in range(2 + odd, degrees_of_freedom - 1, 2):
        term *= (step - 1) / step * cosine * cosine
        total += term
    return 2 / pi * (angle + sin(angle) * total) if odd else sin(angle) * total
