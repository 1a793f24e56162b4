"""What was expected of a stretch of days: remembered of the past, and from the plan since (docs/rules.md)."""

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Protocol

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import EARLIEST
from next_penny.core.flows.allowances import LONGEST_PERIOD, Span, limit_share, spans
from next_penny.core.flows.makers import expected as expected_of
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.memory import Expected, Key
from next_penny.core.review.remembering import from_rows, is_left_out, occurring, period


class Sources(Protocol):
    """What a review asks of all that is recorded."""

    def dated(self, first: date, last: date) -> Sequence[Entry]:
        """What is recorded from a day to a day."""
        ...

    def paid_for(
        self, first: date, last: date, of: Collection[str] | None = None
    ) -> Mapping[Key, Sequence[Entry]]:  # fmt: skip
        """By occurrence, what was recorded for those with a nominal day from a day to a day, in part too.

        of: the flows that are asked about; None means all.
        """
        ...

    def expected_until(self) -> date | None:
        """The day up to which what was expected is written down."""
        ...

    def expected_between(self, first: date, last: date, of: Collection[str] | None = None) -> Sequence[Expected]:
        """What is remembered of some days; of allowances, every period that has one of them.

        of: the flows or allowances that are asked about; None means all.
        """
        ...

    def expected_keys(self, first: date, last: date) -> frozenset[Key]:
        """What is remembered with a nominal day from a day to a day."""
        ...


@dataclass(frozen=True, slots=True)
class Period:
    """Some days of an allowance, inclusive, with their limit in the currency of its account."""

    id: str
    name: str
    first: date
    last: date
    limit: int
    categories: tuple[str, ...]
    account: str

    def share(self, first: date, last: date) -> int:
        """What the days of a stretch have of its limit: rounded as the shares of its days add up."""
        span = Span(self.first.toordinal(), self.last.toordinal(), self.limit)
        return limit_share(span, max(first.toordinal(), span.first), min(last.toordinal(), span.last))


def written_until(moment: Moment, sources: Sources) -> date | None:
    """The last day of which only what is written down was expected: yesterday at the latest."""
    until = sources.expected_until()
    return None if until is None else min(until, moment.today - timedelta(days=1))


def told_over(
    moment: Moment, sources: Sources, first: date, last: date, of: Collection[str] | None = None
) -> list[Expected]:  # fmt: skip
    """Every occurrence that was or is expected in some days, each once; what is remembered by its memory alone.

    of: of the past, the flows that are asked about; None means all.
    """
    remembered = [row for row in sources.expected_between(first, last, of) if not row.is_allowance]
    candidates = [row for row in remembered if row.lands >= moment.today]
    paid = sources.paid_for(*_nominals(candidates)) if candidates else {}
    expectations = [
        row for row in remembered
        if row.lands < moment.today or row.key in paid or is_left_out(moment, row)
    ]  # fmt: skip
    until = written_until(moment, sources)
    begin = first if until is None else max(first, until + timedelta(days=1))
    planned = [*occurring(moment, begin, last), *_generated(moment, begin, last)] if begin <= last else []
    ignored = {row.key for row in remembered} - {row.key for row in expectations}
    keys = (sources.expected_keys(*_nominals(planned)) if planned else frozenset()) - ignored
    return [*expectations, *(row for row in planned if row.key not in keys)]


def _nominals(rows: Sequence[Expected]) -> tuple[date, date]:
    return min(row.nominal for row in rows), max(row.nominal for row in rows)


def _generated(moment: Moment, first: date, last: date) -> Iterator[Expected]:
    """What cards and savings are expected to make of themselves from today on."""
    begin = max(first, moment.today).toordinal()
    if last.toordinal() < begin:
        return
    for flow in moment.plan.generated_flows:
        rows = expected_of(moment, flow, last.toordinal())
        yield from from_rows(moment, flow, rows.where(rows.landing >= begin))


def periods_over(
    moment: Moment, sources: Sources, first: date, last: date, of: Collection[str] | None = None
) -> list[Period]:  # fmt: skip
    """Every allowance's periods that have one of some days: remembered, or of the plan where they had not ended.

    of: of what is remembered, the allowances that are asked about; None means all.
    """
    # Of a period in which the stretch begins a part may be written down that ended before it.
    near = max(EARLIEST, first - timedelta(days=LONGEST_PERIOD))
    remembered = [row for row in sources.expected_between(near, last, of) if row.is_allowance]
    until = written_until(moment, sources)
    periods = [_period(row) for row in remembered if until is not None and row.lands <= until]
    for allowance in moment.plan.allowances:
        own = [period for period in periods if period.id == allowance.id]
        for span in spans(moment, allowance, first.toordinal(), last.toordinal()):
            is_known = allowance.known_since is None or allowance.known_since.toordinal() <= span.last
            if not is_known or (until is not None and span.last <= until.toordinal()):
                continue
            starts = date.fromordinal(span.first)
            begins = max((period.last + timedelta(days=1) for period in own if period.first >= starts), default=starts)
            row = period(allowance, span, begins.toordinal(), span.last)
            if row.nominal <= row.lands:
                periods.append(_period(row))
    return [period for period in periods if period.first <= last and period.last >= first]


def _period(row: Expected) -> Period:
    return Period(
        row.source, row.name, row.nominal, row.lands, row.limit or 0, row.categories, row.account or ""
    )  # fmt: skip
