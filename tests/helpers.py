"""What several tests need: logs from a few lines, runs folded from them, strategies for generated cues."""

from __future__ import annotations

import os
import string
import subprocess
import sys
from pathlib import Path
from textwrap import dedent

from hypothesis import strategies as st

from metrograph.analysis.fold import fold
from metrograph.language.reader import read_log
from metrograph.model.cues import Cue, Log
from metrograph.model.ranges import Range
from metrograph.model.runs import Run
from metrograph.model.verbs import VERBS, Check, Shape, Verb

ROOT = Path(__file__).parent.parent
DEMO = ROOT / "src/metrograph/demo/logbook"
HEADER = "metrograph 1\nrelease: larkmoor-8.0-heron\nrig: bench-vm\nbegun: 2026-05-02T10:04:11+02:00\n\n"


def log_of(cues: str) -> Log:
    """A log with the usual header and these cues; they must be without fault."""
    log, faults = read_log(HEADER + dedent(cues).strip("\n").rstrip(" ") + "\n", "test.metro")
    if faults:
        raise AssertionError(faults)
    return log


def run_of(cues: str, name: str = "larkmoor-8.0-heron-1") -> Run:
    """The run that these cues tell of; its sums must add up."""
    run = fold(log_of(cues), name)
    if wrong := run.check_sums():
        raise AssertionError(wrong)
    return run


def seconds(low: float, high: float | None = -1.0) -> Range:
    """A range; exact unless a second bound is given."""
    return Range(low, low if high == -1.0 else high)


def call(
    *words: str, folder: Path, variables: dict[str, str] | None = None, stdin: str | None = None
) -> subprocess.CompletedProcess[str]:
    """Runs the installed command in a folder, as a user would; its output comes back as text."""
    command = Path(sys.executable).with_name("metrograph")
    left_out = ("METROGRAPH", "PYTHONDONTWRITEBYTECODE")  # without compiled files every start takes twice as long
    clean = {key: value for key, value in os.environ.items() if not key.startswith(left_out)}
    return subprocess.run(
        [command, *words],
        cwd=folder,
        env=clean | (variables or {}),
        capture_output=True,
        text=True,
        timeout=60,
        input=stdin,
        check=False,
    )


# -- generated cues ----------------------------------------------------------------------------------------------------

_ANY = st.text(st.characters(exclude_categories=["Cs"]), min_size=1, max_size=30)
TEXTS = _ANY.map(lambda text: text.strip()).filter(bool)
NAMES = st.from_regex(r"\A[a-z0-9]{1,6}(-[a-z0-9]{1,6}){0,2}\Z").map(str)
KEYS = (
    st.text(string.ascii_letters + " |\\é語", min_size=1, max_size=12)
    .map(lambda text: text.strip())
    .filter(
        lambda text: (
            bool(text) and not any(word in text.lower() for word in ("pass", "pin", "token", "secret", "key", "cred"))
        )
    )
)
SIZES = st.integers(1, 999).map(lambda count: f"{count} GiB")
_TEXT_BY_CHECK = {
    Check.ANY: TEXTS,
    Check.NAME: NAMES,
    Check.KIND: st.sampled_from(["disk", "language", "other"]),
    Check.SIZE: SIZES,
    Check.PART: SIZES.map(lambda size: f"/home ext4 {size}"),
    Check.SWAP: st.sampled_from(["none", "file", "file 2 GiB"]),
    Check.NUMBER: st.integers(0, 10**6).map(lambda number: f"{number} MiB"),
    Check.CUT: st.sampled_from(["?", "4:10", "8:00..12:00"]),
    Check.SHA256: st.just("ab" * 32),
}


def cues(at: st.SearchStrategy[int] | None = None) -> st.SearchStrategy[Cue]:
    """Any cue that the language can hold."""
    return st.sampled_from(sorted(VERBS)).flatmap(
        lambda word: _cue(VERBS[word], st.integers(0, 10**8) if at is None else at)
    )


@st.composite
def _cue(draw: st.DrawFn, verb: Verb, at: st.SearchStrategy[int]) -> Cue:
    name, text = None, ""
    rule = verb.rule
    texts = st.sampled_from(rule.words) if rule.check is Check.ONE_OF else _TEXT_BY_CHECK[rule.check]
    if verb.shape is not Shape.NOTHING:
        optional = {Shape.MAYBE_TEXT, Shape.MAYBE_SETTING, Shape.MAYBE_TOLD}
        text = draw(st.one_of(st.just(""), texts) if verb.shape in optional else texts)
    if verb.shape in {Shape.SETTING, Shape.MAYBE_SETTING} or verb.shape is Shape.NAMED:
        name = draw(KEYS)
    elif verb.shape is Shape.MAYBE_TOLD:
        name = draw(NAMES)
    elif verb.shape is Shape.MAYBE_NAMED:
        name = draw(st.none() | NAMES)
    return Cue(draw(at), verb.word, name, text, tuple(draw(_fields(verb))))


@st.composite
def _fields(draw: st.DrawFn, verb: Verb) -> list[tuple[str, str]]:
    fields = []
    for key, rule in verb.fields.items():
        values = st.sampled_from(rule.words) if rule.check is Check.ONE_OF else _TEXT_BY_CHECK[rule.check]
        fields += [(key, value) for value in draw(st.lists(values, max_size=2 if rule.many else 1))]
    return fields + draw(st.lists(st.tuples(st.just("x-own"), TEXTS), max_size=1))
