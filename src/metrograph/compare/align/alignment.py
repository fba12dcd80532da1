"""Lays flows of screens beside each other, so that screens that are for the same thing share a row.

Two flows are aligned by the heaviest sequence of matches that keeps both orders: the global alignment of Needleman and
Wunsch (1970) with gaps for free, found sparsely among the pairs that may match at all (after Hunt and Szymanski, 1977).
More flows join one after the other, the most typical first (progressive alignment, Feng and Doolittle, 1987), and then
each is taken out and aligned again with all others, as long as all similarities within rows together rise (Barton
and Sternberg, 1987). A screen belongs to a row by its similarity to all that stand there, on the average, so that rows
do not grow along chains. A screen that the order leaves without a partner, but that has one elsewhere, has moved: such
screens are given to rows so that they gain the most together (Kuhn 1955). What a person has ruled holds for whole rows.

Nothing depends on the order in which the flows are given.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

import msgspec

from metrograph.compare.align.sequences import assigned, heaviest, moved, woven
from metrograph.compare.align.similarity import WEIGHTS, Similarities, Weights
from metrograph.run.route import NO_RULINGS, Rulings, ScreenKey

Slots = list[int | None]
"""A row: for each flow the index of its screen there, or None."""

_ROUNDS = 4  # of refinement at most; two are usual


def merge(
    flows: Sequence[Sequence[ScreenKey]], rulings: Rulings = NO_RULINGS, weights: Weights = WEIGHTS
) -> list[Slots]:
    """One order of rows for all flows; each row has an entry per flow, None where the flow has no such screen."""
    table = Similarities((screen for flow in flows for screen in flow), rulings, weights)
    coded = [tuple(table.codes[screen] for screen in flow) for flow in flows]
    counts = Counter(coded)
    typical = _typical(counts, table)
    # From the most typical on, in an order of their own: so the order in which they are named changes nothing.
    distinct = sorted(counts, key=lambda codes: (-typical[codes], codes))
    merging = _Merging(table, distinct)
    for index in range(len(distinct)):
        merging.add(index)
    for _ in range(_ROUNDS):
        if not merging.refine():
            break
    merging.join_ruled()
    places = {codes: index for index, codes in enumerate(distinct)}
    rows = [[row.members.get(places[codes]) for codes in coded] for row in merging.rows]
    return _in_order(rows, len(flows))


def _typical(counts: Counter[tuple[int, ...]], table: Similarities) -> dict[tuple[int, ...], float]:
    """How much of each flow the others have too."""
    having: Counter[int] = Counter()
    # Equal runs count each, so that what most installations have is typical.
    for flow, count in counts.items():
        having.update(dict.fromkeys(flow, count))
    shared = [sum(value * having[other] for other, value in near.items()) for near in table.near]
    return {flow: round(sum(shared[code] for code in flow), 6) for flow in counts}


class _OpenRow(msgspec.Struct, eq=False):
    """A row under way: where in each flow its screen stands, and how many rows are before it."""

    members: dict[int, int]
    number: int = 0


class _Merging:
    """All rows under way, in their order."""

    def __init__(self, table: Similarities, flows: Sequence[tuple[int, ...]]) -> None:
        self.table, self.flows = table, flows
        self.rows: list[_OpenRow] = []
        self.of_code: list[Counter[_OpenRow]] = [Counter() for _ in table.screens]  # the rows in which a screen stands
        self.of_place: list[list[_OpenRow]] = [[] for _ in flows]  # for each flow the row of each of its screens
        self.kinds = [Counter(table.screens[code].kind for code in flow) for flow in flows]

    def add(self, index: int) -> None:
        """Lets a flow join the rows that are there."""
        similar = self._similar(index)
        gains = self._gains(similar)
        partner = self._ruled(index)
        taken = set(partner.values())
        free = [
            (row, column, gain) for (row, column), gain in gains.items() if column not in partner and row not in taken
        ]
        chain = heaviest(sorted(free, key=lambda p: (p[0], -p[1])), len(self.flows[index]))
        in_order = partner | {column: row for row, column in chain}
        partner |= {
            column: row
            for row, column in chain
            # Order alone is weak evidence: a match needs to be similar enough, or the only one possible, or held by a
            # neighbour.
            if similar[row, column] >= self.table.weights.alone
            or self._only_ones(index, row, column)
            or self._holds(index, row, column, in_order)
        }
        partner |= self._moved(index, similar, gains, partner)
        self._join(index, partner)

    def refine(self) -> bool:
        """Takes each flow out and aligns it again with the others; whether all rows are better for it."""
        if len(self.flows) < 2:
            return False
        before, score = [dict(row.members) for row in self.rows], self._score()
        for index in range(len(self.flows)):
            self._take_out(index)
            self.add(index)
        if self._score() > score:
            return True
        self._restore(before)
        return False

    def _score(self) -> float:
        """How similar all screens are that share a row, two by two, together."""
        score = 0.0
        for row in self.rows:
            counts = Counter(self.flows[flow][place] for flow, place in row.members.items())
            for code, count in counts.items():
                near = self.table.near[code]
                score += count * sum(near.get(other, 0.0) * many for other, many in counts.items()) - count
        return round(score / 2, 6)

    def _restore(self, rows: Sequence[dict[int, int]]) -> None:
        """Puts all screens back into the rows that there were."""
        self.of_code = [Counter() for _ in self.table.screens]
        places: list[dict[int, _OpenRow]] = [{} for _ in self.flows]
        self._number([_OpenRow(dict(members)) for members in rows])
        for row in self.rows:
            for flow, place in row.members.items():
                self.of_code[self.flows[flow][place]][row] += 1
                places[flow][place] = row
        self.of_place = [[found[place] for place in range(len(found))] for found in places]

    def join_ruled(self) -> None:
        """Joins rows whose screens a person has ruled to be the same, where no flow has a screen in both."""
        while (pair := self._ruled_pair()) is not None:
            row, other = pair
            rows = [dict(each.members) for each in self.rows if each is not other]
            rows[self.rows.index(row) - (other.number < row.number)] |= other.members
            self._restore(rows)

    def _ruled_pair(self) -> tuple[_OpenRow, _OpenRow] | None:
        """Two rows that are to be joined; None where none are left."""
        for row in self.rows:
            codes = {self.flows[flow][place] for flow, place in row.members.items()}
            ruled = {other for code in codes for other in self.table.same.get(code, ())} - codes
            partners = {each.number: each for other in ruled for each in self.of_code[other]}
            for _, partner in sorted(partners.items()):
                if partner is not row and self._may_join(row, partner):
                    return row, partner
        return None

    def _may_join(self, row: _OpenRow, other: _OpenRow) -> bool:
        """Whether two rows have no flow in common, and nothing that is ruled apart."""
        if row.members.keys() & other.members.keys():
            return False
        codes = {self.flows[flow][place] for flow, place in other.members.items()}
        return not any(
            self.table.apart.get(self.flows[flow][place], set()) & codes for flow, place in row.members.items()
        )

    def _take_out(self, index: int) -> None:
        for code, row in zip(self.flows[index], self.of_place[index], strict=True):
            # A flow must not meet itself when it is aligned again, or it would always find its old place.
            del row.members[index]
            self.of_code[code][row] -= 1
            if not self.of_code[code][row]:
                del self.of_code[code][row]
        self.of_place[index] = []
        self._number([row for row in self.rows if row.members])

    def _number(self, rows: list[_OpenRow]) -> None:
        self.rows = rows
        for number, row in enumerate(rows):
            row.number = number

    def _similar(self, index: int) -> dict[tuple[int, int], float]:
        """How similar rows and screens are that may be the same: to all screens of the row, on the average."""
        sums: dict[tuple[int, int], float] = {}
        for column, code in enumerate(self.flows[index]):
            for other, value in self.table.near[code].items():
                for row, count in self.of_code[other].items():
                    sums[row.number, column] = sums.get((row.number, column), 0.0) + value * count
        return {
            (row, column): value / len(self.rows[row].members)
            for (row, column), value in sums.items()
            if not self._is_apart(index, row, column)
        }

    def _is_apart(self, index: int, row: int, column: int) -> bool:
        """Whether a screen is ruled not to be the same as one that stands in a row."""
        apart = self.table.apart.get(self.flows[index][column])
        return apart is not None and any(
            self.flows[flow][place] in apart for flow, place in self.rows[row].members.items()
        )

    def _ruled(self, index: int) -> dict[int, int]:
        """The rows of screens that are ruled to be the same as one that stands there; each row is given once."""
        partner: dict[int, int] = {}
        for column, code in enumerate(self.flows[index]) if self.table.same else ():
            for other in sorted(self.table.same.get(code, ())):
                rows = sorted(row.number for row in self.of_code[other])
                free = [row for row in rows if row not in partner.values() and not self._is_apart(index, row, column)]
                if free and column not in partner:
                    partner[column] = free[0]
        return partner

    def _holds(self, index: int, row: int, column: int, partner: dict[int, int]) -> bool:
        """Whether something beside two screens is the same too, in one of the flows of the row; or they end there."""
        last = len(self.flows[index]) - 1
        for flow, place in self.rows[row].members.items():
            # Both first or both last is as good as a neighbour in common.
            end = len(self.flows[flow]) - 1
            for step, at_edge in ((-1, place == column == 0), (1, place == end and column == last)):
                beside = partner.get(column + step)
                inside = 0 <= place + step <= end
                if at_edge or (
                    beside is not None and inside and self.rows[beside] is self.of_place[flow][place + step]
                ):
                    return True
        return False

    def _only_ones(self, index: int, row: int, column: int) -> bool:
        """Whether a screen is the only one of its kind, and so is one in this row in the flow that it comes from."""
        kind = self._kind(index, column)
        return self.kinds[index][kind] == 1 and any(
            self._kind(flow, place) == kind and self.kinds[flow][kind] == 1
            for flow, place in self.rows[row].members.items()
        )

    def _kind(self, index: int, place: int) -> str:
        return self.table.screens[self.flows[index][place]].kind

    def _moved(
        self,
        index: int,
        similar: dict[tuple[int, int], float],
        gains: dict[tuple[int, int], float],
        partner: dict[int, int],
    ) -> dict[int, int]:
        """Screens without a partner in order, and the rows elsewhere that they go to: those that gain most together."""
        taken = set(partner.values())
        free = {
            (row, column): gain
            for (row, column), gain in gains.items()
            if column not in partner and row not in taken
            if similar[row, column] >= self.table.weights.alone or self._only_ones(index, row, column)
        }
        return {column: row for row, column in assigned(free)}

    def _gains(self, similar: dict[tuple[int, int], float]) -> dict[tuple[int, int], float]:
        """What each match gains: its similarity, less what each of the two would have more with its own best match.

        So nothing is matched with a makeshift while something much more similar stands elsewhere.
        """
        weights = self.table.weights
        rows: dict[int, float] = {}
        columns: dict[int, float] = {}
        for (row, column), value in similar.items():
            rows[row] = max(value, rows.get(row, 0.0))
            columns[column] = max(value, columns.get(column, 0.0))
        gains = {
            (row, column): round(value - weights.second_best * (rows[row] + columns[column] - 2 * value), 6)
            for (row, column), value in similar.items()
            if value >= weights.same
        }
        return {pair: gain for pair, gain in gains.items() if gain > 0}

    def _join(self, index: int, partner: dict[int, int]) -> None:
        """Puts each screen into its partner's row, and the others into rows of their own before what follows them."""
        out_of_place = moved([partner[column] for column in sorted(partner)])
        joined: list[_OpenRow] = []
        fresh: dict[int, list[_OpenRow]] = {}
        waiting: list[_OpenRow] = []
        for column, code in enumerate(self.flows[index]):
            place = partner.get(column)
            row = _OpenRow({}) if place is None else self.rows[place]
            row.members[index] = column
            self.of_code[code][row] += 1
            joined.append(row)
            if place is None:
                waiting.append(row)
            # What has moved is no place to put anything before: its row stands where others have it.
            elif place not in out_of_place:
                fresh[place], waiting = waiting, []
        self.of_place[index] = joined
        rows: list[_OpenRow] = []
        for number, row in enumerate(self.rows):
            rows += [*fresh.get(number, ()), row]
        self._number(rows + waiting)


def _in_order(rows: list[Slots], count: int) -> list[Slots]:
    """The rows in the order of the first flow, with what only later ones have before the next that is in its place."""
    order: list[int] = []
    for flow in range(count):
        places = sorted((place, row) for row, slots in enumerate(rows) if (place := slots[flow]) is not None)
        order = woven(order, [row for _, row in places])
    return [rows[row] for row in order]
