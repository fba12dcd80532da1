"""Words the command that starts a machine: every device by name, none that the monitor would add by itself."""

from __future__ import annotations

from pathlib import Path

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.machine.build import Adapter, Build

PROGRAM, DISK_PROGRAM = "qemu-system-x86_64", "qemu-img"
_FIRMWARE = (Path("/usr/share/OVMF"), Path("/usr/share/edk2/x64"), Path("/usr/share/qemu"))
_CODE = {
    False: (
        ("OVMF_CODE_4M.fd", "OVMF_VARS_4M.fd"),
        ("OVMF_CODE.4m.fd", "OVMF_VARS.4m.fd"),
        ("OVMF_CODE.fd", "OVMF_VARS.fd"),
    ),
    True: (("OVMF_CODE_4M.ms.fd", "OVMF_VARS_4M.ms.fd"), ("OVMF_CODE.secboot.fd", "OVMF_VARS.ms.fd")),
}
"""By whether it boots securely: the firmware and its fresh variables, as they are called where they come from."""
_ADAPTER: dict[Adapter, str] = {"standard": "VGA", "virtio": "virtio-vga", "qxl": "qxl-vga"}
_SIZED = ("standard", "virtio")  # those that tell a guest how large the display is


class MachineFolder(msgspec.Struct, frozen=True):
    """The files of one machine.

    path: where its disk lies; sockets: where it is reached, which nobody else may read, as whoever reaches it commands
    it. The names of sockets are bounded to about a hundred letters, so that they lie elsewhere.
    """

    path: Path
    sockets: Path

    @property
    def disk(self) -> Path:
        """The disk, which grows as it is written to."""
        return self.path / "disk.qcow2"

    @property
    def variables(self) -> Path:
        """What the firmware remembers."""
        return self.path / "variables.fd"

    @property
    def control(self) -> Path:
        """Where the machine is commanded and asked."""
        return self.sockets / "control"

    @property
    def display(self) -> Path:
        """Where its display is looked at."""
        return self.sockets / "display"

    @property
    def serial(self) -> Path:
        """Where its serial line speaks."""
        return self.sockets / "serial"


def firmware_of(build: Build) -> tuple[Path, Path] | None:
    """The firmware's code and its fresh variables; None for BIOS, which the monitor brings.

    Raises MetrographError where none is installed.
    """
    if build.firmware == "bios":
        return None
    for folder in _FIRMWARE:
        for code, variables in _CODE[build.secure_boot]:
            if (folder / code).is_file() and (folder / variables).is_file():
                return folder / code, folder / variables
    how = " with secure boot" if build.secure_boot else ""
    raise MetrographError(
        f"there is no UEFI firmware{how} for virtual machines here; on Debian, the package ovmf has it"
    )


def command_of(build: Build, folder: MachineFolder, image: Path) -> list[str]:
    """The command, word by word. image: the medium, which it only reads, and boots while its disk is empty."""
    width, height = build.display
    fast = ("-accel", "kvm") if build.accelerated else ()
    sized = f",edid=on,xres={width},yres={height}" if build.adapter in _SIZED else ""
    return [
        PROGRAM, "-nodefaults", "-no-user-config", "-name", "metrograph", "-sandbox", "on,spawn=deny",
        "-machine", f"q35,smm={'on' if build.secure_boot else 'off'}", *fast, "-accel", "tcg",
        "-cpu", "max", "-smp", str(build.processors), "-m", f"{build.memory >> 20}M",
        "-rtc", "base=utc", "-device", "virtio-rng-pci",
        "-device", f"{_ADAPTER[build.adapter]}{sized}",
        "-device", "qemu-xhci", "-device", "usb-tablet", "-device", "usb-kbd",
        "-audiodev", "none,id=silent", "-device", "intel-hda", "-device", "hda-duplex,audiodev=silent",
        *_drives(build, folder, image),
        *(("-nic", "user,model=virtio-net-pci") if build.network else ("-nic", "none")),
        "-display", "none", "-vnc", f"unix:{_escaped(folder.display)},share=force-shared",
        "-chardev", f"socket,id=line,path={_escaped(folder.serial)},server=on,wait=off", "-serial", "chardev:line",
        "-chardev", f"socket,id=control,path={_escaped(folder.control)},server=on,wait=off",
        "-mon", "chardev=control,mode=control", "-S",
    ]  # fmt: skip


def _drives(build: Build, folder: MachineFolder, image: Path) -> list[str]:
    """The disk before the medium: an empty disk is passed over, and what was installed on it is booted."""
    firmware, disk = firmware_of(build), f"file.driver=file,file.filename={_escaped(folder.disk)}"
    words = [
        "-blockdev", f"driver=qcow2,node-name=disk,discard=unmap,{disk}",
        "-device", "virtio-blk-pci,drive=disk,bootindex=0,id=disk0",
        "-blockdev", f"driver=raw,node-name=medium,read-only=on,file.driver=file,file.filename={_escaped(image)}",
        "-device", "ide-cd,drive=medium,bootindex=1,id=medium0",
    ]  # fmt: skip
    if firmware is not None:
        words += [
            "-drive", f"if=pflash,unit=0,format=raw,readonly=on,file={_escaped(firmware[0])}",
            "-drive", f"if=pflash,unit=1,format=raw,file={_escaped(folder.variables)}",
        ]  # fmt: skip
    if build.secure_boot:
        words += ["-global", "driver=cfi.pflash01,property=secure,value=on"]
    return words


def _escaped(path: Path) -> str:
    """A path in an option, where a comma ends a value unless it is doubled."""
    return str(path.absolute()).replace(",", ",,")
