"""The stateless loan calculators: schedule, payoff amount, annual percentage rate."""

import datetime
import re
from collections.abc import Iterable
from decimal import Decimal
from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from next_penny.api.http.answers import Written, response, whole
from next_penny.api.http.columns import rows
from next_penny.api.http.errors import Refusal, Refused, refused, refused_loan
from next_penny.api.http.session import Home
from next_penny.core.dates.calendar import LATEST, add_months
from next_penny.core.loans.alternatives.payoff import payoff_amount
from next_penny.core.loans.apr import annual_percentage_rate, loan_apr
from next_penny.core.loans.check import loan_problems
from next_penny.core.loans.schedule import Row, Schedule, schedule, without_extras
from next_penny.core.loans.unit_periods import DatedSum, UnitPeriod
from next_penny.core.loans.walked import LoanError
from next_penny.core.loans.years import ScheduleYear, by_year, in_all
from next_penny.core.plan.terms.loans import LoanTerms, due_days
from next_penny.formats.documents.fields import Amount, Day, Document
from next_penny.formats.documents.loans import Loan

router = APIRouter(prefix="/api/tools", tags=["tools"])

# More payments than any loan has.
_MOST_PAYMENTS = 100_000


class LoanRow(BaseModel):
    """One payment. `payment` is interest and scheduled principal; `balance` is after it and after the extra."""

    number: int
    due: datetime.date
    annual_rate: str
    payment: int
    interest: int
    principal: int
    extra: int
    escrow: int
    insurance: int
    balance: int


class LoanTotals(BaseModel):
    payment: int
    interest: int
    principal: int
    extra: int
    escrow: int
    insurance: int
    fees: int


class WithoutExtras(BaseModel):
    interest: int
    paid_off: datetime.date
    payments: int


class Saves(BaseModel):
    interest: int
    payments: int


class LoanInAll(BaseModel):
    """What leaves with each payment, escrow and insurance included; `years` and `insurance` as `by_year` has them."""

    total: int
    rows: list[int]
    years: list[int]
    insurance: list[int]


class PaidOut(BaseModel):
    """The day a loan is paid out, all its fees, those of them that are in the loan, and what is owed from then on."""

    on: datetime.date
    fees: int
    fees_financed: int
    owed: int


class LoanScheduleAnswer(BaseModel):
    """`payment` is the level payment, principal and interest. `notes` say what of the request had no effect.

    `paid_out` is null of a loan that is seen from a later day on.

    `without_extras` and `saves` are null where only the extras let the payment cover the interest.
    """

    payment: int
    rows: list[LoanRow]
    totals: LoanTotals
    paid_off: datetime.date
    apr: str | None
    by_year: list[ScheduleYear]
    without_extras: WithoutExtras | None
    saves: Saves | None
    in_all: LoanInAll
    paid_out: PaidOut | None
    notes: list[str]


class PayoffRequest(Document):
    loan: Loan
    on: Day


class LoanPayoffAnswer(BaseModel):
    balance: int
    accrued_interest: int
    total: int


class Advance(Document):
    date: Day
    amount: Annotated[Amount, Field(gt=0)]


class Payment(Document):
    """One payment, or `count` of them, `every` so much time from the first date on."""

    date: Day
    amount: Annotated[Amount, Field(ge=0)]
    count: Annotated[int, Field(strict=True, ge=1)] = 1
    every: str | None = Field(None, max_length=40)


class AprRequest(Document):
    advances: list[Advance] = Field(max_length=1000)
    payments: list[Payment] = Field(max_length=1000)


class AprAnswer(BaseModel):
    apr: str
    unit_period: str
    unit_periods_a_year: str


def checked_terms(
    loan: Loan, currency: str, loc: tuple[str | int, ...] = ("body",), *, is_rest: bool = False
) -> LoanTerms:
    """A loan's terms (or those of the rest of one), or every problem of them at its field."""
    terms = loan.to_core()
    problems = loan_problems(terms, currency, is_rest=is_rest)
    if problems:
        raise Refused(Refusal(loc=[*loc, *field], msg=message, type=kind) for field, message, kind in problems)
    return terms


@router.post("/loan-schedule", response_model=LoanScheduleAnswer)
def loan_schedule(loan: Loan, home: Home) -> Response:
    """The schedule of a loan, to the minor unit; sentences are in the household's currency, as a LOAN has none."""
    terms = checked_terms(loan, home.plan.household.currency)
    try:
        plain = without_extras(terms)
    except LoanError:
        plain = None
    return response(whole(LoanScheduleAnswer, schedule_fields(schedule(terms), plain)))


def schedule_fields(schedule: Schedule, plain: Schedule | None) -> dict[str, object]:
    """The fields of a schedule's answer; `plain` is the same without extras, None where that pays nothing off."""
    fees = sum(fee.amount for fee in schedule.terms.fees)
    interest, principal = sum(schedule.interest), sum(schedule.principal)
    years, paid = by_year(schedule), in_all(schedule)
    return {
        "payment": schedule.level,
        "rows": schedule_rows(schedule),
        "totals": LoanTotals(
            payment=interest + principal, interest=interest, principal=principal, extra=sum(schedule.extra),
            escrow=sum(schedule.escrow), insurance=sum(schedule.insurance), fees=fees,
        ),
        "paid_off": schedule.paid_off,
        "apr": _apr(schedule.terms),
        "by_year": list(years),
        "without_extras": plain and WithoutExtras(
            interest=plain.total_interest, paid_off=plain.paid_off, payments=len(plain)
        ),
        "saves": plain and Saves(
            interest=plain.total_interest - schedule.total_interest, payments=len(plain) - len(schedule)
        ),
        "in_all": LoanInAll(
            total=sum(paid.rows),
            rows=paid.rows,
            years=[paid.years.get(year.year, 0) for year in years],
            insurance=[paid.insurance.get(year.year, 0) for year in years],
        ),
        "paid_out": _paid_out(schedule),
        "notes": schedule.notes,
    }  # fmt: skip


def _paid_out(schedule: Schedule) -> PaidOut | None:
    terms = schedule.terms
    if schedule.first_number > 1:
        return None
    fees = sum(fee.amount for fee in terms.fees)
    financed = terms.amount_financed - terms.principal
    return PaidOut(on=terms.disbursed, fees=fees, fees_financed=financed, owed=schedule.opening)


def schedule_rows(schedule: Schedule) -> Written:
    columns = list(zip(*schedule.rows, strict=True))
    named = dict(zip(Row._fields, columns, strict=True))
    named["annual_rate"] = tuple(f"{rate:f}" for rate in schedule.rate)
    return rows(LoanRow, {name: named[name] for name in LoanRow.model_fields})


def _apr(terms: LoanTerms) -> str | None:
    try:
        return str(loan_apr(terms).apr)
    except LoanError:
        return None


@router.post("/payoff-amount")
def payoff(request: PayoffRequest, home: Home) -> LoanPayoffAnswer:
    """What pays a loan off on a day."""
    currency = home.plan.household.currency
    terms = checked_terms(request.loan, currency, ("body", "loan"))
    try:
        owed = payoff_amount(schedule(terms), request.on)
    except LoanError as error:
        raise refused_loan(error, currency) from error
    return LoanPayoffAnswer(balance=owed.balance, accrued_interest=owed.accrued_interest, total=owed.total)


@router.post("/apr")
def apr(request: AprRequest, home: Home) -> AprAnswer:
    """The annual percentage rate of any advances and payments."""
    if sum(payment.count for payment in request.payments) > _MOST_PAYMENTS:
        message = f"These are more than {_MOST_PAYMENTS:,} payments: give fewer."
        raise refused(("body", "payments"), message, "too_many")
    advances = [DatedSum(advance.date, advance.amount) for advance in request.advances]
    payments = [one for place, payment in enumerate(request.payments) for one in _expanded(payment, place)]
    try:
        found_annual_percentage_rate = annual_percentage_rate(advances, payments)
    except LoanError as error:
        raise refused_loan(error, home.plan.household.currency) from error
    per_year = found_annual_percentage_rate.unit_period.per_year
    shown = Decimal(per_year.numerator) / per_year.denominator
    return AprAnswer(
        apr=str(found_annual_percentage_rate.apr),
        unit_period=str(found_annual_percentage_rate.unit_period),
        unit_periods_a_year=f"{shown.normalize():f}"[:12],
    )


def _expanded(payment: Payment, place: int) -> Iterable[DatedSum]:
    if payment.count == 1:
        return [DatedSum(payment.date, payment.amount)]
    unit = _every(payment.every)
    if unit is None:
        message = "Say how often, such as “1 week”, “2 weeks”, “half month”, “1 month” or “3 months”."
        raise refused(("body", "payments", place, "every"), message, "range")
    if unit.kind == "half month":
        days = [datetime.date.fromordinal(day) for day in due_days(payment.date, 24, payment.count)]
    elif unit.kind == "month":
        if add_months_reach(payment.date, unit.times * payment.count) > LATEST.year:
            raise refused(("body", "payments", place, "count"), "These payments reach too far ahead.", "range")
        days = [add_months(payment.date, unit.times * number) for number in range(payment.count)]
    else:
        step = unit.times * (7 if unit.kind == "week" else 1)
        if payment.date.toordinal() + step * payment.count > LATEST.toordinal():
            raise refused(("body", "payments", place, "count"), "These payments reach too far ahead.", "range")
        days = [payment.date + datetime.timedelta(days=step * number) for number in range(payment.count)]
    return [DatedSum(day, payment.amount) for day in days]


def add_months_reach(day: datetime.date, months: int) -> int:
    """The year that so many months later is in."""
    return day.year + (day.month + months) // 12 + 1


def _every(text: str | None) -> UnitPeriod | None:
    words = (text or "").strip().lower()
    if words in ("half month", "1 half month"):
        return UnitPeriod("half month", 1)
    match = re.fullmatch(r"(\d{1,3}) (day|week|month|year)s?", words)
    if not match or not (times := int(match[1])):
        return None
    if match[2] == "year":
        return UnitPeriod("month", 12 * times)
    return UnitPeriod(match[2], times)  # type: ignore[arg-type]
