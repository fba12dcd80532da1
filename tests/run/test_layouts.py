"""Disk layouts: what fills the disk, and each thing that can be wrong with one."""

import unittest

from metrograph.run.cards import Rig
from metrograph.run.disks import Layout, Mismatch, Segment, layout_differences, layout_of, layout_warnings, segments
from metrograph.run.warnings import warnings
from metrograph.show.terminal.terminal_writer import render_disk
from metrograph.show.terminal.text import Medium
from tests.helpers import LEXICON, log_of

GIB = 1 << 30
UEFI = Rig(firmware="uefi", memory=4 * GIB, disk=25 * GIB)


def layout(*fields: str) -> Layout:
    """A layout from its fields."""
    return layout_of(log_of("0:00 layout whole disk\n" + "".join(f"    {field}\n" for field in fields)).cues[0])


SOUND = ("table: gpt", "disk: 25 GiB", "part: /boot/efi fat32 1 GiB", "part: / ext4 20 GiB", "swap: partition 2 GiB")


class Layouts(unittest.TestCase):
    def told(self, *fields: str, rig: Rig = UEFI, sleeps: bool = False) -> list[str]:
        return [message for message, _ in layout_warnings(layout(*fields), rig, sleeps)]

    def test_a_sound_one_has_no_warnings_and_its_rest_is_free(self) -> None:
        self.assertEqual(self.told(*SOUND), [])
        self.assertEqual(
            segments(layout(*SOUND)),
            (
                Segment("/boot/efi", GIB),
                Segment("/", 20 * GIB),
                Segment("swap", 2 * GIB),
                Segment("free", 2 * GIB, free=True),
            ),
        )

    def test_what_is_left_is_free_only_where_every_piece_has_a_size(self) -> None:
        unknown = Segment("unknown", 24 * GIB, known=False)
        self.assertEqual(
            segments(layout("disk: 25 GiB", "part: /boot/efi fat32 1 GiB", "part: / ext4"))[1:],
            (Segment("/", None), unknown),
        )
        self.assertEqual(
            segments(layout("disk: 25 GiB", "part: /boot/efi fat32 1 GiB", "part: / ext4 rest"))[1:],
            (Segment("/", 24 * GIB),),
        )
        self.assertEqual(
            segments(layout("part: / ext4 rest", "part: /home ext4 1 GiB")), (Segment("/", None), Segment("/home", GIB))
        )

    def test_families_of_sizes_that_are_mixed_up_are_told(self) -> None:
        for disk, told in {"25 GB": True, "26.2 GB": True, "27.5 GB": False, "25 GiB": False}.items():
            said = self.told(
                f"disk: {disk}", "part: /boot/efi fat32 1 GiB", "part: / ext4 24 GiB", rig=Rig(firmware="uefi")
            )
            self.assertEqual(any("mixed up" in each for each in said), told, disk)

    def test_what_the_probe_found_differs_beyond_rounding_and_only_where_both_say_it(self) -> None:
        said = layout("part: / ext4 20 GiB", "part: /home ext4", "swap: partition 2 GiB")
        there = layout("part: / ext4 20.1 GiB", "part: /home ext4 9 GiB", "swap: partition 4 GiB")
        found = [(each.said, each.there) for each in layout_differences(said, there)]
        self.assertEqual(found, [("2 GiB", "4 GiB")])

    def test_too_much_for_the_disk(self) -> None:
        self.assertEqual(self.told("disk: 25 GiB", "part: /boot/efi fat32 1 GiB", "part: / ext4 30 GiB"),
                         ["the partitions take 6 GiB more than the disk has"])  # fmt: skip
        self.assertEqual(self.told("part: /boot/efi fat32 1 GiB", "part: / ext4 20 GiB", "swap: file 30 GiB"),
                         ["swap of 30 GiB is larger than the disk"])  # fmt: skip

    def test_slips_with_units(self) -> None:
        self.assertIn("1000 and 1024 look mixed up", self.told("disk: 120 GB", "part: / ext4 120 GiB", rig=Rig())[0])
        self.assertIn("factor of a thousand", self.told("disk: 25 GiB", "part: / ext4 25 MiB", rig=Rig())[0])
        self.assertIn("on the rig's card", self.told("disk: 250 GiB", rig=Rig(disk=25 * GIB))[0])
        self.assertEqual(self.told("disk: 120 GB", "part: / ext4 119.9 GB", rig=Rig(disk=120 * 10**9)), [])

    def test_a_family_is_mixed_up_with_the_other_at_every_size(self) -> None:
        # 1.024 to the power of the prefix: kB, MB, GB and TB are smaller than what counts in 1024s by that much.
        for unit in ("kB", "MB", "GB", "TB"):
            parts = f"part: / ext4 990 {unit[0].upper()}iB"
            (said,) = self.told("table: gpt", f"disk: 990 {unit}", parts, rig=Rig())[:1]
            self.assertIn("1000 and 1024 look mixed up", said, unit)

    def test_swap_has_to_hold_the_memory_only_where_it_sleeps_there(self) -> None:
        small = layout(*SOUND)
        self.assertEqual(layout_warnings(small, UEFI), [])
        self.assertNotEqual(layout_warnings(small, UEFI, sleeps_to_disk=True), [])

    def test_what_is_encrypted_and_was_not_said_to_be_and_the_other_way_round(self) -> None:
        plain, crypt = layout("part: / ext4 20 GiB"), layout("part: / ext4 20 GiB", "crypt: all but the boot partition")
        for said, there, what in ((plain, crypt, Mismatch.ENCRYPTED), (crypt, plain, Mismatch.NOT_ENCRYPTED)):
            self.assertEqual([each.what for each in layout_differences(said, there)], [what])
        self.assertEqual(layout_differences(crypt, crypt), [])

    def test_what_nobody_expected_on_the_disk_is_named(self) -> None:
        found = layout("part: / ext4 20 GiB", "part: /data ext4 2 GiB")
        said = layout("part: / ext4 20 GiB", "part: /home ext4 2 GiB")
        told = [(each.what.value, each.subject) for each in layout_differences(said, found)]
        self.assertEqual([subject for _, subject in told], ["/home", "/data"])

    def test_what_the_firmware_needs(self) -> None:
        self.assertEqual(
            self.told("part: / ext4 20 GiB"), ["the rig boots with UEFI, and there is no partition for it"]
        )
        bios = Rig(firmware="bios")
        self.assertEqual(self.told("table: msdos", "part: / ext4 20 GiB", rig=bios), [])
        self.assertEqual(len(self.told("table: gpt", "part: / ext4 20 GiB", rig=bios)), 1)
        self.assertEqual(self.told("table: gpt", "part: - bios-boot 1 MiB", "part: / ext4 20 GiB", rig=bios), [])
        self.assertEqual(self.told("part: /home ext4 20 GiB", rig=Rig()), ["no partition is mounted at /"])

    def test_words(self) -> None:
        found = layout_warnings(layout("part: / exd4 20 GiB", "part: /hom ext4 1 GiB", "part: /srv/a xfs 1 GiB"), Rig())
        self.assertEqual(
            found,
            [("“exd4” is not a file system that is known", "ext4"), ("“/hom” is not a usual place to mount", "/home")],
        )
        self.assertEqual(
            self.told("part: / ext4 1 GiB", "part: / ext4 2 GiB", rig=Rig()), ["two partitions are mounted at /"]
        )

    def test_sleep_to_disk_needs_swap_as_large_as_the_memory(self) -> None:
        self.assertEqual(len(self.told(*SOUND, sleeps=True)), 1)
        self.assertEqual(len(self.told(*SOUND[:-1], "swap: none", sleeps=True)), 1)
        self.assertEqual(self.told(*SOUND[:-1], "swap: partition 4 GiB", sleeps=True), [])
        self.assertEqual(self.told(*SOUND[:-1], "swap: file", sleeps=True), [])  # its size was not said

    def test_warnings_stand_at_the_line_of_the_layout(self) -> None:
        log = log_of("""
            0:00 screen Disk
            0:01 choose encryption = yes
            0:02 keep hibernation = on
            0:03 layout whole disk
                part: / ext4 20 GiB
                swap: file 1 GiB
            0:04 end done
        """)
        found = warnings(log, LEXICON, Rig(memory=4 * GIB))
        self.assertEqual([(fault.line - 5, fault.expected) for fault in found],
                         [(4, "4 GiB or more"), (4, "crypt: what is encrypted")])  # fmt: skip

    def test_the_bar_is_to_scale_and_shows_every_piece(self) -> None:
        heading, bar, *lines = render_disk(layout(*SOUND), Medium(width=54)).splitlines()
        self.assertEqual(heading, "  whole disk, gpt, 25 GiB")
        self.assertEqual(bar, "  ██" + "▓" * 40 + "████" + "····")
        self.assertEqual(lines, ["  █ /boot/efi fat32 1 GiB", "  ▓ / ext4 20 GiB", "  █ swap 2 GiB", "  · free 2 GiB"])
        tiny = render_disk(layout("part: /boot/efi fat32 1 MiB", "part: / ext4 900 GiB"), Medium()).splitlines()[1]
        self.assertEqual(tiny, "  █" + "▓" * 75)
        self.assertEqual(render_disk(Layout("by hand"), Medium()), "  by hand\n")
