"""Random loans in a household, and how they stand after some payments were settled as planned."""

from dataclasses import replace
from datetime import date, timedelta
from itertools import count

from hypothesis import strategies as st
from random_loans import loans
from seen import of

from next_penny.core.books.books import Books
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.checks.entries import check_entry
from next_penny.core.edits.settling.settle import Settlement, settle
from next_penny.core.loans.check import loan_problems
from next_penny.core.loans.schedule import schedule
from next_penny.core.loans.standing import Parts, Standing, standing
from next_penny.core.loans.walked import LoanError
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.changes import apply
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.loans import LoanTerms

LONG_AGO = date(2020, 1, 1)


def can_be_followed(terms: LoanTerms) -> bool:
    try:
        schedule(terms)
    except LoanError:
        return False
    return not loan_problems(terms, "USD")


def household(terms: LoanTerms) -> Plan:
    paying = Account("a", "Joint", "checking", "USD", Opening(LONG_AGO, 0))
    owed = Opening(terms.disbursed, -terms.amount_financed)
    loan = Account("loan", "Loan", "loan", "USD", owed, loan=replace(terms, from_account="a"))
    return Plan(Household(), (paying, loan))


short_loans = loans(least=1000_00, longest=36).filter(can_be_followed)


def coming(stands: Standing, after: date) -> dict[int, Parts]:
    return {day: parts for day, parts in stands.parts.items() if day > after.toordinal() and parts.total}


def standing_of(plan: Plan, books: Books, today: date) -> Standing:
    return standing(of(plan, books, today), plan.account_by_id["loan"])


def stands_after(plan: Plan, terms: LoanTerms, settled: int) -> tuple[Plan, Books, date, Standing]:
    """The household after its first payments were settled as planned, seen from the day after the last of them."""
    books, today, ids = Books(), terms.disbursed, count()
    for _ in range(settled):
        # Seen from before everything, so that what is recorded counts as movements, not as what was before.
        stands = standing_of(plan, books, terms.disbursed)
        flow = plan.loan_flow("loan")
        assert flow is not None
        settled_days = books.settled.get(flow.id, {})
        open_days = sorted(day for day, parts in stands.parts.items() if parts.total and day not in settled_days)
        if stands.rest is None or not open_days:
            break
        due = date.fromordinal(open_days[0])
        changes = settle(of(plan, books, terms.disbursed), Settlement(f"e{next(ids)}", flow.id, due, day=due))
        plan = apply(plan, changes)
        for change in changes:
            assert not (isinstance(change.item, Entry) and check_entry(plan, change.item))
        books = apply_to_books(books, changes, lambda id: None, terms.disbursed)
        today = due + timedelta(days=1)
        # What is still to come is what was to come, less this one.
        assert coming(standing_of(plan, books, today), due) == coming(stands, due)
    return plan, books, today, standing_of(plan, books, today)


plain_loans = st.builds(
    LoanTerms,
    principal=st.integers(1000_00, 400_000_00),
    annual_rate=st.decimals(0, 18, places=2),
    disbursed=st.just(date(2027, 1, 15)),
    first_payment=st.just(date(2027, 2, 15)),
    payments=st.integers(2, 240),
    payments_per_year=st.sampled_from([4, 12, 24, 26]),
).filter(can_be_followed)
