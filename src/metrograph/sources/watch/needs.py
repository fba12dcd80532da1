"""Says in one line what has to be installed before anything can be watched."""

from __future__ import annotations

from importlib.util import find_spec

from metrograph.errors import MetrographError

PACKAGES = ("av", "PIL", "tesserocr", "pyte", "cryptography", "textual_image")


def is_there() -> bool:
    """Whether everything is there."""
    return not _missing()


def check_watch() -> None:
    """Raises MetrographError when a package of the extra is missing."""
    missing = _missing()
    if missing:
        raise MetrographError(
            "to read recordings and displays, the extra has to be installed: pip install 'metrograph[watch]'"
            f" (missing: {', '.join(missing)})"
        )


def _missing() -> list[str]:
    return [name for name in PACKAGES if find_spec(name) is None]
