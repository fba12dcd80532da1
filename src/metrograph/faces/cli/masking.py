"""Keeps personal values out of what is shown to others, unless they are asked for."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, TypeVar

from metrograph.faces.cli.environment import Environment

if TYPE_CHECKING:
    from metrograph.privacy.mask import Known

T = TypeVar("T")


def masked(environment: Environment, runs: Iterable[Known], record: T, show_personal: bool) -> T:
    """A result as others may see it; says on standard error how much was masked.

    runs: those that it was made from.
    """
    return masked_and_counted(environment, runs, record, show_personal)[0]


def masked_and_counted(
    environment: Environment, runs: Iterable[Known], record: T, show_personal: bool
) -> tuple[T, int]:
    """A result as others may see it, and in how many places it was masked."""
    if show_personal:
        return record, 0
    from metrograph.privacy.mask import Mask

    mask = Mask(runs)
    clean = mask.apply(record)
    if mask.hidden:
        places = "one place" if mask.hidden == 1 else f"{mask.hidden} places"
        environment.warn(f"personal values are masked in {places}; --show-personal shows them")
    return clean, mask.hidden
