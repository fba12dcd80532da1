"""What others usually take on a screen, on a rig like one's own: beside the clock while a run is recorded."""

from __future__ import annotations

from collections.abc import Mapping

import msgspec

from metrograph.archive.answers import Like
from metrograph.archive.place import Place
from metrograph.archive.querying import opened


class Usual(msgspec.Struct, frozen=True):
    """How long others take, in seconds: of the medians of reviewers the quartiles, and how many there are."""

    low: float
    middle: float
    high: float
    reviewers: int


ScreenName = tuple[str, bool]
"""The title of a screen in small letters, and whether it comes after the restart."""

_USUAL = """
WITH voices AS (
    SELECT lower(s.title) AS title, s.late, voice(r.reviewer, r.log) AS voice,
        median(middle(on_clock_low, on_clock_high)) AS took
    FROM screens s JOIN runs r USING (log) WHERE r.distribution = ? AND on_clock_low > 0 AND {condition} GROUP BY ALL
)
SELECT title, late, quantile_cont(took, 0.25), median(took), quantile_cont(took, 0.75), count(*)
FROM voices GROUP BY ALL
"""


def usual_in(place: Place, distribution: str, like: Like, own: str) -> Mapping[ScreenName, Usual]:
    """What others take on each screen of a distribution's installer; empty where nobody is alike. See ``opened``."""
    condition, values = like.condition
    with opened(place, own, ("runs", "screens")) as connection:
        rows = connection.execute(_USUAL.format(condition=condition), [distribution, *values]).fetchall()
    return {(row[0], bool(row[1])): Usual(float(row[2]), float(row[3]), float(row[4]), row[5]) for row in rows}
