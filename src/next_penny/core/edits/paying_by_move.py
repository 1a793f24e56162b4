"""Money moved to a loan by hand: whether it may be a payment that is due, and recording it as that payment."""

from dataclasses import replace
from datetime import date

from next_penny.core.books.moment import Moment
from next_penny.core.edits.recording import Recorded
from next_penny.core.edits.settling.settle import Settlement, settle
from next_penny.core.flows.makers import Occurrence, expected, past_due
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.problems import refused

# How many days before or after the move a payment may be due.
NEAR_DAYS = 15


def payment_meant(moment: Moment, account: str, amount: int, day: date) -> Occurrence | None:
    """The unsettled payment of a loan that comes to exactly an amount, due within 15 days of a day; the nearest."""
    flow = moment.plan.loan_flow(account)
    if flow is None:
        return None
    until = max(day.toordinal(), moment.now) + NEAR_DAYS
    occurrences = dict[int, Occurrence]()
    for rows in (past_due(moment, flow), expected(moment, flow, until)):
        for nominal, lands, due in zip(rows.nominal.tolist(), rows.landing.tolist(), rows.amount.tolist(), strict=True):
            if due == amount and abs(lands - day.toordinal()) <= NEAR_DAYS:
                occurrences[nominal] = Occurrence(date.fromordinal(nominal), date.fromordinal(lands), due)
    return min(
        occurrences.values(), key=lambda occurrence: (abs(occurrence.lands - day), occurrence.lands), default=None
    )


def paid_by_move(moment: Moment, id: str, money: Recorded) -> list[PlanChange]:
    """The changes by which money moved to a loan settles the payment of a due date.

    Raises PlanError where the loan has no such unsettled payment.
    """
    flow = moment.plan.loan_flow(money.to_account or "")
    if flow is None or money.pays is None:
        raise refused("to_account", "Nothing pays this loan by plan: move it as an extra.", "not_possible")
    settled = settle(moment, Settlement(id, flow.id, money.pays, money.amount, money.date, money.account))
    return [
        replace(change, item=_as_said(change.item, money)) if isinstance(change.item, Entry) else change
        for change in settled
    ]


def _as_said(entry: Entry, money: Recorded) -> Entry:
    """The entry with what a person wrote beside it."""
    return money.beside.on(replace(entry, payee=money.payee or entry.payee))
