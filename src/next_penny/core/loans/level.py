"""The level payment: the annuity formula for a principal, a number of payments and a balloon, in exact integers.

Source: any text on annuities; with A = (1 + i)^n it is (P·A − B)·i ÷ (A − 1), the form used here.
"""

from decimal import Context, Decimal
from fractions import Fraction

from next_penny.core.money import round_half_up
from next_penny.core.plan.terms.loans import LoanTerms, PaymentRounding

# Fifty digits leave the payment uncertain by far less than this part of a minor unit, whatever the terms may be.
_FIFTY_DIGITS = Context(prec=50)
_UNCERTAIN = Decimal("1e-12")


def period_rate(annual_rate: Decimal, payments_per_year: int) -> Fraction:
    """The rate of one period as an exact fraction, from percent a year."""
    return Fraction(annual_rate) / (100 * payments_per_year)


def level_payment(principal: int, rate: Fraction, payments: int, balloon: int = 0) -> Fraction:
    """The exact payment that leaves `balloon` due with the last of `payments`; minor units, not rounded."""
    if rate == 0:
        return Fraction(principal - balloon, payments)
    top, bottom = (rate.denominator + rate.numerator) ** payments, rate.denominator**payments
    return Fraction((principal * top - balloon * bottom) * rate.numerator, (top - bottom) * rate.denominator)


def rounded(payment: Fraction, rounding: PaymentRounding) -> int:
    """A payment in whole minor units."""
    return -(-payment.numerator // payment.denominator) if rounding == "up" else round_half_up(payment)


def rounded_level(principal: int, rate: Fraction, payments: int, balloon: int, rounding: PaymentRounding) -> int:
    """`level_payment`, rounded: in fifty digits where these decide it, else exactly."""
    if rate:
        context = _FIFTY_DIGITS
        one_period = context.divide(Decimal(rate.numerator), Decimal(rate.denominator))
        grown = context.power(context.add(1, one_period), payments)
        owed = context.subtract(context.multiply(principal, grown), balloon)
        payment = context.divide(context.multiply(owed, one_period), context.subtract(grown, 1))
        whole = int(payment)
        part = context.subtract(payment, whole)
        boundary = Decimal("0.5") if rounding == "half_up" else Decimal(0)
        if payment > 0 and abs(part - boundary) > _UNCERTAIN and part < 1 - _UNCERTAIN:
            return whole + (part > boundary)
    return rounded(level_payment(principal, rate, payments, balloon), rounding)


def payment_for(terms: LoanTerms, balance: int, annual_rate: Decimal, remaining: int) -> int:
    """The rounded payment that levels a balance over the remaining payments of a loan.

    A balloon larger than the balance shrinks to it. Accelerated: half or a quarter of the monthly payment, rounded up.
    """
    per_year, balloon = terms.payments_per_year, min(terms.balloon, balance)
    if terms.accelerated and per_year in (26, 52):
        months = max(1, round_half_up(Fraction(remaining * 12, per_year)))
        monthly = rounded_level(balance, period_rate(annual_rate, 12), months, balloon, terms.payment_rounding)
        return -(-monthly // (per_year // 13))
    return rounded_level(balance, period_rate(annual_rate, per_year), remaining, balloon, terms.payment_rounding)
