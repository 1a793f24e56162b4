"""What a household pays now on its debts beyond their minimums, and what a way out would lower of it (RULES §9)."""

from collections.abc import Iterator
from datetime import date
from typing import NamedTuple

from next_penny.core.dates.calendar import month_end, month_start
from next_penny.core.money import format_amount
from next_penny.core.payoff.outcome import DebtMonth
from next_penny.core.payoff.parts.table import part_of
from next_penny.core.payoff.way import Way
from next_penny.core.plan.accounts import Account


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
    """The debts on which the plan pays less than would be paid as now, before its last payment on them."""
    for account in way.debts.accounts:
        place, least = _first_paid(way, account)
        if least is None:
            continue
        part, above = part_of(account), _above(way, account)
        for later, month in enumerate(way.run.months.get(account.id, [])[place:], place):
            now = part.paid_as_now(month, above)
            if month.paid < now and month.closing:
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
    first, last = month_start(way.debts.start), month_end(way.debts.start)
    return part_of(account).above_minimum(first, last, least)
