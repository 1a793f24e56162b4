"""What is paid out of money that is owed to the household: never more than is still owed (docs/rules.md, The forecast).

Who owes 290 and pays back 100 a month pays 90 at last, and then nothing: such an account does not go below zero.
"""

from collections.abc import Callable, Mapping
from typing import NamedTuple

import numpy as np

from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import Flow


class Planned(NamedTuple):
    """What a flow would move if nothing bounded it: its occurrences, what they change on the account, and its basis."""

    coming: Occurrences
    changes: Days
    basis: tuple[object, ...]


# By a flow, what it would move on an account.
Plans = Callable[[Flow, str], Planned]


def owing_account(moment: Moment, flow: Flow) -> Account | None:
    """The account of money owed to the household that a flow takes from, if any."""
    account = moment.plan.account_by_id.get(flow.from_account or "")
    if moment.plan.lent_by(flow) is not None:
        return None  # it knows by itself what is owed
    return account if account is not None and account.kind == "owed_to_us" else None


def bounded(moment: Moment, flow: Flow, account: Account, until: int, plans: Plans) -> Occurrences:
    """A flow's occurrences with what is still owed by then as the most of each; those of nothing are left out."""
    planned = _planned(moment, flow, account, plans)
    basis = _basis(moment, account, planned)
    paid = moment.cache.recall(("owed back", account.id, until), basis, lambda: _walk(moment, account, planned))
    coming = planned[flow.id].coming
    amount = np.minimum(coming.amount, paid[flow.id])
    return coming._replace(amount=amount).where(amount > 0)


def basis_of(moment: Moment, flow: Flow, account: Account, plans: Plans) -> tuple[object, ...]:
    """What bounds a flow that takes from an account."""
    return _basis(moment, account, _planned(moment, flow, account, plans))


def _basis(moment: Moment, account: Account, planned: Mapping[str, Planned]) -> tuple[object, ...]:
    recorded = (moment.books.postings.get(account.id), moment.books.ahead)
    return (account, *recorded, moment.now, tuple(one_planned.basis for one_planned in planned.values()))


def _planned(moment: Moment, flow: Flow, account: Account, plans: Plans) -> dict[str, Planned]:
    """What moves on an account, by flow in the plan's order; the flow that is asked for may be another than it has."""
    moved = moment.plan.accounts_moved
    touching = {one_flow.id: one_flow for one_flow in moment.plan.flows if account.id in moved[one_flow.id]} | {
        flow.id: flow
    }
    return {id: plans(one_flow, account.id) for id, one_flow in touching.items()}


def _walk(moment: Moment, account: Account, planned: Mapping[str, Planned]) -> Mapping[str, Days]:
    """By flow, what each of its occurrences takes at most, walked in the forecast's order of a day: money in first."""
    rows = list[tuple[int, bool, int, str, int]]()
    for entry in moment.books.ahead:
        changed = entry.on(account.id)
        rows.append((entry.date.toordinal(), changed < 0, -abs(changed), "", 0))
    paid = {id: np.zeros(len(planned_flow.coming.amount), dtype=np.int64) for id, planned_flow in planned.items()}
    for id, one_planned in planned.items():
        days = np.maximum(one_planned.coming.landing, moment.now).tolist()
        for place, (day, change) in enumerate(zip(days, one_planned.changes.tolist(), strict=True)):
            rows.append((day, change < 0, -abs(change), id, place))
    owed = account.opening.balance + moment.books.before.get(account.id, 0)
    for _, is_out, negated, id, place in sorted(rows):
        change = negated if is_out else -negated
        if is_out and id:
            change = -min(-change, max(0, owed))
            paid[id][place] = -change
        owed += change
    return paid
