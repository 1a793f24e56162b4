"""Money lent, as the books have it: what is owed, what it has earned, and what is still to come back.

Without a schedule each day after the lending bears simple interest by actual/365 on the balance at the end of the day
before; what is received is interest first. What is due by today is covered by the sums received, the oldest first;
what is to come is due in full until nothing is owed (docs/rules.md, Money lent).
"""

from dataclasses import dataclass

from next_penny.core.books.moment import Moment
from next_penny.core.loans.lent.books import LentBooks
from next_penny.core.loans.lent.dues import Coming, Due, open_dues
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import repayment_id
from next_penny.core.plan.terms.lent import LentTerms

# Who pays back for longer is said to have no end.
_LIFETIME_DAYS = 60 * 366


@dataclass(frozen=True, eq=False)
class LentStanding:
    """Money lent as it stands at the end of today. Amounts are minor units of the account's currency.

    owed: principal; accrued: interest not received, rounded. late: what was due before today and did not come.
    open: what is due by today and was not received, the oldest first. horizon: as far as the end is looked for.
    """

    account: Account
    terms: LentTerms
    owed: int
    accrued: int
    lent: int
    repaid: int
    earned: int
    last_received: int | None
    open: tuple[Due, ...]
    coming: Coming
    horizon: int

    def late(self, today: int) -> tuple[int, int] | None:
        """What was due before today and did not come, and since which day; None where nothing is late."""
        before = [due for due in self.open if due.lands < today]
        return (sum(due.amount for due in before), min(due.lands for due in before)) if before else None

    @property
    def ends(self) -> int | None:
        """The day of the last repayment to come; None where nothing is, or where it goes on beyond a lifetime."""
        dues = self.dues(self.horizon)
        pays_all = dues and sum(due.principal for due in dues) >= self.owed
        return max(due.lands for due in dues) if pays_all else None

    def dues(self, until: int) -> list[Due]:
        """All that is still to be received and lands by a day, in nominal order."""
        return sorted([*(due for due in self.open if due.lands <= until), *self.coming.until(until)])


def lent_standing(moment: Moment, account: Account) -> LentStanding:
    """What stands of an account of money that is owed to the household."""
    books, flow = moment.books, moment.plan.flow_by_id.get(repayment_id(account.id))
    postings, receipts = books.postings.get(account.id, ()), books.receipts.get(account.id, ())
    basis = (account, flow, postings, receipts, moment.today, moment.carries, moment.plan.household.country,
             flow and moment.plan.known_since(flow))  # fmt: skip
    return moment.cache.recall(("lent", account.id), basis, lambda: _standing(LentBooks(moment, account, flow)))


def accrued_on(moment: Moment, account: Account, day: int) -> tuple[int, int]:
    """The principal owed and the interest accrued (rounded) at the end of a day, before anything received later."""
    return LentBooks(moment, account, None).owed_on(day)


def _standing(books: LentBooks) -> LentStanding:
    now = books.now
    owed, accrued = books.owed_on(now)
    moved = [(day, amount) for day, amount in books.postings if day <= now]
    lent = max(0, books.account.opening.balance) + sum(amount for _, amount in moved if amount > 0)
    back = [(day, -amount) for day, amount in moved if amount < 0]
    interest = [
        (receipt.day, receipt.interest) for receipt in books.receipts if receipt.day <= now and receipt.interest
    ]
    days = [day for day, amount in (*back, *interest) if amount > 0]
    open_ones = tuple(open_dues(books))
    # What is due today is to come today, also where what is past due is not carried.
    coming = Coming(books, [due for due in open_ones if books.carries or due.lands >= now])
    return LentStanding(
        books.account, books.terms, owed, max(0, accrued), lent, sum(amount for _, amount in back),
        sum(amount for _, amount in interest), max(days, default=None), open_ones, coming,
        now + _LIFETIME_DAYS,
    )  # fmt: skip
