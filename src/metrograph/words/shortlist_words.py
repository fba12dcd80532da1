"""Says what a shortlist comes to, and what changed in judgement."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from metrograph.judging.shortlist_records import (
    JudgedRelease,
    MeasureNext,
    Need,
    Shortlist,
    TopicKind,
    Turn,
    TurnedBy,
    Unusable,
    WishPart,
    Wrong,
)
from metrograph.ledgers.verdicts import VERDICT, Moved, Shift
from metrograph.log.faults import near_misses
from metrograph.log.lexicon import Unit
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.units import in_units_of
from metrograph.measures.catalogue import MEASURES
from metrograph.measures.show import show_figure
from metrograph.run.readers import Reader, TopicName, Wish
from metrograph.words.figure_words import counted, told_difference
from metrograph.words.grammar import NOTHING, few, listed, number
from metrograph.words.ledger_words import weighs


def shifted(shift: Shift) -> str:
    """Then and now: ``speed as felt: 6 of 10 in 8.0, 9 of 10 in 9.0``."""
    whom = f" (for {shift.reader})" if shift.reader else ""
    if shift.name == VERDICT:
        return f"Of {shift.earlier} it was said{whom} “{shift.before}”, of {shift.later} “{shift.after}”."
    return f"{shift.name}{whom}: {shift.before} in {shift.earlier}, {shift.after} in {shift.later}."


def went_with(shift: Shift) -> Iterator[str]:
    """The figures and trials that changed with it; that nothing did, where nothing did."""
    if shift.figures:
        yield f"Measured with it: {listed([_moved(each) for each in shift.figures])}."
    if shift.trials:
        yield f"Tried with it: {listed([f'{each.name} ({each.before}, now {each.after})' for each in shift.trials])}."
    if not (shift.figures or shift.trials):
        yield "No figure that was measured, and no trial, changed with it."


def _moved(each: Moved) -> str:
    """``memory (installed) 1.19 GiB, 148 MiB more``."""
    measure = MEASURES.get(each.name)
    words = measure.words if measure is not None else each.name
    shown = show_figure(each.after, each.unit, each.name)
    return f"{words} {shown} ({told_difference(each.before, each.after, each.unit, each.name)})"


_MEASURED = frozenset({TopicKind.FIGURE, TopicKind.READING, TopicKind.WEIGHT})
_NOT_NOTED = {
    TopicKind.TRIAL: "not tried", TopicKind.RATING: "not rated", TopicKind.SOFTWARE: "not noted",
    TopicKind.FACT: "not noted",
}  # fmt: skip
_STEPS = {0.0: "fail", 0.5: "partly", 1.0: "pass"}
_LEAST_TOLD = 0.02  # of all that a release can be worth: what makes less of a difference is no reason
_REASONS = 2  # for and against: what more there is stands in the table
_REASONABLE = 5.0  # times: a weight that is further off than that is another wish
_MUCH = 0.25  # of all that a release can be worth: so much that is not known has to be said


def titled(made: Shortlist) -> str:
    """The title of a shortlist: for whom it is."""
    return f"For {made.reader}" + (f": {made.about}" if made.about else "")


def of_shortlist(made: Shortlist) -> Iterator[str]:
    """The answer: the first and why, or that there is none, and what would settle it or turn it."""
    inside = made.in_question
    if not inside:
        yield f"None of the {number(len(made.order))} releases has all that is required."
        return
    yield from _first(made, inside)
    if made.measure_next:
        yield next_step(made.measure_next[0])
    if made.turns and made.is_sure:
        yield turned(made.turns)


def _first(made: Shortlist, inside: tuple[JudgedRelease, ...]) -> Iterator[str]:
    name = inside[0].release
    if not inside[0].parts:
        yield f"{listed([each.release for each in inside])} {'have' if inside[1:] else 'has'} all that is required."
    elif len(inside) == 1:
        has = "may have" if inside[0].passes is None else "has"
        yield f"Only {name} {has} all that is required." if made.order[1:] else f"There is nothing beside {name}."
    else:
        yield from _before_others(made, inside)
        yield from _left_unknown(inside[0])


def _before_others(made: Shortlist, inside: tuple[JudgedRelease, ...]) -> Iterator[str]:
    """Which comes first among several, or that none does."""
    name = inside[0].release
    if made.is_sure:
        yield f"{name} comes first in {of_100(inside[0].first)} ways to read the figures and the weights."
        yield from reasons(inside[0], inside[1:])
        if len(inside[0].at_least_as) == len(inside) - 1:
            yield "It is at least as good as every other in every wish."
    else:
        leading = sorted(inside, key=lambda each: -(each.first or 0.0))[:2]
        shares = [of_100(each.first) for each in leading]
        yield (
            f"Too close to call: {leading[0].release} leads in {shares[0]} readings of figures and weights,"
            f" {leading[1].release} in {shares[1].removesuffix(' of 100')}."
        )
        yield from reasons(inside[0], inside[1:], "Best on balance is")


def _left_unknown(first: JudgedRelease) -> Iterator[str]:
    """How much of what the first can be worth, or has to have, nobody knows."""
    unknown = sum(part.weight for part in first.parts if not part.is_known)
    if unknown >= _MUCH:
        yield f"Of what {first.release} can be worth, {of_100(unknown)} is not known."
    if first.passes is None:
        yield f"Whether it has all that is required is open: {few([lacking(each) for each in first.left_open])}."


def reasons(
    one: JudgedRelease, others: tuple[JudgedRelease, ...], opening: str = "It is first because of"
) -> Iterator[str]:
    """What speaks for a release beside the average of the others, and what against it, the most first."""
    pulls = {
        part.wish: part.weight * (part.middle - sum(each.parts[place].middle for each in others) / len(others))
        for place, part in enumerate(one.parts)
        if part.is_known
    }
    parts = {part.wish: part for part in one.parts}
    ordered = sorted(pulls, key=lambda wish: -pulls[wish])
    good = [_reason(parts[wish]) for wish in ordered if pulls[wish] >= _LEAST_TOLD][:_REASONS]
    bad = [_reason(parts[wish]) for wish in reversed(ordered) if pulls[wish] <= -_LEAST_TOLD][:_REASONS]
    what = f"{opening} {one.release}" if opening.endswith(" is") else opening
    because = f"{what}{', for' if opening.endswith(' is') else ''} {listed(good)}" if good else ""
    against = f"{listed(bad)} {'speak' if bad[1:] else 'speaks'} against it" if bad else ""
    if because or against:
        text = ", but ".join(part for part in (because, against) if part)
        yield f"{text[0].upper()}{text[1:]}."


def _reason(part: WishPart) -> str:
    """A wish with what the release has of it: ``hands-on (14:20)``."""
    return f"{part.wish} ({what_it_has(part)})"


def behind(made: Shortlist) -> Iterator[str]:
    """Why each of the others is behind the first."""
    first, *others = made.in_question or (None,)
    for each in others:
        if first is None or not each.parts:
            continue
        pulls = {
            place: part.weight * (part.middle - first.parts[place].middle) for place, part in enumerate(each.parts)
        }
        ordered = sorted(pulls, key=lambda place: pulls[place])
        worse = [_reason(each.parts[place]) for place in ordered if pulls[place] <= -_LEAST_TOLD][:_REASONS]
        better = [_reason(each.parts[place]) for place in reversed(ordered) if pulls[place] >= _LEAST_TOLD][:_REASONS]
        told = [f"behind in {listed(worse)}"] if worse else []
        told += [f"ahead in {listed(better)}"] if better else []
        if told:
            yield f"{each.release}: {', '.join(told)}."


def of_100(share: float | None) -> str:
    """A share of samples in whole hundredths, never rounded to all or none that is not: ``93 of 100``."""
    share = share or 0.0
    whole = round(100 * share)
    whole = min(whole, 99) if share < 1 else whole
    return f"{whole if whole or not share else 'fewer than 1'} of 100"


def next_step(each: MeasureNext) -> str:
    """What to note next, and how sure the first would be then."""
    whose = f"of {each.release}"
    what = {
        TopicKind.TRIAL: f"one trial of {each.wish} under {each.release}",
        TopicKind.RATING: f"rating {each.wish} {whose}",
        TopicKind.SOFTWARE: f"a look whether {each.release} {each.wish}",
        TopicKind.READING: f"one reading of {each.wish} {whose}",
        TopicKind.FIGURE: f"one more run {whose} for {each.wish}",
    }.get(each.kind, f"noting {each.wish} {whose}")  # fmt: skip
    return f"{what[0].upper()}{what[1:]} would settle it in {of_100(each.sure)}."


def turned(turns: tuple[Turn, ...]) -> str:
    """The changes of a weight or a figure after which another release would be first."""
    near = [turn for turn in turns if turn.by is not TurnedBy.WEIGHT or _is_reasonable(turn)]
    if not near:
        return "No reasonable weight would change that."
    by_release = {name: [turn for turn in near if turn.first == name] for name in dict.fromkeys(t.first for t in near)}
    told = [f"{name} would be first {listed([_turn(turn) for turn in of], ', or ')}" for name, of in by_release.items()]
    return f"{', and '.join(told)}."


def _is_reasonable(turn: Turn) -> bool:
    """Whether somebody might have given a wish the weight that turns an order."""
    return turn.before / _REASONABLE <= turn.after <= turn.before * _REASONABLE


def _turn(turn: Turn) -> str:
    if turn.by is TurnedBy.WEIGHT:
        return f"if {turn.wish} weighed {turn.after:.2g} instead of {turn.before:g}"
    if turn.kind is TopicKind.SOFTWARE:
        item = TopicName.of(turn.wish).item
        return f"if {turn.release} {'carries' if turn.after else 'did not carry'} {item}"
    whose = f" under {turn.release}"
    was, now = (_of(turn.kind, turn.unit, value, turn.wish) for value in (turn.before, turn.after))
    return f"with {turn.wish}{whose} at {now} instead of {was}"


def _of(kind: TopicKind, unit: str, value: float, name: str) -> str:
    if kind is TopicKind.TRIAL:
        return f"“{_STEPS.get(value, 'open')}”"
    if kind is TopicKind.RATING:
        return f"{round(100 * value)} %"
    return show_figure(Range(value, value), unit, name)


def what_it_has(each: WishPart | Need) -> str:
    """What a release has of a wish, or of what is required."""
    if each.kind in _MEASURED and each.amount is not None:
        return (
            weighs(each.amount)
            if each.kind is TopicKind.WEIGHT
            else show_figure(each.amount, each.unit, getattr(each, "wish", getattr(each, "name", "")))
        )
    return each.said or _NOT_NOTED.get(each.kind, "not measured" if each.kind in _MEASURED else NOTHING)


def lacking(each: Need) -> str:
    """Something required with what the release has of it: ``wireless: pass (not tried)``."""
    with in_units_of(each.limit if each.unit == Unit.BYTES else ""):
        return f"{each.required} ({what_it_has(each)})"


def worth(span: tuple[float, float] | None) -> str:
    """What something is worth, of 100: ``72``, ``61–84``; nothing where it is not counted."""
    if span is None:
        return NOTHING
    low, high = round(100 * span[0]), round(100 * span[1])
    return str(low) if low == high else f"{low}–{high}"


def care(made: Shortlist) -> Iterator[str]:
    """Why a comparison is to be read with care, as a section."""
    if made.relative and len(made.in_question) > 1:
        goes = "goes" if len(made.relative) == 1 else "go"
        yield (
            f"{listed(made.relative)} {goes} from the worst to the best of these releases, so the order may depend on"
            " who is among them; “from” and “to” in the reader's wishes end that."
        )
    if made.unknown:
        yield f"Nobody noted anything of {listed([f'“{name}”' for name in made.unknown])} in any of these releases."
    if made.unrepeated:
        yield f"Nothing was measured twice of {listed(made.unrepeated)}, so how much it spreads is not known."
    if made.not_on_one_rig:
        yield "There is no rig that all were installed on, so some of the differences may be those of the rigs."


def method(made: Shortlist) -> str:
    """How a shortlist was worked out."""
    return (
        f"Figures were varied within their ranges and the spread of repeats, weights by up to {made.weights:g} times"
        f" either way, {made.samples:,} times."
    )


_TOLD: dict[Wrong, Callable[[Unusable], tuple[str, str]]] = {
    Wrong.UNKNOWN: lambda each: (
        f"nobody has noted anything called “{each.name}”", " or ".join(near_misses(each.name, each.known)) or _NAMES,
    ),
    Wrong.STATES: lambda each: (f"“{each.name}” was read in several states", " or ".join(each.known)),
    Wrong.DIRECTION: lambda each: (
        f"nobody has said whether more or less “{each.name}” is better", "from and to, or better in [measures]",
    ),
    Wrong.UNIT: lambda each: (f"“{each.name}” is not measured in that", _unit(each.known[0])),
}  # fmt: skip


_NAMES = "a figure, a reading with its state, a trial, a rating, or “carries” with software"


def why_unusable(each: Unusable) -> tuple[str, str]:
    """What is wrong with a name, and what could stand there."""
    return _TOLD[each.wrong](each)


def _unit(unit: str) -> str:
    units = {"bytes": "a size such as 1.5 GiB", "s": "a time such as 20:00", "": "no from and to, or a bare number"}
    return units.get(unit, unit)


def asked(reader: Reader) -> Iterator[str]:
    """What a reader requires and wishes for, a line each."""
    yield from (f"required: {each.text}" for each in reader.required)
    yield from (f"wish: {wish_line(wish)}" for wish in reader.wishes)


def wish_line(wish: Wish) -> str:
    """``hands-on, weight 3, from 20:00 to 5:00``."""
    ends = f", from {wish.worst.text} to {wish.best.text}" if wish.worst is not None and wish.best is not None else ""
    return f"{wish.name}, weight {wish.weight:g}{ends}"


def left_open(made: Shortlist) -> Iterator[str]:
    """Of whom it is open whether they have all that is required, and what is not known."""
    for each in made.in_question:
        if each.left_open:
            yield f"{each.release}: open is {listed([lacking(need) for need in each.left_open])}."


def left_out(made: Shortlist) -> Iterator[str]:
    """Those that lack what is required, each with its figures."""
    for each in made.order:
        if each.failed:
            needs = counted(len(each.failed), "requirement")
            yield f"{each.release}: {needs} not met: {listed([lacking(need) for need in each.failed])}."
