"""The same card is the same machine: what it says is kept, what it leaves open is named, what cannot be is said."""

from __future__ import annotations

import unittest
from itertools import pairwise
from pathlib import Path
from unittest import mock

from metrograph.core.errors import MetrographError
from metrograph.machine.build import build_of
from metrograph.machine.command_words import MachineFolder, command_of
from metrograph.run.cards import Rig
from metrograph.words.machine_words import kept_lines, machine_line

FOLDER = MachineFolder(Path("/disks"), Path("/sockets"))
WHOLE = Rig(
    kind="virtual", firmware="bios", processors=4, memory=4 << 30, disk=25 << 30, graphics="virtio", network="none", display="1280x800"
)  # fmt: skip


class Builds(unittest.TestCase):
    def test_what_a_card_says_is_kept_and_nothing_is_left_open(self) -> None:
        build = build_of("bench-vm", WHOLE)
        self.assertEqual(list(kept_lines("bench-vm", build)), [])
        self.assertEqual(
            machine_line(build, True),
            "4 processors, memory 4 GiB, disk 25 GiB, BIOS, 1280x800, no network, accelerated",
        )

    def test_what_is_left_open_and_what_cannot_be_is_named(self) -> None:
        card = Rig(memory=(4 << 30) + 1, disk=25 << 30, graphics="Tinsel 3", display="large", secure_boot=True)
        open_, unkept = kept_lines("bench-vm", build_of("bench-vm", card))
        self.assertEqual(
            open_,
            "the card of bench-vm leaves open, and so is taken: firmware: bios; processors: 2; network: one of its own",
        )
        self.assertEqual(
            unkept,
            "the card of bench-vm says what such a machine cannot be: graphics: Tinsel 3, standard instead;"
            " display: large, 1280x800 instead; secure boot, as its firmware is not UEFI; memory to the byte: whole MiB",
        )

    def test_a_card_that_lacks_what_a_machine_needs_is_refused_with_what_mends_it(self) -> None:
        with self.assertRaisesRegex(
            MetrographError, "nothing of disk; “metrograph rig new bench-vm --update --disk SIZE”"
        ):
            build_of("bench-vm", Rig(memory=1 << 30))
        with self.assertRaisesRegex(MetrographError, "bench-vm is a physical machine"):
            build_of("bench-vm", Rig(kind="physical", memory=1 << 30, disk=1 << 30))

    def test_a_network_is_taken_away_only_where_the_card_says_nothing_else(self) -> None:
        for said, there in (("none", False), ("No network", False), ("wired, no wifi", True), (None, True)):
            self.assertIs(build_of("x", Rig(memory=1 << 30, disk=1 << 30, network=said)).network, there)


class Commands(unittest.TestCase):
    def words(self, card: Rig, image: str = "/images/a,b.iso") -> list[str]:
        return command_of(build_of("bench-vm", card), FOLDER, Path(image))

    def test_every_fact_of_the_card_is_in_the_command(self) -> None:
        words = self.words(WHOLE)
        pairs = list(pairwise(words))
        for pair in (
            ("-smp", "4"), ("-m", "4096M"), ("-nic", "none"), ("-device", "virtio-vga,edid=on,xres=1280,yres=800"), ("-accel", "kvm")
        ):  # fmt: skip
            self.assertIn(pair, pairs)

    def test_the_image_is_only_read_and_the_disk_is_booted_before_it(self) -> None:
        words = self.words(WHOLE)
        self.assertIn("driver=raw,node-name=medium,read-only=on,file.driver=file,file.filename=/images/a,,b.iso", words)
        self.assertIn("virtio-blk-pci,drive=disk,bootindex=0,id=disk0", words)
        self.assertIn("ide-cd,drive=medium,bootindex=1,id=medium0", words)

    def test_nothing_is_reached_from_outside(self) -> None:
        words = " ".join(self.words(WHOLE))
        self.assertIn("unix:/sockets/display,share=force-shared", words)
        self.assertNotRegex(words, r"tcp|hostfwd|0\.0\.0\.0|:59|virtfs|smb")

    def test_uefi_keeps_its_variables_in_the_machines_own_folder(self) -> None:
        card = Rig(firmware="uefi", memory=1 << 30, disk=1 << 30)
        with mock.patch("metrograph.machine.command_words.firmware_of", return_value=(Path("/code"), Path("/fresh"))):
            words = self.words(card)
        self.assertIn("if=pflash,unit=0,format=raw,readonly=on,file=/code", words)
        self.assertIn("if=pflash,unit=1,format=raw,file=/disks/variables.fd", words)
        with (
            mock.patch("metrograph.machine.command_words._FIRMWARE", ()),
            self.assertRaisesRegex(MetrographError, "no UEFI firmware"),
        ):
            self.words(card)


if __name__ == "__main__":
    unittest.main()
