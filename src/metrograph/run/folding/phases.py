"""Says whether a screen moves a run on to another phase, or the phase that it is in holds."""

from __future__ import annotations

_ORDER = ("boot", "live", "questions", "copy", "restart", "setup", "tour", "desktop", "update")
"""The order in which phases come in an installation."""

_BEFORE_THE_DESKTOP = frozenset(_ORDER[: _ORDER.index("tour")])
_STARTS_ANEW = "boot-menu"
UPDATE = "update"
"""The phase, and the task, in which the system is brought up to date."""


def moves_on(kind: str, phase: str, current: str, given: bool, there: bool) -> bool:
    """Whether a screen of this kind, at home in ``phase``, moves a run there from the current one.

    given: whether a person named the current phase. It holds then against screens of the same part and of earlier ones,
        and one with a name of the person's own against all: whoever named it knows better than a title does.
    there: whether the desktop was reached. No title moves a run back before it then: what looks like a question of the
        installer is a window of the desktop's.
    """
    if phase == current:
        return False
    if kind == _STARTS_ANEW and not there:
        return True
    if there and phase in _BEFORE_THE_DESKTOP:
        return False
    return not given or _comes_later(phase, current)


def _comes_later(phase: str, current: str) -> bool:
    known = current in _ORDER and phase in _ORDER
    return known and _ORDER.index(phase) > _ORDER.index(current)
