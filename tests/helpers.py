"""What several tests need: logs from a few lines, runs folded from them, strategies for generated cues."""

from __future__ import annotations

import contextlib
import io
import os
import string
import subprocess
import sys
from pathlib import Path
from textwrap import dedent
from unittest import mock

from hypothesis import strategies as st
from msgspec.structs import replace

from metrograph.compare.flow_records import Side
from metrograph.core.errors import MetrographError
from metrograph.log.cues import Cue, Log
from metrograph.log.lexicon import load_lexicon
from metrograph.log.quantities.quantity import Quantity, parse_quantity
from metrograph.log.quantities.ranges import Range
from metrograph.log.reader import read_log
from metrograph.log.verbs import VERBS, Content, Shape, Verb
from metrograph.plan.plan import Plan, plan_of
from metrograph.run.folding.fold import fold
from metrograph.run.records import Run
from metrograph.run.route import ScreenKey
from metrograph.store.clock import now

ROOT = Path(__file__).parent.parent
DEMO = ROOT / "src/metrograph/demo/logbook"
LEXICON = load_lexicon()
HEADER = "metrograph 1\nrelease: larkmoor-8.0-heron\nrig: bench-vm\nbegun: 2026-05-02T10:04:11+02:00\n\n"


def log_of(cues: str) -> Log:
    """A log with the usual header and these cues; they must be without fault."""
    log, faults = read_log(HEADER + dedent(cues).strip("\n").rstrip(" ") + "\n", "test.metro")
    if faults:
        raise AssertionError(faults)
    return log


def run_of(cues: str, name: str = "larkmoor-8.0-heron-1", way: str = "fresh") -> Run:
    """The run that these cues tell of, installed in some way; its sums must add up."""
    log = log_of(cues)
    run = fold(replace(log, header=replace(log.header, others=(*log.header.others, ("way", way)))), name)
    if wrong := run.check_sums():
        raise AssertionError(wrong)
    return run


def screens(*titles: str) -> list[ScreenKey]:
    """A flow of these titles.

    ``title/kind`` gives a kind that the title does not suggest, ``title [a b]`` keys of questions; a ``|`` is the restart.
    """
    made, late = [], False
    for title in titles:
        if title == "|":
            late = True
            continue
        name, _, keys = title.partition(" [")
        name, _, kind = name.partition("/")
        made.append(ScreenKey(name, kind or LEXICON.kind_of(name), late, tuple(keys.rstrip("]").split())))
    return made


def demo_side(release: str) -> Side:
    """A release of the demo with its runs."""
    paths = sorted(Path(DEMO / "runs").glob(f"{release}-*.metro"))
    return Side(release, tuple(fold(read_log(path.read_text())[0], path.stem) for path in paths))


def plan_from(*logs: str) -> Plan:
    """The plan that these logs make, named plan-1, plan-2 and so on."""
    sources = [(run_of(log, f"plan-{number}"), log_of(log)) for number, log in enumerate(logs, 1)]
    return plan_of("plan", sources, LEXICON)


def seconds(low: float, high: float | None = -1.0) -> Range:
    """A range; exact unless a second bound is given."""
    return Range(low, low if high == -1.0 else high)


def said(text: str) -> Quantity:
    """A quantity, such as a card has it."""
    return parse_quantity(text)


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


def call_here(*words: str, folder: Path, variables: dict[str, str] | None = None) -> subprocess.CompletedProcess[str]:
    """The same within this process: what takes fifty commands in a row need not start fifty times."""
    from metrograph.faces.cli.main import app

    out, err = (io.TextIOWrapper(io.BytesIO(), encoding="utf-8", write_through=True) for _ in range(2))
    code = 0
    with (
        contextlib.chdir(folder), mock.patch.dict(os.environ, variables or {}),
        mock.patch("metrograph.faces.cli.environment.process_start", now),  # this process is older than the command
        contextlib.redirect_stdout(out), contextlib.redirect_stderr(err),
    ):  # fmt: skip
        try:
            code = app(list(words), prog_name="metrograph", standalone_mode=False) or 0
        except MetrographError as error:
            code = error.exit_code
            err.write(f"metrograph: {error}\n")
        except SystemExit as left:
            code = int(left.code or 0)
    texts = [stream.buffer.getvalue().decode() for stream in (out, err)]
    return subprocess.CompletedProcess(words, code, *texts)


# -- generated cues ----------------------------------------------------------------------------------------------------

_ANY = st.text(st.characters(exclude_categories=["Cs"]), min_size=1, max_size=30)
TEXTS = _ANY.map(lambda text: text.strip()).filter(bool)
NAMES = st.from_regex(r"\A[a-z0-9]{1,6}(-[a-z0-9]{1,6}){0,2}\Z").map(str)
KEYS = (
    st.text(string.ascii_letters + " |:\\é語", min_size=1, max_size=12)
    .map(lambda text: text.strip())
    .filter(
        lambda text: (
            bool(text) and not any(word in text.lower() for word in ("pass", "pin", "token", "secret", "key", "cred"))
        )
    )
)
SIZES = st.integers(1, 999).map(lambda count: f"{count} GiB")
_TEXT_BY_CHECK = {
    Content.ANY: TEXTS,
    Content.NAME: NAMES,
    Content.KIND: st.sampled_from(["disk", "language", "other"]),
    Content.SIZE: SIZES,
    Content.DATA: SIZES | st.sampled_from(["?", "about 300 MB", "2..3 GiB", "< 500 MB"]),
    Content.PART: SIZES.map(lambda size: f"/home ext4 {size}") | st.sampled_from(["/ btrfs", "/home ext4 rest"]),
    Content.SWAP: st.sampled_from(["none", "file", "file 2 GiB", "partition 4 GiB hibernate", "file hibernate"]),
    Content.QUANTITY: st.integers(0, 10**6).map(lambda number: f"{number} MiB")
    | st.sampled_from(["1,3 GB", "about 600", "5..10 min", "under 500 MB", "2 of 10", "80 %", "a few", "4 frames/s"]),
    Content.RATING: st.integers(0, 10).map(lambda part: f"{part} of 10")
    | st.sampled_from(["good", "very good", "4 stars", "80 %", "7"]),
    Content.COMPARED: st.sampled_from(["memory less", "looks better", "boot time same"]),
    Content.BUT: st.sampled_from(["", "but wallpaper, browser"]),
    Content.LENGTH: st.sampled_from(["?", "4:10", "8:00..12:00", "about 5:00", "5 min"]),
    Content.SHA256: st.just("ab" * 32),
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
    texts = st.sampled_from(rule.words) if rule.check is Content.ONE_OF else _TEXT_BY_CHECK[rule.check]
    if verb.shape is not Shape.NOTHING:
        optional = {Shape.MAYBE_TEXT, Shape.MAYBE_SETTING, Shape.MAYBE_TOLD}
        text = draw(st.one_of(st.just(""), texts) if verb.shape in optional and not rule.without else texts)
    if verb.shape in {Shape.SETTING, Shape.MAYBE_SETTING} or verb.shape is Shape.NAMED:
        name = draw(KEYS)
    elif verb.shape in {Shape.MAYBE_TOLD, Shape.TOLD, Shape.BESIDE}:
        name = draw(NAMES)
    elif verb.shape in {Shape.MAYBE_NAMED, Shape.GROUPED}:
        name = draw(st.none() | NAMES)
    return Cue(draw(at), verb.word, name, text, tuple(draw(_fields(verb))))


@st.composite
def _fields(draw: st.DrawFn, verb: Verb) -> list[tuple[str, str]]:
    fields = []
    for key, rule in verb.fields.items():
        values = st.sampled_from(rule.words) if rule.check is Content.ONE_OF else _TEXT_BY_CHECK[rule.check]
        fields += [(key, value) for value in draw(st.lists(values, max_size=2 if rule.many else 1))]
    return fields + draw(st.lists(st.tuples(st.just("x-own"), TEXTS), max_size=1))


def picture(colour: str, hidden: bytes = b"") -> bytes:
    """A picture of one colour as PNG. hidden: what it says where nobody looks."""
    from PIL import Image, PngImagePlugin

    told, out = PngImagePlugin.PngInfo(), io.BytesIO()
    if hidden:
        told.add_text("Comment", hidden.decode())
    Image.new("RGB", (64, 40), colour).save(out, "PNG", pnginfo=told)
    return out.getvalue() + hidden
