"""Cards of rigs: made, listed, shown."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import JsonOption, LogbookOption, command_app, complete_rig, examples, whole_number
from metrograph.faces.cli.preparing.cards import ask, checked, list_cards, show_card, write_card
from metrograph.run.cards import Rig
from metrograph.store.local.cards import flat

app = command_app("Cards of rigs: the machines releases go on.")
_ASKED = ("kind", "model", "firmware", "processors", "memory", "disk")
Text = str | None
RigId = Annotated[str, typer.Argument(metavar="ID", autocompletion=complete_rig)]


@app.command(
    epilog=examples(
        "metrograph rig new bench-vm --firmware uefi --memory '4 GiB' --disk '25 GiB'",
        "metrograph rig new loan-laptop --here",
    )
)
def new(
    ctx: typer.Context,
    name: Annotated[str, typer.Argument(metavar="ID", help="A name of yours, such as bench-vm.")],
    here: Annotated[bool, typer.Option("--here", help="Fill it in from this machine.")] = False,
    called: Annotated[Text, typer.Option("--name", help="What people call it, such as 'bench VM'.")] = None,
    kind: Annotated[Text, typer.Option(help="virtual or physical.")] = None,
    model: Annotated[Text, typer.Option(help="The machine's model, or the hypervisor.")] = None,
    firmware: Annotated[Text, typer.Option(help="uefi or bios.")] = None,
    secure_boot: Annotated[bool | None, typer.Option(help="Whether secure boot is on.")] = None,
    processors: Annotated[int | None, typer.Option(parser=whole_number, help="How many there are.")] = None,
    memory: Annotated[Text, typer.Option(help="Such as '4 GiB'.")] = None,
    disk: Annotated[Text, typer.Option(help="Such as '25 GiB' or '120 GB'.")] = None,
    graphics: Annotated[Text, typer.Option(help="The graphics adapter.")] = None,
    network: Annotated[Text, typer.Option(help="How it is connected.")] = None,
    display: Annotated[Text, typer.Option(help="Its resolution.")] = None,
    notes: Annotated[Text, typer.Option(help="Anything else.")] = None,
    update: Annotated[bool, typer.Option("--update", help="Change a card that is there.")] = False,
    logbook: LogbookOption = None,
) -> None:
    """Write the card of a rig; --update changes one and keeps what else stands in it.

    At a terminal, without any option, it asks for what matters most; an empty answer leaves a thing out.
    """
    given: dict[str, Any] = {
        "name": called, "kind": kind, "model": model, "firmware": firmware, "secure_boot": secure_boot,
        "processors": processors, "memory": memory, "disk": disk, "graphics": graphics,
        "network": network, "display": display, "notes": notes,
    }  # fmt: skip
    said = {key: value for key, value in given.items() if value is not None}
    environment = environment_of(ctx)
    if not (said or here or update) and environment.is_interactive():
        asked = ask({}, _ASKED)
        said = asked | {key: int(asked[key]) for key in ("processors",) if asked.get(key, "").isdecimal()}
    card = checked(flat(_here()) | said if here else said, Rig)
    write_card(environment, logbook, name, card, update)


@app.command("list", epilog=examples("metrograph rig list", "metrograph rig list --json"))
def list_(ctx: typer.Context, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """List the cards of rigs."""
    list_cards(environment_of(ctx), logbook, Rig, ["kind", "firmware", "processors", "memory", "disk"], json)


@app.command(epilog=examples("metrograph rig show bench-vm"))
def show(ctx: typer.Context, name: RigId, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """Show the card of a rig."""
    show_card(environment_of(ctx), logbook, Rig, name, json)


def _here() -> Rig:
    from metrograph.intake.probed import this_machine

    return this_machine()
