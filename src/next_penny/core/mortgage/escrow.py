"""Escrow account analysis: Regulation X, 12 CFR § 1024.17, aggregate method (docs/rules.md, Escrow).

Amounts are integers of minor units, months are month numbers (year × 12 + month − 1).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from typing import NamedTuple

from next_penny.core.dates.sentences import month_name
from next_penny.core.money import round_half_up, rounded_quotient
from next_penny.core.problems import Problem

MONTHS = 12
# The largest cushion is a sixth of a year's disbursements: two months of deposits (§ 1024.17(c)(1)(ii)).
LEGAL_CUSHION_MONTHS = 2
# A surplus of 50 dollars or more is refunded (§ 1024.17(f)(2)(i)).
REFUNDED_FROM = 50_00


class Disbursement(NamedTuple):
    """What is paid out of escrow in a month."""

    month: int
    amount: int
    name: str = ""


class EscrowRow(NamedTuple):
    """One month: its deposit, what is paid out, and balances at its end.

    trial: from zero. required: from the required starting balance. projected: from what is there, with the present
    deposit.
    """

    month: int
    deposit: int
    disbursed: int
    trial: int
    required: int
    projected: int


@dataclass(frozen=True, slots=True)
class EscrowAnalysis:
    """Twelve months of an escrow account, and what the lender may ask for."""

    annual_disbursements: int
    base_deposit: int
    rows: tuple[EscrowRow, ...]
    lowest_trial: int
    cushion: int
    required_start: int
    shortage: int
    surplus: int
    deficiency: int
    new_deposit: int
    notes: tuple[str, ...]


def analyse(
    first_month: int,
    disbursements: Sequence[Disbursement],
    cushion_months: Decimal,
    balance: int,
    deposit: int | None = None,
) -> EscrowAnalysis:
    """The analysis of twelve months from `first_month`; `balance` is what is there when they begin.

    `deposit` is the present monthly deposit; without one, a twelfth of the year's disbursements.
    """
    annual = sum(one_disbursement.amount for one_disbursement in disbursements)
    base = rounded_quotient(annual, MONTHS)
    cushion = round_half_up(Fraction(cushion_months) * annual / MONTHS)
    paid_out = [0] * MONTHS
    for disbursement in disbursements:
        paid_out[disbursement.month - first_month] += disbursement.amount
    trial = _balances(0, base, paid_out)
    required_start = cushion - min(trial)
    required = _balances(required_start, base, paid_out)
    projected = _balances(balance, base if deposit is None else deposit, paid_out)
    deficiency = max(0, -balance)
    shortage = required_start if deficiency else max(0, required_start - balance)
    surplus = max(0, balance - required_start) if not deficiency else 0
    rows = tuple(
        EscrowRow(first_month + number, base, paid_out[number], trial[number], required[number], projected[number])
        for number in range(MONTHS)
    )
    return EscrowAnalysis(
        annual, base, rows, min(trial), cushion, required_start, shortage, surplus, deficiency,
        base + rounded_quotient(shortage + deficiency, MONTHS),
        tuple(_notes(cushion_months, base, shortage, surplus, deficiency)),
    )  # fmt: skip


def _balances(start: int, deposit: int, paid_out: Sequence[int]) -> list[int]:
    balances, balance = [], start
    for amount in paid_out:
        balance += deposit - amount
        balances.append(balance)
    return balances


def _notes(cushion_months: Decimal, base: int, shortage: int, surplus: int, deficiency: int) -> list[str]:
    """What § 1024.17(c) and (f) say of it."""
    notes = []
    if cushion_months > LEGAL_CUSHION_MONTHS:
        notes.append("This cushion is above the legal most: a sixth of a year's payments out, two months' deposits.")
    if surplus >= REFUNDED_FROM:
        notes.append("The lender refunds a surplus of 50 dollars or more within 30 days, if you are not behind.")
    elif surplus:
        notes.append("The lender may refund so small a surplus, or count it toward the next year's deposits.")
    for name, amount in (("shortage", shortage), ("deficiency", deficiency)):
        if 0 < amount < base:
            notes.append(f"The {name} is below one month's deposit: the lender may ask for it within 30 days instead.")
    return notes


def problems(first_month: int, disbursements: Sequence[Disbursement], cushion_months: Decimal) -> list[Problem]:
    """What is wrong with what was given."""
    problems = []
    for number, disbursement in enumerate(disbursements):
        if not 0 <= disbursement.month - first_month < MONTHS:
            last = month_name(first_month + MONTHS - 1)
            message = f"The analysis covers {month_name(first_month)} to {last}: choose a month of these."
            problems.append(Problem(("disbursements", number, "month"), message, "range"))
        if disbursement.amount < 0:
            problems.append(Problem(("disbursements", number, "amount"), "Give the amount without a sign.", "negative"))
    return problems + cushion_problems(cushion_months)


def cushion_problems(cushion_months: Decimal) -> list[Problem]:
    """What is wrong with a cushion."""
    if 0 <= cushion_months <= MONTHS:
        return []
    return [Problem(("cushion_months",), "The cushion is from 0 to 12 months of deposits.", "range")]
