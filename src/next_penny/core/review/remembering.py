"""What is written down as expected: what landed, as the plan stands, and what is settled before its day.

docs/rules.md, Expected and actual.
"""

from collections.abc import Collection, Iterator, Mapping, Sequence
from datetime import date, timedelta

from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import LONGEST_ROLL
from next_penny.core.dates.calendar import EARLIEST, LATEST
from next_penny.core.flows.allowances import Span, limit_share, spans
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import occurrence, past_due
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.entries import Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.memory import Expected, Key
from next_penny.core.plan.starter import UNSORTED_INCOME, UNSORTED_SPENDING
from next_penny.core.problems import go_on

_UNSORTED = (UNSORTED_INCOME.id, UNSORTED_SPENDING.id)
NO_PERIODS: Mapping[str, Sequence[Expected]] = {}


def landed(
    moment: Moment, first: date, last: date, remembered: Mapping[str, Sequence[Expected]] = NO_PERIODS
) -> Iterator[Expected]:
    """Every occurrence that lands in some days, settled or not, and every allowance's period that ends in them.

    What was left out is not among them. `remembered`: by allowance, periods written down that may be near these days;
    what is left of a period of which a part was written down is a period of its own.
    """
    if last < first:
        return
    yield from occurring(moment, first, last)
    for allowance in moment.plan.allowances:
        yield from ended(moment, allowance, first, last, remembered.get(allowance.id, ()))


def occurring(moment: Moment, first: date, last: date) -> Iterator[Expected]:
    """Every occurrence that lands in some days, settled or not."""
    recorded = moment.as_recorded
    for flow in recorded.plan.all_flows:
        go_on()
        rows = maker_of(recorded, flow).occurrences(first.toordinal(), last.toordinal())
        yield from from_rows(recorded, flow, rows)
    for flow in recorded.plan.generated_flows:
        # Older ones only the books knew.
        rows = past_due(recorded, flow)
        wanted = (rows.landing >= first.toordinal()) & (rows.landing <= last.toordinal())
        yield from from_rows(recorded, flow, rows.where(wanted))


def from_rows(recorded: Moment, flow: Flow, rows: Occurrences) -> Iterator[Expected]:
    """Occurrences of a flow with what settling each as told would record."""
    if not len(rows.nominal):
        return
    maker = maker_of(recorded, flow)
    for nominal, landing, amount in zip(*(column.tolist() for column in rows), strict=True):
        of, day = date.fromordinal(nominal), date.fromordinal(landing)
        legs = tuple(_unnamed(flow, leg) for leg in maker.legs(of, amount, day, None))
        yield Expected(flow.id, of, day, flow.name, flow.kind, legs)


def _unnamed(flow: Flow, leg: Leg) -> Leg:
    return Leg(leg.amount) if leg.category in _UNSORTED and flow.category is None else leg


def ended(
    moment: Moment, allowance: Allowance, first: date, last: date, remembered: Sequence[Expected] = ()
) -> Iterator[Expected]:
    """An allowance's periods that end in some days, each with its limit; of a period begun, what is not remembered."""
    for span in spans(moment, allowance, first.toordinal(), last.toordinal()):
        if max(first, _known(allowance)).toordinal() <= span.last <= last.toordinal():
            begins = max((row.lands.toordinal() + 1 for row in remembered if _is_in(row, span)), default=span.first)
            if begins <= span.last:
                yield period(allowance, span, begins, span.last)


def _known(allowance: Allowance) -> date:
    return allowance.known_since or EARLIEST


def _is_in(row: Expected, span: Span) -> bool:
    return span.first <= row.nominal.toordinal() <= span.last


def period(allowance: Allowance, span: Span, first: int, last: int) -> Expected:
    """Some days of an allowance's period, with their share of its limit."""
    nominal, lands = date.fromordinal(first), date.fromordinal(last)
    limit = limit_share(span, first, last)
    return Expected(
        allowance.id, nominal, lands, allowance.name, "allowance", (), limit, allowance.categories, allowance.account
    )


def of_key(moment: Moment, key: Key) -> Expected | None:
    """The occurrence of a flow's nominal day, settled or not; None where there is none."""
    recorded = moment.as_recorded
    flow = recorded.plan.flow_by_id.get(key.source)
    if flow is None:
        return None
    number = key.nominal.toordinal()
    if flow.id in recorded.plan.maker_accounts:
        found_occurrence = occurrence(recorded, flow, key.nominal)
        rows = (
            Occurrences.of(number, found_occurrence.lands.toordinal(), found_occurrence.amount)
            if found_occurrence is not None
            else None
        )
    else:
        about = (number, flow.exceptional.moved.get(number, number))
        begin = max(EARLIEST.toordinal(), min(about) - LONGEST_ROLL)
        rows = maker_of(recorded, flow).occurrences(begin, min(LATEST.toordinal(), max(about) + LONGEST_ROLL))
        rows = rows.where(rows.nominal == number)
    return next(from_rows(recorded, flow, rows), None) if rows is not None else None


def settled_by(before: Moment, after: Moment, touched: Collection[Key]) -> Iterator[Expected]:
    """What a change settled, in part too, on or before its day, or left out on it, as the plan stood before.

    `touched`: the occurrences that changed entries name.
    """
    for key in touched:
        row = of_key(before, key) or of_key(after, key)
        if row is not None and row.lands >= before.today:
            yield row
    for flow in after.plan.flows:
        existing = before.plan.flow_by_id.get(flow.id)
        if existing is None or existing is flow or existing.changes == flow.changes:
            continue
        for nominal in flow.exceptional.left_out - existing.exceptional.left_out:
            row = of_key(before, Key(flow.id, date.fromordinal(nominal)))
            # What is left out before its day was not expected.
            if row is not None and row.lands == before.today:
                yield row


def is_left_out(moment: Moment, row: Expected) -> bool:
    """Whether the plan leaves an occurrence out."""
    flow = moment.plan.flow_by_id.get(row.source)
    return flow is not None and row.nominal.toordinal() in flow.exceptional.left_out


def cut_short(before: Moment, after: Moment) -> Iterator[Expected]:
    """Of allowances that a change deletes, ends or gives other categories, the days of the period before today."""
    for allowance in before.plan.allowances:
        existing = after.plan.allowance_by_id.get(allowance.id)
        if existing is allowance:
            continue
        is_ended = existing is not None and existing.until is not None and existing.until < before.today
        if existing is not None and existing.categories == allowance.categories and not is_ended:
            continue
        for span in spans(before, allowance, before.now, before.now):
            if span.first < before.now <= span.last:
                yield period(allowance, span, span.first, before.now - 1)


def days_to_write(until: date | None, today: date) -> tuple[date, date]:
    """The days of which nothing is written down yet: none where the second is before the first."""
    return (until + timedelta(days=1) if until is not None else EARLIEST), today - timedelta(days=1)
