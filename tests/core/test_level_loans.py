"""A loan of which nothing changes any more is, month by month, what its walk is, whatever is paid beyond it."""

from dataclasses import replace
from datetime import date

import hypothesis.strategies as st
from hypothesis import given, settings
from random_loans import loans

from effort import examples
from next_penny.core.dates.calendar import month_number
from next_penny.core.loans.extras import History
from next_penny.core.loans.schedule import as_scheduled
from next_penny.core.loans.walked import Resume
from next_penny.core.payoff.debts import LevelMonths, LoanDebt, LoanMonths
from next_penny.core.plan.terms.loans import LoanTerms


@settings(max_examples=examples(150), deadline=None)
@given(loans(least=3, longest=120), st.integers(0, 40), st.lists(st.integers(0, 90_000), min_size=6, max_size=6))
def test_a_level_loan_is_its_walk(drawn: LoanTerms, passed: int, beyond: list[int]) -> None:
    terms = replace(
        drawn, payments_per_year=12, interest="equal_periods", extra_effect="shorten", extras=(), rate_changes=(),
        payment_changes=(), interest_only=0, accelerated=False, negative_amortization=False,
    )  # fmt: skip
    told = as_scheduled(terms)
    passed = min(passed, len(told) - 1)
    balance = told.balance[passed - 1] if passed else told.opening
    since = told.due[passed - 1] if passed else told.since
    resume = Resume(passed, balance, since, told.levels[passed])
    debt = LoanDebt("loan", "Loan", balance, terms, resume, History())
    level, walked = debt.begun(), LoanMonths(debt)
    assert isinstance(level, LevelMonths) or balance == 0 or told.interest[passed] + 1 >= told.levels[passed]
    month = month_number(date.fromordinal(since))
    for number in range(400):
        if level.balance <= 0:
            break
        level.begin(month + number)
        walked.begin(month + number)
        extra = min(level.balance, beyond[number % 6]) if level.takes_extra else 0
        level.pay(extra)
        walked.pay(extra)
        for name in ("balance", "minimum", "unneeded", "takes_extra", "numbers"):
            assert getattr(level, name) == getattr(walked, name), name
        if level.minimum:
            assert (level.freed, level.falling_rate) == (walked.freed, walked.falling_rate)
    assert level.balance == walked.balance
