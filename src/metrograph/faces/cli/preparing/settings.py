"""A person's own settings: shows them with where each comes from, and sets them."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import msgspec
import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import JsonOption, LogbookOption, command_app, examples
from metrograph.store.preferences import EXPECTED, load_personal, personal_path, set_personal

app = command_app()
_DEFAULTS = {"reviewer": None, "rig": None, "sizes": None, "theme": "light", "pager": "yes", "archive": None}


class Setting(msgspec.Struct, frozen=True, rename={"origin": "from"}):
    """A setting as it holds. value: null where nothing is set; origin: the file that says so, or that it is usual."""

    name: str
    value: str | None
    origin: str


@app.command(
    epilog=examples(
        "metrograph settings", "metrograph settings reviewer 'Wren Ashby'", "metrograph settings theme --unset"
    )
)
def settings(
    ctx: typer.Context,
    name: Annotated[str | None, typer.Argument(metavar="[NAME]", help=f"One of {', '.join(EXPECTED)}.")] = None,
    value: Annotated[str | None, typer.Argument(metavar="[VALUE]", help="What it is set to, in all logbooks.")] = None,
    unset: Annotated[bool, typer.Option("--unset", help="Take it away again.")] = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Show your own settings and where each comes from, or set one.

    They hold in all logbooks. A logbook's metrograph.toml comes before them, and before both what a command says.
    """
    environment = environment_of(ctx)
    if value is not None or unset:
        if name is None or (value is not None and unset):
            raise MetrographError("say what is to be set, and to what: metrograph settings NAME VALUE")
        path = set_personal(name, value)
        environment.say(f"{path}: {name} is " + (f"“{value}”" if value is not None else "not set any more"))
        return
    found = _holding(environment, logbook)
    if name is not None:
        if name not in EXPECTED:
            set_personal(name, None)  # which says what there is
        found = [each for each in found if each.name == name]
    if json:
        environment.show_json(found, "settings")
        return
    from metrograph.show.report.lists import settings_report

    environment.show(settings_report([(each.name, each.value, each.origin) for each in found]))


def _holding(environment: Environment, logbook: Path | None) -> list[Setting]:
    personal, book = load_personal(), environment.logbook_or_none(logbook)
    sizes = book.settings().sizes if book else None
    found = []
    for name, usual in _DEFAULTS.items():
        own = getattr(personal, name)
        if name == "sizes" and sizes is not None and book is not None:
            found.append(Setting(name, sizes, str(book.path / "metrograph.toml")))
        elif own is not None:
            found.append(Setting(name, own, str(personal_path())))
        else:
            found.append(Setting(name, usual, "as usual"))
    return found
