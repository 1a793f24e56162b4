"""The legs of an occurrence of a calendar flow that is recorded, on its own account or another."""

from collections.abc import Iterator
from datetime import date

from next_penny.core.plan.entries import Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.starter import UNSORTED_INCOME, UNSORTED_SPENDING


def calendar_legs(plan: Plan, flow: Flow, amount: int, day: date, account: str | None) -> Iterator[Leg]:
    """The legs of an amount that a flow, as it is on its date, would post on a day.

    amount: in minor units of the account that it is paid from or comes to; `account` where that is not the flow's own.
    Parts split off are in the flow's currency, and converted at the day's rate. Raises NoRate where there is none.
    """
    own = flow.main_account or ""
    main = account or own
    is_income = flow.kind == "income"
    rest, sign, on_accounts = amount, -1 if is_income else 1, 0
    parts: list[Leg] = []
    for split in flow.splits:
        whole = plan.between(own, main, split.amount, day)
        part = min(whole, rest)
        rest -= part
        if split.account is None:
            parts.append(Leg(sign * part, category=split.category))
            continue
        on_accounts += part
        source, arriving = (own, split.amount) if part == whole else (main, part)
        parts.append(Leg(plan.between(source, split.account, arriving, day), account=split.account))
    if is_income:
        yield Leg(amount - on_accounts, account=main)
        yield from parts
        yield Leg(-rest - on_accounts, category=flow.category or UNSORTED_INCOME.id)
        return
    yield Leg(-amount, account=main)
    yield from parts
    if flow.kind == "bill" and rest:
        yield Leg(rest, category=flow.category or UNSORTED_SPENDING.id)
    elif flow.kind == "transfer":
        yield Leg(plan.between(main, flow.to_account or "", rest, day), account=flow.to_account)
