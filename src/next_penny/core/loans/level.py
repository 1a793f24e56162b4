"""The level payment: the annuity formula for a principal, a number of payments and a balloon, in exact integers.

Source: any text on annuities; with A = (1 + i)^n it is (P·A − B)·i ÷ (A − 1), the form used here.
"""

from decimal import Decimal
from fractions import Fraction

from next_penny.core.loans.terms import LoanTerms, PaymentRounding
from next_penny.core.money import round_half_up


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


def payment_for(terms: LoanTerms, balance: int, annual_rate: Decimal, remaining: int) -> int:
    """The rounded payment that levels a balance over the remaining payments of a loan.

    Accelerated: half or a quarter of the monthly payment, rounded up.
    """
    per_year = terms.payments_per_year
    if terms.accelerated and per_year in (26, 52):
        months = max(1, round_half_up(Fraction(remaining * 12, per_year)))
        monthly = level_payment(balance, period_rate(annual_rate, 12), months, terms.balloon)
        return -(-rounded(monthly, terms.payment_rounding) // (per_year // 13))
    exact = level_payment(balance, period_rate(annual_rate, per_year), remaining, terms.balloon)
    return rounded(exact, terms.payment_rounding)
