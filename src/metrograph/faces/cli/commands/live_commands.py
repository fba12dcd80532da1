"""Commands that follow a machine while it installs: one that is there already, or one that they start."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from metrograph.faces.cli.commands.run_commands import RigOption
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import LogbookOption, complete_release, examples, single
from metrograph.faces.cli.proposal_teller import ProposalTeller
from metrograph.store.local.files import read_bytes

APPS: dict[str, typer.Typer] = {}

Followed = Annotated[
    str, typer.Argument(metavar="RELEASE", autocompletion=complete_release, help="What is being installed.")
]
PicturesOption = Annotated[bool, typer.Option("--pictures/--no-pictures", help="Keep a small picture a screen.")]
GrowingOption = Annotated[
    Path | None,
    typer.Option("--captions", metavar="FILE", help="What is said: captions that a recogniser goes on writing."),
]
_PASSWORD = "METROGRAPH_DISPLAY_PASSWORD"  # noqa: S105 - the name of a variable


@single(
    APPS,
    "watch",
    epilog=examples(
        "metrograph watch rfb://localhost:5900 larkmoor-9.0-heron --rig bench-vm",
        "metrograph watch v4l2:/dev/video0 larkmoor-9.0-heron --rig loan-laptop",
        "metrograph watch serial:/dev/ttyUSB0 osterby-2026.1 --rig loan-laptop",
    ),
)
def watch(
    ctx: typer.Context,
    source: Annotated[
        str,
        typer.Argument(metavar="SOURCE", help="rfb://HOST:PORT, v4l2:DEVICE, x11:DISPLAY, folder:DIR, serial:PATH."),
    ],
    release: Followed,
    rig: RigOption = None,
    password_file: Annotated[
        Path | None,
        typer.Option("--password-file", metavar="FILE", help=f"The display's password; else {_PASSWORD} holds it."),
    ] = None,
    pictures: PicturesOption = True,
    captions: GrowingOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Watch a machine while it installs, and propose the log.

    A display, a capture card, a folder of pictures or a serial line can be watched.
    It only looks: no key and no pointer is ever sent. Every proposal lies in the draft before it is shown. Interrupt it
    when the installation is over; “metrograph confirm” makes a run of the draft.
    """
    from metrograph.services.live.live_draft import Watching, watch_live
    from metrograph.services.seeing import Target

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    password = _password(environment, password_file)
    growing = captions and environment.folder / captions
    watching = Watching(source, Target(release, rig), password, pictures, growing)
    drafting = watch_live(environment, book, watching, ProposalTeller(environment).tell)
    environment.say("")
    environment.say(drafting.closing())


def _password(environment: Environment, file: Path | None) -> str | None:
    if file is None:
        return environment.variables.get(_PASSWORD)
    return read_bytes(environment.folder / file, "password file").decode("utf-8", "replace").strip("\r\n")


@single(
    APPS,
    "boot",
    epilog=examples(
        "metrograph boot larkmoor-9.0-heron --rig bench-vm --image heron.iso",
        "metrograph boot larkmoor-9.0-heron --rig bench-vm --image heron.iso --port 5901",
    ),
)
def boot(
    ctx: typer.Context,
    release: Followed,
    image: Annotated[Path, typer.Option("--image", metavar="FILE", help="The medium that it boots; only read.")],
    rig: RigOption = None,
    port: Annotated[
        int, typer.Option("--port", metavar="PORT", min=0, max=65535, help="Where your viewer connects; else any.")
    ] = 0,
    headless: Annotated[bool, typer.Option("--headless", help="Open no port for a viewer.")] = False,
    anyway: Annotated[bool, typer.Option("--anyway", help="Also where the image is not as its card says.")] = False,
    accelerated: Annotated[
        bool, typer.Option("--accelerated/--no-acceleration", help="Let this computer's processors run it.")
    ] = True,
    pictures: PicturesOption = True,
    captions: GrowingOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Start the rig's machine with an image, and watch it install.

    It is a virtual machine that is exactly what the rig's card says.

    The image is held against its card first. Your viewer connects to a port of this computer that the command names;
    restarts, media and the end are told by the machine itself. The machine and its disk are gone when the command ends.
    """
    from metrograph.services.live.booting import Booting
    from metrograph.services.live.booting import boot as boot_machine
    from metrograph.services.seeing import Target

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    booting = Booting(
        Target(release, rig),
        environment.folder / image,
        None if headless else port,
        pictures,
        captions and environment.folder / captions,
        anyway,
        accelerated,
    )
    drafting = boot_machine(environment, book, booting, ProposalTeller(environment).tell)
    environment.say("")
    environment.say(drafting.closing())
