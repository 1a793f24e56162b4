"""A second implementation of loan schedules, in exact fractions and without haste, to hold the first against.

Written from the rules alone, importing nothing of the product: one dictionary per payment, dates as dates, every rule in the order of the text.
"""

import calendar
import math
from datetime import date, timedelta
from fractions import Fraction
from typing import Any


def half_up(value: Fraction) -> int:
    return int(value + Fraction(1, 2)) if value >= 0 else -int(-value + Fraction(1, 2))


def up(value: Fraction) -> int:
    return math.ceil(value)


def on_day(year: int, month: int, day: int) -> date:
    year, month = year + (month - 1) // 12, (month - 1) % 12 + 1
    return date(year, month, min(day, calendar.monthrange(year, month)[1]))


def due_date(terms: Any, number: int) -> date:
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


def level(terms: Any, balance: int, rate: Fraction, count: int) -> int:
    per_year, balloon = terms.payments_per_year, min(terms.balloon, balance)
    if terms.accelerated:
        monthly = annuity(balance, rate / 1200, max(1, half_up(Fraction(count * 12, per_year))), balloon)
        whole = up(monthly) if terms.payment_rounding == "up" else half_up(monthly)
        return up(Fraction(whole, 2 if per_year == 26 else 4))
    exact = annuity(balance, rate / (100 * per_year), count, balloon)
    return up(exact) if terms.payment_rounding == "up" else half_up(exact)


def annuity(principal: int, i: Fraction, n: int, balloon: int) -> Fraction:
    if i == 0:
        return Fraction(principal - balloon, n)
    discount = 1 / (1 + i) ** n
    return (principal - balloon * discount) * i / (1 - discount)


def extras_on(terms: Any, number: int, begin: date, due: date) -> tuple[list[tuple[date, int]], int]:
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


def exact_schedule(
    terms: Any, settled: dict[date, tuple[date, int]] | None = None, skipped: set[date] = frozenset(),
    by_hand: list[tuple[date, int]] | None = None,
) -> list[dict[str, Any]]:  # fmt: skip
    """Every payment of loans with a number of payments, or a payment; amounts in minor units.

    Of a household's loan: `settled` by due date, when it was paid and what of it was principal; `skipped`, the due
    dates whose payment was not made; `by_hand`, principal paid (or borrowed, negative) by day. It is never refused.
    """
    lenient = settled is not None
    settled, waiting = settled or {}, sorted(by_hand or [])
    balance = terms.principal + sum(fee.amount for fee in terms.fees if fee.financed)
    count, begin = terms.payments, terms.disbursed
    rows: list[dict[str, Any]] = []
    rate, payment, number, unpaid, moves = None, None, 0, 0, terms.payments is None
    while number == 0 or balance > 0 or unpaid or waiting:
        due, before = due_date(terms, number), balance
        now = terms.annual_rate
        for change in sorted(terms.rate_changes, key=lambda change: change.start):
            if change.start <= begin:
                now = change.annual_rate
        annual = Fraction(now)
        is_new = rate is not None and rate != annual
        moves = moves or (is_new and terms.after_rate_change == "keep_payment" and not terms.balloon)
        left = max(1, (count or 10**6) - number)
        if number >= terms.interest_only:
            if payment is None or number == terms.interest_only:
                payment = terms.payment if terms.payment is not None else level(terms, max(0, balance), annual, left)
            elif is_new and terms.after_rate_change == "relevel":
                payment = level(terms, max(0, balance), annual, left)
        rate = annual
        within, with_payment = extras_on(terms, number, begin, due)
        if terms.interest == "equal_periods":
            interest = half_up(max(0, balance) * annual / 100 / terms.payments_per_year)
        else:
            moving = [(when, amount, True) for when, amount in within if when not in skipped]
            moving += [(max(begin, when), amount, False) for when, amount in waiting if when < due]
            waiting = [each for each in waiting if each[0] >= due]
            exact, day = Fraction(0), begin
            for when, amount, planned in sorted(moving, key=lambda each: (each[0], each[2])):
                exact += max(0, balance) * annual / 100 * years(terms.interest, day, when)
                balance, day = balance - (min(max(0, balance), amount) if planned else amount), when
            interest = half_up(exact + max(0, balance) * annual / 100 * years(terms.interest, day, due))
        balance -= sum(amount for when, amount in waiting if when <= due)
        waiting = [each for each in waiting if each[0] > due]
        owed = max(0, balance)
        if count is not None and number >= count - 1 and not moves:
            principal = owed
        elif number < terms.interest_only:
            principal = 0
        else:
            assert payment is not None
            principal = min(owed, payment - interest)
            if principal < 0 and not terms.negative_amortization and not lenient:
                raise ValueError("payment below interest")
        extra = min(max(0, balance - principal), with_payment)
        if due in skipped:
            principal, extra, unpaid = 0, 0, unpaid + interest
            interest = 0
        else:
            interest, unpaid = interest + unpaid, 0
        balance -= principal + extra
        if due in settled:
            paid_on, really = settled[due]
            beyond = really - principal - extra
            if beyond and paid_on > due:
                waiting = sorted([*waiting, (paid_on, beyond)])
            else:
                balance -= beyond
        rows.append({"number": number + 1, "due": due, "interest": interest, "principal": principal,
                     "extra": before - balance - principal, "balance": balance, "payment": interest + principal})  # fmt: skip
        number, begin = number + 1, due
        is_recast = before - balance != principal and terms.extra_effect == "recast" and balance > 0
        if is_recast and count is not None and terms.interest_only <= number < count:
            payment = level(terms, balance, annual, count - number)
        if number > 100 * terms.payments_per_year:
            raise ValueError("never ends")
    return rows
