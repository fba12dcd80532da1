"""Says how sure a title is: of what is said with 0.9, nine in ten are right."""

from __future__ import annotations

from itertools import pairwise

from metrograph.sources.watch.screens.spans import Span

# Evidence, as ``evidence`` weighs it, against the part of titles that were right: a monotone regression over looks
# of painted films that no rule was set on (``python -m bench.watching calibrate``).
_STEPS = (
    (-9.0, 0.02), (0.5, 0.2), (0.8, 0.5), (1.2, 0.65), (1.5, 0.72), (1.7, 0.88), (1.9, 0.95), (2.4, 0.97), (4.0, 0.98)
)  # fmt: skip
_NO_BUTTON = 1.0  # off where nothing can be pressed: a desktop has lines, and none of them is a title
UNKNOWN = 0.5
"""Below it a screen is said to be there, and its title is not."""
WAIT = 0.9
"""How sure a wait without a title is: that nothing stood there can be seen."""


def evidence(span: Span) -> float:
    """What speaks for a title: its points, how far the next line is behind, how well it was read."""
    unpressed = _NO_BUTTON if not span.pressed and not span.waiting else 0.0
    return -unpressed + 0.5 * min(span.points, 3.0) + 0.5 * min(span.margin, 1.5) + 2.0 * (span.read - 0.9)


def sure_of(span: Span) -> float:
    """How sure a span's title is, 0 to 1."""
    if span.known is not None:
        return span.known
    if not span.title:
        return WAIT if span.waiting else 0.0
    value = evidence(span)
    for (low, from_), (high, to) in pairwise(_STEPS):
        if value <= high:
            return round(from_ + (to - from_) * max(value - low, 0) / (high - low), 2)
    return _STEPS[-1][1]
