"""How well and how fast screens are found in films whose truth is known, beside a threshold and a scene detector.

    python -m bench.watching paint FOLDER FIRST LAST     paints films of looks drawn at random, with their truth
    python -m bench.watching read FOLDER FIRST LAST      goes through them and keeps the pages
    python -m bench.watching table FOLDER FIRST LAST     the table, over films that were read
    python -m bench.watching calibrate FOLDER FIRST LAST how right what was said with which sureness is
    python -m bench.watching guard                       whether screens are still found as well as they were, in four looks

Looks 0 to 23 were in front of whoever set the rules; 300 to 315 and 100 to 111 set how sure a title is; 200 to 215 were held out.
The guard's, 500 to 503, are looked at by nobody: their figures are bounds, and no rule is set on them.
"""  # fmt: skip

from __future__ import annotations

import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path
from typing import Protocol

import av
import msgspec
import numpy as np

from bench.films.film import write_film
from bench.films.story import Truth
from bench.films.themes import draw_theme
from metrograph.log.lexicon import load_lexicon
from metrograph.watch.drafts.looks import Looks, look_of, recognised
from metrograph.watch.drafts.proposals import sure_of
from metrograph.watch.drafts.scanning import Scan, read_kept
from metrograph.watch.inputs.video import Film
from metrograph.watch.pages.page import Page
from metrograph.watch.pages.watching import found_in_frames
from metrograph.watch.reading.text_reader import LineReader, Tesseract
from metrograph.watch.reading.words import plain
from metrograph.watch.screens.spans import Span, find_spans

NEAR = 1.0  # seconds: a screen is found when something is said to begin so near to it
WORDS = 0.75  # of a title's words have to be in the one that was read
_AGAIN = "-again"  # a second installation in the same look
LEXICON = load_lexicon()
_GUARDED = range(500, 504)
_BOUNDS = {"found": 0.9, "not false": 0.9, "titles right": 0.9, "kinds right": 0.85}
_BANDS = ((0.0, 0.5), (0.5, 0.7), (0.7, 0.8), (0.8, 0.9), (0.9, 0.95), (0.95, 1.01))


class Begun(Protocol):
    """What begins at a moment, in seconds."""

    @property
    def start(self) -> float: ...  # noqa: D102 - as the class says


class Known(msgspec.Struct, frozen=True):
    """What lies beside a film."""

    seconds: float
    truths: list[Truth]


class Tally(msgspec.Struct):
    """Counts over some films. wait, waited: seconds of waiting in truth, and as said."""

    screens: int = 0
    found: int = 0
    claimed: int = 0
    false: int = 0
    right: int = 0
    kinds: int = 0
    kinds_right: int = 0
    wait: float = 0.0
    waited: float = 0.0
    errors: int = 0
    errors_found: int = 0
    errors_false: int = 0
    returns: int = 0
    returns_found: int = 0
    returns_false: int = 0
    answers: int = 0
    answers_said: int = 0
    answers_right: int = 0


def known(film: Path) -> Known:
    """The truth about a film."""
    return msgspec.json.decode(film.with_suffix(".json").read_bytes(), type=Known)


def screens_of(truths: Iterable[Truth]) -> list[Truth]:
    """The screens: what is blank, and trouble that is told on a screen, is none."""
    return [truth for truth in truths if (truth.title or not truth.waiting) and (truth.dialog or not truth.error)]


def matched(truths: Sequence[Begun], starts: Sequence[float]) -> dict[int, int]:
    """Which claim, by its beginning in seconds, each truth gets; none twice, the nearest first."""
    pairs = sorted(
        (abs(start - truth.start), place, number)
        for place, truth in enumerate(truths)
        for number, start in enumerate(starts)
        if abs(start - truth.start) <= NEAR
    )
    taken: dict[int, int] = {}
    for _, place, number in pairs:
        if place not in taken and number not in taken.values():
            taken[place] = number
    return taken


def right(truth: str, said: str) -> bool:
    """Whether three in four of a title's words were read."""
    words, read = plain(truth).split(), set(plain(said).split())
    return sum(word in read for word in words) >= WORDS * len(words)


def tally(film: Path, spans: Sequence[Span], counts: Tally) -> list[tuple[float, bool]]:
    """Adds a film to the counts; gives how sure every title was said to be, and whether it was right."""
    truths = known(film).truths
    screens, claims = screens_of(truths), [span for span in spans if span.title or not span.waiting]
    pairs = matched(screens, [claim.start / 1000 for claim in claims])
    counts.screens += len(screens)
    counts.found += len(pairs)
    counts.claimed += len(claims)
    counts.false += len(claims) - len(pairs)
    for place, number in pairs.items():
        truth, claim = screens[place], claims[number]
        counts.right += right(truth.title, claim.title)
        counts.kinds += bool(truth.kind)
        counts.kinds_right += bool(truth.kind) and truth.kind == claim.kind
        said = claim.choices[0].value if len(claim.choices) == 1 else ""
        counts.answers += bool(truth.answer)
        counts.answers_said += bool(truth.answer) and bool(said)
        counts.answers_right += bool(truth.answer) and _answers(truth.answer, claim)
        counts.returns += truth.returns
        counts.returns_found += truth.returns and claim.returns
        counts.returns_false += claim.returns and not truth.returns
    counts.wait += sum(truth.end - truth.start for truth in truths if truth.waiting)
    counts.waited += sum(span.end - span.start for span in spans if span.waiting) / 1000
    _errors(truths, spans, counts)
    by_claim = {number: place for place, number in pairs.items()}
    return [
        (sure_of(claim), number in by_claim and right(screens[by_claim[number]].title, claim.title))
        for number, claim in enumerate(claims)
        if claim.title
    ]


def _answers(truth: str, claim: Span) -> bool:
    """Whether what is said to be picked is what was: ticked lists say what was added and taken away."""
    if len(claim.choices) != 1:
        return False
    picked, before = claim.choices[0].value, claim.choices[0].was or ""
    if picked.startswith(("+", "-")):
        changed = picked.split(", ")
        kept = [item for item in before.split(", ") if f"-{item}" not in changed and item != "none"]
        picked = ", ".join([*kept, *(item[1:] for item in changed if item.startswith("+"))])
    return sorted(plain(picked).split()) == sorted(plain(truth).split())


def _errors(truths: Sequence[Truth], spans: Sequence[Span], counts: Tally) -> None:
    there, said = [truth for truth in truths if truth.error], [span for span in spans if span.error]

    def meets(truth: Truth, span: Span) -> bool:
        return span.start / 1000 - NEAR <= truth.start <= span.end / 1000 + NEAR

    counts.errors += len(there)
    counts.errors_found += sum(any(meets(truth, span) for span in said) for truth in there)
    counts.errors_false += sum(not any(meets(truth, span) for truth in there) for span in said)


# -- what it is held beside ------------------------------------------------------------------------------------------------


def changes(film: Path) -> list[tuple[float, float]]:
    """Of every look, three a second: when, and the part of the picture that differs from the look before."""
    found, before = [], None
    for frame in Film(str(film)).frames():
        small = frame.grey[::2, ::2]
        if before is not None and before.shape == small.shape:
            apart = np.maximum(before, small) - np.minimum(before, small) > 24
            found.append((frame.at / 1000, float(apart.mean())))
        before = small
    return found


def scenes(film: Path) -> list[tuple[float, float]]:
    """Of every frame: when, and the score of FFmpeg's scene detector."""
    found = []
    with av.open(str(film)) as container:
        stream = container.streams.video[0]
        graph = av.filter.Graph()
        source, detector, sink = (
            graph.add_buffer(template=stream),
            graph.add("scdet", "threshold=0"),
            graph.add("buffersink"),
        )
        source.link_to(detector)
        detector.link_to(sink)
        graph.configure()
        for frame in container.decode(stream):
            graph.push(frame)
            out = graph.pull()
            found.append((float(out.time or 0), float(out.metadata.get("lavfi.scd.score", 0))))
    return found


def beside(
    films: Sequence[Path], scores: Callable[[Path], list[tuple[float, float]]], bounds: Sequence[float]
) -> list[str]:
    """The best that a single bound on a score can do over all films: found, false, and the bound."""
    kept = {film: scores(film) for film in films}
    best = (-1.0, ["", "", ""])
    for bound in bounds:
        screens = found = claimed = 0
        for film in films:
            starts = [0.0]
            for at, score in kept[film]:
                if score > bound and at - starts[-1] > NEAR / 2:
                    starts.append(at)
            truths = screens_of(known(film).truths)
            screens, found, claimed = screens + len(truths), found + len(matched(truths, starts)), claimed + len(starts)
        # The harmonic mean of what is found and what is true of it.
        mean = 2 * found / (screens + claimed)
        best = max(best, (mean, [f"{found / screens:.0%}", f"{1 - found / claimed:.0%}", f"{bound:g}"]))
    return best[1]


# -- the commands ----------------------------------------------------------------------------------------------------------


def paint(folder: Path, number: int) -> None:
    """Paints two films of one look, where they are not there yet: another installation each."""
    for film, story in ((folder / f"{number}.mp4", number), (folder / f"{number}{_AGAIN}.mp4", number + 1000)):
        if not film.with_suffix(".json").exists():
            write_film(draw_theme(number), story, film)


def read(folder: Path, number: int) -> float:
    """Goes through the films of a look; how many times faster than they run."""
    began, seconds = time.monotonic(), 0.0
    for path in (folder / f"{number}.mp4", folder / f"{number}{_AGAIN}.mp4"):
        if path.exists():
            film, kept = Film(str(path)), path.with_suffix(".pages")
            kept.mkdir(exist_ok=True)
            (kept / "pages.jsonl").unlink(missing_ok=True)
            for _ in Scan(LEXICON, kept, pictures=False).take(
                found_in_frames(film.frames(), LineReader(Tesseract()), lambda _: True)
            ):
                pass
            seconds += film.facts.seconds or 0
    return seconds / (time.monotonic() - began)


def pages(film: Path) -> list[Page]:
    """The pages of a film that was read."""
    return [kept.page for kept in read_kept(film.with_suffix(".pages"))]


def spans_of(film: Path) -> list[Span]:
    """The spans of a film that was read."""
    return find_spans(pages(film), LEXICON, round(known(film).seconds * 1000))


def confirmed(film: Path) -> Looks:
    """The looks of a film's screens, as a person would confirm them: each by the truth."""
    truths, spans, seen = screens_of(known(film).truths), spans_of(film), pages(film)
    claims = [span for span in spans if (span.title or not span.waiting) and not span.dialog]
    pairs = matched(truths, [claim.start / 1000 for claim in claims])
    return Looks(
        [look_of(seen[claims[number].page], truths[place].title, truths[place].kind) for place, number in pairs.items()]
    )


def table(films: Sequence[Path]) -> None:
    """Prints what was found over some films, beside a threshold and a scene detector; and once their looks are known."""
    _row("", "found", "false", "titles right", "kinds right", "waiting", "errors", "returns", "answers")
    _row(*["---"] * 9)
    fresh, again = Tally(), Tally()
    for film in films:
        tally(film, spans_of(film), fresh)
        second = film.with_name(f"{film.stem}{_AGAIN}.mp4")
        if second.with_suffix(".pages").exists():
            tally(second, recognised(spans_of(second), pages(second), confirmed(film)), again)
    _row("looks never seen", *_figures(fresh))
    if again.screens:
        _row("after one confirmed run of the same look", *_figures(again))
    _row(
        "the part of the picture that changed, at its best bound",
        *beside(films, changes, [0.002 * 1.5**step for step in range(16)])[:2],
        *[""] * 6,
    )
    _row(
        "FFmpeg's scene detector, at its best bound",
        *beside(films, scenes, [0.05 * 1.6**step for step in range(14)])[:2],
        *[""] * 6,
    )


def _figures(counts: Tally) -> list[str]:
    return [
        f"{counts.found / counts.screens:.1%} ({counts.found} of {counts.screens})",
        f"{counts.false / counts.claimed:.1%}",
        f"{counts.right / counts.found:.1%}",
        f"{counts.kinds_right / counts.kinds:.1%}",
        f"{counts.waited / counts.wait - 1:+.1%}",
        f"{counts.errors_found} of {counts.errors}, {counts.errors_false} false",
        f"{counts.returns_found} of {counts.returns}, {counts.returns_false} false",
        f"{counts.answers_said} of {counts.answers} said, {counts.answers_right} right",
    ]


def calibrate(films: Sequence[Path]) -> None:
    """Prints how many of the titles that were said with some sureness were right."""
    said = [pair for film in films for pair in tally(film, spans_of(film), Tally())]
    _row("said with", "titles", "right")
    _row(*["---"] * 3)
    for low, high in _BANDS:
        band = Counter(correct for sure, correct in said if low <= sure < high)
        _row(f"{low:g} to {min(high, 1):g}", str(band.total()), f"{band[True] / band.total():.1%}" if band else "")


def guard() -> bool:
    """Paints a few looks, reads them, and says whether all bounds are kept."""
    counts = Tally()
    with tempfile.TemporaryDirectory() as name, ProcessPoolExecutor(2) as pool:
        films = [Path(name) / f"{number}.mp4" for number in _GUARDED]
        list(pool.map(write_film, map(draw_theme, _GUARDED), _GUARDED, films))
        list(pool.map(partial(read, Path(name)), _GUARDED))
        for film in films:
            tally(film, spans_of(film), counts)
    figures = {
        "found": counts.found / counts.screens,
        "not false": 1 - counts.false / counts.claimed,
        "titles right": counts.right / counts.found,
        "kinds right": counts.kinds_right / counts.kinds,
    }
    _row("", "figure", "bound")
    _row(*["---"] * 3)
    for what, figure in figures.items():
        _row(what, f"{figure:.1%}", f"{_BOUNDS[what]:.0%}")
    return all(figure >= _BOUNDS[what] for what, figure in figures.items())


def _row(*cells: str) -> None:
    print("| " + " | ".join(cells) + " |", flush=True)


def main() -> None:
    """Does what was asked for."""
    if sys.argv[1] == "guard":
        sys.exit(not guard())
    what, folder, first, last = sys.argv[1], Path(sys.argv[2]), int(sys.argv[3]), int(sys.argv[4])
    numbers = range(first, last + 1)
    if what in {"paint", "read"}:
        folder.mkdir(exist_ok=True)
        with ProcessPoolExecutor(2) as pool:
            for number, ratio in zip(
                numbers, pool.map(partial({"paint": paint, "read": read}[what], folder), numbers), strict=True
            ):
                print(number, "" if ratio is None else f"{ratio:.1f} times real time", flush=True)
        return
    films = [folder / f"{number}.mp4" for number in numbers if (folder / f"{number}.pages").exists()]
    {"table": table, "calibrate": calibrate}[what](films)


if __name__ == "__main__":
    main()
