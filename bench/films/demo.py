"""Makes the demo's recordings: the final Larkmoor 9.0 on the bench as a film, Osterby's questions as a terminal's record."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from msgspec.structs import replace

from bench.films.film import film
from bench.films.painter import Screen
from bench.films.story import Shown
from bench.films.themes import Theme, draw_theme, faces

_BEFORE = ("Language", "Where should it go?", "Extra drivers", "Write the changes?", "Copying files", "Finished")
_AFTER = ("Where are you?", "Keyboard", "Your account")
_TOUR = ("Welcome", "Light or dark?", "Snapshots", "Privacy", "Backups")
_BOOT = tuple(f"[    {number / 9:.6f}] device {number}: ready, irq {number % 16}" for number in range(30, 90))
_SLIDES = ("Find your files", "Write letters and more", "Pictures from your holidays", "Help is never far away")


class _Story:
    """Screens one after the other, each for some seconds."""

    def __init__(self) -> None:
        self.now = 0.0
        self.shown: list[Shown] = []
        self.pointer = (620, 540)

    def show(self, screen: Screen, seconds: float) -> None:
        """Something to be seen; the pointer moves a little first."""
        if screen.pointer is None and not (screen.black or screen.console):
            for step in range(2):
                self.pointer = (self.pointer[0] - 30 * (-1) ** len(self.shown), self.pointer[1] + 8 - 5 * step)
                self.add(replace(screen, pointer=self.pointer), 0.5)
            seconds -= 1.0
            screen = replace(screen, pointer=self.pointer)
        self.add(screen, seconds)

    def add(self, screen: Screen, seconds: float) -> None:
        """Something to be seen, as it is."""
        self.shown.append((self.now, replace(screen, minute=10 + int(self.now // 60) % 50)))
        self.now += seconds

    def boot(self, seconds: float) -> None:
        """A machine that starts."""
        self.show(Screen(black=True), 3)
        for count in range(6, len(_BOOT), 6):
            self.show(Screen(console=_BOOT[:count]), 1)
        self.show(Screen(black=True), seconds - 12)


def _page(
    title: str, steps: tuple[str, ...], label: str, items: tuple[str, ...], control: str, picked: int = 0
) -> Screen:
    return Screen(title, title, label, items, control, steps.index(title) if title in steps else 0, steps, picked)


def tell() -> _Story:
    """The installation from power-on to the end of the tour."""
    story = _Story()
    story.show(
        _page(
            "Boot menu",
            (),
            "Press Enter to start.",
            ("Start the live session", "Check the medium", "Memory test"),
            "list",
        ),
        6,
    )
    story.boot(54)
    story.show(Screen(desktop=True), 30)
    language = _page(
        "Language",
        _BEFORE,
        "In which language should the system speak?",
        ("English (UK)", "English (US)", "Deutsch", "Français"),
        "list",
        1,
    )
    story.show(language, 5)
    story.show(replace(language, picked=0), 4)
    disk = _page(
        "Where should it go?",
        _BEFORE,
        "The disk has 25 GiB and is empty.",
        ("Whole disk", "Beside another system", "By hand"),
        "radios",
    )
    story.show(disk, 14)
    drivers = _page(
        "Extra drivers", _BEFORE, "No device of this machine needs one.", ("Look for drivers again",), "checks", -1
    )
    story.show(drivers, 5)
    story.show(disk, 6)  # back once, to look at the swap
    story.show(drivers, 4)
    warning = _page(
        "Write the changes?",
        _BEFORE,
        "The disk will be erased.",
        ("Partition table: GPT", "/boot/efi: 512 MiB", "/: 24.5 GiB", "Swap: a file of 4 GiB"),
        "paragraphs",
    )
    story.show(warning, 5)
    story.show(replace(warning, dialog=("Are you sure?", "All data on this disk will be lost.", "Yes", "No")), 4)
    copying = _page(
        "Copying files",
        _BEFORE,
        "This takes a few minutes.",
        ("Unpacking the base system", "Copying the desktop", "Configuring packages", "Writing the boot loader"),
        "progress",
    )
    for step in range(120):
        story.add(replace(copying, share=step / 120, slide=_SLIDES[step // 30]), 4)
    story.show(
        _page(
            "Finished", _BEFORE, "Remove the medium and restart.", ("Restart now", "Stay in the live session"), "radios"
        ),
        7,
    )
    story.boot(52)
    story.show(
        _page(
            "Where are you?", _AFTER, "Choose the place that is nearest to you.", ("Lisbon", "Porto", "Faro"), "combo"
        ),
        8,
    )
    story.show(
        _page(
            "Keyboard", _AFTER, "Type here to test the layout:", ("English (UK)", "English (US)", "Portuguese"), "list"
        ),
        6,
    )
    account = _page(
        "Your account",
        _AFTER,
        "This name is used to log in.",
        ("Your name", "User name", "Password", "Repeat it"),
        "fields",
    )
    for number in range(4):
        for length in range(1, 8):
            account = replace(account, typed=(*account.typed[:number], "Wren Ashby"[:length]))
            story.add(account, 0.5)
    story.show(replace(account, error="The two passwords do not match."), 6)
    story.show(account, 5)
    story.show(_page("Log in", (), "Wren", ("Password",), "fields"), 8)
    story.show(Screen(black=True), 3)
    story.show(Screen(desktop=True), 28)
    for title, label, items, control in (
        ("Welcome", "Five steps, and the desktop is yours.", ("Take the tour", "Skip it"), "radios"),
        ("Light or dark?", "It can be changed at any time.", ("Light", "Dark"), "radios"),
        ("Snapshots", "When should one be made?", ("Before updates", "Every day", "Never"), "radios"),
        ("Privacy", "Help to make it better.", ("Send usage reports",), "checks"),
        ("Backups", "Where should your files be kept twice?", ("On a disk of your own", "Nowhere"), "radios"),
    ):
        story.show(_page(title, _TOUR, label, items, control), 7)
    story.show(Screen(desktop=True), 14)
    return story


def look() -> Theme:
    """Larkmoor's look."""
    return replace(
        draw_theme(1), size=(1024, 768), tongue="en", font=faces()[0][0], bold=faces()[0][1], letters=17, heading_letters=26,
        heading_bold=True, desk=(52, 84, 92), ground=(243, 241, 236), field=(255, 255, 255), ink=(38, 42, 46), faint=(150, 150, 146),
        accent=(38, 110, 120), banner=(38, 110, 120), heading="content", steps="none", window=False, text_mode=False, buttons="right",
        flat_buttons=False, clock=False, pointer=True, half_painted=False, rate=2, quality=30,
    )  # fmt: skip


# What Osterby asks, how long its reviewer thinks, what is typed, how long the machine then works.
_OSTERBY = (
    ("Which language? [en_US] ", 4, "en_GB", 1), ("Which keyboard layout? [us] ", 6, "uk", 1), ("Host name? ", 5, "shed", 2),
    ("Package mirror (1 first of the list, 2 pick one) [1]: ", 9, "2", 21), ("Which disk? [vda] ", 7, "", 1),
    ("Partitions (1 whole disk, 2 by hand) [1]: ", 17, "1", 2), ("A user account? [y/N] ", 4, "y", 1), ("User name: ", 6, "wren", 1),
    ("Password: ", 5, None, 1), ("Ready to install? [y/N] ", 6, "y", 62), ("Restart now? [Y/n] ", 4, "y", 3),
)  # fmt: skip


def cast(path: Path) -> None:
    """Writes Osterby's questions as an asciicast; what is typed as a password is not shown."""
    now, events = 0.6, [[0.2, "o", "Osterby 2026.1 setup\r\n"]]
    for question, thinking, typed, working in _OSTERBY:
        events.append([now, "o", question])
        now += thinking
        events.append([now, "o", f"{typed or ''}\r\n"])
        for step in range(working):
            now += 1
            events.append([now, "o", f"  {step + 1} of {working} done\r\n" if working > 2 else ""])
    lines = [json.dumps({"version": 2, "width": 80, "height": 25}), *map(json.dumps, events)]
    path.write_text("\n".join(lines) + "\n")


if __name__ == "__main__":
    folder = Path(sys.argv[1])
    told = tell()
    film(look(), told.shown, told.now, folder / "larkmoor-9.0-heron.mp4")
    cast(folder / "osterby-2026.1.cast")
    last = None
    for moment, screen in told.shown:
        if screen.title != last:
            print(f"{moment:7.1f}  {screen.title or ('desktop' if screen.desktop else 'black')}")
            last = screen.title
