"""What taking lines in does: an account's lowest point ahead before and after, and how its books then stand."""

from typing import NamedTuple

from next_penny.core.bank_lines.statements import ClosingBalance
from next_penny.core.books.moment import Moment
from next_penny.core.forecast.low_points import lowest
from next_penny.core.forecast.projection import year_ahead
from next_penny.core.plan.accounts import Account


class TakingEffect(NamedTuple):
    """An account with lines taken in. Lowest points are of the coming year, None for a debt.

    books: what the books then hold at the end of the closing balance's day; None without one.
    """

    account: Account
    before: int | None
    after: int | None
    closing: ClosingBalance | None
    books: int | None


def taking_effect(before: Moment, after: Moment, account: Account, closing: ClosingBalance | None) -> TakingEffect:
    """What lines taken in do on an account."""
    known = closing if closing is not None and closing.date <= after.today else None
    books = after.balance_on(account, known.date.toordinal()) if known is not None else None
    if account.is_debt:
        return TakingEffect(account, None, None, known, books)
    return TakingEffect(account, _lowest(before, account), _lowest(after, account), known, books)


def _lowest(moment: Moment, account: Account) -> int | None:
    forecast = year_ahead(moment)
    run = next(run for run in forecast.runs if run.account.id == account.id)
    low_point = lowest(run, last=forecast.until.toordinal())
    return low_point.balance if low_point is not None else None
