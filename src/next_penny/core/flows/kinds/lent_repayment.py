"""The maker of what comes back of money lent: its days and amounts follow from the terms and what was received."""

from collections.abc import Iterator
from datetime import date

import numpy as np

from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days
from next_penny.core.dates.calendar import LATEST
from next_penny.core.dates.recurrence import Recurrence
from next_penny.core.dates.rules import parse_rule
from next_penny.core.dates.sentences import recurrence_sentence, rule_sentence, short_day
from next_penny.core.flows.kinds.calendar_flow import Mask
from next_penny.core.flows.kinds.loan_payment import due_rule
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.loans.lent.accrual import part_of
from next_penny.core.loans.lent.dues import Due
from next_penny.core.loans.lent.standing import LentStanding, accrued_on, lent_standing
from next_penny.core.loans.standing import Parts
from next_penny.core.money import format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.kept.statements import PaidSplit
from next_penny.core.plan.starter import LENT_INTEREST
from next_penny.core.problems import refused


class LentRepayment:
    """What pays back money that was lent, at a moment."""

    source = "flow"
    # What comes in part stays due with the rest by itself.
    may_be_paid_in_parts = False
    may_be_foreign = False
    # Which of its days are settled follows from the sums received.
    settles_itself = True

    def __init__(self, moment: Moment, flow: Flow, account: Account) -> None:
        self.moment, self.flow, self.account = moment, flow, account
        self.opened = moment.plan.flow_opened(flow)

    @property
    def loan_standing(self) -> LentStanding:
        """The money lent as the books have it."""
        return lent_standing(self.moment, self.account)

    @property
    def basis(self) -> tuple[object, ...]:
        """What its occurrences follow from."""
        return (self.flow, self.loan_standing, self.moment.today)

    @property
    def posted_by(self) -> tuple[object, ...]:
        """What its postings follow from beside its occurrences."""
        return ()

    def occurrences(self, first: int, last: int) -> Occurrences:
        """What lands from a day to a day and is still to be received."""
        rows = [(due.nominal, due.lands, due.amount) for due in self.loan_standing.dues(last) if first <= due.lands]
        return Occurrences(*np.array(rows, dtype=np.int64).reshape(-1, 3).T)

    def nominal_days(self, first: int, last: int) -> list[int]:
        """The nominal days from a day to a day, whatever was set of them just this once."""
        days = {due.nominal for due in self.loan_standing.dues(max(last, self.moment.now))}
        return sorted(day for day in days | self.flow.exceptional.left_out if first <= day <= last)

    def _due(self, nominal: int) -> Due | None:
        last = max(nominal, self.flow.exceptional.moved.get(nominal, 0), self.moment.now)
        dues = self.loan_standing.dues(min(last, LATEST.toordinal()))
        return next((due for due in dues if due.nominal == nominal), None)

    def amount_of(self, nominal: int) -> int:
        """What is still to come of a nominal day."""
        due = self._due(nominal)
        return due.amount if due is not None else 0

    def postings(self, coming: Occurrences, days: Days) -> Iterator[tuple[str, Days, Mask | None]]:
        """What comes arrives on an account, its principal lowers what is owed; none where nobody counts on it."""
        if self.account.lending.sure == "left_out" or not len(coming.nominal):
            return
        last = int(max(coming.landing.max(), self.moment.now))
        principal = {due.nominal: due.principal for due in self.loan_standing.dues(last)}
        yield self.flow.to_account or "", coming.amount, None
        lowered = np.array([principal.get(day, 0) for day in coming.nominal.tolist()], dtype=np.int64)
        yield self.account.id, -lowered, None

    def shares(self, coming: Occurrences) -> Iterator[tuple[str, Days, Mask | None]]:
        """It spends in no category."""
        yield from ()

    def split(self, nominal: date) -> Parts | None:
        """None: it is split as it is received."""
        return None

    def legs(
        self, nominal: date, amount: int, day: date, account: str | None, split: PaidSplit | None = None
    ) -> Iterator[Leg]:
        """Interest accrued by the day first, then principal. Raises PlanError for more than both."""
        said = split is not None and (split.interest is not None or split.principal is not None)
        owed, accrued = accrued_on(self.moment, self.account, day.toordinal())
        due = self._due(nominal.toordinal())
        if due is not None and due.lands > self.moment.now:
            accrued = max(accrued, due.interest)
        part = part_of(amount, owed, accrued)
        interest, principal = part.interest, part.principal
        if said and split is not None:
            interest = split.interest if split.interest is not None else amount - (split.principal or 0)
            principal = amount - interest
            if interest < 0 or principal < 0 or split.principal not in (None, principal):
                raise refused("split", "Principal and interest come to what was received.", "does_not_sum")
        elif due is not None and part.amount < amount <= due.amount:
            interest += amount - part.amount  # it was told with the interest of the days since
        elif amount > part.amount:
            both = format_amount(part.amount, self.account.currency)
            message = f"That is more than the {both} that is owed with its interest: say on its page what the rest is."
            raise refused("amount", message, "range")
        yield Leg(amount, account=account or self.flow.to_account)
        yield Leg(-principal, account=self.account.id)
        if interest:
            yield Leg(-interest, category=LENT_INTEREST.id)

    def payee(self, nominal: date) -> str:
        """Who pays back."""
        return self.account.lending.to

    def rhythm(self) -> str:
        """How it repeats, in words."""
        terms, repays = self.account.lending.terms, self.account.lending.repays
        if terms is not None:
            return rule_sentence(parse_rule(due_rule(terms)), terms.first_payment)
        assert repays is not None
        return recurrence_sentence(Recurrence(tuple(parse_rule(rule) for rule in repays.rules), start=repays.start))

    def teller(self) -> "LentTeller":
        """What tells why its events are what they are."""
        return LentTeller(self)


# So many days ahead are looked at first.
_AT_FIRST = 366


class LentTeller:
    """Tells what a repayment is made of."""

    usual = None

    def __init__(self, maker: LentRepayment) -> None:
        self._maker = maker
        self._reach, self._dues = maker.moment.now, dict[int, Due]()

    def _due(self, nominal: int) -> Due | None:
        """Looked up among all until ever further on: there may be one a day for years."""
        while nominal not in self._dues and self._reach < LATEST.toordinal():
            ahead = self._reach - self._maker.moment.now
            self._reach = min(LATEST.toordinal(), self._reach + ahead + _AT_FIRST)
            self._dues = {due.nominal: due for due in self._maker.loan_standing.dues(self._reach)}
        return self._dues.get(nominal)

    def why(self, nominal: int, is_past_due: bool) -> str:
        """One sentence for the repayment of a nominal day."""
        maker = self._maker
        lending, currency = maker.account.lending, maker.account.currency
        due = self._due(nominal)
        wording = f"{lending.to} pays back what was lent, {maker.rhythm()}"
        if due is not None and due.interest:
            principal, interest = (format_amount(part, currency) for part in (due.principal, due.interest))
            wording += f": principal {principal}, interest {interest}"
        if is_past_due:
            wording += f"; was due {short_day(date.fromordinal(nominal))}, did not come, and is assumed to come today"
        sure = {"counted": "", "doubtful": "; it may not come", "left_out": "; nobody counts on it"}[lending.sure]
        return f"{wording}{sure}."
