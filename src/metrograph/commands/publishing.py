"""Keeps personal values out of what is shown to others, unless they are asked for."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, TypeVar

import typer

from metrograph.commands.environment import Environment
from metrograph.model.runs import Run

PersonalOption = Annotated[
    bool, typer.Option("--show-personal", help="Names, hosts and addresses as they are, not masked.")
]
T = TypeVar("T")


def published(environment: Environment, runs: Sequence[Run], record: T, show_personal: bool, hidden: int = 0) -> T:
    """A result as others may see it; says on standard error how much was masked.

    runs: those that it was made from; hidden: how many places were masked before.
    """
    return counted(environment, runs, record, show_personal, hidden)[0]


def counted(
    environment: Environment, runs: Sequence[Run], record: T, show_personal: bool, hidden: int = 0
) -> tuple[T, int]:
    """The same, and how many places were masked."""
    if show_personal:
        return record, 0
    from metrograph.analysis.personal import Mask

    mask = Mask(runs)
    clean = mask.apply(record)
    hidden += mask.hidden
    if hidden:
        places = "one place" if hidden == 1 else f"{hidden} places"
        environment.warn(f"personal values are masked in {places}; --show-personal shows them")
    return clean, hidden
