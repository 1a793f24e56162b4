"""Cards and lines as they stand, month by month ahead and cycle by cycle back, against a walk over every day."""

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction
from itertools import pairwise

from acting_households import acting_documents
from acting_ledger import ActingLedger
from households import TODAY, Document, iso, moment_from, read
from hypothesis import event, given, settings
from ledger import half_up

from effort import examples
from next_penny.core.dates.calendar import add_months
from next_penny.core.forecast.cards.payments import Paying, paying_against_minimum
from next_penny.core.forecast.cards.standing import (
    RateRise,
    all_owed,
    card_standing,
    card_totals,
    lines_available,
    rises_between,
)
from next_penny.core.forecast.cards.statements import coming_months, coming_year, past_statements
from next_penny.core.forecast.projection import in_a_year
from next_penny.core.plan.terms.cards import Minimum

YEAR_ON = in_a_year(moment_from({"format": "next-penny-plan", "version": 1, "currency": "USD", "accounts": []}))


# What always happens is assumed to have happened, and so in the books: without it they are what is recorded.
recorded_documents = acting_documents().map(
    lambda document: {**document, "flows": [{**flow, "always_happens": False} for flow in document["flows"]]}
)


def recorded_on(document: Document, id: str) -> list[tuple[date, int, bool]]:
    """What is recorded on an account: its day, its amount, and whether it is interest charged."""
    return [
        (date.fromisoformat(entry["date"]), leg["amount"], entry["flow"] == f"{id}-interest")
        for entry in document["entries"] for leg in entry["legs"] if leg.get("account") == id
    ]  # fmt: skip


@given(recorded_documents)
@settings(max_examples=examples(120))
def test_what_is_owed_and_paid_next_and_in_a_year_is_what_the_days_make(document: Document) -> None:
    plan, _ = read(document)
    moment, ledger = moment_from(document), ActingLedger(document, TODAY, YEAR_ON)
    for account in plan.accounts:
        card = account.card
        if card is None:
            continue
        standing, rows = card_standing(moment, account), recorded_on(document, account.id)
        balance = account.opening.balance + sum(amount for day, amount, _ in rows if day <= TODAY)
        owed = max(0, -balance) if account.opening.date <= TODAY else 0
        assert (standing.owed, standing.available) == (owed, card.limit - owed)
        steps = [step for step in card.rates if step.start <= TODAY]
        rate = max(steps, key=lambda step: step.start).annual_rate if steps else 0
        assert (standing.annual_rate, standing.cost_month) == (rate, half_up(Fraction(rate) * owed / 1200))
        payments = {nominal: amount for _, source, on, amount, nominal in ledger.made
                    if source == "card_payment" and on == account.id}  # fmt: skip
        assert standing.next_payment == payments.get(iso(standing.next_due), 0)
        settled = {entry["nominal"] for entry in document["entries"] if entry["flow"] == f"{account.id}-payment"}
        assert standing.next_due >= TODAY
        assert iso(standing.next_due) not in settled or standing.next_due == TODAY
        months = coming_months(moment, account)
        end_of_day = ledger.end_of_days(account.id)
        for place, month in enumerate(months):
            first = add_months(TODAY.replace(day=1), place)
            last = add_months(first, 1) - timedelta(days=1)
            inside = [(source, amount) for day, source, on, amount, _ in ledger.made
                      if on == account.id and first <= day <= last]  # fmt: skip
            sums = [sum(amount for source, amount in inside if source == wanted)
                    for wanted in ("card_payment", "card_interest", "line_draw")]  # fmt: skip
            assert [month.paid, month.interest, month.drawn] == [sums[0], -sums[1], -sums[2]]
            assert month.owed == max(0, -end_of_day.get(min(last, YEAR_ON), 0))
            assert len(month.whys) == len(inside)
        assert coming_year(months)[0] == sum(month.paid for month in months)
        assert standing.used_percent == half_up(Fraction(100 * owed, max(1, card.limit)))
        later = sorted((step.start, step.annual_rate) for step in card.rates
                       if step.start > TODAY and step.annual_rate > rate)  # fmt: skip
        if later and account.opening.date <= TODAY:
            (day, higher), owed_then = later[0], max(0, -end_of_day[later[0][0]])
            costs = tuple(half_up(Fraction(each) * owed_then / 1200) for each in (higher, rate))
            assert standing.rises == RateRise(day, standing.annual_rate, higher, owed_then, *costs)
        assert later or standing.rises is None
        event(f"owed: {owed > 0}, paid next: {standing.next_payment > 0}, settled before: {bool(settled)}")
    standings = [card_standing(moment, account) for account in plan.accounts if account.card]
    owed_now = [each.owed for each in standings]
    totals, lines = card_totals(moment, standings), [each for each in standings if each.terms.is_line]
    assert (totals.owed, totals.available) == (sum(owed_now), sum(each.terms.limit - each.owed for each in standings))
    assert (totals.cost_year, totals.cost_month) == tuple(
        sum(getattr(each, name) for each in standings) for name in ("cost_year", "cost_month")
    )
    assert all_owed(moment) == sum(owed_now)
    left = [max(0, each.terms.limit - each.owed) for each in lines]
    assert lines_available(moment, standings) == (sum(left) if lines else None)


@given(recorded_documents)
@settings(max_examples=examples(120))
def test_the_cycles_back_from_today_add_up_to_what_is_recorded(document: Document) -> None:
    plan, _ = read(document)
    moment = moment_from(document)
    for account in plan.accounts:
        if account.card is None or account.opening.date > TODAY:
            continue
        rows = recorded_on(document, account.id)
        statements = past_statements(moment, account)
        begun = account.card.begun_with
        own = (
            statements[:-1] if begun is not None and statements[-1].closing == begun.closing.toordinal() else statements
        )
        for later, earlier in pairwise(own):
            assert earlier.closing + 1 == later.first
        for statement in own:
            inside = [(amount, is_interest) for day, amount, is_interest in rows if day <= TODAY
                      and statement.first <= day.toordinal() <= statement.closing]  # fmt: skip
            interest = -sum(amount for amount, is_interest in inside if is_interest)
            spent = -sum(amount for amount, is_interest in inside if amount < 0 and not is_interest)
            came_in = sum(amount for amount, is_interest in inside if amount > 0 and not is_interest)
            assert (statement.interest, statement.spent, statement.came_in) == (interest, spent, came_in)
            upto = min(date.fromordinal(statement.closing), TODAY)
            balance = account.opening.balance + sum(amount for day, amount, _ in rows if day <= upto)
            assert statement.balance == max(0, -balance)
            assert 0 <= statement.minimum <= statement.balance
        assert not own or own[0].first <= TODAY.toordinal() <= own[0].closing


@given(recorded_documents)
@settings(max_examples=examples(60))
def test_a_rate_that_rises_is_told_and_one_that_falls_is_not(document: Document) -> None:
    plan, _ = read(document)
    last = TODAY + timedelta(days=400)
    wanted = []
    for account in plan.accounts:
        steps = sorted(account.card.rates, key=lambda step: step.start) if account.card else []
        for before, after in pairwise(steps):
            if TODAY <= after.start <= last and after.annual_rate > before.annual_rate:
                wanted.append((after.start, account.id, after.annual_rate))
    told = rises_between(moment_from(document), TODAY, last)
    assert [(day, account.id, rate) for day, account, rate in told] == wanted


# 18.25 % a year is 0.05 % a day; 500.00 is owed since before the statement of 10 February, which is due on 2 March.
OWING: Document = {
    "format": "next-penny-plan", "version": 1, "currency": "USD", "flows": [], "entries": [],
    "accounts": [
        {"id": "a", "name": "A", "kind": "checking", "opening": {"date": "2027-01-01", "balance": 0}},
        {"id": "v", "name": "V", "kind": "credit_card", "opening": {"date": "2027-02-05", "balance": -500_00},
         "card": {"limit": 1_000_00, "closing_day": 10, "due": {"days_after": 20}, "from_account": "a",
                  "pays": "statement", "rates": [{"from": "2027-01-01", "annual_rate": "18.25"}],
                  "minimum": {"percent": "0", "floor": 50_00}}},
    ],
}  # fmt: skip


def test_a_way_of_paying_is_told_by_its_end_its_payments_and_its_interest() -> None:
    moment = moment_from(OWING)
    card = moment.plan.account_by_id["v"]
    # 19 days at 500.00 and 9 at 250.00: 5.875; 19 at 255.88 and 12 at 5.88: 2.466; the 8.35 left are paid in full.
    fixed = paying_against_minimum(moment, card, "fixed", 250_00)
    least = paying_against_minimum(moment, card, "minimum")
    assert fixed == Paying(date(2027, 4, 30), 1, 3, 8_35, 250_00, least.interest - 8_35)
    assert least.saves == 0
    # Two statements are due in March, and one in each month after it.
    assert (least.months, least.payments, least.ends) == (9, 11, date(2027, 12, 30))
    assert paying_against_minimum(moment, card, "statement")[:5] == (date(2027, 3, 2), 0, 1, 0, 500_00)
    # Less than the interest is paid for a hundred years, and never ends: then nothing is held against it.
    low = replace(card, card=replace(card.card_terms, minimum=Minimum(floor=1)))
    never = paying_against_minimum(moment, low, "fixed", 1_00)
    assert (never.ends, never.months, never.first_payment, never.saves) == (None, 1_200, 1_00, None)


def test_a_card_that_owes_nothing_is_paid_off_today() -> None:
    accounts = [OWING["accounts"][0], OWING["accounts"][1] | {"opening": {"date": "2027-02-05", "balance": 0}}]
    moment = moment_from(OWING | {"accounts": accounts})
    paid = paying_against_minimum(moment, moment.plan.account_by_id["v"], "minimum")
    assert paid == Paying(TODAY, 0, 0, 0, 0, 0)
