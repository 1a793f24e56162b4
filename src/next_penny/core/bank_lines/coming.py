"""What is expected on an account, as a line of a bank may be it."""

from datetime import date, timedelta
from typing import NamedTuple

import numpy as np

from next_penny.core.books.moment import Moment
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import expected, past_due
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.plan.flows import Flow, payment_id

WITHIN = 7
_FURTHEST_AHEAD = timedelta(days=366)


class Coming(NamedTuple):
    """An occurrence that is not settled, and what it changes on an account; `is_about`: its amount is not certain."""

    flow: Flow
    nominal: date
    lands: date
    amount: int
    is_about: bool

    def days_from(self, day: date) -> int | None:
        """How far from a day it lands; None where that is too far, with the days by which it may be later."""
        later = (day - self.lands).days
        return abs(later) if -WITHIN <= later <= WITHIN + self.flow.late_days else None

    def is_near(self, amount: int) -> bool:
        """Whether an amount has its sign and is within a quarter of its own, both ends counted."""
        return amount * self.amount > 0 and 4 * abs(amount - self.amount) <= abs(self.amount)

    @property
    def payees(self) -> tuple[str, str]:
        """The names under which a bank may tell it."""
        return self.flow.payee, self.flow.name


def coming_on(moment: Moment, accounts: frozenset[str], last: date) -> dict[str, list[Coming]]:
    """By account, what is past due and what is expected by some days after a day."""
    recorded = moment.as_recorded
    # What a bank has booked lies hardly ahead: a day that was typed wrong is not looked for in two hundred years.
    until = min(last, recorded.today + _FURTHEST_AHEAD) + timedelta(days=WITHIN)
    coming: dict[str, list[Coming]] = {account: [] for account in accounts}
    plan = recorded.plan
    for flow in (*plan.all_flows, *plan.generated_flows):
        made_by = plan.maker_accounts.get(flow.id)
        if made_by is None and not accounts & plan.accounts_moved.get(flow.id, frozenset(flow.account_ids)):
            continue
        rows = _unsettled(recorded, flow, until)
        if not len(rows.nominal):
            continue
        is_about = flow.estimate or (made_by is not None and flow.id == payment_id(made_by.id))
        for account, amounts, wanted in maker_of(recorded, flow).postings(rows, rows.landing):
            if account in accounts:
                mine = np.ones(len(rows.nominal), dtype=bool) if wanted is None else wanted
                columns = (rows.nominal[mine].tolist(), rows.landing[mine].tolist(), amounts[mine].tolist())
                coming[account] += [
                    Coming(flow, date.fromordinal(nominal), date.fromordinal(landing), amount, is_about)
                    for nominal, landing, amount in zip(*columns, strict=True)
                    if amount
                ]
    return coming


def _unsettled(moment: Moment, flow: Flow, until: date) -> Occurrences:
    late = past_due(moment, flow)
    if until < moment.today:
        return late
    coming = expected(moment, flow, until.toordinal())
    coming = coming.where(coming.landing >= moment.now)
    return Occurrences(*(np.concatenate(columns) for columns in zip(late, coming, strict=True)))
