"""Escrow parts of payments that were recorded as spent while no escrow account was linked to their loan."""

from collections.abc import Iterable
from dataclasses import replace
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.mortgage.escrow_ahead import escrow_loans
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.starter import ESCROW_PAID


class EscrowSpent(NamedTuple):
    """How much it was in minor units, in how many payments, and the changes that put it into the account."""

    amount: int
    payments: int
    changes: tuple[PlanChange, ...]


def escrow_spent(moment: Moment, escrow: Account, recorded: Iterable[Entry]) -> EscrowSpent | None:
    """What payments of the loans that feed an escrow account spent since it was opened; None if nothing."""
    loans = escrow_loans(moment, escrow.id)
    flows = {flow.id for loan in loans if (flow := moment.plan.loan_flow(loan.id)) is not None}
    entries = [
        entry for entry in recorded
        if entry.flow in flows and entry.date >= escrow.opening.date
        and any(leg.category == ESCROW_PAID.id for leg in entry.legs)
    ]  # fmt: skip
    if not entries:
        return None
    amount = sum(leg.amount for entry in entries for leg in entry.legs if leg.category == ESCROW_PAID.id)
    return EscrowSpent(amount, len(entries), tuple(_put_into(escrow, entry) for entry in entries))


def _put_into(escrow: Account, entry: Entry) -> PlanChange:
    legs = tuple(
        replace(leg, category=None, account=escrow.id) if leg.category == ESCROW_PAID.id else leg for leg in entry.legs
    )
    return PlanChange("entry", entry.id, replace(entry, legs=legs))
