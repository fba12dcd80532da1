"""A comparison in short, as it is shown unless all is asked for."""

from __future__ import annotations

import msgspec

from metrograph.present.report import model as m
from metrograph.present.report.comparing.comparison import comparison_report
from metrograph.present.report.comparing.material import Material

_MOST_CHANGES = 10
"""Changes that are told where not all are asked for."""


def brief_report(material: Material, most: int | None = None) -> m.Report:
    """A comparison in short: the answer, why to read with care, timelines, what changed most, and trouble."""
    whole = comparison_report(material, most)
    kept = {"Read with care", "Releases", "", "Issues", "Beside others"}
    parts: list[m.Section | m.Sections] = []
    for part in whole.parts:
        if isinstance(part, m.Sections) and part.heading == "What changed":
            parts.append(m.Sections(part.heading, tuple(map(_first_changes, part.sections))))
        elif isinstance(part, m.Section) and part.heading in kept:
            parts.append(part)
    note = "--all shows screens side by side, all changes, times, effort, what may be concluded, readings and trials."
    return msgspec.structs.replace(whole, parts=(*parts, *m.section("", m.Lines((note,), 0))))


def _first_changes(section: m.Section) -> m.Section:
    """The changes that matter most, which come first, and how many more there are."""
    lines = [line for block in section.blocks if isinstance(block, m.Lines) for line in block.lines]
    more = [f"and {len(lines) - _MOST_CHANGES} more"] if len(lines) > _MOST_CHANGES else []
    return msgspec.structs.replace(section, blocks=(m.Lines((*lines[:_MOST_CHANGES], *more)),))
