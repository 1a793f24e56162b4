"""One-offs: another payment, charge or credit than balances would make, kept with the account's terms."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from typing import Any

from next_penny.core.accounts.cards import closing_in, closing_of_due
from next_penny.core.dates.calendar import month_number, month_start
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import payment_id
from next_penny.core.plan.terms.cards import CardTerms, StatementChange
from next_penny.core.plan.terms.savings import CreditChange, SavingsTerms
from next_penny.core.problems import refused


def card_one_off(account: Account, flow: str, nominal: date, values: Mapping[str, Any] | None) -> Account:
    """A card with another payment or charge; see `changed_one_off`."""
    assert account.card is not None
    change = _payment if flow == payment_id(account.id) else _charge
    return replace(account, card=change(account.card, nominal, values))


def savings_one_off(account: Account, flow: str, nominal: date, values: Mapping[str, Any] | None) -> Account:
    """Savings with another credit; see `changed_one_off`."""
    assert account.savings is not None
    return replace(account, savings=_credit(account.savings, nominal, values))


def _payment(terms: CardTerms, due: date, values: Mapping[str, Any] | None) -> CardTerms:
    closing = closing_of_due(terms, due.toordinal())
    if closing is None:
        raise refused("nominal", f"No statement is due on {due}.", "not_expected")
    change = terms.change_by_closing.get(closing, StatementChange(date.fromordinal(closing)))
    if values is None:
        return _with_change(terms, replace(change, amount=None, moved_to=None, left_out=False))
    changed = replace(change, **values)
    if changed.moved_to == due:
        changed = replace(changed, moved_to=None)
    return _with_change(terms, changed)


def _charge(terms: CardTerms, day: date, values: Mapping[str, Any] | None) -> CardTerms:
    if closing_in(terms, month_number(day)) != day.toordinal():
        raise refused("nominal", f"No cycle closes on {day}.", "not_expected")
    change = terms.change_by_closing.get(day.toordinal(), StatementChange(day))
    given = values or {}
    if given.get("moved_to") not in (None, day):
        raise refused("moved_to", "A card's interest is charged on the day on which its cycle closes.", "not_possible")
    charge = 0 if given.get("left_out") else given.get("amount")
    return _with_change(terms, replace(change, interest=charge))


def _with_change(terms: CardTerms, change: StatementChange) -> CardTerms:
    others = [statement_change for statement_change in terms.changes if statement_change.closing != change.closing]
    changes = [] if change.is_nothing else [change]
    return replace(
        terms, changes=tuple(sorted([*others, *changes], key=lambda statement_change: statement_change.closing))
    )


def _credit(terms: SavingsTerms, day: date, values: Mapping[str, Any] | None) -> SavingsTerms:
    month = month_number(day)
    if month_start(month + 1) - 1 != day.toordinal():
        raise refused("nominal", f"Interest is credited on a month's last day, which {day} is not.", "not_expected")
    others = [change for change in terms.changes if change.month != month]
    changed = replace(terms.change_by_month.get(month, CreditChange(month)), **(values or {}))
    if changed.moved_to == day:
        changed = replace(changed, moved_to=None)
    changes = [] if values is None or changed == CreditChange(month) else [changed]
    return replace(terms, changes=tuple(sorted([*others, *changes], key=lambda change: change.month)))
