"""A card paid in another way: what that costs and when it is paid off."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from typing import NamedTuple

from next_penny.core.accounts.cards import Card
from next_penny.core.accounts.generated import Act, Generated, Passed, Walked
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_number
from next_penny.core.flows.acting import ledger_of
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.terms.cards import CardPays

# A card that is not paid off within this many years is taken never to be.
_LONGEST_YEARS = 100


class Paying(NamedTuple):
    """How one way of paying goes on: until when (None: never), in how many payments, at what interest in all.

    saves: how much less interest that is than paying only the minimum; None where one of the two never ends.
    """

    ends: date | None
    months: int
    payments: int
    interest: int
    first_payment: int
    saves: int | None = None


def paying_against_minimum(
    moment: Moment, account: Account, pays: CardPays, fixed_amount: int | None = None
) -> Paying:  # fmt: skip
    """One way of paying, held against paying only the minimum."""
    found_paying, least = paying(moment, account, pays, fixed_amount), paying(moment, account, "minimum")
    both_end = found_paying.ends is not None and least.ends is not None
    return found_paying._replace(saves=least.interest - found_paying.interest if both_end else None)


def paying(moment: Moment, account: Account, pays: CardPays, fixed_amount: int | None = None) -> Paying:
    """The card run on its own from today, without new purchases, paid in one way."""
    # Where the money comes from is not looked at: it is as if the card paid itself.
    terms = replace(
        account.card_terms, pays=pays, fixed_amount=fixed_amount, from_account=account.id, covers=None, changes=()
    )
    alone = replace(account, card=terms)
    ledger = ledger_of(moment, alone, [])
    passed = Passed(moment.books.settled, moment.now, carries=True)
    card = Card(alone, Walked({alone.id: alone}, {alone.id: ledger}, passed), 0)
    last = add_months(moment.today, 12 * _LONGEST_YEARS).toordinal()
    made, ended = list[Generated](), False
    for act in acts_until(card, last):
        done = act.do(act.day)
        if done is not None:
            made.append(done)
            ledger.post(done.day, -done.amount if done.source == "card_interest" else done.amount)
        ended = ledger.owed(act.day) == 0 and not any(day > act.day for day in ledger.fixed_days)
        if ended and done is None:
            break
    payments = [movement for movement in made if movement.source == "card_payment"]
    ends = date.fromordinal(payments[-1].day) if payments and ended else moment.today if ended else None
    months = month_number(ends) - month_number(moment.today) if ends is not None else 12 * _LONGEST_YEARS
    interest = sum(movement.amount for movement in made if movement.source == "card_interest")
    return Paying(ends, months, len(payments), interest, payments[0].amount if payments else 0)


def acts_until(card: Card, last: int) -> Sequence[Act[Generated]]:
    return sorted(card.agenda(last), key=lambda act: act[:3])
