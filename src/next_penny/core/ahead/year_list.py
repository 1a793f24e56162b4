"""The year's bills in order of due day: what is still owed, what a month costs, and each month settled or not."""

from collections import Counter, defaultdict
from collections.abc import Iterator
from datetime import date
from fractions import Fraction
from typing import Literal, NamedTuple

from next_penny.core.ahead.months import kind_of
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_number
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import Occurrence, expected, past_due
from next_penny.core.flows.settled import settled_amounts
from next_penny.core.forecast.cards.standing import owed_today
from next_penny.core.forecast.projection import as_it_is
from next_penny.core.money import round_half_up
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import Flow

# A bill put off, or rolled, may be paid in the next year and still be of this one.
_REACH = 62
MarkName = Literal["none", "settled", "part", "past_due", "expected"]


class Mark(NamedTuple):
    """A bill in a month: what is recorded for it and still expected, how it stands, and what can still be settled."""

    stands: MarkName
    amount: int
    unsettled: tuple[Occurrence, ...]


class YearRow(NamedTuple):
    """A bill over a calendar year, in the currency of the account that pays it.

    due_day: the day of the month of its first date in the year. owed: what is still owed on the debt that it pays, None
    for a bill. monthly: the year shared among the months in which something is due or was paid, rounded.
    """

    id: str
    name: str
    due_day: int
    rhythm: str
    currency: str
    owed: int | None
    months: tuple[Mark, ...]

    @property
    def total(self) -> int:
        """The whole year."""
        return sum(mark.amount for mark in self.months)

    @property
    def monthly(self) -> int:
        """What one of the months in which it is due costs."""
        return round_half_up(Fraction(self.total, sum(mark.stands != "none" for mark in self.months) or 1))


class YearList(NamedTuple):
    """Sums are in the household's currency, at today's rates."""

    year: int
    rows: list[YearRow]
    months: list[int]
    owed: int

    @property
    def total(self) -> int:
        """The whole year."""
        return sum(self.months)


def year_list(moment: Moment, year: int) -> YearList:
    """Bills, loan payments and card payments of a calendar year. Raises NoRate where one cannot be converted."""
    plan, here = moment.plan, moment.plan.household.currency
    rows = sorted(_rows(moment, year), key=lambda row: (row.due_day, row.name.lower(), row.id))
    months, owed = [0] * 12, 0
    for row in rows:
        for at, mark in enumerate(row.months):
            months[at] += plan.converted(mark.amount, row.currency, here, moment.today)
    debts = {debt.id: debt for row in rows if (debt := _debt(moment, plan.flow_by_id[row.id])) is not None}
    for account in debts.values():
        owed += plan.converted(owed_today(moment, account), account.currency, here, moment.today)
    return YearList(year, rows, months, owed)


def _rows(moment: Moment, year: int) -> Iterator[YearRow]:
    for flow in (*moment.plan.all_flows, *moment.plan.generated_flows):
        debt = _debt(moment, flow)
        if debt is None and kind_of(moment.plan, flow) != "bill":
            continue
        marks, first = _marks(moment, flow, year)
        if first is None:
            continue
        rhythm = "" if flow.id in moment.plan.maker_accounts else maker_of(moment, flow).rhythm()
        owed = owed_today(moment, debt) if debt is not None else None
        yield YearRow(flow.id, flow.name, first.day, rhythm, moment.plan.currency_of(flow), owed, marks)


def _debt(moment: Moment, flow: Flow) -> Account | None:
    """The loan, card or line that a flow pays."""
    made = moment.plan.maker_accounts.get(flow.id)
    paid = made if made is not None else moment.plan.account_by_id.get(flow.to_account or "")
    return paid if paid is not None and paid.is_debt and flow.kind not in ("income", "bill") else None


def _marks(moment: Moment, flow: Flow, year: int) -> tuple[tuple[Mark, ...], date | None]:
    """Twelve marks by the month of the nominal date, and its first date in the year."""
    first, last = date(year, 1, 1).toordinal(), date(year, 12, 31).toordinal()
    amounts, done, late = (Counter[int]() for _ in range(3))
    unsettled = defaultdict[int, list[Occurrence]](list)
    days = set[int]()
    for day, amount in settled_amounts(moment, moment.books, flow).items():
        if first <= day <= last:
            days.add(day)
            done[_month(day)] += 1
            amounts[_month(day)] += abs(amount)
    for due, is_late in _unsettled(moment, flow, last):
        day = due.nominal.toordinal()
        if first <= day <= last:
            days.add(day)
            unsettled[_month(day)].append(due)
            late[_month(day)] += is_late
            amounts[_month(day)] += due.amount
    marks = tuple(
        Mark(_stands(done[at], len(unsettled[at]), late[at] > 0), amounts[at], tuple(unsettled[at])) for at in range(12)
    )
    return marks, date.fromordinal(min(days)) if days else None


def _unsettled(moment: Moment, flow: Flow, last: int) -> Iterator[tuple[Occurrence, bool]]:
    """What is not settled, its amount without a sign, and whether it is late; of a card, as the forecast has it."""
    if flow.id in moment.plan.maker_accounts:
        until = date.fromordinal(max(last, moment.now))
        for event in as_it_is(moment, until).events:
            if event.flow == flow.id and event.nominal is not None and event.amount < 0 and event.status != "settled":
                due = Occurrence(date.fromordinal(event.nominal), event.date, -event.amount)
                yield due, event.status == "past_due"
        return
    for rows, is_late in ((past_due(moment, flow), True), (expected(moment, flow, last + _REACH), False)):
        for day, lands, amount in zip(rows.nominal.tolist(), rows.landing.tolist(), rows.amount.tolist(), strict=True):
            if is_late == (lands < moment.now):
                yield Occurrence(date.fromordinal(day), date.fromordinal(lands), abs(amount)), is_late


def _month(day: int) -> int:
    return month_number(date.fromordinal(day)) % 12


def _stands(done: int, open_: int, is_late: bool) -> MarkName:
    if not open_:
        return "settled" if done else "none"
    if is_late:
        return "past_due"
    return "part" if done else "expected"
