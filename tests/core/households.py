"""Random households for property tests."""

from datetime import date, timedelta

from hypothesis import strategies as st

from next_penny.core.loans.terms import DatedAmount, Extra, LoanTerms
from next_penny.core.plan import (
    Account,
    Change,
    Entry,
    Flow,
    Growth,
    Hourly,
    Household,
    Leg,
    Opening,
    Plan,
    Revision,
    Split,
)

TODAY = date(2027, 3, 1)
ACCOUNTS = ("a", "b", "c")
RULES = (
    "FREQ=WEEKLY;INTERVAL=2;BYDAY=FR", "FREQ=MONTHLY;BYMONTHDAY=15,-1", "FREQ=MONTHLY;BYDAY=2TU",
    "FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=31", "FREQ=WEEKLY;BYDAY=MO,TH", "FREQ=DAILY;INTERVAL=9",
    "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29",
)  # fmt: skip

amounts = st.integers(0, 500_00)
pays = st.builds(Hourly, st.integers(0, 40_00), st.decimals(1, 100, places=1), st.decimals(0, 60, places=2))
near_days = st.integers(-90, 200).map(lambda days: TODAY + timedelta(days=days))
# Most accounts have a past; some are opened within it, or only later.
opening_days = st.just(TODAY - timedelta(days=90)) | near_days


@st.composite
def revisions(draw: st.DrawFn, kind: str, third: str, opened: date) -> Revision:
    moved = draw(st.booleans())
    return Revision(
        start=max(draw(near_days), opened),
        amount=draw(st.none() | amounts),
        from_account=third if moved and kind != "income" else None,
        to_account=third if moved and kind == "income" else None,
        hourly=draw(st.none() | pays) if kind == "income" else None,
    )


@st.composite
def flows(draw: st.DrawFn, place: int, opened: date) -> Flow:
    kind = draw(st.sampled_from(["income", "bill", "transfer"]))
    first, second, third = draw(st.permutations(ACCOUNTS))
    amount = draw(amounts)
    days = draw(st.lists(near_days, max_size=3, unique=True))
    apart = draw(st.integers(0, amount))
    follows = draw(st.integers(0, 3))
    return Flow(
        id=f"f{place}",
        name=draw(st.sampled_from(["Rent", "Pay", "Power"])),
        kind=kind,  # type: ignore[arg-type]
        amount=amount,
        from_account=None if kind == "income" else first,
        to_account=None if kind == "bill" else second,
        rules=tuple(draw(st.lists(st.sampled_from(RULES), min_size=1, max_size=2, unique=True))),
        dates=tuple(days),
        start=draw(near_days),
        roll=draw(st.sampled_from(["none", "before", "after", "nearest"])),
        count=draw(st.none() | st.integers(1, 20)),
        seasonal=draw(st.just(()) | st.just(((3, amount // 2), (6, amount)))),
        growth=draw(st.none() | st.builds(Growth, st.decimals(-5, 20, places=2), near_days)),
        revisions=tuple(draw(st.lists(revisions(kind, third, opened), max_size=1))),
        changes=tuple(
            Change(day, draw(st.none() | amounts), draw(st.none() | near_days), draw(st.booleans())) for day in days[:2]
        ),
        splits=(Split(apart, account=third),) if draw(st.booleans()) else (),
        estimate=follows > 0,
        follows=follows,
        hourly=draw(st.none() | pays) if kind == "income" else None,
    )


@st.composite
def entries(draw: st.DrawFn, place: int, flow_count: int) -> Entry:
    amount = draw(amounts)
    account, other = draw(st.permutations(ACCOUNTS))[:2]
    settles = draw(st.booleans()) and flow_count > 0
    return Entry(
        id=f"e{place}",
        date=draw(near_days),
        payee="Somebody",
        legs=(Leg(-amount, account=account), Leg(amount, account=other)),
        flow=f"f{draw(st.integers(0, flow_count - 1))}" if settles else None,
        nominal=draw(near_days) if settles else None,
    )


@st.composite
def loan_accounts(draw: st.DrawFn, opened: date) -> Account:
    """A loan paid from account a, from disbursement or joined some payments later."""
    disbursed = max(draw(near_days), opened)
    terms = LoanTerms(
        principal=draw(st.integers(1, 90_000_00)),
        annual_rate=draw(st.decimals(0, 12, places=2)),
        disbursed=disbursed,
        first_payment=disbursed + timedelta(days=draw(st.integers(0, 31))),
        payments=draw(st.integers(1, 60)),
        payments_per_year=draw(st.sampled_from([12, 24, 26])),
        extras=tuple(draw(st.lists(st.builds(Extra, st.integers(0, 900_00), every=st.integers(1, 3)), max_size=1))),
        escrow=(DatedAmount(disbursed, draw(amounts)),) if draw(st.booleans()) else (),
        from_account="a",
        escrow_account=draw(st.sampled_from([None, "b"])),
    )
    return Account("loan", "Loan", "loan", "USD", Opening(disbursed, -terms.principal), loan=terms)


@st.composite
def households(draw: st.DrawFn) -> tuple[Plan, tuple[Entry, ...]]:
    flow_count = draw(st.integers(0, 5))
    openings = draw(st.just([TODAY - timedelta(days=90)] * 3) | st.lists(opening_days, min_size=3, max_size=3))
    plan = Plan(
        household=Household(
            country=draw(st.sampled_from([None, "US"])), past_due=draw(st.sampled_from(["carry", "ignore"]))
        ),
        accounts=tuple(
            Account(id, id, "checking", "USD", Opening(opened, draw(amounts)), floor, floor + draw(amounts))
            for id, opened in zip(ACCOUNTS, openings, strict=True)
            for floor in [draw(st.integers(-100_00, 100_00))]
        )
        + tuple(draw(st.lists(loan_accounts(max(openings)), max_size=1))),
        flows=tuple(draw(flows(place, max(openings))) for place in range(flow_count)),
    )
    recorded = tuple(draw(entries(place, flow_count)) for place in range(draw(st.integers(0, 6))))
    opened = dict(zip(ACCOUNTS, openings, strict=True))
    return plan, tuple(
        entry for entry in recorded if all(entry.date >= opened[leg.account or ""] for leg in entry.legs)
    )
