"""What is paid on debts against a plan that was adopted, year by year, and above their minimums: sums by hand."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction

from hypothesis import given, settings
from hypothesis import strategies as st
from seen import seen

from effort import examples
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_end, month_number, month_start
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.forecast.projection import project
from next_penny.core.payoff.adopting import adoption, drop
from next_penny.core.payoff.paid_now import lowered, paid_above_minimums
from next_penny.core.payoff.progress import progress, years_on_record
from next_penny.core.payoff.way import Way
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.changes import apply
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.kept.way_out import Asked, Wish
from next_penny.core.plan.plan import Household, Plan
from next_penny.core.plan.terms.cards import CardTerms, DueRule, Minimum, RateStep
from next_penny.core.plan.terms.loans import Extra, LoanTerms

BEGUN, TODAY = date(2026, 1, 1), date(2027, 3, 1)


def checking() -> Account:
    return Account("checking", "Checking", "checking", "USD", Opening(BEGUN, 90_000_00))


def loan(
    principal: int, payments: int, *extras: Extra, opened: date = BEGUN, id: str = "loan", rate: str = "0"
) -> Account:
    """Due every month from the next on."""
    terms = LoanTerms(principal, Decimal(rate), opened, add_months(opened, 1), payments, from_account="checking",
                      extras=extras)  # fmt: skip
    return Account(id, id, "loan", "USD", Opening(opened, -principal), loan=terms)


def card(owed: int, pays: str, fixed: int | None, percent: str = "0", rate: str = "12", least: int = 25_00) -> Account:
    terms = CardTerms(5_000_00, 10, DueRule(day=5), (RateStep(BEGUN, Decimal(rate)),), Minimum(Decimal(percent), floor=least),
                      pays, fixed, "checking")  # type: ignore[arg-type]  # fmt: skip
    return Account("card", "Card", "credit_card", "USD", Opening(BEGUN, -owed), card=terms)


def paid(id: str, day: date, debt: str, amount: int, flow: str | None = None, nominal: date | None = None) -> Entry:
    return Entry(id, day, "Paid", (Leg(-amount, "checking"), Leg(amount, debt)), flow, nominal)


def way_of(moment: Moment, extra: int = 0, strategy: str = "smallest_balance") -> Way:
    return Way(moment, Asked(month_number(TODAY), strategy, Wish(extra_monthly=extra)))  # type: ignore[arg-type]


def half_up(share: Fraction) -> int:
    return int(share + Fraction(1, 2))


@given(
    st.integers(600_00, 3_000_00), st.integers(4, 15), st.integers(0, 200_00), st.integers(0, 5), st.integers(0, 60),
    st.sampled_from([0, -30_00, 45_00]),
)  # fmt: skip
@settings(max_examples=examples(60))
def test_a_plan_that_was_adopted_is_held_against_what_was_paid(
    principal: int, payments: int, extra: int, recorded: int, since: int, other: int
) -> None:
    plan = Plan(Household(), (checking(), loan(principal, payments, opened=TODAY)))
    moment = seen(plan, (), TODAY)
    way = way_of(moment, extra)
    adopted = apply(plan, adoption(way))
    months = way.run.months["loan"]
    # The first month of the plan, March, has nothing due; then one payment a month is recorded, the last one otherwise.
    dues = [add_months(TODAY, place) for place in range(1, len(months))]
    recorded = min(recorded, len(dues))
    amounts = [months[place].paid for place in range(1, recorded + 1)]
    if amounts:
        amounts[-1] = max(1, min(amounts[-1] + other, sum(month.paid for month in months) - sum(amounts[:-1])))
    entries = [paid(f"e{place}", due, "loan", amount, "loan-payment", due)
               for place, (due, amount) in enumerate(zip(dues, amounts, strict=False))]  # fmt: skip
    today = (dues[recorded - 1] if recorded else TODAY) + timedelta(days=since)
    found = progress(seen(adopted, entries, today))
    assert found is not None
    (debt,) = found.debts
    # A month counts once its due day is settled, or before today, or it is over; what is paid off has none any more.
    this = month_number(today) - month_number(TODAY)
    due = add_months(TODAY, this)
    is_done = this > 0 and (due in dues[:recorded] or (due < today and sum(amounts) < principal))
    done = max(0, min(this + is_done, len(months)))
    assert debt.planned == sum(month.paid for month in months[:done])
    assert debt.expected == (months[done - 1].closing if done else principal)
    assert (debt.paid, debt.owed, debt.original) == (sum(amounts), principal - sum(amounts), principal)
    assert debt.percent == half_up(Fraction(100 * sum(amounts), principal))
    assert found.ahead == debt.paid - debt.planned
    assert (debt.interest_planned, debt.interest_by_day) == (0, 0)
    assert found.planned_debt_free == month_number(TODAY) + len(months) - 1
    if debt.paid == debt.planned and recorded == done - 1 and debt.owed:
        assert found.months_later == 0
    assert found.percent == debt.percent


already = st.sampled_from([(), (Extra(20_00, every=1),), (Extra(90_00, every=3, start=date(2027, 1, 1)),),
                           (Extra(70_00, date=date(2027, 6, 1)), Extra(5_00, every=2, until=date(2027, 9, 30))),
                           (Extra(200_00, yearly_in=5),)])  # fmt: skip


@given(
    st.lists(st.tuples(st.integers(500_00, 6_000_00), st.integers(2, 20), st.integers(1, 28),
                       st.sampled_from(["0", "4.5", "12"]), already), min_size=1, max_size=3),
    st.integers(0, 900_00), st.integers(0, 400_00), st.sampled_from(["smallest_balance", "highest_rate"]),
)  # fmt: skip
@settings(max_examples=examples(60))
def test_a_plan_that_is_adopted_comes_true_and_dropped_leaves_all_as_it_was(
    debts: list[tuple[int, int, int, str, tuple[Extra, ...]]], owed: int, extra: int, strategy: str
) -> None:
    accounts = [checking(), card(owed, "fixed", 60_00, rate="0")]
    accounts += [loan(principal, payments, *extras, opened=date(2027, 3, day), id=f"loan{place}", rate=rate)
                 for place, (principal, payments, day, rate, extras) in enumerate(debts)]  # fmt: skip
    moment = seen(Plan(Household(), tuple(accounts)), (), TODAY)
    way = way_of(moment, extra, strategy)
    assert way.run.debt_free is not None
    after = apply_to_moment(moment, adoption(way), lambda id: None)
    forecast = project(after, date.fromordinal(month_end(way.run.debt_free)))
    for id, months in way.run.months.items():
        steps = dict(forecast.run_of[id].levels)
        for place, month in enumerate(months, way.run.start):
            inside = range(month_start(place), month_end(place) + 1)
            events = [event for event in forecast.events if event.flow == f"{id}-payment"
                      and event.account == "checking" and event.date.toordinal() in inside]  # fmt: skip
            assert -sum(event.amount for event in events) == month.paid, (id, place)
            assert -steps[max(day for day in steps if day <= inside[-1])] == month.closing, (id, place)
    again = apply_to_moment(after, drop(after), lambda id: None)
    assert again.plan.way_out is None
    before, back = (project(one, date(2030, 1, 1)) for one in (moment, again))
    assert [run.levels for run in back.runs] == [run.levels for run in before.runs]


def test_without_its_debts_a_plan_has_no_progress() -> None:
    plan = Plan(Household(), (checking(), loan(1_200_00, 12, opened=TODAY)))
    moment = seen(plan, (), TODAY)
    assert progress(moment) is None
    adopted = apply_to_moment(moment, adoption(way_of(moment)), lambda id: None)
    assert progress(adopted) is not None
    assert progress(adopted.replaced(replace(adopted.plan, accounts=(checking(),)))) is None


@given(st.lists(st.tuples(st.integers(0, 423), st.integers(1, 90_00), st.booleans()), max_size=8))
@settings(max_examples=examples(40))
def test_years_on_record_add_up_payments_and_interest(rows: list[tuple[int, int, bool]]) -> None:
    entries = []
    for place, (after, amount, is_interest) in enumerate(rows):
        day = BEGUN + timedelta(days=after)
        if is_interest:
            entries.append(Entry(f"e{place}", day, "Interest", (Leg(-amount, "card"), Leg(amount, category="cost")),
                                 "card-interest", day))  # fmt: skip
        else:
            entries.append(paid(f"e{place}", day, "card", amount))
    later = Account("later", "Later", "loan", "USD", Opening(date(2027, 3, 2), -1_00))
    plan = Plan(Household(past_due="ignore"), (checking(), card(2_000_00, "statement", None), later))
    told = years_on_record(seen(plan, entries, TODAY))
    assert [(year.account.id, year.year) for year in told] == [("card", 2026), ("card", 2027)]
    owed = 2_000_00
    for year in told:
        mine = [entry for entry in entries if entry.date.year == year.year and entry.date <= TODAY]
        assert year.paid == sum(max(0, entry.on("card")) for entry in mine)
        assert year.interest == -sum(entry.on("card") for entry in mine if entry.flow)
        owed -= sum(entry.on("card") for entry in mine)
        assert year.owed == owed


def test_what_is_paid_above_the_minimums_now() -> None:
    def above(*accounts: Account) -> int:
        return paid_above_minimums(way_of(seen(Plan(Household(), (checking(), *accounts)), (), TODAY)))

    # Of extras that repeat: 30.00 a month, 100.00 every third month (33.33), 250.00 every June (20.83).
    extras = [Extra(30_00, every=1), Extra(100_00, every=3), Extra(250_00, yearly_in=6)]
    assert [above(loan(9_600_00, 48, extra)) for extra in extras] == [30_00, 33_33, 20_83]
    assert above(loan(9_600_00, 48, *extras)) == 84_16
    # Neither once, nor from later on, nor until before.
    gone = [Extra(40_00, date=date(2027, 5, 1)), Extra(40_00, every=1, start=date(2027, 4, 1)),
            Extra(40_00, every=1, until=date(2027, 2, 28))]  # fmt: skip
    assert above(loan(9_600_00, 48, *gone)) == 0
    assert above(loan(9_600_00, 48, Extra(40_00, every=1, start=date(2027, 3, 31)))) == 40_00
    assert above(loan(9_600_00, 48, Extra(40_00, every=1, until=date(2027, 3, 1)))) == 40_00
    # A card that is paid 80.00, of which 25.00 is its minimum; one that is paid its minimum.
    assert above(card(1_000_00, "fixed", 80_00)) == 55_00
    assert above(card(1_000_00, "minimum", None)) == 0
    # No more than is owed with its interest is paid: 60.00, and 0.60 for the month.
    assert above(card(60_00, "fixed", 80_00)) == 35_60


def test_a_plan_that_pays_less_than_now_says_where_and_from_when() -> None:
    both = Plan(Household(), (checking(), loan(2_000_00, 20, Extra(50_00, every=1), opened=date(2027, 2, 1)),
                              card(900_00, "fixed", 100_00, rate="0")))  # fmt: skip
    moment = seen(both, (), TODAY)
    # All that is paid above minimums goes to the card; the loan is left with its 100.00 until that is cleared.
    (less,) = lowered(way_of(moment, 125_00))
    assert (less.account.id, less.now, less.then) == ("loan", 150_00, 100_00)
    assert less.month == month_number(TODAY)
    # Without an extra the card is paid its minimum, too, from its first statement on.
    assert {(less.account.id, less.now, less.then) for less in lowered(way_of(moment))} == {
        ("loan", 150_00, 100_00), ("card", 100_00, 25_00),
    }  # fmt: skip
    # As much as now for each is no less.
    assert list(lowered(way_of(moment, 5_000_00))) == []
