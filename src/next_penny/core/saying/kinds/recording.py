"""Sentences about one time: what was spent or received, or will be on a day; one that settles what was expected."""

from collections.abc import Iterable, Iterator
from contextlib import suppress
from datetime import date
from typing import Any, Literal

from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import Occurrence, next_occurrences, past_due
from next_penny.core.money import format_amount
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.starter import categories_for
from next_penny.core.saying.asking import Asking, on_day
from next_penny.core.saying.kinds.changing import change_flow
from next_penny.core.saying.kinds.planning import account_of, comes_in, in_category, money_of, name_of
from next_penny.core.saying.names import begins_so
from next_penny.core.saying.phrases import NotUnderstood
from next_penny.core.saying.readings import Known, Meant, Reading

# A payment is that of an expected day so near.
_NEAR_DAYS = 15


def record_or_plan(asking: Asking, flow: Flow | None, new_id: str) -> Iterator[Reading]:
    """Money once: recorded where its day has come, else planned as a flow of one date, so that it can be settled.

    What settles an expected day may be a payment of its own just as well: that is the second reading.
    """
    slots, today = asking.said, asking.moment.today
    day = asking.day(is_past=slots.is_past)
    if day is None and slots.is_past:
        day = today
    known = asking.known_payee()
    if day is None:
        asking.need("date")
    elif day <= today and flow is not None:
        settled = _settles(asking, flow, day, new_id)
        if settled is not None:
            yield settled
    elif flow is not None and asking.said.amounts and not asking.said.is_past:
        # On a day on which it is expected anyway, it is that.
        with suppress(NotUnderstood):
            yield change_flow(asking, flow, None)
    yield _once(asking, known, day, new_id)


def _once(asking: Asking, known: Known | None, day: date | None, new_id: str) -> Reading:
    is_income = comes_in(asking)
    account = account_of(asking, known, is_income=is_income)
    amount = asking.amount(account)
    # What is given back lowers what was spent.
    is_refund = "refund" in asking.said.verbs and day is not None and day <= asking.moment.today
    sort: Literal["income", "expense"] = "income" if is_income and not is_refund else "expense"
    category = asking.category(sort, known)
    name = _payee(asking, known)
    sides = ("name", "source", "means", "category", *(["target"] if is_income else []))
    unused = asking.said.besides("amounts", "day", *sides)
    money = money_of(asking, amount, account)
    word = "to" if is_income else "from"
    of = f"{money} {'from' if is_income else 'at'} “{name}” on {on_day(asking, day) if day else '…'}"
    where = f"{word} {account.name if account else '…'}{in_category(asking, category)}"
    if day is not None and day > asking.moment.today:
        kind = "income" if is_income else "bill"
        side = {f"{word}_account": account.id if account else None}
        planned: dict[str, Any] = {"name": name, "kind": kind, "amount": amount, "category": category, **side}
        planned["dates"] = [day.isoformat()]
        wording = f"Plan the {kind} “{name}”: {money} on {on_day(asking, day)}, {where}"
        return Reading(wording, changes=[Meant("add", "flow", new_id, planned)], unused=unused)
    if category is None and "category" not in asking.choices:
        asking.need("category")
    value = {
        "date": day.isoformat() if day else None, "account": account.id if account else "", "amount": amount,
        "payee": name, "parts": [{"category": category}],
    }  # fmt: skip
    way = "received" if is_income else "spent"
    of = f"a refund of {of}" if is_refund else of
    return Reading(
        f"Record: {way} {of}, {where}", changes=[Meant(way, "entry", new_id, value)],
        category_kind=sort, unused=unused,
    )  # fmt: skip


def _payee(asking: Asking, known: Known | None) -> str:
    return known.payee if known is not None else name_of(asking)


def _settles(asking: Asking, flow: Flow, day: date, new_id: str) -> Reading | None:
    """The expected day of a flow that is paid: what is past due first, else the nearest; None where none is near."""
    moment = asking.moment
    late = past_due(moment, flow)
    rows = [Occurrence(date.fromordinal(nominal), date.fromordinal(lands), amount)
            for nominal, lands, amount in zip(*(column.tolist() for column in late), strict=True)]  # fmt: skip
    near = [row for row in (*rows, *next_occurrences(moment, flow, date.fromordinal(moment.now - 1), 2))
            if abs((row.lands - day).days) <= _NEAR_DAYS]  # fmt: skip
    is_named = begins_so(asking.said.name, flow.name) or begins_so(asking.said.name, flow.payee)
    if not near or not is_named or flow.id in moment.plan.maker_accounts:
        return None
    one = min(near, key=lambda occurrence: abs((occurrence.lands - day).days))
    account = asking.account("means", "account") or moment.plan.account_by_id[flow.on(one.nominal).main_account or ""]
    maker = maker_of(moment, flow)
    plan, own = moment.plan, flow.main_account or ""
    if account.currency != plan.currency_of(flow):
        has_rate = plan.rate(plan.currency_of(flow), account.currency, day) is not None
        if not (maker.may_be_foreign and has_rate):
            return None
    amount = asking.amount(account) if asking.said.amounts else plan.between(own, account.id, one.amount, day)
    if amount is None:
        return None
    legs = tuple(maker.legs(one.nominal, amount, day, account.id))
    entry = Entry(new_id, day, maker.payee(one.nominal), legs, flow.id, one.nominal)
    changes = as_meant([*categories_for(plan, legs), PlanChange("entry", new_id, entry)])
    money = format_amount(amount, account.currency)
    sentence = f"Settle “{flow.name}” of {on_day(asking, one.lands)}: {money} on {on_day(asking, day)}, {account.name}"
    unused = asking.said.besides("name", "amounts", "day", "means", "category", "source")
    return Reading(sentence, changes=changes, unused=unused)


def as_meant(changes: Iterable[PlanChange]) -> list[Meant]:
    """An entry, and the categories that it needs, as changes are written."""
    return [Meant("add", change.kind, change.id, _value(change.item)) for change in changes]


def _value(item: Any) -> dict[str, Any]:
    if isinstance(item, Entry):
        return _entry(item)
    return {"name": item.name, "group": item.group, "kind": item.kind}


def _entry(entry: Entry) -> dict[str, Any]:
    return {
        "date": entry.date.isoformat(), "payee": entry.payee, "legs": [_leg(leg) for leg in entry.legs],
        "flow": entry.flow, "nominal": entry.nominal.isoformat() if entry.nominal else None,
    }  # fmt: skip


def _leg(leg: Leg) -> dict[str, Any]:
    return (
        {"amount": leg.amount, "account": leg.account}
        if leg.account
        else {"amount": leg.amount, "category": leg.category}
    )
