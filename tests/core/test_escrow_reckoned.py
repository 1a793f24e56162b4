"""Escrow analysed by the aggregate method of Regulation X, and ahead of time in a household (RULES §6)."""

from datetime import date
from decimal import Decimal
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import half_up
from seen import seen

from effort import examples
from next_penny.core.mortgage.escrow import Disbursement, analyse, problems
from next_penny.core.mortgage.escrow_ahead import escrow_ahead, uncovered
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.loans import DatedAmount, LoanTerms

FIRST = 12 * 2027 + 3  # April 2027
TODAY = date(2027, 3, 10)

bills = st.lists(st.tuples(st.integers(0, 11), st.integers(1, 9_000_00)), max_size=5)


@given(
    bills,
    st.sampled_from(["0", "1", "1.5", "2"]),
    st.integers(-3_000_00, 12_000_00),
    st.none() | st.integers(0, 900_00),
)
@settings(max_examples=examples(400))
def test_a_year_that_starts_with_what_is_required_never_falls_below_the_cushion(
    paid: list[tuple[int, int]], cushion_months: str, balance: int, deposit: int | None
) -> None:
    out = [Disbursement(FIRST + month, amount) for month, amount in paid]
    found = analyse(FIRST, out, Decimal(cushion_months), balance, deposit)
    annual = sum(amount for _, amount in paid)
    base = half_up(Fraction(annual, 12))
    assert (found.annual_disbursements, found.base_deposit) == (annual, base)
    assert found.cushion == half_up(Fraction(cushion_months) * annual / 12)
    below = {"trial": 0, "required": found.required_start, "projected": balance}
    for at, row in enumerate(found.rows):
        due = sum(amount for month, amount in paid if month == at)
        assert (row.month, row.deposit, row.disbursed) == (FIRST + at, base, due)
        below = {name: before + (deposit if name == "projected" and deposit is not None else base) - due
                 for name, before in below.items()}  # fmt: skip
        assert {name: getattr(row, name) for name in below} == below
    # Just the cushion at the lowest month, and not a cent more.
    assert min(row.required for row in found.rows) == found.cushion
    assert found.lowest_trial == min(row.trial for row in found.rows)
    if balance < 0:
        assert (found.deficiency, found.shortage, found.surplus) == (-balance, found.required_start, 0)
    else:
        assert found.deficiency == 0
        assert balance + found.shortage - found.surplus == found.required_start
        assert min(found.shortage, found.surplus) == 0
    assert found.new_deposit == base + half_up(Fraction(found.shortage + found.deficiency, 12))
    notes = " ".join(found.notes)
    assert ("refunds" in notes) == (found.surplus >= 50_00)
    assert ("shortage" in notes) == (0 < found.shortage < base)
    assert ("deficiency" in notes) == (0 < found.deficiency < base)


@pytest.mark.parametrize(
    ("month", "amount", "cushion", "wrong"),
    [(FIRST + 12, 100, "2", ("disbursements", 0, "month")), (FIRST - 1, 100, "2", ("disbursements", 0, "month")),
     (FIRST, -1, "2", ("disbursements", 0, "amount")), (FIRST, 1, "12.5", ("cushion_months",)),
     (FIRST, 1, "-1", ("cushion_months",))],
)  # fmt: skip
def test_what_cannot_be_analysed_is_told_at_its_field(
    month: int, amount: int, cushion: str, wrong: tuple[object]
) -> None:
    assert [each.loc for each in problems(FIRST, [Disbursement(month, amount)], Decimal(cushion))] == [wrong]
    assert problems(FIRST, [Disbursement(FIRST + 11, 0)], Decimal(12)) == []


@given(st.integers(0, 4_000_00), st.integers(10_00, 400_00), st.integers(100_00, 3_000_00), st.integers(1, 28))
@settings(max_examples=examples(150))
def test_what_the_lender_advances_is_what_the_escrow_is_short_by(balance: int, escrow: int, tax: int, day: int) -> None:
    terms = LoanTerms(
        100_000_00, Decimal(0), date(2027, 3, 1), date(2027, 4, 1), 360, from_account="checking",
        escrow_account="escrow", escrow=(DatedAmount(date(2027, 4, 1), escrow),),
    )  # fmt: skip
    opened = date(2027, 1, 1)
    # The analysis is of April to March; what is due after it is not in it.
    taxed, after = (date(2027, 3, 28), date(2027, 9, day), date(2028, 3, day)), date(2028, 4, 1)
    plan = Plan(
        Household(),
        (Account("checking", "Checking", "checking", "USD", Opening(opened, 90_000_00)),
         Account("escrow", "Escrow", "escrow", "USD", Opening(opened, balance)),
         Account("house", "House", "loan", "USD", Opening(date(2027, 3, 1), -100_000_00), loan=terms)),
        flows=(Flow("tax", "Property tax", "bill", tax, "escrow", dates=(*taxed, after)),),
    )  # fmt: skip
    moment = seen(plan, (), TODAY)
    found = escrow_ahead(moment, plan.account_by_id["escrow"])
    held, wanted = balance, []
    for on in taxed:
        deposits = sum(1 for month in range(12) if date(2027 + (month + 3) // 12, (month + 3) % 12 + 1, 1) <= on)
        left = balance + deposits * escrow - tax * (len(wanted) + 1)
        wanted.append((on, tax, left, min(tax, max(0, -left))))
    assert [(row.day, row.amount, row.balance, row.short_by) for row in found.payments] == wanted
    held = balance - tax
    assert (found.balance, found.deposit, found.starts) == (balance, escrow, held)
    assert [row.disbursed for row in found.analysis.rows if row.disbursed] == [tax, tax]
    short = [(account.id, payment.day) for account, payment in uncovered(moment)]
    within_a_year = [("escrow", on) for on, _, _, short_by in wanted if short_by and on < date(2028, 3, 10)]
    assert short == within_a_year[:1]
