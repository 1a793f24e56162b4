"""Every way of meaning a change, carried out on a household as it is: what becomes of it, and what is refused."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest
from seen import seen

from next_penny.core.edits.commands.carrying_out import Items, Outcome, carry_out
from next_penny.core.edits.commands.records import (
    AddExtra,
    Borrow,
    ChangeOneDate,
    Command,
    MoveOnward,
    PutItem,
    PutRate,
    RecordMoney,
    RemoveItem,
    Revise,
    SetWorth,
    TakeBack,
)
from next_penny.core.edits.recording import Part, Recorded
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import apply
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow, payment_id
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import Rate
from next_penny.core.plan.terms.cards import CardTerms, DueRule, RateStep
from next_penny.core.plan.terms.loans import Extra, LoanTerms
from next_penny.core.problems import PlanError

TODAY, OPENED = date(2027, 3, 1), Opening(date(2027, 1, 1), 1_000_00)
LOAN = LoanTerms(12_000_00, Decimal(6), date(2027, 2, 1), date(2027, 3, 1), 60, from_account="joint")
RENT = Flow("rent", "Rent", "bill", 900_00, "joint", rules=("FREQ=MONTHLY;BYMONTHDAY=5",), start=date(2027, 1, 5),
            category="home")  # fmt: skip
CARD = CardTerms(5_000_00, 20, DueRule(day=10), (RateStep(OPENED.date, Decimal(20)),), from_account="joint")
PLAN = Plan(
    Household(),
    (Account("joint", "Joint", "checking", "USD", OPENED), Account("hut", "Hut", "asset", "USD", OPENED),
     Account("van", "Van", "loan", "USD", Opening(date(2027, 2, 1), -12_000_00), loan=LOAN),
     Account("card", "Card", "credit_card", "USD", Opening(OPENED.date, -300_00), card=CARD)),
    categories=(Category("home", "Home"),), flows=(RENT,),
    rates=(Rate(date(2027, 2, 1), "USD", "EUR", Decimal("0.9")),),
)  # fmt: skip
SUPPER = Entry("e", date(2027, 2, 20), "Supper", (Leg(-20_00, "joint"), Leg(20_00, category="home")))
MOMENT = seen(PLAN, (SUPPER,), TODAY)


def carried_out(command: Command) -> Outcome:
    return carry_out(MOMENT, Items(PLAN, {"e": SUPPER}.get), command)


def plan_after(command: Command) -> Plan:
    return apply(PLAN, carried_out(command).changes)


def test_items_are_put_set_and_removed() -> None:
    water = replace(RENT, id="water", name="Water")
    assert plan_after(PutItem("flow", "water", water, is_new=True)).flow_by_id["water"] == water
    dearer = replace(RENT, amount=950_00)
    assert plan_after(PutItem("flow", "rent", dearer, is_new=False)).flow_by_id["rent"] == dearer
    assert "rent" not in plan_after(RemoveItem("flow", "rent")).flow_by_id


def test_what_is_planned_from_a_day_on_holds_from_it_and_can_be_taken_back() -> None:
    from_may = date(2027, 5, 1)
    revised = plan_after(Revise("flow", "rent", {"amount": 950_00}, from_may)).flow_by_id["rent"]
    assert [(revision.start, revision.amount) for revision in revised.revisions] == [(from_may, 950_00)]
    plan = plan_after(Revise("account", "van", {"annual_rate": Decimal(7), "payment": 300_00}, from_may))
    loan = plan.account_by_id["van"].loan
    assert loan is not None
    assert [change.start for change in (*loan.rate_changes, *loan.payment_changes)] == [from_may, from_may]
    back = carry_out(MOMENT, Items(plan, lambda id: None), TakeBack("account", "van", from_may))
    assert apply(plan, back.changes).account_by_id["van"] == PLAN.account_by_id["van"]
    card = plan_after(Revise("account", "card", {"pays": "minimum"}, None)).account_by_id["card"].card
    assert card is not None
    assert card.pays == "minimum"


def test_one_date_is_changed_or_moved_with_all_after_it() -> None:
    fifth = date(2027, 4, 5)
    once = plan_after(ChangeOneDate("rent", fifth, {"amount": 1_00})).flow_by_id["rent"]
    assert [(change.nominal, change.amount) for change in once.changes] == [(fifth, 1_00)]
    moved = plan_after(MoveOnward("rent", fifth, date(2027, 4, 9))).flow_by_id["rent"]
    assert [revision.rules for revision in moved.revisions] == [("FREQ=MONTHLY;BYMONTHDAY=9",)]
    # The card's statement of February is due on March 10.
    card = (
        plan_after(ChangeOneDate(payment_id("card"), date(2027, 3, 10), {"amount": 50_00})).account_by_id["card"].card
    )
    assert card is not None
    assert [(change.closing, change.amount) for change in card.changes] == [(date(2027, 2, 20), 50_00)]


def test_money_is_recorded_borrowed_valued_and_paid_extra() -> None:
    spent = Recorded("spent", TODAY, "joint", 30_00, "Mill", (Part("home"),))
    (entry,) = (change.item for change in carried_out(RecordMoney("new", spent)).changes)
    assert isinstance(entry, Entry)
    assert entry.legs == (Leg(-30_00, "joint"), Leg(30_00, category="home"))
    borrow = Borrow("boat", "Boat", "USD", LOAN, 9_000_00, TODAY, TODAY, 250_00)
    made = [change.item for change in carried_out(borrow).changes]
    assert [(each.kind, each.known_since) for each in made if isinstance(each, Account) and each.loan] == [
        ("loan", TODAY)
    ]
    assert [each.opening.balance for each in made if isinstance(each, Account) and each.kind == "escrow"] == [250_00]
    valued = carried_out(SetWorth("hut", "v", 1_250_00, TODAY)).changes[-1].item
    assert isinstance(valued, Entry)
    assert valued.on("hut") == 250_00
    loan = plan_after(AddExtra("van", Extra(100_00, date=date(2027, 6, 1)))).account_by_id["van"].loan
    assert loan is not None
    assert [extra.amount for extra in loan.extras] == [100_00]


def test_a_day_has_one_rate_of_a_pair_whichever_way_round() -> None:
    turned = Rate(date(2027, 2, 1), "EUR", "USD", Decimal("1.1"))
    outcome = carried_out(PutRate("", turned, is_new=True))
    assert apply(PLAN, outcome.changes).rates == (turned,)
    assert list(outcome.notes) == ["It takes the place of the rate of that day, 1 USD = 0.9 EUR."]


@pytest.mark.parametrize(("command", "field"), [
    (PutItem("flow", "rent", RENT, is_new=True), "id"), (PutItem("flow", "gone", RENT, is_new=False), "id"),
    (RemoveItem("entry", "gone"), "id"), (RemoveItem("household", ""), "op"), (RemoveItem("flow", payment_id("card")), "id"),
    (RemoveItem("flow", payment_id("van")), "id"),
    (Revise("flow", payment_id("card"), {"amount": 1}, TODAY), "id"), (TakeBack("account", "joint", TODAY), "kind"),
    (Revise("account", "joint", {}, TODAY), "kind"), (AddExtra("joint", Extra(1, date=TODAY)), "kind"),
    (TakeBack("account", "van", TODAY), "from"), (SetWorth("gone", "v", 1, TODAY), "id"),
    (PutRate("gone", Rate(TODAY, "USD", "EUR", Decimal(1)), is_new=False), "id"),
])  # fmt: skip
def test_what_cannot_be_is_refused_at_its_field(command: Command, field: str) -> None:
    with pytest.raises(PlanError) as refused:
        carried_out(command)
    assert [problem.loc[0] for problem in refused.value.problems] == [field]
