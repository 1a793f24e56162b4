"""The stateless loan calculators: schedule, payoff amount, annual percentage rate."""

import datetime
import re
from collections.abc import Iterable
from dataclasses import asdict
from decimal import Decimal
from typing import Annotated, Any

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from next_penny.api.errors import Refusal, Refused, refused
from next_penny.api.forecast import day_text, json_response
from next_penny.core.dates.calendar import LATEST, add_months
from next_penny.core.loans.apr import DatedSum, UnitPeriod, annual_percentage_rate, loan_apr
from next_penny.core.loans.check import loan_problems
from next_penny.core.loans.payoff import payoff_amount
from next_penny.core.loans.schedule import LoanError, Schedule, by_year, schedule, without_extras
from next_penny.core.loans.terms import LoanTerms, due_days
from next_penny.formats.fields import Amount, Day, Document
from next_penny.formats.loan_document import Loan

router = APIRouter(prefix="/api/tools", tags=["tools"])


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


class LoanYear(BaseModel):
    year: int
    interest_paid: int
    interest_accrued: int
    principal: int
    extra: int
    escrow: int


class WithoutExtras(BaseModel):
    interest: int
    paid_off: datetime.date
    payments: int


class Saves(BaseModel):
    interest: int
    payments: int


class LoanScheduleAnswer(BaseModel):
    """`payment` is the level payment. `notes` say what of the request had no effect."""

    payment: int
    rows: list[LoanRow]
    totals: LoanTotals
    paid_off: datetime.date
    apr: str | None
    by_year: list[LoanYear]
    without_extras: WithoutExtras
    saves: Saves
    notes: list[str]


class PayoffRequest(Document):
    loan: Loan
    on: Day


class PayoffAnswer(BaseModel):
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
    count: Annotated[int, Field(strict=True, ge=1, le=10_000)] = 1
    every: str | None = Field(None, max_length=40)


class AprRequest(Document):
    advances: list[Advance] = Field(max_length=1000)
    payments: list[Payment] = Field(max_length=1000)


class AprAnswer(BaseModel):
    apr: str
    unit_period: str
    unit_periods_a_year: str


def checked_terms(loan: Loan, loc: tuple[str | int, ...] = ("body",), *, is_rest: bool = False) -> LoanTerms:
    """A loan's terms (or those of the rest of one), or every problem of them at its field."""
    terms = loan.to_core()
    problems = loan_problems(terms, is_rest=is_rest)
    if problems:
        raise Refused(Refusal(loc=[*loc, *field], msg=message, type=kind) for field, message, kind in problems)
    return terms


@router.post("/loan-schedule", response_model=LoanScheduleAnswer)
def loan_schedule(loan: Loan) -> Response:
    """The schedule of a loan, to the minor unit."""
    terms = checked_terms(loan)
    return json_response(schedule_document(schedule(terms), without_extras(terms)))


def schedule_document(found: Schedule, plain: Schedule) -> dict[str, Any]:
    """A schedule as the API gives it; `plain` is the same without extras."""
    rows = row_documents(found)
    names = ("payment", "interest", "principal", "extra", "escrow", "insurance")
    fees = sum(fee.amount for fee in found.terms.fees)
    return {
        "payment": found.level,
        "rows": rows,
        "totals": {**{name: sum(row[name] for row in rows) for name in names}, "fees": fees},
        "paid_off": found.paid_off.isoformat(),
        "apr": _apr(found.terms),
        "by_year": [asdict(year) for year in by_year(found)],
        "without_extras": {
            "interest": plain.total_interest, "paid_off": plain.paid_off.isoformat(), "payments": len(plain),
        },
        "saves": {"interest": plain.total_interest - found.total_interest, "payments": len(plain) - len(found)},
        "notes": list(found.notes),
    }  # fmt: skip


def row_documents(found: Schedule) -> list[dict[str, Any]]:
    rates = {rate: f"{rate:f}" for rate in set(found.rate)}
    return [
        {"number": row.number, "due": day_text(row.due), "annual_rate": rates[row.annual_rate], "payment": row.payment,
         "interest": row.interest, "principal": row.principal, "extra": row.extra, "escrow": row.escrow,
         "insurance": row.insurance, "balance": row.balance}
        for row in found.rows
    ]  # fmt: skip


def _apr(terms: LoanTerms) -> str | None:
    try:
        return str(loan_apr(terms).apr)
    except LoanError:
        return None


@router.post("/payoff-amount")
def payoff(request: PayoffRequest) -> PayoffAnswer:
    """What pays a loan off on a day."""
    terms = checked_terms(request.loan, ("body", "loan"))
    try:
        owed = payoff_amount(schedule(terms), request.on)
    except LoanError as error:
        raise refused(("body", error.field), error.message, error.kind) from error
    return PayoffAnswer(balance=owed.balance, accrued_interest=owed.accrued_interest, total=owed.total)


@router.post("/apr")
def apr(request: AprRequest) -> AprAnswer:
    """The annual percentage rate of any advances and payments."""
    advances = [DatedSum(each.date, each.amount) for each in request.advances]
    payments = [one for place, each in enumerate(request.payments) for one in _expanded(each, place)]
    try:
        found = annual_percentage_rate(advances, payments)
    except LoanError as error:
        raise refused(("body", error.field), error.message, error.kind) from error
    per_year = found.unit_period.per_year
    shown = Decimal(per_year.numerator) / per_year.denominator
    return AprAnswer(
        apr=str(found.apr), unit_period=str(found.unit_period), unit_periods_a_year=f"{shown.normalize():f}"[:12]
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
