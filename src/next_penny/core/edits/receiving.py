"""Receiving what was lent: split into interest and principal, and what is beyond both as the household says."""

from dataclasses import dataclass
from datetime import date
from typing import Literal

from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import full_day
from next_penny.core.loans.lent.accrual import part_of
from next_penny.core.loans.lent.standing import accrued_on
from next_penny.core.money import LARGEST_AMOUNT, format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import repayment_id
from next_penny.core.plan.starter import GIFTS_RECEIVED, LENT_INTEREST, categories_for
from next_penny.core.problems import refused

Rest = Literal["interest", "gift", "owed_back"]


@dataclass(frozen=True, slots=True)
class Received:
    """A repayment as a person says it. principal, interest: split by hand; None for what is proposed.

    rest: what is meant by more than principal and accrued interest.
    """

    id: str
    day: date
    amount: int
    into: str | None = None
    principal: int | None = None
    interest: int | None = None
    rest: Rest | None = None


@dataclass(frozen=True, slots=True)
class Split:
    """A repayment in its parts; rest: what is beyond what is owed with its interest."""

    interest: int
    principal: int
    rest: int


def proposed_split(moment: Moment, account: Account, received: Received) -> Split:
    """How a repayment is split: interest accrued by its day first, then principal; as said where it is said.

    Raises PlanError.
    """
    _check(moment, account, received)
    owed, accrued = accrued_on(moment, account, received.day.toordinal())
    if received.interest is None and received.principal is None:
        part = part_of(received.amount, owed, accrued)
        return Split(part.interest, part.principal, received.amount - part.amount)
    said = (received.interest, received.principal)
    field = "interest" if received.interest is not None else "principal"
    if any(part is not None and part < 0 for part in said):
        raise refused(field, "Give principal and interest without a sign.", "negative")
    if sum(part or 0 for part in said) > received.amount or (None not in said and sum(said) < received.amount):  # type: ignore[arg-type]
        whole = format_amount(received.amount, account.currency)
        raise refused(field, f"Principal and interest come to the {whole} that was received.", "does_not_sum")
    interest = received.interest if received.interest is not None else received.amount - (received.principal or 0)
    principal = received.amount - interest
    beyond = max(0, principal - max(0, owed))
    return Split(interest, principal - beyond, beyond)


def receive(moment: Moment, account: Account, received: Received) -> list[PlanChange]:
    """The changes that record a repayment: one entry, and a category that it needs. Raises PlanError.

    More than what is owed with its interest is a question, answered by `rest`.
    """
    split = proposed_split(moment, account, received)
    interest, principal, gift = split.interest, split.principal, 0
    if split.rest and received.rest is None:
        over = format_amount(split.rest, account.currency)
        message = f"{over} is more than what is owed with its interest: is the rest interest, a gift, or owed back?"
        raise refused("rest", message, "question")
    match received.rest if split.rest else None:
        case "interest":
            interest += split.rest
        case "gift":
            gift = split.rest
        case "owed_back":
            principal += split.rest
    parts = (
        Leg(received.amount, account=_into(moment, account, received)),
        Leg(-principal, account=account.id),
        Leg(-interest, category=LENT_INTEREST.id),
        Leg(-gift, category=GIFTS_RECEIVED.id),
    )
    # The leg on what is owed stays, also where all is interest: it says of what.
    legs = tuple(leg for leg in parts if leg.amount or leg.account == account.id)
    flow = repayment_id(account.id)
    known = flow if flow in moment.plan.flow_by_id else None
    entry = Entry(received.id, received.day, account.lending.to, legs, known)
    return [*categories_for(moment.plan, legs), PlanChange("entry", entry.id, entry)]


def _into(moment: Moment, account: Account, received: Received) -> str:
    into = received.into or account.lending.into_account
    existing = moment.plan.account_by_id.get(into or "")
    if into is None or existing is None:
        message = "Say into which account it came." if into is None else f"There is no account “{into}”."
        raise refused("account", message, "needed" if into is None else "unknown_id")
    if existing.id == account.id or existing.currency != account.currency:
        raise refused("account", f"It came in {account.currency}: choose another account in it.", "not_possible")
    return existing.id


def _check(moment: Moment, account: Account, received: Received) -> None:
    if account.kind != "owed_to_us":
        raise refused("id", f"“{account.name}” is no money that was lent.", "not_possible")
    if not 0 < received.amount <= LARGEST_AMOUNT:
        raise refused("amount", "Say how much came: more than nothing.", "range")
    if received.day > moment.today:
        raise refused("date", "What was received came today or before.", "range")
    if received.day < account.opening.date:
        message = f"“{account.name}” begins on {full_day(account.opening.date)}: choose that day, or a later one."
        raise refused("date", message, "range")
