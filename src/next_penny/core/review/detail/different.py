"""What did not go as expected in a stretch, each with its reason as far as the books say (docs/rules.md)."""

from collections.abc import Iterable, Sequence
from datetime import date
from typing import Literal, NamedTuple

from next_penny.core.dates.sentences import short_day
from next_penny.core.money import format_amount
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan
from next_penny.core.review.measures import converted
from next_penny.core.review.occurrences import Became, main_leg

Reason = Literal[
    "left_out",
    "past_due",
    "not_paid",
    "paid_twice",
    "in_part",
    "price",
    "estimate",
    "amount",
    "other_day",
    "unexpected",
]
_UNPAID: dict[str, tuple[Reason, str]] = {
    "left_out": ("left_out", "left out"),
    "past_due": ("past_due", "past due"),
    "not_paid": ("not_paid", "not paid"),
}


class Different(NamedTuple):
    """An occurrence that went otherwise, or an entry that nothing expected; amounts are changes of `account`."""

    reason: Reason
    sentence: str
    name: str
    day: date
    flow: str | None
    entry: str | None
    account: str
    expected: int
    actual: int


def different(plan: Plan, became: Iterable[Became], unplanned: Iterable[Entry]) -> list[Different]:
    """What was different, the largest difference first.

    became: the stretch's occurrences. unplanned: what was recorded of it and was none, nor of an allowance.
    Raises NoRate where two amounts cannot be compared.
    """
    deviations = [deviation for deviation in (_occurrence(plan, one) for one in became) if deviation is not None]
    deviations += [_unexpected(plan, entry) for entry in unplanned]

    def size(deviation: Different) -> int:
        return abs(converted(plan, deviation.actual - deviation.expected, deviation.account, deviation.day))

    return sorted(deviations, key=lambda one_deviation: (-size(one_deviation), one_deviation.day, one_deviation.name))


def _occurrence(plan: Plan, became: Became) -> Different | None:
    is_another_day = any(day != became.row.lands for day in became.days)
    if became.status == "expected" or (became.expected == became.actual and not is_another_day):
        return None
    reason, sentence = _reason(plan, became)
    row = became.row
    return Different(reason, sentence, row.name, row.lands, row.source, None, became.account,
                     became.expected, became.actual)  # fmt: skip


def _reason(plan: Plan, became: Became) -> tuple[Reason, str]:
    currency = plan.account_by_id[became.account].currency if became.account in plan.account_by_id else ""
    currency = currency or plan.household.currency
    expected, actual = (format_amount(abs(amount), currency) for amount in (became.expected, became.actual))
    if not became.days:
        reason, words = _UNPAID.get(became.status, ("not_paid", "not paid"))
        return reason, f"{words}; {expected} was expected"
    last = max(became.days)
    on = "" if last == became.row.lands else f" on {short_day(last)}"
    if became.status not in ("settled", "assumed"):
        return "in_part", f"{actual}{on} of {expected}; the rest is {_UNPAID.get(became.status, ('', 'open'))[1]}"
    if became.expected == became.actual:
        if len(set(became.days)) > 1:
            on = f" in parts from {short_day(min(became.days))} to {short_day(last)},"
        return "other_day", f"{actual}{on} in place of {short_day(became.row.lands)}"
    if len(became.days) > 1 and abs(became.actual) >= 2 * abs(became.expected):
        return "paid_twice", f"paid {_times(became.days)}, {actual} in all; {expected} was expected"
    more = "more" if abs(became.actual) > abs(became.expected) else "less"
    off = format_amount(abs(abs(became.actual) - abs(became.expected)), currency)
    flow = plan.flow_by_id.get(became.row.source)
    if flow is not None and flow.estimate:
        return "estimate", f"{actual}{on}, {off} {more} than estimated"
    if flow is not None and flow.kind == "bill":
        return "price", f"{actual}{on}, {off} {more} than planned: the price changed"
    came_in = " came in" if became.row.kind == "income" else ""
    return "amount", f"{actual}{came_in}{on}, {off} {more} than planned"


def _times(days: Sequence[date]) -> str:
    return "twice" if len(days) == 2 else f"{len(days)} times"


def _unexpected(plan: Plan, entry: Entry) -> Different:
    is_income = sum(leg.amount for leg in entry.legs if leg.account is not None) > 0
    leg = main_leg(is_income, entry.legs)
    account = plan.account_by_id.get(leg.account or "")
    amount = format_amount(abs(leg.amount), account.currency if account else plan.household.currency)
    sentence = f"{amount} {'came in' if is_income else 'went out'}, unplanned"
    return Different("unexpected", sentence, plan.name_of(entry), entry.date, None, entry.id,
                     leg.account or "", 0, leg.amount)  # fmt: skip
