"""Modules that come with an extra: loaded where they are wanted, and missed in a sentence that says how to get them."""

from __future__ import annotations

from importlib import import_module
from typing import Any

from metrograph.errors import MetrographError


def needs(module: str, extra: str) -> Any:
    """A module that comes with an extra; raises MetrographError that says how to get it."""
    try:
        return import_module(module)
    except ImportError as error:
        raise MetrographError(f"this needs what “pip install 'metrograph[{extra}]'” installs") from error
