"""How well talks are understood, and the weights that this is done with; each talk by weights made without it.

    python -m bench.hearing table FOLDER    the table: each narration heard with weights of all others, and without
                                            the phrases in the patterns that it alone says
    python -m bench.hearing halves FOLDER   the same, each heard by what the other half of them taught
    python -m bench.hearing fit FOLDER      makes the weights that come with the program
    python -m bench.hearing causes FOLDER   why what was wrong was wrong, and what was missed missed
    python -m bench.hearing score FOLDER    how well each is heard with the weights of the program; of a language that
                                            these were not made from, for one
    python -m bench.hearing time FOLDER     how long an hour of speech takes

A narration is NAME.vtt, what was said; NAME.tsv, its truth (seconds, kind, key, value, about, slot, apart by tabs) and
NAME.packages.tsv, what is on the machine; packages.tsv beside them has other programs.
"""  # fmt: skip

from __future__ import annotations

import gzip
import json
import re
import sys
import time
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from datetime import date
from pathlib import Path
from typing import cast

import msgspec
import numpy as np
from numpy.typing import NDArray
from rapidfuzz import fuzz
from scipy.optimize import minimize

from bench.measure import ROOT
from metrograph.hearing.listening import Ears, all_that_may_be_said, language_of, listen
from metrograph.hearing.places import SLOTS, WINDOW, SlotModel, learn, windows
from metrograph.hearing.speech_patterns import Speech, speech_of
from metrograph.hearing.statements import Statement
from metrograph.hearing.stream.captions import Word, read_words
from metrograph.hearing.stream.programs import KnownNames, known_names, read_names
from metrograph.hearing.stream.spoken import Token, number_words, tokens_of
from metrograph.hearing.weighing import ClueWeights
from metrograph.languages.language_tables import tables

ROOM = ROOT / "src" / "metrograph" / "hearing"
_APART = 30.0  # seconds that what was heard may be off
_CLOSE = 0.02  # part that a figure may be off
_ALIKE = 85  # of 100, of a text
_LATE = 3.0  # seconds: who says something talks of its part of the job already
_SHRINK = 1.5  # of weights, against the few cases that they are learnt from
_SELDOM = 3  # a clue that was there less often is not learnt
_NONE = frozenset({"none", "off", "no"})
_WITHOUT_VALUE = frozenset({"screen", "issue", "todo", "wish"})


class Truth(msgspec.Struct, frozen=True):
    """What was stated in truth; values that are right too stand apart by bars."""

    at: float
    kind: str
    key: str
    value: str
    about: str
    slot: str


class Narration(msgspec.Struct, frozen=True):
    """A narration with its truth. seen, parts: the words of each window, and which part of the job it belongs to."""

    name: str
    words: list[Word]
    tokens: list[Token]
    names: KnownNames
    truths: list[Truth]
    seen: list[set[str]]
    parts: list[int]


def read(folder: Path) -> list[Narration]:
    """All narrations of a folder."""
    others = read_names((folder / "packages.tsv").read_text("utf-8"))
    found = []
    for path in sorted(folder.glob("*.vtt")):
        words = read_words(path.read_bytes(), path.name)
        lines = path.with_suffix(".tsv").read_text("utf-8").splitlines()
        cells = [line.split("\t") for line in lines if line and not line.startswith("#")]
        truths = sorted((Truth(float(each[0]), *each[1:6]) for each in cells), key=lambda each: each.at)
        machine = read_names(path.with_suffix(".packages.tsv").read_text("utf-8"), on_machine=True)
        tokens = tokens_of(words, number_words(language_of(words)))
        seen = windows(tokens)
        parts = [SLOTS.index(_slot(truths, (place + 0.5) * WINDOW)) for place in range(len(seen))]
        found.append(Narration(path.stem, words, tokens, known_names(machine, others), truths, seen, parts))
    return found


def _slot(truths: Sequence[Truth], at: float) -> str:
    return next((each.slot for each in reversed(truths) if each.at - _LATE <= at), truths[0].slot)


def slot_weights(narrations: Iterable[Narration], made_from: str = "") -> SlotModel:
    """The weights of the parts of the job."""
    return learn([(each.seen, each.parts) for each in narrations], made_from)


# -- what is right -----------------------------------------------------------------------------------------------------


def pairs(found: Sequence[Statement], truths: Sequence[Truth]) -> dict[int, tuple[int, bool]]:
    """Which truth each statement is, one to one, the right ones and the nearest first; and whether its value is right."""
    close = sorted(
        (not _is_right(said, truth), abs(said.at - truth.at), place, at)
        for place, said in enumerate(found) for at, truth in enumerate(truths)
        if _subject(said.kind, said.key) == _subject(truth.kind, truth.key) and abs(said.at - truth.at) <= _APART
    )  # fmt: skip
    made: dict[int, tuple[int, bool]] = {}
    taken: set[int] = set()
    for wrong, _, place, at in close:
        if place not in made and at not in taken:
            made[place] = at, not wrong
            taken.add(at)
    return made


def _subject(kind: str, key: str) -> tuple[str, str]:
    """What is stated of what; a time may be read or have elapsed, and whose answer it was a person says at once."""
    kind = "choose" if kind == "keep" else kind
    return _READ.get((kind, key), (kind, key or "-"))


_READ = {("elapsed", "install"): ("reading", "install-time"), ("elapsed", "boot"): ("reading", "boot-time")}


def _is_right(said: Statement, truth: Truth) -> bool:
    if said.kind in _WITHOUT_VALUE or truth.value.startswith("("):
        return True
    return any(_is_same(said.value, each) for each in truth.value.split("|"))


def _is_same(said: str, truth: str) -> bool:
    one, other = _ends(said), _ends(truth)
    if one and other:
        return other[0] * (1 - _CLOSE) <= one[1] and one[0] <= other[1] * (1 + _CLOSE)
    # A place goes by its city too, and what is off is none.
    return (
        any(fuzz.ratio(_letters(said), _letters(each)) >= _ALIKE for each in (truth, truth.rpartition("/")[2]))
        or {
            said,
            truth,
        }
        <= _NONE
    )


def _ends(value: str) -> tuple[float, float] | None:
    found = re.fullmatch(r"([~<>]?)(\d+(?:\.\d+)?)(?:\.\.(\d+(?:\.\d+)?))?", value)
    if found is None:
        return None
    off = 0.1 if found[1] == "~" else 0.0
    return float(found[2]) * (1 - off), float(found[3] or found[2]) * (1 + off)


def _letters(text: str) -> str:
    return re.sub(r"[^a-z0-9]", "", text.casefold())


# -- without what only one of them says ---------------------------------------------------------------------------------

_AS_IT_IS = {"numbers", "values"}  # of the table: no phrases
_CHOICES = re.compile(r"\(\?:([a-z' |]+)\)")


def patterns_without(left: Sequence[Narration], narrations: Sequence[Narration]) -> Speech:
    """The patterns of the program without the words and phrases that only those left out say, of all these."""
    out = {each.name for each in left}
    said = {each.name: f" {' '.join(token.text for token in each.tokens)} " for each in narrations}

    def is_its_own(phrase: str) -> bool:
        by = {name for name, text in said.items() if f" {phrase} " in text}
        return bool(by) and by <= out

    def choices(match: re.Match[str]) -> str:
        return f"(?:{'|'.join(each for each in match[1].split('|') if not is_its_own(each)) or '(?!)'})"

    def without(value: object) -> object:
        if isinstance(value, dict):
            return {key: each if key in _AS_IT_IS else without(each) for key, each in value.items()}
        if isinstance(value, list):
            return [without(each) for each in value if not (isinstance(each, str) and is_its_own(each))]
        return _CHOICES.sub(choices, value) if isinstance(value, str) else value

    return speech_of(cast("dict[str, object]", without(dict(tables("statements")["eng"]))))


# -- learning how sure -------------------------------------------------------------------------------------------------

Rows = list[tuple[frozenset[str], bool]]
"""The clues of statements, and whether each is right."""


def clue_rows(narration: Narration, slots: SlotModel, speech: Speech | None = None) -> Rows:
    """What a narration teaches: with all names, and of strangers without any."""
    rows: Rows = []
    for names in (narration.names, KnownNames()):
        found = all_that_may_be_said(narration.words, Ears(names, slots=slots, speech=speech))
        right = pairs(found, narration.truths)
        good = [found[place] for place, (_, is_right) in right.items() if is_right]
        taught = [(said.clues | {said.kind}, any(_is_said_by(said, each) for each in good)) for said in found]
        rows += [row for row in taught if names is narration.names or any("stranger" in clue for clue in row[0])]
    return rows


def _is_said_by(said: Statement, right: Statement) -> bool:
    """Whether a statement says what a right one says, at about its moment."""
    return (said.kind, said.key, said.value) == (right.kind, right.key, right.value) and abs(
        said.at - right.at
    ) < _AGAIN


_AGAIN = 6.0  # seconds


def clue_weights(rows: Rows, made_from: str = "") -> ClueWeights:
    """The weights of clues: a logistic regression whose weights are kept small."""
    counts = Counter(clue for clues, _ in rows for clue in clues)
    known = {clue: place for place, clue in enumerate(sorted(c for c, count in counts.items() if count >= _SELDOM))}
    there = np.zeros((len(rows), len(known) + 1))
    there[:, -1] = 1
    for number, (clues, _) in enumerate(rows):
        there[number, [known[clue] for clue in clues if clue in known]] = 1
    right = np.array([float(each) for _, each in rows])

    def loss(weights: NDArray[np.float64]) -> tuple[float, NDArray[np.float64]]:
        odds = there @ weights
        slope = there.T @ (1 / (1 + np.exp(-odds)) - right)
        slope[:-1] += _SHRINK * weights[:-1]
        return float(np.sum(np.logaddexp(0, odds) - right * odds) + _SHRINK / 2 * np.sum(weights[:-1] ** 2)), slope

    best = minimize(loss, np.zeros(there.shape[1]), jac=True, method="L-BFGS-B").x
    kept = {clue: round(float(best[place]), 3) for clue, place in known.items() if abs(best[place]) > _SMALL}
    return ClueWeights(round(float(best[-1]), 3), kept, made_from)


_SMALL = 0.02  # a weight that is left out


def fit(folder: Path) -> None:
    """Makes the weights that come with the program, from all narrations of a folder."""
    narrations = read(folder)
    made_from = f"{len(narrations)} made-up narrations in English, {date.today().isoformat()}"
    slots = slot_weights(narrations, made_from)
    raw = json.dumps(msgspec.to_builtins(slots), separators=(",", ":")).encode()
    (ROOM / "slots.json.gz").write_bytes(gzip.compress(raw, 9, mtime=0))
    # The parts that a talk is learnt in are found without it, as those of a new one will be.
    rows = [row for each in narrations for row in clue_rows(each, slot_weights(_but(narrations, each)))]
    weights = json.dumps(msgspec.to_builtins(clue_weights(rows, made_from)), indent=0, sort_keys=True)
    (ROOM / "weights.json").write_text(f"{weights}\n", "utf-8")


def _but(narrations: Sequence[Narration], one: Narration) -> list[Narration]:
    return [each for each in narrations if each is not one]


# -- the table ---------------------------------------------------------------------------------------------------------

_GROUPS: dict[str, Callable[[str], bool]] = {
    "software": lambda kind: kind in {"carries", "lacks"},
    "readings, claims, facts": lambda kind: kind in {"reading", "claim", "fact", "elapsed"},
    "screens": lambda kind: kind == "screen",
    "choices and kept": lambda kind: kind in {"choose", "keep"},
    "issues, trials, comparisons, verdicts": lambda kind: kind in {"issue", "check", "compare", "verdict"},
    "all": lambda _: True,
}
_BANDS = (0.8, 0.6, 0.4)


class LeftOut(msgspec.Struct, frozen=True):
    """A narration with the ears that were made without it and without the phrases that it alone says."""

    narration: Narration
    ears: Ears


def left_out(narrations: Sequence[Narration], together: int = 1) -> list[LeftOut]:
    """Each narration with ears that do not know it, nor those that are left out together with it, in their order."""
    groups = [narrations[start : start + together] for start in range(0, len(narrations), together)]
    made, rows = [], []
    for group in groups:
        slots = slot_weights([each for each in narrations if each not in group])
        speech = patterns_without(group, narrations)
        # What a talk teaches is found without what it says itself, as it will be in a new one.
        rows.append([row for each in group for row in clue_rows(each, slots, speech)])
        made += [LeftOut(each, Ears(each.names, slots=slots, speech=speech)) for each in group]
    weights = [clue_weights([row for other in rows if other is not its for row in other]) for its in rows]
    return [
        msgspec.structs.replace(one, ears=msgspec.structs.replace(one.ears, sureness=weights[place // together]))
        for place, one in enumerate(made)
    ]


def table(folder: Path, together: int = 1) -> None:
    """Prints precision and recall, each heard by weights made without it, and without the phrases that it alone says."""
    told: Counter[str] = Counter()
    alone: Counter[str] = Counter()
    bands: Counter[tuple[float, bool]] = Counter()
    rows = []
    for one in left_out(read(folder), together):
        each, ears = one.narration, one.ears
        found = listen(each.words, ears).statements
        right = pairs(found, each.truths)
        good = sum(is_right for _, is_right in right.values())
        rows.append(
            f"| {each.name} | {len(each.truths)} | {len(found)} | {good / len(found):.0%} | {good / len(each.truths):.0%} |"
        )
        for name, is_in in _GROUPS.items():
            told[f"{name} truth"] += sum(is_in(truth.kind) for truth in each.truths)
            told[f"{name} found"] += sum(is_in(said.kind) for said in found)
            told[f"{name} right"] += sum(is_in(found[place].kind) and good for place, (_, good) in right.items())
        strangers = [
            said for said in listen(each.words, msgspec.structs.replace(ears, names=KnownNames())).statements
            if _GROUPS["software"](said.kind)
        ]  # fmt: skip
        alone["heard"] += len(strangers)
        alone["right"] += sum(good for _, good in pairs(strangers, each.truths).values())
        told["whose"] += sum(
            good and (found[p].about == "this") == (each.truths[t].about == "this") for p, (t, good) in right.items()
        )
        for place, said in enumerate(found):
            for band in _BANDS:
                bands[band, right.get(place, (0, False))[1]] += said.sure >= band
    print("| | in truth | heard | precision | recall |\n|---|---|---|---|---|")
    for name in _GROUPS:
        good = told[f"{name} right"]
        shares = f"{good / max(told[f'{name} found'], 1):.0%} | {good / told[f'{name} truth']:.0%}"
        print(f"| {name} | {told[f'{name} truth']} | {told[f'{name} found']} | {shares} |")
    shares = f"{alone['right'] / max(alone['heard'], 1):.0%} | {alone['right'] / told['software truth']:.0%}"
    print(f"| software, without any list | {told['software truth']} | {alone['heard']} | {shares} |")
    for band in _BANDS:
        count = bands[band, True] + bands[band, False]
        recall = bands[band, True] / told["all truth"]
        print(f"| all, with {band} or more | | {count} | {bands[band, True] / max(count, 1):.0%} | {recall:.0%} |")
    print(f"| whose fact it is, of right ones | | {told['all right']} | {told['whose'] / told['all right']:.0%} | |")
    print("\n| narration | in truth | heard | precision | recall |\n|---|---|---|---|---|")
    print("\n".join(rows))


def causes(folder: Path) -> None:
    """Prints why what was wrong was wrong, and why what was missed was missed; NAME.traps.tsv names places that mislead."""
    wrong: Counter[str] = Counter()
    missed: Counter[str] = Counter()
    for one in left_out(read(folder)):
        each, traps = one.narration, _traps(folder / f"{one.narration.name}.traps.tsv")
        found = listen(each.words, one.ears).statements
        right = pairs(found, each.truths)
        for place, said in enumerate(found):
            if not right.get(place, (0, False))[1]:
                wrong[_why_wrong(said, place in right, each.truths, traps)] += 1
        heard = {at for at, good in right.values() if good}
        may_be = all_that_may_be_said(each.words, one.ears)
        for at, truth in enumerate(each.truths):
            if at not in heard:
                missed[_why_missed(truth, may_be)] += 1
    for name, count in (("wrong", wrong), ("missed", missed)):
        print(f"| {name} | of {sum(count.values())} |\n|---|---|")
        print("\n".join(f"| {why} | {many / sum(count.values()):.0%} |" for why, many in count.most_common()))
        print()


def _traps(path: Path) -> list[tuple[float, str]]:
    lines = path.read_text("utf-8").splitlines() if path.exists() else []
    cells = [line.split("\t") for line in lines if line.strip()]
    return [(float(each[0]), each[1]) for each in cells]


def _why_wrong(said: Statement, is_near: bool, truths: Sequence[Truth], traps: Sequence[tuple[float, str]]) -> str:
    misled = next((what for at, what in traps if -_BEFORE_TRAP <= said.at - at <= _BEHIND_TRAP), None)
    if is_near:
        return "the right thing with a wrong value"
    if any(_subject(said.kind, said.key) == _subject(each.kind, each.key) and _is_right(said, each) for each in truths):
        return (
            "told again, or in another place than it was"
            if said.kind not in _WITHOUT_VALUE
            else "not there yet or any more"
        )
    return "a sentence that misleads" if misled else "nothing of the kind was said"


_BEFORE_TRAP, _BEHIND_TRAP = 2.0, 8.0  # seconds around a place that misleads


def _why_missed(truth: Truth, may_be: Sequence[Statement]) -> str:
    near = [
        each for each in may_be
        if _subject(each.kind, each.key) == _subject(truth.kind, truth.key) and abs(each.at - truth.at) <= _APART
    ]  # fmt: skip
    if any(_is_right(each, truth) for each in near):
        return "found, and not sure enough"
    return "found with another value" if near else "no pattern says it"


def score(folder: Path) -> None:
    """Prints precision and recall of each narration, as the program hears it."""
    print("| | in truth | heard | precision | recall |\n|---|---|---|---|---|")
    for each in read(folder):
        found = listen(each.words, Ears(each.names, language_of(each.words))).statements
        good = sum(right for _, right in pairs(found, each.truths).values())
        shares = f"{good / max(len(found), 1):.0%} | {good / len(each.truths):.0%}"
        print(f"| {each.name} | {len(each.truths)} | {len(found)} | {shares} |")


def speed(folder: Path) -> None:
    """Prints how long an hour of speech takes, the weights read already."""
    narrations = read(folder)
    listen(narrations[0].words, Ears(narrations[0].names))
    began = time.perf_counter()
    spoken = sum(listen(each.words, Ears(each.names)).seconds for each in narrations)
    took = time.perf_counter() - began
    print(f"{spoken:.0f} s of speech in {took:.2f} s: {3600 * took / spoken:.2f} s an hour")


if __name__ == "__main__":
    {
        "fit": fit,
        "halves": lambda folder: table(folder, len(read(folder)) // 2),
        "table": table,
        "score": score,
        "causes": causes,
        "time": speed,
    }[sys.argv[1]](Path(sys.argv[2]))
