"""Sentences about what is to come: a new bill or income that repeats, and money moved between accounts."""

from datetime import date
from typing import Any

from next_penny.core.dates.recurrence import Recurrence
from next_penny.core.dates.rules import parse_rule
from next_penny.core.dates.sentences import full_day, recurrence_sentence
from next_penny.core.money import format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.saying.asking import Asking, on_day
from next_penny.core.saying.kinds.changing import ends, said_start
from next_penny.core.saying.phrases import is_word
from next_penny.core.saying.readings import Known, Meant, Reading
from next_penny.core.saying.rhythms import Rhythm, rhythm_of

# What a reading of money that leaves or arrives uses of the names that were said.
_SIDES = ("name", "source", "means", "category")


def plan_new(asking: Asking, rhythm: Rhythm, new_id: str) -> Reading:
    """A bill or an income that there is not yet, with its rhythm."""
    is_income = comes_in(asking)
    known = asking.known_payee()
    account = account_of(asking, known, is_income=is_income)
    amount = asking.amount(account)
    kind = "income" if is_income else "bill"
    category = asking.category("income" if is_income else "expense", known)
    name = name_of(asking)
    side = {"to_account" if is_income else "from_account": account.id if account else None}
    value = {"name": name, "kind": kind, "amount": amount, "category": category, **side, **when(asking, rhythm)}
    if known is not None:
        value["payee"] = known.payee
    word = "to" if is_income else "from"
    sentence = (
        f"Plan the {kind} “{name}”: {money_of(asking, amount, account)} {_often(asking, rhythm)}, "
        f"{word} {account.name if account else '…'}{in_category(asking, category)}"
    )
    used = ("amounts", "rhythm", "days", "begins", "ends", *_SIDES, *(["target"] if is_income else []))
    return Reading(sentence, changes=[Meant("add", "flow", new_id, value)], unused=asking.said.besides(*used))


def account_of(asking: Asking, known: Known | None, *, is_income: bool) -> Account | None:
    """Where it is paid from, or arrives; who it comes from is no account."""
    if is_income:
        arrives = asking.account("target", "account") or asking.account("means", "account")
        if arrives is not None or "account" in asking.choices:
            return arrives
    return asking.paid_from(known)


def comes_in(asking: Asking) -> bool:
    """Whether money comes in: it is said so, it is pay, or who pays is known to."""
    slots = asking.said
    if slots.verbs & {"in_past", "refund", "new_income"} or ("pay" in slots.verbs and not slots.name):
        return True
    if slots.verbs & {"out_past", "pay", "new_bill"}:
        return False
    if any(is_word("income", word) for word in slots.name.split()[-1:]):
        return True
    known = asking.known_payee()
    category = asking.moment.plan.category_by_id.get((known.category if known else None) or "")
    return category is not None and category.kind == "income"


def when(asking: Asking, rhythm: Rhythm) -> dict[str, Any]:
    """The fields of a flow that say when it occurs."""
    start, last = _start(asking, rhythm), ends(asking)
    value: dict[str, Any] = {"rules": list(rhythm.rules), "start": start.isoformat()}
    if rhythm.income is not None:
        value["roll"] = rhythm.income.roll
    if last is not None:
        value["until"] = last.isoformat()
    return value


def _start(asking: Asking, rhythm: Rhythm) -> date:
    start = said_start(asking, rhythm)
    if rhythm.start is not None and (start is None or start <= rhythm.start):
        return rhythm.start
    return start or asking.moment.today


def _often(asking: Asking, rhythm: Rhythm) -> str:
    start = _start(asking, rhythm)
    if rhythm.income is not None:
        return f"with every “{rhythm.income.name}” from {on_day(asking, start)}"
    last = ends(asking)
    rules = tuple(parse_rule(rule) for rule in rhythm.rules)
    said = recurrence_sentence(Recurrence(rules, start=start, until=last))
    return f"{said} from {full_day(start)}" if said_start(asking, rhythm) is not None else said


def move(asking: Asking, new_id: str) -> Reading:
    """Money moved between two accounts: recorded, or planned for a day or with a rhythm."""
    slots, today = asking.said, asking.moment.today
    source = asking.account("source", "from_account") or asking.account("means", "from_account")
    target = asking.account("target", "to_account")
    if target is None and "to_account" not in asking.choices:
        asking.need("to_account")
    if source is None and "from_account" not in asking.choices:
        own = asking.paid_from()
        source = own if own is not None and own is not target else None
        if source is None:
            asking.need("from_account")
    amount = asking.amount(source)
    what = (
        f"{money_of(asking, amount, source)} from {source.name if source else '…'} to {target.name if target else '…'}"
    )
    ids = {"from_account": source.id if source else None, "to_account": target.id if target else None}
    rhythm, name = rhythm_of(asking.moment, slots), f"To {target.name}" if target else "Transfer"
    planned = {"name": name, "kind": "transfer", "amount": amount, **ids}
    used = ("amounts", "source", "means", "target")
    if rhythm is not None:
        change = Meant("add", "flow", new_id, {**planned, **when(asking, rhythm)})
        unused = slots.besides(*used, "rhythm", "days", "begins", "ends")
        return Reading(f"Move {what} {_often(asking, rhythm)}", changes=[change], unused=unused)
    day = asking.day(is_past=slots.is_past) or (today if slots.is_past else None)
    unused = slots.besides(*used, "day")
    if day is None:
        asking.need("date")
        return Reading(f"Move {what} on …", unused=unused)
    if day > today:
        change = Meant("add", "flow", new_id, {**planned, "dates": [day.isoformat()]})
        return Reading(f"Move {what} on {on_day(asking, day)}", changes=[change], unused=unused)
    moved = {"date": day.isoformat(), "account": ids["from_account"], "to_account": ids["to_account"], "amount": amount}
    sentence = f"Record: moved {what} on {on_day(asking, day)}"
    return Reading(sentence, changes=[Meant("moved", "entry", new_id, moved)], unused=unused)


def money_of(asking: Asking, amount: int | None, account: Account | None) -> str:
    """An amount in the currency of its account; `…` while it is not known."""
    currency = account.currency if account is not None else asking.moment.plan.household.currency
    return format_amount(amount, currency) if amount is not None else "…"


def name_of(asking: Asking) -> str:
    """The name that was said, as one writes it."""
    return titled(asking.said.name or asking.said.names.get("pay", "Pay"))


def titled(name: str) -> str:
    """A name as one writes it: its first letter is large."""
    return name[:1].upper() + name[1:]


def in_category(asking: Asking, category: str | None) -> str:
    """`, in Groceries`."""
    existing = asking.moment.plan.category_by_id.get(category or "")
    return f", in {existing.name}" if existing is not None else ""
