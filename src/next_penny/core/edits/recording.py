"""Money spent, received or moved, what is owned valued anew, and loans, as a person says them, turned into items."""

import datetime
import re
from dataclasses import dataclass, replace
from typing import Literal

from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import full_day
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.entries import Entry, Leg, Receipt
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import NoRate
from next_penny.core.plan.starter import VALUE_CHANGED
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.core.problems import PlanError, Problem, refused


@dataclass(frozen=True, slots=True)
class Part:
    """A part of money spent or received: in which category, and how much; the last takes what the others leave."""

    category: str
    amount: int | None = None


@dataclass(frozen=True, slots=True)
class Beside:
    """What a person writes beside money that moved; the number is that of a check."""

    notes: str = ""
    tags: tuple[str, ...] = ()
    receipt: Receipt | None = None
    number: str = ""

    def on(self, entry: Entry) -> Entry:
        """An entry with this beside it; a tag given twice counts once."""
        tags = tuple(dict.fromkeys(self.tags))
        return replace(entry, notes=self.notes, tags=tags, receipt=self.receipt, number=self.number)


@dataclass(frozen=True, slots=True)
class Recorded:
    """Money as a person records it. Amounts have no sign: `way` says which way it went.

    pays: of a move to a loan, the due date of the payment that it is.
    """

    way: Literal["spent", "received", "moved"]
    date: datetime.date
    account: str
    amount: int
    payee: str = ""
    parts: tuple[Part, ...] = ()
    to_account: str | None = None
    arrives: int | None = None
    beside: Beside = Beside()
    pays: datetime.date | None = None


def record(plan: Plan, id: str, money: Recorded, existing: Entry | None) -> Entry:
    """The entry that says it; one that exists keeps what it settles."""
    if money.amount < 0:
        raise refused("amount", "Give the amount without a sign.", "negative")
    if money.account not in plan.account_by_id:
        raise refused("account", "Choose an account.", "needed")
    legs = _moved(plan, money) if money.way == "moved" else _parted(money)
    entry = existing or Entry(id, money.date, money.payee, legs)
    return money.beside.on(replace(entry, date=money.date, payee=money.payee, legs=legs))


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


def next_number(last: str) -> str:
    """The number after that of a check: its last digits one on, as many as they were; "" where it has none."""
    match = re.search(r"([0-9]+)([^0-9]*)$", last)
    if match is None:
        return ""
    digits = match[1]
    return f"{last[: match.start()]}{int(digits) + 1:0{len(digits)}d}{match[2]}"


def as_recorded(plan: Plan, entry: Entry) -> Recorded | None:
    """An entry as a person would say it; None for one with legs that this cannot say."""
    accounts = [leg for leg in entry.legs if leg.account is not None]
    parts = [leg for leg in entry.legs if leg.category is not None]
    said = {
        "date": entry.date,
        "payee": entry.payee,
        "beside": Beside(entry.notes, entry.tags, entry.receipt, entry.number),
    }
    if len(accounts) == 2 and not parts and accounts[0].amount * accounts[1].amount < 0:
        out, into = sorted(accounts, key=lambda leg: leg.amount)
        return Recorded("moved", account=out.account or "", amount=-out.amount, to_account=into.account,
                        arrives=into.amount, **said)  # type: ignore[arg-type]  # fmt: skip
    if len(accounts) != 1 or not parts:
        return None
    way: Literal["spent", "received"] = "received" if accounts[0].amount > 0 else "spent"
    sign = 1 if way == "spent" else -1
    told_parts = tuple(Part(leg.category or "", sign * leg.amount) for leg in parts)
    return Recorded(way, account=accounts[0].account or "", amount=abs(accounts[0].amount), parts=told_parts, **said)  # type: ignore[arg-type]


def worth(moment: Moment, id: str, account: Account, amount: int, day: datetime.date) -> Entry:
    """The entry after which an account that is owned, such as a house, is worth an amount at the end of a day."""
    if account.kind != "asset":
        raise refused("kind", "Only what is owned, such as a house, is valued anew.", "not_possible")
    if not account.opening.date <= day <= moment.today:
        message = f"Give a day from {full_day(account.opening.date)} to today."
        raise refused("date", message, "range")
    postings = moment.books.postings.get(account.id, ())
    balance = account.opening.balance + sum(posting.amount for posting in postings if posting.day <= day.toordinal())
    legs = (Leg(amount - balance, account=account.id), Leg(balance - amount, category=VALUE_CHANGED.id))
    return Entry(id, day, account.name, legs)


def borrowed(
    id: str,
    name: str,
    currency: str,
    terms: LoanTerms,
    owed: int | None,
    owed_on: datetime.date | None,
    existing: Account | None,
) -> Account:
    """A loan's account: what is owed at first is all that was financed, or, joined later, what was owed on a day."""
    opening = Opening(owed_on or terms.disbursed, -(terms.amount_financed if owed is None else owed))
    if existing is not None:
        return replace(existing, name=name, loan=terms, opening=opening)
    return Account(id, name, "loan", currency, opening, loan=terms)


def with_escrow_account(plan: Plan, loan: Account, balance: int) -> tuple[Account, ...]:
    """An escrow account made with a loan, which begins with a balance as the loan does, and the loan that feeds it."""
    if f"{loan.id}-escrow" in plan.account_by_id:
        raise refused("new_escrow", "This loan has an escrow account already: choose it.", "duplicate_id")
    escrow = Account(f"{loan.id}-escrow", f"{loan.name}: escrow", "escrow", loan.currency,
                     Opening(loan.opening.date, balance), spendable=False)  # fmt: skip
    return escrow, replace(loan, loan=replace(loan.loan_terms, escrow_account=escrow.id))
