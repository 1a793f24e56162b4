"""Edits that say what a person means, turned into the items of the plan that they change.

From a day on, as it always was, just this once, money spent, received or moved, a loan as it was agreed. What was
planned for later stays unless told otherwise, and that is said (`notes`).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any, Generic, Literal, NamedTuple, TypeVar

from next_penny.core.balance_terms import RateStep
from next_penny.core.dates.landing import NOTHING_EXCEPTIONAL, lands_on
from next_penny.core.dates.moving import moved_rules
from next_penny.core.dates.sentences import full_day
from next_penny.core.flows.amounts import amount_on, hourly_on, rules_on
from next_penny.core.flows.makers import maker_of
from next_penny.core.loan_terms import DatedAmount, Extra, LoanTerms, RateChange
from next_penny.core.moment import Moment
from next_penny.core.plan import (
    Account,
    Allowance,
    Change,
    Entry,
    Flow,
    Leg,
    LimitRevision,
    NoRate,
    Opening,
    Plan,
    Receipt,
    Revision,
)
from next_penny.core.problems import PlanError, Problem, refused
from next_penny.core.starter import VALUE_CHANGED

Item = TypeVar("Item", Flow, Allowance, Account)

# What of a flow may hold from a day on; all else is of the flow as a whole.
REVISABLE = ("amount", "rules", "from_account", "to_account", "category", "hourly")


class Edited(NamedTuple, Generic[Item]):
    """The item as edited, and what is worth saying about it."""

    item: Item
    notes: list[str]


def revise_flow(
    flow: Flow, values: Mapping[str, object], start: date | None, today: date, *, keep_later: bool = True
) -> Edited[Flow]:
    """The flow with other values from a day on; without a day, as if it had always been so.

    Only what differs from what is in force then is revised. What is no matter of a day is set for the whole flow.
    """
    whole = {name: value for name, value in values.items() if name not in REVISABLE}
    changed = {name: value for name, value in values.items() if name in REVISABLE}
    flow = replace(flow, **whole)  # type: ignore[arg-type]
    if start is None:
        return _always(flow, changed, today)
    held = _in_force(flow, start)
    changed = {name: value for name, value in changed.items() if value != held[name]}
    if held["hourly"] is not None and "hourly" not in changed:
        changed.pop("amount", None)
    if not changed:
        return Edited(flow, [])
    same = next((revision for revision in flow.revisions if revision.start == start), Revision(start))
    revision = replace(same, **changed)  # type: ignore[arg-type]
    others = [each for each in flow.revisions if each.start < start or (keep_later and each.start > start)]
    later = [each.start for each in others if each.start > start]
    return Edited(replace(flow, revisions=_in_order([*others, revision])), _stays(later))


def _in_force(flow: Flow, day: date) -> dict[str, object]:
    then = flow.on(day)
    return {
        "amount": amount_on(flow, day), "rules": rules_on(flow, day), "hourly": hourly_on(flow, day),
        "from_account": then.from_account, "to_account": then.to_account, "category": then.category,
    }  # fmt: skip


def _always(flow: Flow, changed: Mapping[str, object], today: date) -> Edited[Flow]:
    """What is in force today is set as if it had always been so: revisions until today set it no more."""
    held = _in_force(flow, today)
    changed = {name: value for name, value in changed.items() if value != held[name]}
    cleared = dict.fromkeys(changed)
    kept = []
    for revision in flow.revisions:
        left = replace(revision, **cleared) if revision.start <= today else revision  # type: ignore[arg-type]
        if left != Revision(left.start):
            kept.append(left)
    later = [revision.start for revision in kept if revision.start > today]
    revised = replace(flow, **changed, revisions=_in_order(kept))  # type: ignore[arg-type]
    return Edited(revised, _stays(later) if changed else [])


def take_back(item: Flow | Allowance, start: date | None) -> Edited[Any]:
    """The flow or allowance without what is planned from a day on. Raises PlanError where nothing begins then."""
    if start not in [revision.start for revision in item.revisions]:
        raise refused("from", "Nothing is planned from that day on: it may be taken back already.", "unknown_id")
    kept: Any = tuple(revision for revision in item.revisions if revision.start != start)
    return Edited(replace(item, revisions=kept), [])


def _in_order(revisions: Sequence[Revision]) -> tuple[Revision, ...]:
    return tuple(sorted(revisions, key=lambda revision: revision.start))


def _stays(later: Sequence[date]) -> list[str]:
    if not later:
        return []
    told = f"What is planned from {full_day(min(later))} stays as it is"
    return [f"{told}, and {len(later) - 1} more." if len(later) > 1 else f"{told}."]


def revise_allowance(
    allowance: Allowance, values: Mapping[str, object], start: date | None, today: date, *, keep_later: bool = True
) -> Edited[Allowance]:
    """The allowance with other values, its limit from a day on, or as if it had always been so."""
    whole = {name: value for name, value in values.items() if name != "limit"}
    allowance = replace(allowance, **whole)  # type: ignore[arg-type]
    limit = values.get("limit")
    if not isinstance(limit, int):
        return Edited(allowance, [])
    by_day = {revision.start: revision.limit for revision in allowance.revisions}
    if start is None:
        later = {day: amount for day, amount in by_day.items() if day > today}
        allowance = replace(allowance, limit=limit)
    else:
        later = {day: amount for day, amount in by_day.items() if day > start} if keep_later else {}
    earlier = {day: amount for day, amount in by_day.items() if start is not None and day < start}
    own = {start: limit} if start is not None else {}
    revisions = tuple(LimitRevision(day, amount) for day, amount in sorted({**earlier, **own, **later}.items()))
    return Edited(replace(allowance, revisions=revisions), _stays(list(later)))


def revise_loan(
    account: Account, values: Mapping[str, object], start: date | None, *, keep_later: bool = True
) -> Edited[Account]:
    """The loan with another rate, payment or escrow part from a day on."""
    if account.loan is None:
        raise refused("kind", "Only a loan is revised from a day on: set the account's fields instead.", "not_possible")
    if start is None:
        raise refused("from", "Say from which day.", "needed")
    terms, later = account.loan, set[date]()
    lists = {"annual_rate": "rate_changes", "payment": "payment_changes", "escrow": "escrow"}
    for name, value in values.items():
        held = getattr(terms, lists[name])
        kept = [each for each in held if each.start < start or (keep_later and each.start > start)]
        later |= {each.start for each in kept if each.start > start}
        made = RateChange(start, value) if name == "annual_rate" else DatedAmount(start, value)  # type: ignore[arg-type]
        changed = tuple(sorted([*kept, made], key=lambda each: each.start))
        terms = replace(terms, **{lists[name]: changed})  # type: ignore[arg-type]
    return Edited(replace(account, loan=terms), _stays(sorted(later)))


def revise_card(
    account: Account, values: Mapping[str, object], start: date | None, *, keep_later: bool = True
) -> Edited[Account]:
    """The card with another rate from a day on, or paid otherwise from now on."""
    assert account.card is not None
    card, later = account.card, list[date]()
    others = {name: value for name, value in values.items() if name != "annual_rate"}
    if "annual_rate" in values:
        if start is None:
            raise refused("from", "Say from which day.", "needed")
        kept = [step for step in card.rates if step.start < start or (keep_later and step.start > start)]
        later = [step.start for step in kept if step.start > start]
        steps = sorted([*kept, RateStep(start, values["annual_rate"])], key=lambda step: step.start)  # type: ignore[arg-type]
        card = replace(card, rates=tuple(steps))
    return Edited(replace(account, card=replace(card, **others)), _stays(later))  # type: ignore[arg-type]


def add_extra(account: Account, extra: Extra) -> Account:
    """The loan with one more extra."""
    if account.loan is None:
        raise refused("kind", "Only a loan takes an extra.", "not_possible")
    return replace(account, loan=replace(account.loan, extras=(*account.loan.extras, extra)))


def change_once(moment: Moment, flow: Flow, nominal: date, values: Mapping[str, object] | None) -> Flow:
    """The flow with other values for one date; without values, as planned again.

    What is as planned anyway is not set.
    """
    held = flow.change_by_nominal.get(nominal.toordinal())
    others = tuple(change for change in flow.changes if change.nominal != nominal)
    plain = replace(flow, changes=others)
    if values is None:
        return plain
    number = nominal.toordinal()
    if held is None and not _occurs(moment, flow, number):
        raise refused("nominal", f"“{flow.name}” of {nominal} is not expected.", "not_expected")
    change = replace(held or Change(nominal), **values)  # type: ignore[arg-type]
    if flow.until is not None and change.moved_to is not None and change.moved_to > flow.until >= nominal:
        message = f"“{flow.name}” ends on {full_day(flow.until)}: choose a day until then, or let it end later."
        raise refused("moved_to", message, "range")
    if change.hours is not None:
        change = replace(change, amount=None)
    lands = lands_on(nominal, flow.roll, moment.calendar, NOTHING_EXCEPTIONAL)
    if change.moved_to == lands:
        change = replace(change, moved_to=None)
    if change.amount is not None and change.amount == maker_of(moment, plain).amount_of(number):
        change = replace(change, amount=None)
    kept = (change,) if change != Change(nominal) else ()
    return replace(flow, changes=tuple(sorted((*others, *kept), key=lambda each: each.nominal)))


def move_onward(moment: Moment, flow: Flow, nominal: date, day: date) -> Edited[Flow]:
    """The flow with a date of it, and those after it, on another day of the week or month. Raises PlanError.

    What was changed for single dates after it stays with those dates, and is told.
    """
    if flow.dates:
        raise refused("moved_to", f"“{flow.name}” has days of its own: open it to change them.", "not_possible")
    if not _occurs(moment, flow, nominal.toordinal()):
        raise refused("from", f"“{flow.name}” of {nominal} is not expected.", "not_expected")
    rules = moved_rules(rules_on(flow, nominal), nominal, day)
    if rules is None:
        raise refused("moved_to", f"From here on, “{flow.name}” can be moved within its own week or month: "
                      "for another rhythm open it.", "not_possible")  # fmt: skip
    plain = replace(flow, changes=tuple(change for change in flow.changes if change.nominal != nominal))
    edited = revise_flow(plain, {"rules": rules}, min(nominal, day), moment.today)
    days = maker_of(moment, edited.item).nominal_days(*sorted((nominal.toordinal(), day.toordinal())))
    if day.toordinal() not in days or nominal.toordinal() in days:
        raise refused("moved_to", f"“{flow.name}” cannot be moved there: open it and change its rule.", "not_possible")
    if any(change.nominal > nominal for change in flow.changes):
        return Edited(edited.item, [*edited.notes, "What was changed for single dates later stays with those dates."])
    return edited


def _occurs(moment: Moment, flow: Flow, nominal: int) -> bool:
    return nominal in maker_of(moment, flow).nominal_days(nominal, nominal)


@dataclass(frozen=True, slots=True)
class Part:
    """A part of money spent or received: in which category, and how much; the last takes what the others leave."""

    category: str
    amount: int | None = None


@dataclass(frozen=True, slots=True)
class Recorded:
    """Money as a person records it. Amounts have no sign: `way` says which way it went."""

    way: Literal["spent", "received", "moved"]
    date: date
    account: str
    amount: int
    payee: str = ""
    parts: tuple[Part, ...] = ()
    to_account: str | None = None
    arrives: int | None = None
    notes: str = ""
    tags: tuple[str, ...] = ()
    receipt: Receipt | None = None


def record(plan: Plan, id: str, money: Recorded, existing: Entry | None) -> Entry:
    """The entry that says it; one that exists keeps what it settles."""
    if money.amount < 0:
        raise refused("amount", "Give the amount without a sign.", "negative")
    if money.account not in plan.account_by_id:
        raise refused("account", "Choose an account.", "needed")
    legs = _moved(plan, money) if money.way == "moved" else _parted(money)
    flow, nominal = (existing.flow, existing.nominal) if existing is not None else (None, None)
    tags = tuple(dict.fromkeys(money.tags))
    return Entry(id, money.date, money.payee, legs, flow, nominal, money.notes, tags, money.receipt)


def _parted(money: Recorded) -> tuple[Leg, ...]:
    sign = 1 if money.way == "spent" else -1
    if not money.parts:
        raise PlanError([Problem(("parts", 0), "Choose a category.", "needed")])
    legs, rest = [Leg(-sign * money.amount, account=money.account)], money.amount
    for number, part in enumerate(money.parts):
        is_last = number == len(money.parts) - 1
        if not part.category:
            raise PlanError([Problem(("parts", number), "Choose a category.", "needed")])
        if part.amount is None and not is_last:
            raise PlanError([Problem(("parts", number), "Say how much.", "needed")])
        amount = rest if part.amount is None or is_last else part.amount
        rest -= amount
        legs.append(Leg(sign * amount, category=part.category))
    if rest or legs[-1].amount * sign < 0:
        raise PlanError([Problem(("parts", len(money.parts) - 1), "The parts are more than the whole.", "range")])
    return tuple(legs)


def _moved(plan: Plan, money: Recorded) -> tuple[Leg, ...]:
    """Between currencies, what arrives is given, or follows from the day's rate."""
    target = plan.account_by_id.get(money.to_account or "")
    if target is None or target.id == money.account:
        raise refused("to_account", "Choose the account that it goes to.", "needed")
    source = plan.account_by_id[money.account]
    arrives = money.amount if source.currency == target.currency else money.arrives
    if arrives is None:
        try:
            arrives = plan.converted(money.amount, source.currency, target.currency, money.date)
        except NoRate:
            message = f"Say how much arrives in {target.currency}: there is no exchange rate from {source.currency}."
            raise refused("arrives", message, "needed") from None
    if arrives < 0:
        raise refused("arrives", "Give the amount without a sign.", "negative")
    return Leg(-money.amount, account=source.id), Leg(arrives, account=target.id)


def as_recorded(plan: Plan, entry: Entry) -> Recorded | None:
    """An entry as a person would say it; None for one with legs that this cannot say."""
    accounts = [leg for leg in entry.legs if leg.account is not None]
    parts = [leg for leg in entry.legs if leg.category is not None]
    said = {
        "date": entry.date,
        "payee": entry.payee,
        "notes": entry.notes,
        "tags": entry.tags,
        "receipt": entry.receipt,
    }
    if len(accounts) == 2 and not parts and accounts[0].amount * accounts[1].amount < 0:
        out, into = sorted(accounts, key=lambda leg: leg.amount)
        return Recorded("moved", account=out.account or "", amount=-out.amount, to_account=into.account,
                        arrives=into.amount, **said)  # type: ignore[arg-type]  # fmt: skip
    if len(accounts) != 1 or not parts:
        return None
    way: Literal["spent", "received"] = "received" if accounts[0].amount > 0 else "spent"
    sign = 1 if way == "spent" else -1
    told = tuple(Part(leg.category or "", sign * leg.amount) for leg in parts)
    return Recorded(way, account=accounts[0].account or "", amount=abs(accounts[0].amount), parts=told, **said)  # type: ignore[arg-type]


def worth(moment: Moment, id: str, account: Account, amount: int, day: date) -> Entry:
    """The entry after which an account that is owned, such as a house, is worth an amount at the end of a day."""
    if account.kind != "asset":
        raise refused("kind", "Only what is owned, such as a house, is valued anew.", "not_possible")
    if not account.opening.date <= day <= moment.today:
        message = f"Give a day from {account.opening.date} to today."
        raise refused("date", message, "range")
    postings = moment.books.postings.get(account.id, ())
    held = account.opening.balance + sum(each.amount for each in postings if each.day <= day.toordinal())
    legs = (Leg(amount - held, account=account.id), Leg(held - amount, category=VALUE_CHANGED.id))
    return Entry(id, day, account.name, legs)


def borrowed(
    id: str,
    name: str,
    currency: str,
    terms: LoanTerms,
    owed: int | None,
    owed_on: date | None,
    existing: Account | None,
) -> Account:
    """A loan's account: what is owed at first is all that was financed, or, joined later, what was owed on a day."""
    opening = Opening(owed_on or terms.disbursed, -(terms.amount_financed if owed is None else owed))
    if existing is not None:
        return replace(existing, name=name, loan=terms, opening=opening)
    return Account(id, name, "loan", currency, opening, loan=terms)
