"""What settled occurrences of a flow came to in its own currency, whichever account they were paid from."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from datetime import date

from next_penny.core.books.books import Books, Posting
from next_penny.core.books.moment import Moment
from next_penny.core.flows.amounts import NOTHING_SETTLED, FlowAmounts
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import NoRate

_Legs = Sequence[tuple[str, Posting]]


def settled_amounts(moment: Moment, books: Books, flow: Flow, *, skip_unknown: bool = False) -> Mapping[int, int]:
    """By nominal day (its number), what an occurrence moved, in minor units of the flow's currency, without a sign.

    What was paid in another currency is converted at the rate of the day on which it was paid. Raises NoRate where
    there is none; with `skip_unknown` such an occurrence is left out.
    """
    settled = books.settled.get(flow.id, NOTHING_SETTLED)
    if not settled or len(moment.plan.currencies) == 1:
        return settled
    legs_by_day = _legs_by_flow(moment, books).get(flow.id, {})
    amounts = {}
    for nominal, amount in settled.items():
        try:
            amounts[nominal] = _moved(moment.plan, flow, legs_by_day.get(nominal, ()), amount)
        except NoRate:
            if not skip_unknown:
                raise
    return amounts


def usual_amount(moment: Moment, flow: Flow, day: date) -> int:
    """What an occurrence on a day comes to, grown or averaged, where neither its date nor its month sets it."""
    settled = settled_amounts(moment, moment.recorded, flow, skip_unknown=True)
    return FlowAmounts(flow, settled).usual(day)[0]


def _legs_by_flow(moment: Moment, books: Books) -> Mapping[str, Mapping[int, _Legs]]:
    """By flow and nominal day, the accounts on which an occurrence was settled, and what changed there."""
    postings = tuple(books.postings.get(account.id, ()) for account in moment.plan.accounts)
    key = "settled as assumed" if books is moment.books else "settled as recorded"
    currencies = tuple(account.currency for account in moment.plan.accounts)
    return moment.cache.recall((key, ""), (postings, currencies), lambda: _gathered(moment.plan, postings))


def _gathered(plan: Plan, postings: Sequence[Sequence[Posting]]) -> dict[str, dict[int, list[tuple[str, Posting]]]]:
    gathered: defaultdict[str, dict[int, list[tuple[str, Posting]]]] = defaultdict(dict)
    for account, rows in zip(plan.accounts, postings, strict=True):
        for posting in rows:
            if posting.flow is not None and posting.nominal is not None:
                gathered[posting.flow].setdefault(posting.nominal, []).append((account.currency, posting))
    return gathered


def _moved(plan: Plan, flow: Flow, legs: _Legs, amount: int) -> int:
    """What left accounts, or, if nothing did, what arrived; `amount` says it where all is in its own currency."""
    own = plan.currency_of(flow)
    left = [(currency, posting) for currency, posting in legs if posting.amount < 0]
    counted = left or legs
    if all(currency == own for currency, _ in counted):
        return amount
    sum_in_own = sum(
        plan.converted(posting.amount, currency, own, date.fromordinal(posting.day)) for currency, posting in counted
    )
    return -sum_in_own if left else sum_in_own
