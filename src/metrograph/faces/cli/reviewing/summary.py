"""Says in a few sentences what a reader should know of two or more releases."""

from __future__ import annotations

from itertools import pairwise

import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.masking import masked
from metrograph.faces.cli.options import (
    JsonOption,
    LogbookOption,
    NamesArgument,
    OnlyRigOption,
    PersonalOption,
    command_app,
    examples,
)
from metrograph.faces.cli.reviewing.sides import latest_of, read_compared

app = command_app()


@app.command(
    epilog=examples(
        "metrograph summary larkmoor-8.0-heron larkmoor-9.0-beta-heron",
        "metrograph summary    # the two latest of the line that was installed last",
    )
)
def summary(
    ctx: typer.Context,
    names: NamesArgument = None,
    only_rig: OnlyRigOption = None,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Say in a few sentences what changed, to be pasted.

    Up to five for each release against the one before it: what matters most, how sure it is, and one reason for care.
    """
    from metrograph.ledgers.comparison import compare
    from metrograph.words.comparison import answer
    from metrograph.words.names import named

    environment = environment_of(ctx)
    compared = read_compared(environment, logbook, names or latest_of(environment, logbook), only_rig=only_rig)
    result = compare(compared.sides, compared.background, compared.baseline)
    comparison = named(masked(environment, compared.runs, result, show_personal), compared.names[1])
    pairs = zip(pairwise(result.releases), pairwise(comparison.releases), strict=True)
    common = compared.names[0]
    answers = [(before, after, _in_full(answer(comparison, *ends), ends[1], common)) for (before, after), ends in pairs]
    if json:
        every = [{"from": one, "to": other, "sentences": told} for one, other, told in answers]
        environment.show_json({"sentences": answers[-1][2], "answers": every})  # those of the latest first
        return
    environment.say("\n\n".join(" ".join(told) for _, _, told in answers))


def _in_full(sentences: tuple[str, ...], release: str, common: str) -> tuple[str, ...]:
    """The release by its whole name where it stands first, as nothing stands above it."""
    first, *rest = sentences
    return (f"{common} {first}" if common and first.startswith(f"{release} ") else first, *rest)
