"""What a text is made for: how wide, with colours or not, for a person's eyes or for another program."""

from __future__ import annotations

import msgspec
from rich.color import ColorSystem
from rich.style import Style

from metrograph.present.safe import in_ascii


class Paper(msgspec.Struct, frozen=True):
    """How something is going to be shown.

    width: columns.
    colours: how many the terminal has; None for no colour at all.
    plain: only ASCII can be shown.
    piped: a program reads it: full texts, tabs between columns.
    """

    width: int = 80
    colours: ColorSystem | None = None
    plain: bool = False
    piped: bool = False

    def ink(self, text: str, colour: str | None = None, bold: bool = False, dim: bool = False) -> str:
        """The text in a colour or weight, where the paper has such; otherwise as it is."""
        if self.colours is None or not text:
            return text
        return Style(color=colour, bold=bold or None, dim=dim or None).render(text, color_system=self.colours)

    def heading(self, text: str) -> str:
        """A line that opens a section."""
        return self.ink(text, bold=True)

    def finish(self, text: str) -> str:
        """What is printed in the end: in ASCII where the terminal has nothing else."""
        return in_ascii(text) if self.plain else text
