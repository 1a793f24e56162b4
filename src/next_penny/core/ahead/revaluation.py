"""What the exchange rates alone did to what accounts in other currencies are worth (docs/rules.md, The forecast)."""

from collections.abc import Sequence
from datetime import date, timedelta

from next_penny.core.books.moment import Moment
from next_penny.core.plan.accounts import Account


def revaluation(moment: Moment, first: date, last: date, accounts: Sequence[Account]) -> int | None:
    """By how much the rates alone changed what is held in other currencies, from a day to a day up to today.

    Closing at its rate − opening at its rate − movements at theirs, each rounded once, exactly; minor units of the
    household's currency. None where none of the accounts is in another. Raises NoRate where a rate is lacking.
    """
    here, until = moment.plan.household.currency, min(last, moment.today)
    foreign = [account for account in accounts if account.currency != here]
    if not foreign or first > until:
        return None
    return sum(_of(moment, account, first, until) for account in foreign)


def _of(moment: Moment, account: Account, first: date, last: date) -> int:
    def worth(amount: int, day: date) -> int:
        return moment.plan.converted(amount, account.currency, moment.plan.household.currency, day)

    if account.opening.date > last:
        return 0
    before = first - timedelta(days=1)
    begins, ends = max(first, account.opening.date).toordinal(), last.toordinal()
    moved = sum(
        worth(posting.amount, date.fromordinal(posting.day))
        for posting in moment.books.postings.get(account.id, ())
        if begins <= posting.day <= ends
    )
    if account.opening.date >= first:
        # It was opened within: what it held then came at that day's rate.
        opened = worth(account.opening.balance, account.opening.date)
    else:
        opened = worth(moment.balance_on(account, before.toordinal()), before)
    return worth(moment.balance_on(account, ends), last) - opened - moved
