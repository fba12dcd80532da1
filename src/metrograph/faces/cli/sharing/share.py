"""Puts masked runs into a shared archive."""

from __future__ import annotations

from typing import Annotated

import msgspec
import typer

from metrograph.archive.logs import put, shared_text
from metrograph.archive.place import Place
from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import LogbookOption, command_app, complete_side, examples
from metrograph.intake.logs import document, to_logs
from metrograph.ledgers.digests.cache import digests_of
from metrograph.privacy.mask import Mask
from metrograph.store.local.cards import load_releases, load_rigs
from metrograph.store.memory import select
from metrograph.store.reading import LogReader
from metrograph.words.figures import counted

app = command_app()


@app.command(
    epilog=examples(
        "metrograph share larkmoor-8.0-heron --to /srv/archive --dry-run",
        "metrograph share larkmoor-8.0-heron-1 --to s3://bucket/archive",
    )
)
def share(
    ctx: typer.Context,
    names: Annotated[list[str], typer.Argument(metavar="RUN...", autocompletion=complete_side)],
    to: Annotated[str, typer.Option("--to", metavar="URL", help="A folder, or s3://BUCKET/FOLDER.")],
    dry_run: Annotated[
        bool, typer.Option("--dry-run", help="Show what would leave the house, and send nothing.")
    ] = False,
    logbook: LogbookOption = None,
) -> None:
    """Put runs into a shared archive, masked and signed.

    Personal values are masked, pictures stay at home. A log is named by what is in it, so that sharing twice adds
    nothing. The signature is a name and no proof: anybody could have written it.
    """
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    reader, reviewer = LogReader(book), environment.personal().reviewer or ""
    if not reviewer:
        raise MetrographError("say who shares them: “metrograph settings reviewer NAME”")
    rigs, releases = load_rigs(book), load_releases(book)
    runs = dict.fromkeys(run for name in names for run in select(book, name).runs)
    texts = {}
    # A name that one run tells stands in what others say: all runs of the logbook are asked whose it is.
    known = digests_of(reader, book, environment.track)
    for run in runs:
        log, folded = reader.log(run), reader.run(run)
        if folded.ended is None:
            raise MetrographError(f"{run} is not over yet, and a log is never changed once it is shared")
        without = msgspec.structs.replace(log, cues=tuple(cue for cue in log.cues if cue.verb != "shot"))
        mask = Mask([folded, *known])
        clean = to_logs(mask.apply(document([(run, without)])))[0][1]
        card = releases.get(folded.release)
        texts[run] = shared_text(clean, run, reviewer, rigs.get(folded.rig), card), mask.hidden
    environment.warn_of(reader.faults)
    if dry_run:
        for run, (text, hidden) in texts.items():
            environment.say(f"{run}: {len(text)} bytes, masked in {counted(hidden, 'place')}")
            environment.print(text.decode())
        return
    place = Place(to)
    new = [run for run, (text, _) in texts.items() if put(place, text)[1]]
    there = len(texts) - len(new)
    environment.say(f"{to}: {counted(len(new), 'run')} shared" + (f", {there} were there already" if there else ""))
