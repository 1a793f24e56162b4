"""What is received of money lent, and what a loan's payment is recorded as, against sums by hand (RULES §6, §16)."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction

import pytest
from households import TODAY
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import half_up
from seen import seen

from effort import examples
from next_penny.core.edits.receiving import Received, Rest, proposed_split, receive
from next_penny.core.flows.kinds.loan_payment import due_rule
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.forecast.projection import project
from next_penny.core.loans.lent.dues import Due
from next_penny.core.loans.lent.standing import lent_standing
from next_penny.core.loans.schedule import as_scheduled
from next_penny.core.loans.years import by_year, in_all
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow, repayment_id
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.statements import PaidSplit
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.starter import ESCROW_PAID, GIFTS_RECEIVED, LENT_INTEREST, LOAN_INTEREST
from next_penny.core.plan.terms.lent import LentTerms
from next_penny.core.plan.terms.loans import DatedAmount, LoanTerms
from next_penny.core.problems import PlanError

OPENED = date(2026, 12, 15)
JOINT = Account("joint", "Joint", "checking", "USD", Opening(OPENED, 5_000_00))


def lent(owed: int, rate: str, terms: LoanTerms | None = None) -> Account:
    lending = LentTerms("Mr. Quillon", "joint", Decimal(rate), terms)
    return Account("lent", "Quillon", "owed_to_us", "USD", Opening(OPENED, owed), lent=lending)


def plan_of(*accounts: Account, flows: tuple[Flow, ...] = ()) -> Plan:
    return Plan(Household(), (JOINT, *accounts), flows=flows)


@given(
    st.integers(0, 3_000_00), st.sampled_from(["0", "4.5", "29.9"]), st.integers(1, 4_000_00), st.integers(0, 76),
    st.sampled_from(["interest", "gift", "owed_back"]), st.booleans(), st.integers(0, 4_000_00),
)  # fmt: skip
@settings(max_examples=examples(300))
def test_what_is_received_is_interest_then_principal_and_the_rest_as_said(
    owed: int, rate: str, amount: int, days: int, rest: Rest, is_said: bool, said: int
) -> None:
    account, day = lent(owed, rate), OPENED + timedelta(days=days)
    moment = seen(plan_of(account), (), TODAY)
    said = min(said, amount)
    interest = said if is_said else min(amount, half_up(Fraction(rate) * owed * days / 36500))
    principal = min(amount - interest, owed)
    beyond = amount - interest - principal
    received = Received("r", day, amount, interest=said if is_said else None)
    found = proposed_split(moment, account, received)
    assert (found.interest, found.principal, found.rest) == (interest, principal, beyond)
    if beyond:
        with pytest.raises(PlanError) as refused:
            receive(moment, account, received)
        assert refused.value.problems[0].loc == ("rest",)
    wanted = {"joint": amount, "lent": -principal, LENT_INTEREST.id: -interest, GIFTS_RECEIVED.id: 0}
    wanted[{"interest": LENT_INTEREST.id, "gift": GIFTS_RECEIVED.id, "owed_back": "lent"}[rest]] -= beyond
    entry = receive(moment, account, replace(received, rest=rest))[-1].item
    assert isinstance(entry, Entry)
    legs = {leg.account or leg.category: leg.amount for leg in entry.legs}
    assert legs == {id: moved for id, moved in wanted.items() if moved or id == "lent"}
    assert (entry.date, entry.payee, sum(legs.values())) == (day, "Mr. Quillon", 0)


@pytest.mark.parametrize(
    ("changed", "path"),
    [
        ({"amount": 0}, "amount"), ({"day": TODAY + timedelta(days=1)}, "date"),
        ({"day": OPENED - timedelta(days=1)}, "date"), ({"into": "lent"}, "account"), ({"into": "nowhere"}, "account"),
        ({"interest": -1}, "interest"), ({"interest": 60_00, "principal": 41_00}, "interest"),
        ({"interest": 60_00, "principal": 39_00}, "interest"), ({"principal": 100_01}, "principal"),
    ],
)  # fmt: skip
def test_what_cannot_have_been_received_is_refused_at_its_field(changed: dict[str, object], path: str) -> None:
    account = lent(500_00, "0")
    moment = seen(plan_of(account), (), TODAY)
    good = Received("r", TODAY, 100_00, interest=60_00, principal=40_00)
    assert receive(moment, account, good)
    with pytest.raises(PlanError) as refused:
        receive(moment, account, replace(Received("r", TODAY, 100_00), **changed))  # type: ignore[arg-type]
    assert refused.value.problems[0].loc == (path,)


def monthly(principal: int, rate: str, payments: int, level: int) -> list[tuple[int, int]]:
    """(interest, principal) of each payment: half up, the last takes what is left."""
    rows, owed = [], principal
    for number in range(payments):
        interest = half_up(Fraction(rate) * owed / 1200)
        part = owed if number == payments - 1 else min(owed, level - interest)
        rows.append((interest, part))
        owed -= part
    return rows


@given(st.integers(0, 5), st.sampled_from(["0", "12"]), st.integers(-1, 1))
def test_a_schedule_of_money_lent_goes_on_after_what_came_early(early: int, rate: str, beside: int) -> None:
    level = {"0": 100_00, "12": 106_62}[rate]
    terms = LoanTerms(1_200_00, Decimal(rate), OPENED, date(2027, 3, 15), payments=12)
    account, dues = lent(1_200_00, rate, terms), [date(2027 + at // 12, at % 12 + 1, 15) for at in range(2, 14)]
    (flow,) = account.lending.flows("lent", "Quillon")
    rows = monthly(1_200_00, rate, 12, level)
    # The first ones came today, by name; the last of them a cent more or less than it was due, or exactly.
    received = []
    for at in range(early):
        interest, principal = rows[at]
        principal += beside if at == early - 1 else 0
        legs = (Leg(interest + principal, "joint"), Leg(-principal, "lent"), Leg(-interest, category=LENT_INTEREST.id))
        received.append(Entry(f"e{at}", TODAY, "Q", tuple(leg for leg in legs if leg.amount), flow.id, dues[at]))
    plan = plan_of(account, flows=(flow,))
    standing = lent_standing(seen(plan, received, TODAY), account)
    passed = early if beside >= 0 or not early else early - 1
    owed = 1_200_00 - sum(principal for _, principal in rows[:early]) - (beside if early else 0)
    wanted = []
    for at in range(passed, 12):
        interest = half_up(Fraction(rate) * owed / 1200)
        principal = owed if at == 11 else min(owed, level - interest)
        owed -= principal
        wanted.append(Due(dues[at].toordinal(), dues[at].toordinal(), interest, principal))
    assert standing.dues(standing.horizon) == [due for due in wanted if due.amount]
    for until in dues:
        # Asked anew each time: nothing beyond a day is looked for.
        again = lent_standing(seen(plan, received, TODAY), account)
        assert again.dues(until.toordinal()) == [due for due in wanted if due.amount and due.lands <= until.toordinal()]
    assert standing.ends == max(due.lands for due in wanted if due.amount)
    assert standing.late(TODAY.toordinal()) is None


def test_a_repayment_that_came_is_recorded_as_it_is_made_of() -> None:
    account = replace(lent(1_000_00, "36.5"), opening=Opening(TODAY - timedelta(days=10), 1_000_00))
    plan = plan_of(account, flows=(Flow(repayment_id("lent"), "Back", "transfer", 0, "lent", "joint"),))
    maker = maker_of(seen(plan, (), TODAY), plan.flows[0])
    # Ten days at a tenth of a percent a day: 10.00.
    legs = list(maker.legs(TODAY, 300_00, TODAY, None))
    assert legs == [Leg(300_00, "joint"), Leg(-290_00, "lent"), Leg(-10_00, category=LENT_INTEREST.id)]
    assert list(maker.legs(TODAY, 4_00, TODAY, "joint"))[1:] == [Leg(0, "lent"), Leg(-4_00, category=LENT_INTEREST.id)]
    assert list(maker.legs(TODAY, 1_010_00, TODAY, None))[1] == Leg(-1_000_00, "lent")
    by_hand = list(maker.legs(TODAY, 300_00, TODAY, None, PaidSplit(interest=100_00)))
    assert by_hand[1:] == [Leg(-200_00, "lent"), Leg(-100_00, category=LENT_INTEREST.id)]
    assert list(maker.legs(TODAY, 300_00, TODAY, None, PaidSplit(principal=300_00)))[1:] == [Leg(-300_00, "lent")]
    for amount, split in ((1_010_01, None), (300_00, PaidSplit(interest=300_01)), (300_00, PaidSplit(100_00, 199_00))):
        with pytest.raises(PlanError):
            list(maker.legs(TODAY, amount, TODAY, None, split))


LOAN = LoanTerms(12_000_00, Decimal(12), date(2027, 1, 20), date(2027, 2, 20), payments=12, from_account="joint",
                 escrow=(DatedAmount(date(2027, 1, 20), 50_00),))  # fmt: skip


def owing() -> tuple[Account, Plan]:
    loan = Account("loan", "Loan", "loan", "USD", Opening(date(2027, 1, 20), -12_000_00), loan=LOAN)
    pays = Flow("pay", "Loan", "loan_payment", 0, "joint", "loan")
    return loan, plan_of(loan, flows=(pays,))


def test_a_loans_payment_is_recorded_in_its_parts_and_principal_takes_the_difference() -> None:
    _, plan = owing()
    maker, due = maker_of(seen(plan, (), TODAY), plan.flows[0]), date(2027, 2, 20)
    # 1 % of 12,000.00 a month, 1,066.19 level, and 50.00 of escrow.
    assert maker.amount_of(due.toordinal()) == 1_116_19

    def legs(amount: int, split: PaidSplit | None = None) -> dict[str | None, int]:
        return {leg.account or leg.category: leg.amount for leg in maker.legs(due, amount, due, None, split)}

    escrow, interest = ESCROW_PAID.id, LOAN_INTEREST.id
    assert legs(1_116_19) == {"joint": -1_116_19, "loan": 946_19, interest: 120_00, escrow: 50_00}
    assert legs(1_200_00) == {"joint": -1_200_00, "loan": 1_030_00, interest: 120_00, escrow: 50_00}
    assert legs(170_00) == {"joint": -170_00, interest: 120_00, escrow: 50_00}
    said = PaidSplit(interest=130_00, escrow=0, insurance=5_00)
    assert legs(1_116_19, said)["loan"] == 981_19
    assert legs(1_116_19, replace(said, principal=981_19))[interest] == 130_00
    for wrong, words in ((replace(said, principal=981_20), r"come to \$1,116\.20, the payment to \$1,116\.19"),
                         (replace(said, escrow=-1), "escrow without a sign")):  # fmt: skip
        with pytest.raises(PlanError, match=words):
            legs(1_116_19, wrong)


@pytest.mark.parametrize(
    ("per_year", "first", "rule"),
    [
        (52, date(2027, 3, 5), "FREQ=WEEKLY;INTERVAL=1;BYDAY=FR"), (26, date(2027, 3, 1), "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO"),
        (24, date(2027, 3, 16), "FREQ=MONTHLY;BYMONTHDAY=16,31"), (24, date(2027, 3, 17), "FREQ=MONTHLY;BYMONTHDAY=2,17"),
        (12, date(2027, 3, 31), "FREQ=MONTHLY;BYMONTHDAY=31"), (4, date(2027, 3, 9), "FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=9"),
        (1, date(2027, 3, 9), "FREQ=MONTHLY;INTERVAL=12;BYMONTHDAY=9"),
    ],
)  # fmt: skip
def test_a_loans_due_dates_are_said_as_a_rule(per_year: int, first: date, rule: str) -> None:
    assert due_rule(replace(LOAN, first_payment=first, payments_per_year=per_year)) == rule


def test_what_leaves_with_a_loans_payments_by_year() -> None:
    loan, plan = owing()
    schedule = as_scheduled(LOAN)
    whole, years = in_all(schedule), by_year(schedule)
    # Eleven payments in 2027 and the last one in 2028; the forecast takes the same from the account.
    assert [year.year for year in years] == [2027, 2028]
    assert (len(whole.rows), whole.rows[0], whole.years[2027]) == (12, 1_116_19, 11 * 1_116_19)
    assert sum(whole.years.values()) == sum(whole.rows)
    assert set(whole.insurance.values()) == {0}
    assert [whole.years[year.year] - year.escrow - year.interest_paid for year in years] == [
        year.principal + year.extra for year in years
    ]
    ahead = project(seen(plan, (), date(2027, 2, 1)), date(2028, 2, 1), ["joint"])
    assert (
        -sum(event.amount for event in ahead.events if event.day <= date(2027, 12, 31).toordinal()) == whole.years[2027]
    )
    assert loan.opening.balance + sum(year.principal for year in years) == 0
