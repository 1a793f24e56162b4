"""The demo household's cards, its credit line, its savings' yield, and money lent to a neighbour."""

from collections.abc import Iterable, Iterator
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

from next_penny.core.accounts.generated import Generated
from next_penny.core.books.books import books_from_entries
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months
from next_penny.core.flows.acting import acted
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import CARD_INTEREST_ID, SAVINGS_INTEREST_ID
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.cards import CardTerms, DueRule, Minimum, RateStep
from next_penny.core.plan.terms.lent import LentTerms, Repays
from next_penny.core.plan.terms.savings import SavingsTerms

SAVINGS_YIELD = SavingsTerms(apy=Decimal("3.6"))
# The one bank credit that was too small, by so much.
_OFF_BY = 37


def demo_cards(opened: date, today: date) -> tuple[Account, ...]:
    """A card at a promotional rate that ends, one for every day that is paid in full, a line, and money lent."""
    promotion_ends = add_months(today.replace(day=1), 5)
    heron = CardTerms(
        limit=5_000_00, closing_day=4, due=DueRule(day=25),
        rates=(RateStep(opened, Decimal("3.9")), RateStep(promotion_ends, Decimal("24.49"))),
        minimum=Minimum(Decimal(2), plus_interest=True, floor=35_00), pays="fixed", fixed_amount=90_00,
        from_account="joint",
    )  # fmt: skip
    wharf = CardTerms(
        limit=2_500_00, closing_day=18, due=DueRule(days_after=21), rates=(RateStep(opened, Decimal("21.9")),),
        minimum=Minimum(Decimal(2), plus_interest=True, floor=25_00), pays="statement", from_account="joint",
    )  # fmt: skip
    line = CardTerms(
        limit=3_000_00, closing_day=28, due=DueRule(days_after=14), rates=(RateStep(opened, Decimal("11.5")),),
        minimum=Minimum(Decimal(3), plus_interest=True, floor=20_00), pays="minimum", from_account="joint",
        is_line=True,
    )  # fmt: skip
    # He meant to bring it every month, and brings it every other; nobody counts on it any more.
    monthly = Repays(50_00, ("FREQ=MONTHLY;BYMONTHDAY=20",), add_months(opened.replace(day=20), 1))
    neighbour = LentTerms("Mr. Quillon", "tin", repays=monthly, sure="left_out")
    return (
        Account("heron", "Heron card", "credit_card", "USD", Opening(opened, -3_620_00), spendable=False, card=heron),
        Account("wharf", "Wharf card", "credit_card", "USD", Opening(opened, 0), spendable=False, card=wharf),
        Account("harbour", "Harbour credit line", "credit_line", "USD", Opening(opened, -640_00), spendable=False,
                card=line),
        Account("quillon", "Lent to Mr. Quillon", "owed_to_us", "USD", Opening(opened, 600_00), spendable=False,
                lent=neighbour),
    )  # fmt: skip


def recorded_acts(plan: Plan, entries: Iterable[Entry], opened: date, today: date) -> Iterator[Entry]:
    """What cards and savings made of this past, as if it had been recorded: payments, interest and credits."""
    alone = replace(plan, flows=(), allowances=())
    begun = Moment(alone, opened, books := books_from_entries(entries, opened), (), books)
    made = acted(begun, today.toordinal() - 1).made
    credits = [one_movement for one_movement in made if one_movement.source == "savings_interest"]
    for movement in made:
        yield _entry(plan, movement, _OFF_BY if len(credits) > 4 and movement is credits[-5] else 0)


def _entry(plan: Plan, made: Generated, short: int) -> Entry:
    day, nominal = date.fromordinal(made.day), date.fromordinal(made.nominal)
    legs = [Leg(amount, account=account) for account, amount in made.legs]
    if made.source == "card_interest":
        legs.append(Leg(made.amount, category=CARD_INTEREST_ID))
    elif made.source == "savings_interest":
        credited = made.amount - short
        legs = [Leg(credited, account=made.owner), Leg(-credited, category=SAVINGS_INTEREST_ID)]
    name = plan.account_by_id[made.owner].name
    return Entry(f"{made.flow}-{nominal}", day, name, tuple(legs), made.flow, nominal)


def card_slip_up(today: date) -> Entry:
    """A payment of the Heron card beside the planned ones that was written down as spending."""
    day = today - timedelta(days=17)
    legs = (Leg(-60_00, account="joint"), Leg(60_00, category="sundries"))
    return Entry(f"heron-extra-{day}", day, "Heron card, a little extra", legs)


def repaid_by_the_neighbour(opened: date, today: date) -> Iterator[Entry]:
    """What Mr. Quillon has given back so far, a little every other month."""
    for number in range(1, 9):
        day = add_months(opened.replace(day=20), 2 * number)
        if day < today:
            legs = (Leg(50_00, account="tin"), Leg(-50_00, account="quillon"))
            yield Entry(f"quillon-{day}", day, "Mr. Quillon", legs)
