"""From an image to a watched installation: the rig's machine is made, started with the image, and followed."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.intake.source import Event
from metrograph.machine.between import Between
from metrograph.machine.build import Build, build_of
from metrograph.machine.control import Control
from metrograph.machine.running import NotAcceleratedError, RunningMachine, check_machine
from metrograph.machine.told_in_time import told_by
from metrograph.run.cards import Rig
from metrograph.services.desk import Desk
from metrograph.services.live.live_draft import AskedBeside, Watching, follow
from metrograph.services.preparing import check_image, rig_for
from metrograph.services.seeing import Drafting, Target
from metrograph.store.local.card_files import load_card
from metrograph.store.local.logbook import Logbook
from metrograph.watch.drafts.machine_told import MachineTold
from metrograph.watch.opening import LiveInput, check_watch, machine_frames
from metrograph.words.machine_words import kept_lines, machine_line


class Booting(msgspec.Struct, frozen=True):
    """A machine that is to be started.

    image: what it boots; port: for a viewer, any that is free where it is 0, none where it is None.
    anyway: also where the image is not as its card says; accelerated: whether this computer's processors may run it.
    """

    target: Target
    image: Path
    port: int | None = 0
    pictures: bool = True
    captions: Path | None = None
    anyway: bool = False
    accelerated: bool = True


def boot(desk: Desk, book: Logbook, booting: Booting, tell: Callable[[Sequence[Event]], None]) -> Drafting:
    """Starts the rig's machine with an image and follows it until it ends or a person interrupts. Returns the draft.

    Raises MetrographError when the rig is no virtual machine, the image is not as its card says, or it does not start.
    """
    check_watch()
    rig = rig_for(book, booting.target.release, booting.target.rig, desk.preferences().rig)
    build = build_of(rig, load_card(book, Rig, rig))
    check_machine(build)
    _check(desk, book, booting)
    for line in kept_lines(rig, build):
        desk.warn(line)
    build = msgspec.structs.replace(build, accelerated=booting.accelerated)
    with _started(desk, book, build, booting.image) as (machine, begun), _door(desk, machine, booting.port) as between:
        desk.warn(_where(machine, between))
        frames = machine_frames(machine.files.display, begun)
        watching = Watching("machine:", booting.target, None, booting.pictures, booting.captions)
        beside = _Machine(machine.control, between, begun, build)
        return follow(desk, book, watching, LiveInput(frames), tell, beside)


def _check(desk: Desk, book: Logbook, booting: Booting) -> None:
    """Holds the image against its card; an image that is another one tells nothing of the release."""
    release = booting.target.release
    outcome = check_image(desk, book, release, booting.image, None, None)
    if outcome.is_right:
        return
    why = f"{booting.image.name} is not the image of {release}: {outcome.sentences[0]}"
    if not booting.anyway:
        raise MetrographError(f"{why}; --anyway boots it all the same")
    desk.warn(why)


@contextmanager
def _started(desk: Desk, book: Logbook, build: Build, image: Path) -> Iterator[tuple[RunningMachine, float]]:
    """The machine, and when it was switched on; slower, where this computer's processors turn out not to run it."""
    below = book.path / ".cache" / "machines"
    try:
        with RunningMachine(build, image, below) as machine:
            begun = time.monotonic()
            machine.power_on()
            yield machine, begun
            return
    except NotAcceleratedError as error:
        desk.warn(f"{error}: it runs without them, and far slower")
    with RunningMachine(msgspec.structs.replace(build, accelerated=False), image, below) as machine:
        begun = time.monotonic()
        machine.power_on()
        yield machine, begun


@contextmanager
def _door(desk: Desk, machine: RunningMachine, port: int | None) -> Iterator[Between | None]:
    if port is None:
        yield None
        return
    between = Between(machine.files.display, port, desk.warn)
    try:
        yield between
    finally:
        between.close()


def _where(machine: RunningMachine, between: Between | None) -> str:
    fast = "" if machine.control.accelerated else "; this computer's processors do not run it, so that it is slow"
    where = "nobody can act on it" if between is None else f"connect your viewer to 127.0.0.1:{between.port}"
    return f"the machine is on{fast}: {where}; interrupt when the installation is over"


class _Machine(AskedBeside):
    """What a machine tells, in the time of its draft."""

    def __init__(self, control: Control, between: Between | None, begun: float, build: Build) -> None:
        self._control, self._between, self._begun = control, between, begun
        self.facts = (("machine", machine_line(build, control.accelerated)),)

    def told(self) -> MachineTold:
        """What it told of itself so far."""
        acts = [] if self._between is None else [act.at for act in self._between.acts]
        return told_by(list(self._control.happened), list(self._control.written), acts, self._begun)

    def is_over(self) -> bool:
        """Whether the machine has ended."""
        return self._control.is_gone
