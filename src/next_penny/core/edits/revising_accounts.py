"""Loans and cards revised from a day on: rates, payments, escrow parts, one more extra."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import Any

from next_penny.core.edits.revising import Edited, stays_note
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.terms.cards import RateStep
from next_penny.core.plan.terms.loans import DatedAmount, Extra, RateChange
from next_penny.core.problems import refused

# What of a part's terms may be planned from a day on, and where it is kept.
_PLANNED: Mapping[str, Mapping[str, str]] = {
    "card": {"annual_rate": "rates"},
    "loan": {"annual_rate": "rate_changes", "payment": "payment_changes", "escrow": "escrow"},
}


def revised_part(account: Account) -> str:
    """The part of an account that is revised from a day on, by its field. Raises PlanError where there is none."""
    part = next((name for name in _PLANNED if getattr(account, name) is not None), None)
    if part is None:
        message = "Only a loan or card is revised from a day on: set the account's fields instead."
        raise refused("kind", message, "not_possible")
    return part


def revise_account(
    account: Account, values: Mapping[str, object], start: date | None, *, keep_later: bool = True
) -> Edited[Account]:
    """An account whose terms are others from a day on. Raises PlanError."""
    revise = revise_card if revised_part(account) == "card" else revise_loan
    return revise(account, values, start, keep_later=keep_later)


def take_back_of_account(account: Account, start: date | None, names: Sequence[str] | None = None) -> Account:
    """A loan or card without what is planned of its rate, payment or escrow part (or of some) from a day on.

    Raises PlanError where nothing of these begins then.
    """
    part = revised_part(account)
    terms: Any = getattr(account, part)
    for name in names if names is not None else _PLANNED[part]:
        field = _PLANNED[part][name]
        others = tuple(change for change in getattr(terms, field) if change.start != start)
        terms = replace(terms, **{field: others})
    if terms == getattr(account, part):
        raise refused("from", "Nothing is planned from that day on: it may be taken back already.", "unknown_id")
    return replace(account, **{part: terms})


def revise_loan(
    account: Account, values: Mapping[str, object], start: date | None, *, keep_later: bool = True
) -> Edited[Account]:
    """The loan with another rate, payment or escrow part from a day on."""
    if start is None:
        raise refused("from", "Say from which day.", "needed")
    taken_back = [name for name, value in values.items() if value is None]
    if taken_back:
        account = take_back_of_account(account, start, taken_back)
    terms, later, kept_in = account.loan_terms, set[date](), _PLANNED["loan"]
    for name, value in values.items():
        if value is None:
            continue
        planned = getattr(terms, kept_in[name])
        others = [change for change in planned if change.start < start or (keep_later and change.start > start)]
        later |= {change.start for change in others if change.start > start}
        made = RateChange(start, value) if name == "annual_rate" else DatedAmount(start, value)  # type: ignore[arg-type]
        changed = tuple(sorted([*others, made], key=lambda change: change.start))
        terms = replace(terms, **{kept_in[name]: changed})  # type: ignore[arg-type]
    return Edited(replace(account, loan=terms), stays_note(sorted(later)))


def revise_card(
    account: Account, values: Mapping[str, object], start: date | None, *, keep_later: bool = True
) -> Edited[Account]:
    """The card with another rate from a day on, or paid otherwise from now on."""
    if "annual_rate" in values and values["annual_rate"] is None:
        account = take_back_of_account(account, start, ["annual_rate"])
        values = {name: value for name, value in values.items() if name != "annual_rate"}
    card, later = account.card_terms, list[date]()
    others = {name: value for name, value in values.items() if name != "annual_rate"}
    missing = next((name for name in ("pays", "limit") if name in others and others[name] is None), None)
    if missing is not None:
        raise refused(missing, "This is needed.", "needed")
    if "annual_rate" in values:
        if start is None:
            raise refused("from", "Say from which day.", "needed")
        rate_steps = [step for step in card.rates if step.start < start or (keep_later and step.start > start)]
        later = [step.start for step in rate_steps if step.start > start]
        steps = sorted([*rate_steps, RateStep(start, values["annual_rate"])], key=lambda step: step.start)  # type: ignore[arg-type]
        card = replace(card, rates=tuple(steps))
    return Edited(replace(account, card=replace(card, **others)), stays_note(later))  # type: ignore[arg-type]


def add_extra(account: Account, extra: Extra) -> Account:
    """The loan with one more extra."""
    if account.loan is None:
        raise refused("kind", "Only a loan takes an extra.", "not_possible")
    return replace(account, loan=replace(account.loan, extras=(*account.loan.extras, extra)))
