"""Says what was heard in a talk."""

from __future__ import annotations

from metrograph.hearing.heard import HeardStatement, TalkDocument
from metrograph.hearing.heard_cues import figure_in_words
from metrograph.hearing.statements import IN_WORDS, THIS
from metrograph.log.quantities.times import show_moment
from metrograph.words.figure_words import counted


def heard_answer(talk: TalkDocument) -> str:
    """How much was stated, and how sure that is."""
    length = show_moment(talk.seconds)
    if not talk.statements:
        return f"Nothing was understood in {length} of it."
    named = f" about {talk.system}" if talk.system else ""
    beside = f", {talk.of_others} of other releases" if talk.of_others else ""
    return f"{counted(len(talk.statements), 'statement')}{named} in {length}: {talk.sure} sure{beside}."


def heard_cue(statement: HeardStatement) -> str:
    """What was understood, and of which release where it is another; what is told in its words goes by its kind."""
    told = statement.cue if not _is_in_words(statement) else _kind(statement)
    return told if statement.about == THIS else f"{told} (of {statement.about})"


def _is_in_words(statement: HeardStatement) -> bool:
    """Whether its cue has nothing but the words, which stand beside it."""
    return statement.kind in IN_WORDS or statement.cue.partition(" ")[0] == "note"


def _kind(statement: HeardStatement) -> str:
    """A kind and its key, with a value that says something: ``verdict score = 8.5``, ``claim needs memory = 2 GB``."""
    ends = statement.value if isinstance(statement.value, tuple) else (statement.value,)
    plain = "..".join(f"{end:.15g}" if isinstance(end, float) else end for end in ends)
    value = figure_in_words(statement.key, plain) or plain
    what = f"{statement.kind} {statement.key.replace('-', ' ')}".strip()
    return what if value in {"", "-"} else f"{what} = {value}"
