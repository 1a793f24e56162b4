"""A review in words: what was kept, against what was expected, and what made the difference."""

from collections import defaultdict
from collections.abc import Sequence
from datetime import date
from fractions import Fraction
from typing import NamedTuple

from next_penny.core.dates.sentences import joined
from next_penny.core.dates.writing import current
from next_penny.core.money import format_amount
from next_penny.core.review.forward.proposals import Proposal
from next_penny.core.review.records import Review, Row, RowKey, RowKind, Totals, Two
from next_penny.core.review.stretches import name_of

# As many names as one reads at once.
_NAMED = 2


class Group(NamedTuple):
    """The sums of the categories of one group, spending and income apart."""

    kind: RowKind
    name: str
    sums: Two


class Line(NamedTuple):
    """A category, or an allowance with its categories together: what was expected of it and what happened."""

    key: RowKey
    name: str
    group: str
    sums: Two
    rows: tuple[Row, ...]

    @property
    def gained(self) -> int:
        """How much more was kept because of it than was expected."""
        more = self.sums.actual - self.sums.expected
        return more if self.key.kind == "income" else -more


def lines_of(review: Review) -> list[Line]:
    """The rows as one reads them: the categories of an allowance stand under it; the largest first."""
    allowances = {row.key.id for row in review.rows if row.key.kind == "allowance"}
    under: defaultdict[str, list[Row]] = defaultdict(list)
    lines: list[Line] = []
    for row in review.rows:
        if row.of_allowance in allowances:
            under[row.of_allowance or ""].append(row)
    for row in review.rows:
        # An allowance of nothing has no row: its categories stand by themselves.
        if row.of_allowance not in allowances:
            rows = tuple(under[row.key.id or ""]) if row.key.kind == "allowance" else ()
            actual = row.sums.actual + sum(one_row.sums.actual for one_row in rows)
            expected = row.sums.expected + sum(one_row.sums.expected for one_row in rows)
            lines.append(Line(row.key, row.name, row.group, Two(expected, actual), rows))
    return sorted(lines, key=lambda line: (-max(line.sums), line.name))


def groups_of(lines: Sequence[Line]) -> list[Group]:
    """The sums by group, the largest first."""
    sums: defaultdict[tuple[RowKind, str], list[int]] = defaultdict(lambda: [0, 0])
    for line in lines:
        both = sums["income" if line.key.kind == "income" else "expense", line.group]
        both[0] += line.sums.expected
        both[1] += line.sums.actual
    groups = [Group(kind, name, Two(*both)) for (kind, name), both in sums.items()]
    return sorted(groups, key=lambda group: (-max(group.sums), group.name))


def sentence_of(totals: Totals, lines: Sequence[Line], currency: str, today: date) -> str:
    """What was kept of a stretch, against what was expected of it, in one sentence."""
    money, when = totals.kept, _when(totals.first, totals.last)
    if today < totals.first:
        expected = format_amount(abs(money.expected), currency)
        return (
            f"{when} you are expected to {'keep' if money.expected >= 0 else 'spend more than comes in:'} {expected}."
        )
    is_over = today >= totals.last
    so_far = "" if is_over else " so far"
    what = "to be kept" if money.expected >= 0 else "to be missing"
    rest = "" if is_over else f"; {format_amount(abs(money.expected), currency)} is expected {what} by its end"
    if not (totals.income.actual or totals.spending.actual):
        return f"{when} nothing was earned or spent{so_far}{rest if money.expected else ''}."
    of = f", {_percent(money.share)} of what came in" if money.share is not None and money.actual > 0 else ""
    did = "kept" if money.actual >= 0 else "spent more than came in:"
    head = f"{when} you {did} {format_amount(abs(money.actual), currency)}{so_far}{of}"
    if not is_over:
        return f"{head}{rest}."
    off = money.actual - money.expected
    if not off:
        return f"{head}; exactly as expected."
    more = "more" if off > 0 else "less"
    return f"{head}; {format_amount(abs(off), currency)} {more} than expected{_because(lines, off)}."


def _when(first: date, last: date) -> str:
    """A stretch as a sentence begins: `In March 2027`, `From 3 to 9 March 2027`, `On 3 March 2027`."""
    name = name_of(first, last)
    if first == last:
        return f"On {name}"
    return f"From {name}" if " to " in name else f"In {name}"


def _percent(tenths: int) -> str:
    mark = current().notation[5]
    return f"{tenths // 10}{mark}{tenths % 10}\u00a0%"


def _because(lines: Sequence[Line], off: int) -> str:
    """The few that are most of a difference; nothing where many small ones are."""
    same = sorted((line for line in lines if line.gained * off > 0), key=lambda line: -abs(line.gained))
    is_one = bool(same) and 4 * abs(same[0].gained) >= 3 * abs(off)
    named = same[: 1 if is_one else _NAMED]
    together = abs(sum(line.gained for line in named))
    if not named or Fraction(together) * 2 <= abs(off):
        return ""
    return f", most of it {joined([line.name for line in named])}"


def proposal_sentence(proposal: Proposal) -> str:
    """How often in a row it was off one way, and what would have fitted."""
    planned, fitting = (format_amount(amount, proposal.currency) for amount in (proposal.planned, proposal.amount))
    way = "more" if proposal.amounts[0] > proposal.planned else "less"
    what = "was used" if proposal.kind == "allowance" else "it came to"
    return f"{proposal.times} times in a row {way} than {planned} {what}: {fitting} would have fitted."


def fitting_sentence(proposal: Proposal) -> str:
    """What something came to each time, on the average of a year, beside what is planned."""
    fitting, planned = (format_amount(amount, proposal.currency) for amount in (proposal.amount, proposal.planned))
    times = "once" if proposal.times == 1 else f"{proposal.times} times"
    return f"{times} in the year, {fitting} on average; {planned} is planned."
