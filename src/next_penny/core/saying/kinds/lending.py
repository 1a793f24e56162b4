"""Sentences about money lent and coming back, borrowed on a debt of the household's, and cash fetched or paid in."""

from collections.abc import Iterator
from datetime import date

from next_penny.core.edits.defaults import paying_account
from next_penny.core.edits.receiving import Received, Rest, proposed_split, receive
from next_penny.core.money import format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.problems import PlanError
from next_penny.core.saying.asking import Asking, on_day
from next_penny.core.saying.kinds.planning import account_of, money_of, move, titled
from next_penny.core.saying.kinds.recording import as_meant
from next_penny.core.saying.names import Named, found
from next_penny.core.saying.phrases import NotUnderstood, is_word
from next_penny.core.saying.readings import Meant, Reading

_RESTS: tuple[tuple[Rest, str], ...] = (
    ("interest", "is interest"), ("gift", "is a gift"), ("owed_back", "is owed back"),
)  # fmt: skip


def of_cash(asking: Asking, new_id: str) -> Reading:
    """`withdrew 60`, `deposited 80 cash into savings`: what is not said goes to cash, or comes from it."""
    slots = asking.said
    is_cash = is_word("means", slots.name) == "cash" or asking.is_account("name")
    # Without any cash, where it goes or comes from is asked.
    cash = slots.names.pop("name") if is_cash else "cash" if asking.has_cash else ""
    if slots.verbs & {"withdraw", "withdraw_past"}:
        slots.names.setdefault("target", cash)
    else:
        if is_cash or "target" not in slots.names:
            slots.names.setdefault("source", cash)
        _arrives_as_usual(asking)
    return move(asking, new_id)


def is_of_cash(asking: Asking) -> bool:
    """Whether cash is fetched or paid in; “deposit 300” alone is called so."""
    slots = asking.said
    if slots.verbs & {"withdraw", "withdraw_past", "deposit_past"}:
        return True
    return "deposit" in slots.verbs and ("target" in slots.names or is_word("means", slots.name) == "cash")


def borrow(asking: Asking, new_id: str) -> Reading:
    """`borrowed 400 from the harbour line`: moved from a debt of the household's. Raises NotUnderstood for another."""
    slots = asking.said
    if "source" not in slots.names and "name" in slots.names:
        slots.names["source"] = slots.names.pop("name")
    if not asking.is_debt("source"):
        raise NotUnderstood(slots.words_of("borrow", "borrowed"))
    _arrives_as_usual(asking)
    return move(asking, new_id)


def _arrives_as_usual(asking: Asking) -> None:
    usual = paying_account(asking.moment.plan, asking.moment.today)
    if "target" not in asking.said.names and usual is not None:
        asking.said.names["target"] = usual.name


def lend(asking: Asking, new_id: str) -> Reading:
    """`lent 50 to sam`: moved to what Sam owes, which is made where there is none of that name yet."""
    slots, today = asking.said, asking.moment.today
    slot = "target" if "target" in slots.names else "name"
    who = slots.names.get(slot, "")
    if not who:
        raise NotUnderstood(slots.words_of("lent", "lend"))
    day = asking.day(is_past=slots.is_past) or (today if slots.is_past else None)
    source = asking.paid_from()
    amount = asking.amount(source)
    if day is None:
        asking.need("date")
    known = lent_to(asking, who)
    to = known.lending.to if known is not None else titled(who)
    way = "Lend" if day is None or day > today else "Record: lent"
    what = f"{way} {money_of(asking, amount, source)} to {to} on {on_day(asking, day) if day else '…'}"
    where = f"from {source.name if source else '…'}"
    unused = slots.besides("amounts", "day", "source", "means", slot)
    if day is None or source is None:
        return Reading(f"{what}, {where}", unused=unused)
    id = known.id if known is not None else f"{new_id}-lent"
    made = [] if known is not None else [_owed_by(id, to, source, min(day, today))]
    note = "" if known is not None else f" (a new account, “{_account_name(to)}”)"
    if day > today:
        ids = {"from_account": source.id, "to_account": id}
        planned = {"name": f"To {to}", "kind": "transfer", "amount": amount, **ids, "dates": [day.isoformat()]}
        changes = [*made, Meant("add", "flow", new_id, planned)]
        return Reading(f"{what}, {where}{note}", changes=changes, unused=unused)
    moved = {"date": day.isoformat(), "account": source.id, "to_account": id, "amount": amount}
    changes = [*made, Meant("moved", "entry", new_id, moved)]
    return Reading(f"{what}, {where}{note}", changes=changes, unused=unused)


def _account_name(to: str) -> str:
    return f"Lent to {to}"


def _owed_by(id: str, to: str, source: Account, day: date) -> Meant:
    value = {
        "name": _account_name(to), "kind": "owed_to_us", "currency": source.currency,
        "opening": {"date": day.isoformat(), "balance": 0}, "lent": {"to": to, "into_account": source.id},
    }  # fmt: skip
    return Meant("add", "account", id, value)


def lent_to(asking: Asking, who: str) -> Account | None:
    """What somebody owes the household, by who it is or how it is called; None where there is none, or several."""
    plan, today = asking.moment.plan, asking.moment.today
    owed = [account for account in plan.accounts if account.kind == "owed_to_us" and not account.is_closed_on(today)]
    named = [Named("account", account.id, account.lending.to) for account in owed]
    named += [Named("account", account.id, account.name) for account in owed]
    ids = {hit.id for hit in found(who, named)}
    return plan.account_by_id[ids.pop()] if len(ids) == 1 else None


def owed_by_who_paid(asking: Asking) -> Account | None:
    """What is owed by the one who is said to have paid it back; None where it is said of nobody who owes."""
    slots = asking.said
    if not slots.verbs & {"repaid", "back"} or "target" in slots.names:
        return None
    account = lent_to(asking, slots.names.get("source") or slots.name)
    if account is not None and not slots.is_past:
        # What is still to come back is planned with the account itself.
        raise NotUnderstood(slots.words_of("back"))
    return account


def paid_back(asking: Asking, account: Account, new_id: str) -> Iterator[Reading]:
    """`sam paid back 50`: interest first, then principal; of more than is owed each thing it may be is a reading."""
    slots, moment = asking.said, asking.moment
    day = asking.day(is_past=True) or moment.today
    slots.names.pop("source", None)
    into = account_of(asking, None, is_income=True) if slots.names.keys() & {"means", "target"} else None
    into = into or moment.plan.account_by_id.get(account.lending.into_account or "") or asking.paid_from()
    amount = asking.amount(account)
    what = f"Record: {money_of(asking, amount, account)} back from {account.lending.to} on {on_day(asking, day)}"
    sentence = f"{what}, to {into.name if into else '…'}"
    unused = slots.besides("name", "amounts", "day", "means", "source")
    if amount is None or into is None:
        yield Reading(sentence, unused=unused)
        return
    try:
        split = proposed_split(moment, account, Received(new_id, day, amount, into.id))
        receive(moment, account, Received(new_id, day, amount, into.id, rest="gift"))
    except PlanError as error:
        # Before it was lent, or into another currency.
        raise NotUnderstood(slots.said.text.strip()) from error
    over = format_amount(split.rest, account.currency)
    if split.interest and not split.rest:
        sentence += f"; {format_amount(split.interest, account.currency)} of it is interest"
    for rest, wording in _RESTS if split.rest else ((None, ""),):
        changes = receive(moment, account, Received(new_id, day, amount, into.id, rest=rest))
        said = f"{sentence}; {over} of it {wording}" if rest is not None else sentence
        yield Reading(said, changes=as_meant(changes), unused=unused)
