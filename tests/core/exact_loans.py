"""A second implementation of loan schedules, in exact fractions and without haste, to hold the first against.

Written from docs/rules.md alone: one dictionary per payment, dates as dates, every rule in the order of the text.
"""

import calendar
import math
from datetime import date, timedelta
from fractions import Fraction
from typing import Any

from next_penny.core.loans.terms import LoanTerms


def half_up(value: Fraction) -> int:
    return int(value + Fraction(1, 2)) if value >= 0 else -int(-value + Fraction(1, 2))


def up(value: Fraction) -> int:
    return math.ceil(value)


def on_day(year: int, month: int, day: int) -> date:
    year, month = year + (month - 1) // 12, (month - 1) % 12 + 1
    return date(year, month, min(day, calendar.monthrange(year, month)[1]))


def due_date(terms: LoanTerms, number: int) -> date:
    """The due date of payment `number`, from 0."""
    first, per_year = terms.first_payment, terms.payments_per_year
    if per_year in (26, 52):
        return first + timedelta(days=number * (14 if per_year == 26 else 7))
    if per_year == 24:
        month, is_second = first.month + number // 2, number % 2
        if not is_second:
            return on_day(first.year, month, first.day)
        return (
            on_day(first.year, month, first.day + 15)
            if first.day <= 16
            else on_day(first.year, month + 1, first.day - 15)
        )
    return on_day(first.year, first.month + number * 12 // per_year, first.day)


def years(method: str, begin: date, end: date) -> Fraction:
    if method == "actual_365":
        return Fraction((end - begin).days, 365)
    if method == "actual_360":
        return Fraction((end - begin).days, 360)
    if method == "actual_actual":
        total, day = Fraction(0), begin
        while day < end:
            total += Fraction(1, 366 if calendar.isleap(day.year) else 365)
            day += timedelta(days=1)
        return total
    first = 30 if begin.day == 31 else begin.day
    last = 30 if end.day == 31 and first == 30 else end.day
    return Fraction(360 * (end.year - begin.year) + 30 * (end.month - begin.month) + last - first, 360)


def level(terms: LoanTerms, balance: int, rate: Fraction, count: int) -> int:
    per_year = terms.payments_per_year
    if terms.accelerated:
        monthly = annuity(balance, rate / 1200, max(1, half_up(Fraction(count * 12, per_year))), terms.balloon)
        whole = up(monthly) if terms.payment_rounding == "up" else half_up(monthly)
        return up(Fraction(whole, 2 if per_year == 26 else 4))
    exact = annuity(balance, rate / (100 * per_year), count, terms.balloon)
    return up(exact) if terms.payment_rounding == "up" else half_up(exact)


def annuity(principal: int, i: Fraction, n: int, balloon: int) -> Fraction:
    if i == 0:
        return Fraction(principal - balloon, n)
    discount = 1 / (1 + i) ** n
    return (principal - balloon * discount) * i / (1 - discount)


def extras_on(terms: LoanTerms, number: int, begin: date, due: date) -> tuple[list[tuple[date, int]], int]:
    """Extras within the period, for loans that count days, and those with the payment."""
    within, with_payment = [], 0
    for extra in terms.extras:
        if extra.date is not None:
            is_first = number == 0 and extra.date == begin
            if not (begin < extra.date <= due or is_first):
                continue
            if terms.interest == "equal_periods" or extra.date == due:
                with_payment += extra.amount
            else:
                within.append((extra.date, extra.amount))
        elif (extra.start is None or due >= extra.start) and (extra.until is None or due <= extra.until):
            if extra.every is not None:
                start, counted = extra.start or date.min, 0
                while due_date(terms, counted) < start:
                    counted += 1
                with_payment += extra.amount if (number - counted) % extra.every == 0 else 0
            elif due.month == extra.yearly_in and (number == 0 or (begin.year, begin.month) != (due.year, due.month)):
                with_payment += extra.amount
    return sorted(within), with_payment


def exact_schedule(terms: LoanTerms) -> list[dict[str, Any]]:
    """Every payment of loans with a number of payments, or a payment; amounts in minor units."""
    balance = terms.principal + sum(fee.amount for fee in terms.fees if fee.financed)
    count, begin = terms.payments, terms.disbursed
    keeps = terms.after_rate_change == "keep_payment" and bool(terms.rate_changes) and terms.balloon == 0
    rows: list[dict[str, Any]] = []
    rate, payment, number = None, None, 0
    while number == 0 or balance > 0:
        due = due_date(terms, number)
        now = terms.annual_rate
        for change in sorted(terms.rate_changes, key=lambda change: change.start):
            if change.start <= begin:
                now = change.annual_rate
        annual = Fraction(now)
        left = max(1, (count or 10**6) - number)
        if number >= terms.interest_only:
            if payment is None or number == terms.interest_only:
                payment = terms.payment if terms.payment is not None else level(terms, balance, annual, left)
            elif rate != annual and terms.after_rate_change == "relevel":
                payment = level(terms, balance, annual, left)
        rate = annual
        within, with_payment = extras_on(terms, number, begin, due)
        if terms.interest == "equal_periods":
            interest = half_up(balance * annual / 100 / terms.payments_per_year)
        else:
            exact, day = Fraction(0), begin
            for when, amount in within:
                exact += balance * annual / 100 * years(terms.interest, day, when)
                balance, day = balance - min(balance, amount), when
            interest = half_up(exact + balance * annual / 100 * years(terms.interest, day, due))
        owed = balance
        if count is not None and number == count - 1 and not keeps:
            principal = balance
        elif number < terms.interest_only:
            principal = 0
        else:
            assert payment is not None
            principal = min(balance, payment - interest)
            if principal < 0 and not terms.negative_amortization:
                raise ValueError("payment below interest")
        balance -= principal
        extra = min(balance, with_payment)
        balance -= extra
        before = rows[-1]["balance"] if rows else terms.principal + sum(f.amount for f in terms.fees if f.financed)
        early = before - owed
        rows.append({"number": number + 1, "due": due, "interest": interest, "principal": principal,
                     "extra": extra + early, "balance": balance, "payment": interest + principal})  # fmt: skip
        number, begin = number + 1, due
        is_recast = extra + early > 0 and terms.extra_effect == "recast" and balance > 0
        if is_recast and count is not None and terms.interest_only <= number < count:
            payment = level(terms, balance, annual, count - number)
        if number > 100 * terms.payments_per_year:
            raise ValueError("never ends")
    return rows
