"""Makes the options of a command from the fields of a record, and their help from what the record says of them."""

from __future__ import annotations

import inspect
import re
from collections.abc import Callable, Iterator
from typing import Annotated, Any, get_args, get_origin, get_type_hints

import msgspec
import typer

from metrograph.faces.cli.options import whole_number
from metrograph.store.local.card_values import unit_of

_SINGULAR = {"architectures": "architecture", "tools": "tool", "needs": "need"}
"""What a repeatable option is called, where its field is called otherwise."""
_METAVARS = {"size": "SIZE", "bytes": "SIZE", "s": "TIME", "day": "DATE"}
"""What stands for a value in help, by what the field counts in."""


class FieldOption(msgspec.Struct, frozen=True):
    """An option for one field of a record. path: of the field, dotted where it lies in a table of the record."""

    path: str
    parameter: inspect.Parameter


def with_fields(record: type[msgspec.Struct]) -> Callable[[Callable[..., None]], Callable[..., None]]:
    """Gives a command, in the place of its ``**said``, an option for every field of a record.

    What was said arrives by dotted path, without what was not.
    """
    options = list(field_options(record))

    def add(command: Callable[..., None]) -> Callable[..., None]:
        signature = inspect.signature(command, eval_str=True)
        own = [
            each.replace(kind=inspect.Parameter.KEYWORD_ONLY)
            for each in signature.parameters.values()
            if each.name != "said"
        ]
        paths = {option.parameter.name: option.path for option in options}

        def called(**values: Any) -> None:
            said = {paths[name]: values.pop(name) for name in paths}
            command(**values, said={path: value for path, value in said.items() if value not in (None, [])})

        called.__name__, called.__doc__ = command.__name__, command.__doc__
        parameters = [own[0], own[1], *(option.parameter for option in options), *own[2:]]
        called.__signature__ = inspect.Signature(parameters)  # type: ignore[attr-defined]
        called.__annotations__ = {each.name: each.annotation for each in parameters}
        return called

    return add


def field_options(record: type[msgspec.Struct], table: str = "") -> Iterator[FieldOption]:
    """An option for every field, of tables too; table: the field that this record lies in."""
    said = documented(record)
    for name, hint in get_type_hints(record, include_extras=True).items():
        inner = next((part for part in (hint, *get_args(hint)) if _is_record(part)), None)
        if inner is not None:
            yield from field_options(inner, f"{name}.")
        else:
            yield _option(f"{table}{name}", hint, said[name])


def documented(record: type[msgspec.Struct]) -> dict[str, str]:
    """What the documentation of a record says of each field: ``field: words.``, a line each or several."""
    text = inspect.getdoc(record) or ""
    pairs = re.findall(r"(?m)^([a-z_]+): (.+(?:\n    .+)*)", text)
    return {name: " ".join(words.split()) for name, words in pairs}


def _option(path: str, hint: Any, told: str) -> FieldOption:
    kinds = {get_origin(part) or part for part in (hint, *get_args(hint))}
    plain = {get_args(part)[0] if get_origin(part) is Annotated else part for part in (hint, *get_args(hint))}
    help_text = told[:1].upper() + told[1:]
    kind: Any = str | None
    more: dict[str, Any] = {"metavar": metavar} if (metavar := _METAVARS.get(unit_of(hint))) else {}
    name = "--" + path.replace("_", "-").replace(".", "-")
    if dict in kinds or tuple in kinds:
        kind, name = list[str] | None, f"--{_SINGULAR.get(path, path)}"
        help_text += " Repeatable."
    elif bool in plain:
        kind, name = bool | None, f"{name}/--no-{name.removeprefix('--')}"
    elif int in plain and not unit_of(hint):
        kind, more = int | None, {"parser": whole_number}
    option = typer.Option(name, help=help_text, **more)
    parameter = "said_" + path.replace(".", "_")
    return FieldOption(
        path,
        inspect.Parameter(parameter, inspect.Parameter.KEYWORD_ONLY, default=None, annotation=Annotated[kind, option]),
    )


def _is_record(part: Any) -> bool:
    return isinstance(part, type) and issubclass(part, msgspec.Struct) and part.__module__.endswith(".cards")
