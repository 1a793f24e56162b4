"""Why a figure of a schedule is what it is: the sum that made it, with its day count, in a sentence."""

from datetime import date
from itertools import pairwise
from typing import Literal

from next_penny.core.dates.day_counts import DAY_COUNTS
from next_penny.core.dates.sentences import full_day
from next_penny.core.loans.level import level_payment, period_rate
from next_penny.core.loans.schedule import Row, Schedule
from next_penny.core.money import format_amount

Figure = Literal["payment", "interest", "principal", "extra", "escrow", "insurance", "balance"]


def why(schedule: Schedule, number: int, figure: Figure, currency: str) -> str:
    """The sum behind one figure of payment `number`. Raises KeyError for a payment that the schedule has not."""
    index = number - schedule.first_number
    if not 0 <= index < len(schedule):
        raise KeyError(number)
    row = schedule.rows[index]
    before = schedule.balance[index - 1] if index else schedule.opening
    sentences = {
        "interest": lambda: _interest(schedule, row, before, currency),
        "principal": lambda: _sum(f"payment {_m(row.payment, currency)} − interest {_m(row.interest, currency)}",
                                  row.principal, currency),
        "payment": lambda: _payment(schedule, row, before, currency, index),
        "extra": lambda: f"{_m(row.extra, currency)} is paid beyond the schedule: it is principal alone.",
        "escrow": lambda: f"{_m(row.escrow, currency)} is for escrow, as set for {full_day(_day(row.due))}.",
        "insurance": lambda: _insurance(schedule, row, currency),
        "balance": lambda: _sum(
            f"{_m(before, currency)} owed before − principal {_m(row.principal, currency)} − "
            f"extra {_m(row.extra, currency)}", row.balance, currency),
    }  # fmt: skip
    return sentences[figure]()


def _m(amount: int, currency: str) -> str:
    return format_amount(amount, currency)


def _day(number: int) -> date:
    return date.fromordinal(number)


def _sum(text: str, result: int, currency: str) -> str:
    return f"{text[0].upper()}{text[1:]} = {_m(result, currency)}."


def _interest(schedule: Schedule, row: Row, before: int, currency: str) -> str:
    terms, rate = schedule.terms, f"{row.annual_rate.normalize():f}%"
    skipped = schedule.findings.skipped.get(row.due)
    if skipped is not None:
        return f"This payment was not made: {_m(skipped.interest, currency)} of interest stays due."
    carried = schedule.columns.carried[row.number - schedule.first_number]
    still_due = f" + {_m(carried, currency)} from payments that were not made" if carried else ""
    if terms.interest == "equal_periods":
        wording = f"{_m(before, currency)} × {rate} ÷ {terms.payments_per_year} payments a year{still_due}"
        return _sum(wording, row.interest, currency)
    early = [moved_day for moved_day in (*schedule.between, *schedule.moved) if row.begins <= moved_day[0] < row.due]
    parts = []
    for begin, end in pairwise(sorted({row.begins, row.due, *(day for day, _ in early)})):
        base = max(0, before - sum(amount for day, amount in early if day <= begin))
        parts.append(f"{_m(base, currency)} × {rate} × {DAY_COUNTS[terms.interest].days_told(begin, end)}")
    span = f"{full_day(_day(row.begins))} to {full_day(_day(row.due))}"
    return f"{' + '.join(parts)}{still_due} = {_m(row.interest, currency)} ({span})."


def _payment(schedule: Schedule, row: Row, before: int, currency: str, index: int) -> str:
    terms, amount = schedule.terms, _m(row.payment, currency)
    if row.number <= terms.interest_only:
        return f"{amount}: interest alone, for the first {terms.interest_only} payments."
    if row.balance == 0 and row.payment != schedule.levels[index]:
        owed, interest = _m(row.principal, currency), _m(row.interest, currency)
        return _sum(f"the last payment: {owed} still owed + interest {interest}", row.payment, currency)
    if terms.payment is not None and row.payment == terms.payment:
        return f"{amount}, as agreed."
    if index and schedule.levels[index] == schedule.levels[index - 1]:
        return f"{amount}, level since an earlier payment."
    if terms.accelerated:
        return f"{amount}: the monthly payment divided by {terms.payments_per_year // 13}, rounded up."
    left = (terms.payments or 0) - index - schedule.first_number + 1
    rate = period_rate(row.annual_rate, terms.payments_per_year)
    if left > 0 and round(level_payment(before, rate, left, min(terms.balloon, before))) in (
        row.payment,
        row.payment - 1,
    ):
        balloon = f", with {_m(min(terms.balloon, before), currency)} due at the end" if terms.balloon else ""
        return (
            f"{amount} levels {_m(before, currency)} at {row.annual_rate.normalize():f}% over {left} payments{balloon}."
        )
    return f"{amount}, as set from {full_day(_day(row.due))}."


def _insurance(schedule: Schedule, row: Row, currency: str) -> str:
    insurance = schedule.terms.insurance
    if insurance is None:
        return "There is no mortgage insurance."
    share = f"{insurance.until_share.normalize():f}% of {_m(insurance.original_value, currency)}"
    if row.insurance:
        return f"{_m(row.insurance, currency)} with each payment until the scheduled balance is down to {share}."
    return f"None any more: the scheduled balance is down to {share}."
