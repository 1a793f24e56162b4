"""A loan walked payment by payment, where what is paid beyond each is decided on the way."""

from decimal import Decimal
from typing import NamedTuple

from next_penny.core.loans.extras import History
from next_penny.core.loans.schedule import payments_counted
from next_penny.core.loans.walk import Walk
from next_penny.core.loans.walked import Resume
from next_penny.core.plan.terms.loans import LoanTerms


class StepPaid(NamedTuple):
    """One payment as scheduled. `principal` has in it what moved by hand in its period; `level` is what is in force."""

    interest: int
    principal: int
    level: int
    annual_rate: Decimal


class LoanSteps:
    """A household's loan from where it stands; it is never refused."""

    def __init__(self, terms: LoanTerms, resume: Resume | None, history: History) -> None:
        self._walk = Walk(terms, resume, history, payments_counted(terms), strict=False)
        self._begin = resume.since if resume else terms.disbursed.toordinal()
        self._days = terms.due_days(terms.most_payments)

    def next_by(self, day: int) -> StepPaid | None:
        """Pay what is due next, if that is by a day and anything is owed."""
        walk = self._walk
        if walk.balance <= 0 or walk.number >= len(self._days) or self._days[walk.number] > day:
            return None
        due = self._days[walk.number]
        walk.step(self._begin, due)
        self._begin = due
        columns = walk.columns
        return StepPaid(columns.interest[-1], columns.principal[-1], columns.levels[-1], columns.rate[-1])

    def pay(self, amount: int) -> None:
        """Pay so much beyond the last payment, on its day."""
        self._walk.pay_beyond(amount)
