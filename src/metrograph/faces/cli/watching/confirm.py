"""Goes through a draft with a person, and makes a run of it."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import LogbookOption, command_app, examples
from metrograph.watch.inputs.opening import check_watch
from metrograph.words.figures import counted

app = command_app()


def complete_draft(ctx: typer.Context, incomplete: str) -> list[str]:
    """Completes the name of a draft."""
    from metrograph.store.local.drafts import draft_names

    try:
        names = draft_names(environment_of(ctx).logbook(ctx.params.get("logbook")))
    except (MetrographError, OSError):
        return []
    return [name for name in names if name.startswith(incomplete)]


@app.command(
    epilog=examples("metrograph confirm", "metrograph confirm larkmoor-9.0-heron-1", "metrograph confirm --accept 0.9")
)
def confirm(
    ctx: typer.Context,
    draft: Annotated[
        str | None,
        typer.Argument(
            metavar="[DRAFT]", autocompletion=complete_draft, help="May be left out where there is one only."
        ),
    ] = None,
    accept: Annotated[
        float | None,
        typer.Option("--accept", metavar="SURE", min=0, max=1, help="Take what is at least so sure, and ask nothing."),
    ] = None,
    logbook: LogbookOption = None,
) -> None:
    """Go through a draft, and make a run of it.

    Enter takes a proposal; one key each gives it another title or kind, joins it with the one before, says that it
    was no screen, and goes to the next that is unsure. Every decision is kept at once. What stays undecided stays in
    the draft.
    """
    check_watch()
    from metrograph.store.local.drafts import find_draft
    from metrograph.watch.drafts.review import Review

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    review = Review(book, find_draft(book, draft))
    bound = accept
    if bound is None:
        bound = _ask(environment, review)
        if bound is None:
            environment.say(f"drafts/{review.name}.metro stays as you left it")
            return
    written, left = review.finish(bound, environment.started())
    with environment.once_written():
        environment.say(f"{review.name}  {counted(written, 'cue')} written")
        if left:
            environment.warn(f"{counted(left, 'proposal')} less sure than {bound:g} stay in drafts/{review.name}.metro")


def _ask(environment: Environment, review: object) -> float | None:
    if not environment.is_interactive():
        raise MetrographError("confirming needs a terminal; --accept 0.9 takes what is sure without asking")
    from metrograph.faces.recorder.confirm import Confirmer

    confirmer = Confirmer(review)  # type: ignore[arg-type]
    confirmer.run()
    if confirmer.failure is not None:
        raise confirmer.failure
    return confirmer.bound
