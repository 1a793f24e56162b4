"""What a household pays now on its debts beyond their minimums, and what a way out would lower of it (RULES §9)."""

from collections.abc import Iterator
from datetime import date
from typing import NamedTuple

from next_penny.core.dates.calendar import month_end, month_start
from next_penny.core.money import format_amount
from next_penny.core.payoff.outcome import DebtMonth
from next_penny.core.payoff.way import Way
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.terms.loans import Extra, LoanTerms


class Lowered(NamedTuple):
    """A debt on which a plan pays less than is paid now: from which month (its number) on, and how much then."""

    account: Account
    now: int
    month: int
    then: int


def paid_above_minimums(way: Way) -> int:
    """What is paid each month now above the minimums of the debts: fixed card payments, and extras that repeat.

    An extra that comes less often than monthly counts with its monthly share, rounded down.
    """
    return sum(_above(way, account) for account in way.debts.accounts)


def lowered(way: Way) -> Iterator[Lowered]:
    """The debts on which the plan pays less than is paid now, before its last payment on them."""
    for account in way.debts.accounts:
        place, least = _first_paid(way, account)
        if least is None:
            continue
        now = least.minimum + _above(way, account)
        for later, month in enumerate(way.run.months.get(account.id, [])[place:], place):
            if month.paid < now and month.closing and (month.minimum or account.card is not None):
                yield Lowered(account, now, way.debts.start + later, month.paid)
                break


def lowered_notes(way: Way) -> Iterator[str]:
    """One sentence for each debt on which less is paid."""
    for account, now, month, then in lowered(way):
        paid, before = (format_amount(amount, account.currency) for amount in (then, now))
        when = date.fromordinal(month_start(month))
        yield f"“{account.name}” is paid {paid} in {when:%B %Y}, not {before} as now."


def _first_paid(way: Way, account: Account) -> tuple[int, DebtMonth | None]:
    """The first month in which a debt has a minimum, and that month with minimums alone."""
    months = enumerate(way.least.months.get(account.id, ()))
    return next(((place, month) for place, month in months if month.minimum), (0, None))


def _above(way: Way, account: Account) -> int:
    _, least = _first_paid(way, account)
    if least is None:
        return 0
    if account.loan is not None:
        return sum(_monthly(account.loan, extra) for extra in account.loan.extras if _is_in_force(way, extra))
    card = account.card
    if card is None or card.pays != "fixed":
        return 0
    return max(0, min(card.fixed_amount or 0, least.opening + least.interest) - least.minimum)


def _is_in_force(way: Way, extra: Extra) -> bool:
    """Whether an extra repeats and is paid in the plan's first month or begins by its end."""
    first, last = month_start(way.debts.start), month_end(way.debts.start)
    begins = extra.start is None or extra.start.toordinal() <= last
    return extra.date is None and begins and (extra.until is None or extra.until.toordinal() >= first)


def _monthly(terms: LoanTerms, extra: Extra) -> int:
    times_a_year = 1 if extra.yearly_in is not None else terms.payments_per_year
    return extra.amount * times_a_year // (12 * (extra.every or 1))
