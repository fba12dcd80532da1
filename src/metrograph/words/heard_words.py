"""Says what was heard in a talk."""

from __future__ import annotations

from metrograph.hearing.heard import HeardStatement, TalkDocument
from metrograph.hearing.statements import THIS
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
    """What was understood, in the language of the run log, and of which release where it is another."""
    return statement.cue if statement.about == THIS else f"{statement.cue} (of {statement.about})"


def heard_words(statement: HeardStatement) -> str:
    """The words that it rests on; nothing where what was understood is those words."""
    return "" if statement.kind in _IN_WORDS or statement.cue == f"note {statement.said}" else statement.said


_IN_WORDS = frozenset({"issue", "verdict", "todo", "wish"})
