"""Each flow at a glance: how it reads, when it is next, what it costs in a year, and month by month."""

from dataclasses import dataclass
from datetime import date

from next_penny.core.books import Books
from next_penny.core.dates.business_days import business_calendar
from next_penny.core.dates.calendar import add_months, month_number, month_start
from next_penny.core.dates.recurrence import parse_rule
from next_penny.core.dates.sentences import rule_sentence, schedule_sentence
from next_penny.core.flows.loan_payments import due_rule, loan_occurrences
from next_penny.core.flows.occurrences import amount_on, hourly_on, occurrences, rules_on
from next_penny.core.plan import Flow, Hourly, Plan


@dataclass(frozen=True, slots=True)
class Next:
    """The next unsettled occurrence from today on, by the day it lands."""

    day: int
    amount: int


@dataclass(frozen=True, slots=True)
class FlowSummary:
    """Amounts are in the main account's currency. `months` are the sums of twelve calendar months, this one first.

    `amount_now`, `rules_now`, `hourly_now` and `flow_now` (its accounts and category) are those in force today.
    """

    flow: Flow
    currency: str
    sentence: str
    amount_now: int
    flow_now: Flow
    hourly_now: Hourly | None
    rules_now: tuple[str, ...]
    next: Next | None
    past_due: int
    yearly: int
    months: tuple[int, ...]


def summarize(plan: Plan, flow: Flow, books: Books, today: date) -> FlowSummary:
    """One flow as seen from today. The year is the twelve months that begin today."""
    opened = plan.flow_opened(flow)
    this_month = month_number(today)
    first = min(month_start(this_month), today.toordinal())
    year_end = add_months(today, 12).toordinal() - 1
    last = max(month_start(this_month + 12) - 1, year_end)
    calendar = business_calendar(plan.household.country)
    paid = _paid(flow, books)
    begin = max(first, opened.toordinal())
    if flow.kind == "loan_payment":
        found = loan_occurrences(plan, flow, books, calendar, begin, last)
    else:
        found = occurrences(flow, opened, calendar, begin, last, paid)
    settled = books.settled.get(flow.id, frozenset())
    landing, amount = found.landing.tolist(), found.amount.tolist()
    coming = [(day, sum_) for day, sum_, nominal in zip(landing, amount, found.nominal.tolist(), strict=True)
              if day >= today.toordinal() and nominal not in settled]  # fmt: skip
    next_one = Next(*min(coming)) if coming else _later(plan, flow, books, last + 1)
    months = [0] * 12
    for day, part in zip(landing, amount, strict=True):
        place = month_number(date.fromordinal(day)) - this_month
        if place < 12:
            months[place] += part
    return FlowSummary(
        flow=flow,
        currency=plan.account_by_id[flow.main_account or ""].currency,
        sentence=_sentence(plan, flow, opened, today),
        amount_now=amount_on(flow, today),
        flow_now=flow.on(today),
        hourly_now=hourly_on(flow, today),
        rules_now=rules_on(flow, today),
        next=next_one,
        past_due=_past_due(plan, flow, books, today),
        yearly=sum(part for day, part in zip(landing, amount, strict=True) if today.toordinal() <= day <= year_end),
        months=tuple(months),
    )


def _paid(flow: Flow, books: Books) -> tuple[tuple[int, int], ...]:
    return tuple(books.paid.get(flow.id, ())) if flow.follows else ()


def _sentence(plan: Plan, flow: Flow, opened: date, today: date) -> str:
    loan = plan.account_by_id[flow.to_account or ""].loan if flow.kind == "loan_payment" else None
    if loan is not None:
        return rule_sentence(parse_rule(due_rule(loan)), loan.first_payment)
    return schedule_sentence(flow.schedule(opened, rules_on(flow, today)))


def _later(plan: Plan, flow: Flow, books: Books, first: int) -> Next | None:
    """The first occurrence beyond the coming year, looked for over ten years."""
    if flow.kind == "loan_payment":
        return None
    opened, calendar = plan.flow_opened(flow), business_calendar(plan.household.country)
    begin = max(first, opened.toordinal())
    found = occurrences(flow, opened, calendar, begin, first + 3653, _paid(flow, books))
    return Next(int(found.landing[0]), int(found.amount[0])) if len(found.landing) else None


def _past_due(plan: Plan, flow: Flow, books: Books, today: date) -> int:
    opened = plan.flow_opened(flow)
    if opened >= today:
        return 0
    calendar = business_calendar(plan.household.country)
    first, yesterday = opened.toordinal(), today.toordinal() - 1
    if flow.kind == "loan_payment":
        found = loan_occurrences(plan, flow, books, calendar, first, yesterday)
    else:
        found = occurrences(flow, opened, calendar, first, yesterday)
    settled = books.settled.get(flow.id, frozenset())
    return sum(nominal not in settled for nominal in found.nominal.tolist())
