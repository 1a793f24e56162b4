"""What is wrong with cards, lines, savings and sweeps: a sentence at the field of the account that it is about."""

from collections import Counter
from collections.abc import Callable, Hashable, Iterable, Iterator
from datetime import date
from decimal import Decimal

from next_penny.core.accounts.cards import closing_before, closing_in
from next_penny.core.dates.calendar import month_number, month_start
from next_penny.core.dates.sentences import full_day
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.cards import BegunWith, CardTerms, DueRule
from next_penny.core.plan.terms.savings import SavingsTerms
from next_penny.core.plan.terms.sweeps import SweepTerms
from next_penny.core.problems import Loc, Problem

_CARD_KINDS = ("credit_card", "credit_line")
_MOST_PERCENT = 100
_MOST_RATE = 1000
_LAST_DAY, _LONGEST_WAIT = 31, 28

RuleProblem = Callable[[str, date | None], str | None]


def card_problems(plan: Plan, account: Account, rule_problem: RuleProblem) -> Iterator[Problem]:
    """What is wrong with a card or a line."""
    assert account.card is not None
    if account.kind not in _CARD_KINDS:
        yield Problem(("card",), "Only a credit card or a credit line has a card's terms.", "not_used")
    yield from _card(plan, account, account.card)


def savings_problems(plan: Plan, account: Account, rule_problem: RuleProblem) -> Iterator[Problem]:
    """What is wrong with savings."""
    assert account.savings is not None
    if account.is_debt:
        yield Problem(("savings",), "What is owed earns no interest: only money held does.", "not_used")
    yield from _savings(account.savings)


def sweep_problems(plan: Plan, account: Account, rule_problem: RuleProblem) -> Iterator[Problem]:
    """What is wrong with a sweep."""
    assert account.sweep is not None
    if account.is_debt:
        yield Problem(("sweep",), "Only an account that holds money is kept between two amounts.", "not_used")
    yield from _sweep(plan, account, account.sweep, rule_problem)


def _named(plan: Plan, account: Account, field: Loc, id: str | None, itself: str) -> Iterator[Problem]:
    """Another account of the same currency that holds money."""
    other = plan.account_by_id.get(id or "")
    if id is None:
        return
    if other is None:
        yield Problem(field, f"There is no account “{id}”.", "unknown_id")
    elif other.id == account.id:
        yield Problem(field, itself, "same_account")
    elif other.is_debt:
        yield Problem(field, f"“{other.name}” is a debt: choose an account that holds money.", "not_possible")
    elif other.currency != account.currency:
        yield Problem(field, f"Choose an account in {account.currency}.", "other_currency")


def _card(plan: Plan, account: Account, card: CardTerms) -> Iterator[Problem]:
    if card.is_line != (account.kind == "credit_line") and account.kind in _CARD_KINDS:
        yield Problem(("card", "is_line"), "This is true for a credit line, and for nothing else.", "not_possible")
    if card.limit < 0:
        yield Problem(("card", "limit"), "A limit is zero or more.", "negative")
    if not 1 <= card.closing_day <= _LAST_DAY:
        yield Problem(("card", "closing_day"), "A closing day is from 1 to 31.", "range")
    yield from _due(card.due)
    for number, step in enumerate(card.rates):
        yield from _rate(("card", "rates", number, "annual_rate"), step.annual_rate)
    yield from _twice(("card", "rates"), [step.start for step in card.rates], "rates from")
    if not 0 <= card.minimum.percent <= _MOST_PERCENT:
        yield Problem(("card", "minimum", "percent"), "A share is from 0 to 100 percent.", "range")
    if card.minimum.floor < 0:
        yield Problem(("card", "minimum", "floor"), "Give the amount without a sign.", "negative")
    if card.pays == "fixed" and card.fixed_amount is None:
        yield Problem(("card", "fixed_amount"), "Say how much is paid each time.", "needed")
    if card.fixed_amount is not None and card.fixed_amount < 0:
        yield Problem(("card", "fixed_amount"), "Give the amount without a sign.", "negative")
    yield from _named(plan, account, ("card", "from_account"), card.from_account, "A card cannot pay itself.")
    if card.covers is not None and not card.is_line:
        yield Problem(("card", "covers"), "Only a credit line covers an account.", "not_used")
    yield from _named(plan, account, ("card", "covers"), card.covers, "A line cannot cover itself.")
    if 1 <= card.closing_day <= _LAST_DAY:
        yield from _statement_changes(card)
        if card.begun_with is not None:
            yield from _begun_with(account, card, card.begun_with)


def _due(due: DueRule) -> Iterator[Problem]:
    if (due.day is None) == (due.days_after is None):
        yield Problem(("card", "due"), "Say on which day of the month it is due, or how many days later.", "needed")
    elif due.day is not None and not 1 <= due.day <= _LAST_DAY:
        yield Problem(("card", "due", "day"), "A day of the month is from 1 to 31.", "range")
    elif due.days_after is not None and not 1 <= due.days_after <= _LONGEST_WAIT:
        yield Problem(("card", "due", "days_after"), "It is due 1 to 28 days after the closing.", "range")


def _rate(field: Loc, rate: Decimal) -> Iterator[Problem]:
    if not 0 <= rate <= _MOST_RATE:
        yield Problem(field, "A yearly rate is from 0 to 1000 percent.", "range")


def _twice(field: Loc, keys: Iterable[Hashable], what: str) -> Iterator[Problem]:
    for key, times in Counter(keys).items():
        if times > 1:
            yield Problem(field, f"There are {times} {what} {key}: one is enough.", "duplicate_date")


def _begun_with(account: Account, card: CardTerms, begun: BegunWith) -> Iterator[Problem]:
    field, last = ("card", "begun_with"), date.fromordinal(closing_before(card, account.opening.date.toordinal()))
    if begun.closing != last:
        message = (
            f"The last statement before {full_day(account.opening.date)} closed on {full_day(last)}: give that day."
        )
        yield Problem((*field, "closing"), message, "range")
        return
    if begun.due < account.opening.date:
        message = "It was due before the card begins here: what was left of it is part of what is owed."
        yield Problem((*field, "due"), message, "range")
        return
    following = date.fromordinal(closing_in(card, month_number(last) + 1))
    if not last < begun.due <= following:
        message = f"A statement of {full_day(last)} is due after it, and by the next closing on {full_day(following)}."
        yield Problem((*field, "due"), message, "range")
    if begun.balance < 0:
        yield Problem((*field, "balance"), "Give the amount without a sign.", "negative")


def _statement_changes(card: CardTerms) -> Iterator[Problem]:
    yield from _twice(("card", "changes"), [change.closing for change in card.changes], "changes for")
    for number, change in enumerate(card.changes):
        field = ("card", "changes", number)
        if closing_in(card, month_number(change.closing)) != change.closing.toordinal():
            yield Problem((*field, "closing"), f"No cycle closes on {change.closing}.", "range")
        if change.moved_to is not None and change.moved_to <= change.closing:
            yield Problem((*field, "moved_to"), "A statement is paid after its closing: choose a later day.", "range")
        for name in ("amount", "interest"):
            if (getattr(change, name) or 0) < 0:
                yield Problem((*field, name), "Give the amount without a sign.", "negative")


def _savings(savings: SavingsTerms) -> Iterator[Problem]:
    if (savings.apy is None) == (savings.rate is None):
        yield Problem(("savings", "apy"), "Give the yield, or the rate without compounding.", "needed")
    for name in ("apy", "rate"):
        value = getattr(savings, name)
        if value is not None and not 0 <= value <= _MOST_PERCENT:
            yield Problem(("savings", name), "It is from 0 to 100 percent a year.", "range")
    changes = savings.changes
    yield from _twice(
        ("savings", "changes"), [credit_change.month for credit_change in changes], "changes for month number"
    )
    for number, change in enumerate(changes):
        field = ("savings", "changes", number)
        if (change.amount or 0) < 0:
            yield Problem((*field, "amount"), "Give the amount without a sign.", "negative")
        if change.moved_to is not None and change.moved_to.toordinal() < month_start(change.month + 1) - 1:
            message = "Interest is known at the month's end: choose that day or a later one."
            yield Problem((*field, "moved_to"), message, "range")


def _sweep(plan: Plan, account: Account, sweep: SweepTerms, rule_problem: RuleProblem) -> Iterator[Problem]:
    itself = "An account cannot be swept with itself: choose another."
    yield from _named(plan, account, ("sweep", "with"), sweep.partner, itself)
    if sweep.most is not None and sweep.most < sweep.least:
        yield Problem(("sweep", "most"), "The most is at least the least.", "range")
    if not sweep.rules:
        yield Problem(("sweep", "rules"), "Say on which days it looks.", "needed")
    other = plan.account_by_id.get(sweep.partner)
    start = sweep.start or max(account.opening.date, other.opening.date if other is not None else account.opening.date)
    for number, text in enumerate(sweep.rules):
        message = rule_problem(text, start)
        if message:
            yield Problem(("sweep", "rules", number), message, "rule")
    if _comes_back(plan, account):
        message = f"The sweeps of “{account.name}” and “{other.name if other else ''}” feed each other in a circle."
        yield Problem(("sweep", "with"), message, "circle")


def _comes_back(plan: Plan, account: Account) -> bool:
    """Whether following sweeps from account to account leads back."""
    seen, here = {account.id}, account
    while here.sweep is not None:
        following = plan.account_by_id.get(here.sweep.partner)
        if following is None or following is here:
            return False
        if following.id == account.id:
            return True
        if following.id in seen:
            return False
        seen.add(following.id)
        here = following
    return False
