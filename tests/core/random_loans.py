"""Random loans for property tests."""

from datetime import date, timedelta

from hypothesis import strategies as st

from next_penny.core.plan.terms.loans import PAYMENTS_PER_YEAR, Extra, Fee, LoanTerms, RateChange

rates = st.decimals(0, 24, places=3)
days = st.integers(0, 4000).map(lambda number: date(2024, 1, 1) + timedelta(days=number))


@st.composite
def extras(draw: st.DrawFn, disbursed: date) -> Extra:
    amount, start = draw(st.integers(0, 20_000_00)), draw(st.none() | days)
    shape = draw(st.sampled_from(["date", "every", "yearly"]))
    if shape == "date":
        return Extra(amount, date=disbursed + timedelta(days=draw(st.integers(0, 3000))))
    until = draw(st.none() | st.just((start or disbursed) + timedelta(days=2000)))
    if shape == "every":
        return Extra(amount // 20, every=draw(st.integers(1, 13)), start=start, until=until)
    return Extra(amount, yearly_in=draw(st.integers(1, 12)), start=start, until=until)


@st.composite
def loans(draw: st.DrawFn, least: int = 1, longest: int = 520) -> LoanTerms:
    """Loans of at least so many minor units and at most so many payments."""
    per_year = draw(st.sampled_from(PAYMENTS_PER_YEAR))
    disbursed = draw(days)
    count = draw(st.integers(1, min(40 * per_year, longest)))
    principal = draw(st.integers(least, 900_000_00))
    shaped = draw(st.booleans())
    balloon = draw(st.integers(0, principal)) if shaped and draw(st.booleans()) else 0
    changes = st.lists(st.builds(RateChange, days, rates), max_size=3, unique_by=lambda change: change.start)
    return LoanTerms(
        principal=principal,
        annual_rate=draw(rates),
        disbursed=disbursed,
        first_payment=disbursed + timedelta(days=draw(st.integers(0, 60))),
        payments=count,
        payments_per_year=per_year,
        interest=draw(st.sampled_from(["equal_periods", "actual_365", "actual_360", "actual_actual", "30_360"])),
        balloon=balloon,
        accelerated=per_year in (26, 52) and draw(st.booleans()),
        payment_rounding=draw(st.sampled_from(["half_up", "up"])),
        interest_only=draw(st.integers(0, count - 1)) if shaped else 0,
        negative_amortization=draw(st.booleans()),
        rate_changes=tuple(draw(changes)) if draw(st.booleans()) else (),
        after_rate_change=draw(st.sampled_from(["relevel", "keep_payment"])),
        extras=tuple(draw(st.lists(extras(disbursed), max_size=3))),
        extra_effect=draw(st.sampled_from(["shorten", "recast"])),
        fees=tuple(draw(st.lists(st.builds(Fee, st.just("Fee"), st.integers(0, 900_00), st.just(True)), max_size=1))),
    )
