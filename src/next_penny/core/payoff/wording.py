"""What is said of a plan: what is left out or appended, and what the orders differ by."""

from collections.abc import Iterator, Sequence

from next_penny.core.money import format_amount
from next_penny.core.payoff.comparing import Compared
from next_penny.core.plan.kept.way_out import Strategy, Wish

_NAMES: dict[Strategy, str] = {
    "smallest_balance": "Smallest balance first", "highest_rate": "Highest rate first", "custom": "Your own order",
    "minimums": "Minimums only",
}  # fmt: skip


NOTHING_OWED = "has nothing to pay off"


def left_out_note(name: str, reason: str = NOTHING_OWED) -> str:
    """That a debt is left out, and why."""
    return f"“{name}” {reason}: it is left out."


def order_notes(wish: Wish, names: dict[str, str]) -> Iterator[str]:
    """What an order that misses debts comes to."""
    missed = [name for id, name in names.items() if id not in wish.order]
    if wish.strategy == "custom" and missed:
        wording = ", ".join(f"“{name}”" for name in missed)
        yield f"The order does not name {wording}: {'it comes' if len(missed) == 1 else 'they come'} last."


def differences(orders: Sequence[Compared], currency: str, *, with_own: bool) -> Iterator[str]:
    """The order by rate against the one by balance; and the household's own against the cheaper of these."""
    by = {order.strategy: order for order in orders}
    rate, balance = by["highest_rate"], by["smallest_balance"]
    if rate.first_cleared is None:
        return  # nothing is owed, or nothing is ever cleared
    if rate.months is not None and balance.months is not None:
        yield _told(rate, balance, currency)
    cheaper = min(
        (comparison for comparison in (rate, balance) if comparison.months is not None), key=_interest, default=None
    )
    if with_own and cheaper is not None and by["custom"].months is not None:
        yield _told(by["custom"], cheaper, currency)


def _interest(comparison: Compared) -> int:
    return comparison.total_interest


def _told(one: Compared, other: Compared, currency: str) -> str:
    """How one order differs from another; both end."""
    name, against = _NAMES[one.strategy], _NAMES[other.strategy].lower()
    costs = one.total_interest - other.total_interest
    assert one.debt_free is not None
    assert other.debt_free is not None
    assert one.first_cleared is not None
    assert other.first_cleared is not None
    ends, first = one.debt_free - other.debt_free, one.first_cleared - other.first_cleared
    if not costs and not ends and not first:
        return f"{name} and {against} come to the same."
    amount = format_amount(abs(costs), currency)
    cost = (
        f"costs {amount} {'less' if costs < 0 else 'more'} than {against}" if costs else f"costs as much as {against}"
    )
    parts = [part for part in (_when("you are debt-free", ends), _when("the first debt is gone", first)) if part]
    if not parts:
        return f"{name} {cost}, and both end in the same month."
    is_mixed = (costs < 0) != (ends <= 0 and first <= 0)
    return f"{name} {cost}{', but ' if is_mixed else ', and '}{' and '.join(parts)}."


def _when(what: str, months: int) -> str | None:
    if not months:
        return None
    count = "one month" if abs(months) == 1 else f"{abs(months)} months"
    return f"{what} {count} {'sooner' if months < 0 else 'later'}"
