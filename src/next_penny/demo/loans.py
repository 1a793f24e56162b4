"""The demo household's loans: a mortgage joined mid-life with escrow, a boat engine, and solar panels.

The mortgage was taken over by another lender; three mistakes of its books are for the statement check to find.
"""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from decimal import Decimal

from next_penny.core.dates.calendar import add_months
from next_penny.core.flows.kinds.calendar_flow import changed_just_once
from next_penny.core.loans.schedule import schedule
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.loans import DatedAmount, Lender, LoanTerms, RateChange

# What leaves the joint account for the mortgage each month, escrow included.
_MORTGAGE_TOTAL = 2_184_55
_NEW_LENDER = "Stillwater Home Loans"


def demo_loans(opened: date, today: date) -> tuple[Account, ...]:
    """The loan accounts and the escrow account, as they stood when the household began its books."""
    house = LoanTerms(
        principal=268_000_00,
        annual_rate=Decimal("5.625"),
        disbursed=add_months(opened, -75),
        first_payment=add_months(opened, -73),
        payments=360,
        from_account="joint",
        escrow_account="escrow",
        property="quay-row",
        lenders=(Lender(add_months(opened, 10), _NEW_LENDER, "Tollhouse Wharf 9, Sandry Quay"),),
    )
    house_payment = schedule(house).level
    escrow = (DatedAmount(house.disbursed, _MORTGAGE_TOTAL - house_payment),)
    house = replace(house, escrow=escrow)
    engine = LoanTerms(
        principal=8_900_00, annual_rate=Decimal("7.4"), disbursed=add_months(opened, -2).replace(day=18),
        first_payment=add_months(opened, -1).replace(day=18), payments=48, from_account="joint",
    )  # fmt: skip
    solar = LoanTerms(
        principal=14_600_00, annual_rate=Decimal("4.9"), disbursed=opened.replace(day=5), interest="actual_365",
        first_payment=add_months(opened.replace(day=5), 1), payments=120, from_account="joint",
        rate_changes=(RateChange(add_months(today.replace(day=5), 9), Decimal("6.4")),),
    )  # fmt: skip
    return (
        Account("escrow", "Escrow, 4 Quay Row", "escrow", "USD", Opening(opened, 1_960_00), spendable=False),
        Account("quay-row", "4 Quay Row", "asset", "USD", Opening(opened, 342_000_00), spendable=False),
        _account("house", "Mortgage, 4 Quay Row", house, opened),
        _account("engine", "Boat engine loan", engine, opened),
        _account("solar", "Solar loan", solar, solar.disbursed),
    )


def loan_flows() -> tuple[Flow, ...]:
    """The loans' payments, with the names that the household gave them."""
    rows = (
        ("mortgage", "Mortgage", "house", "Tarn & Vale Lending"),
        ("engine-loan", "Boat engine loan", "engine", "Reedholm Credit Union"),
        ("solar-loan", "Solar loan", "solar", "Brightfell Finance"),
    )
    return tuple(
        Flow(id, name, "loan_payment", 0, "joint", loan, "interest", payee, roll="after")
        for id, name, loan, payee in rows
    )


def _account(id: str, name: str, terms: LoanTerms, opened: date) -> Account:
    """A loan as it was owed at the start of a day, all earlier payments made."""
    found_schedule = schedule(terms)
    owed = found_schedule.balance_on(opened.toordinal() - 1)
    return Account(id, name, "loan", "USD", Opening(opened, -owed), loan=terms)


def lender_slip_ups(plan: Plan, entries: Sequence[Entry]) -> tuple[Plan, tuple[Entry, ...]]:
    """The household with a mortgage payment recorded whole, one split like the one before, a tax payment left out."""
    paid = [entry for entry in entries if entry.flow == "mortgage"]
    whole, before, behind = paid[-4], paid[-8], paid[-7]
    taxes = [entry for entry in entries if entry.flow == "property-tax"]
    spent = (whole.legs[0], Leg(-whole.legs[0].amount, category="home"))
    wrong = {
        whole.id: replace(whole, legs=spent),
        behind.id: replace(behind, legs=before.legs),
        taxes[-1].id: None,
    }
    changed = (wrong.get(entry.id, entry) for entry in entries)
    assert taxes[-1].nominal is not None
    flows = tuple(
        changed_just_once(flow, taxes[-1].nominal, left_out=True) if flow.id == "property-tax" else flow
        for flow in plan.flows
    )
    return replace(plan, flows=flows), tuple(entry for entry in changed if entry is not None)
