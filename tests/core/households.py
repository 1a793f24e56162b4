"""Random households for property tests."""

from datetime import date, timedelta

from hypothesis import strategies as st

from next_penny.core.plan import Account, Change, Entry, Flow, Growth, Household, Leg, Opening, Plan, Revision, Split

TODAY = date(2027, 3, 1)
ACCOUNTS = ("a", "b", "c")
RULES = (
    "FREQ=WEEKLY;INTERVAL=2;BYDAY=FR", "FREQ=MONTHLY;BYMONTHDAY=15,-1", "FREQ=MONTHLY;BYDAY=2TU",
    "FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=31", "FREQ=WEEKLY;BYDAY=MO,TH", "FREQ=DAILY;INTERVAL=9",
    "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29",
)  # fmt: skip

amounts = st.integers(0, 500_00)
near_days = st.integers(-90, 200).map(lambda days: TODAY + timedelta(days=days))


@st.composite
def flows(draw: st.DrawFn, place: int) -> Flow:
    kind = draw(st.sampled_from(["income", "bill", "transfer"]))
    first, second, third = draw(st.permutations(ACCOUNTS))
    amount = draw(amounts)
    days = draw(st.lists(near_days, max_size=3, unique=True))
    apart = draw(st.integers(0, amount))
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
        revisions=tuple(draw(st.lists(st.builds(Revision, near_days, st.none() | amounts), max_size=1))),
        changes=tuple(
            Change(day, draw(st.none() | amounts), draw(st.none() | near_days), draw(st.booleans())) for day in days[:2]
        ),
        splits=(Split(apart, account=third),) if draw(st.booleans()) else (),
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
def households(draw: st.DrawFn) -> tuple[Plan, tuple[Entry, ...]]:
    flow_count = draw(st.integers(0, 5))
    plan = Plan(
        household=Household(
            country=draw(st.sampled_from([None, "US"])), past_due=draw(st.sampled_from(["carry", "ignore"]))
        ),
        accounts=tuple(
            Account(id, id, "checking", "USD", Opening(draw(near_days), draw(amounts)), floor, floor + draw(amounts))
            for id in ACCOUNTS
            for floor in [draw(st.integers(-100_00, 100_00))]
        ),
        flows=tuple(draw(flows(place)) for place in range(flow_count)),
    )
    recorded = tuple(draw(entries(place, flow_count)) for place in range(draw(st.integers(0, 6))))
    opened = max(account.opening.date for account in plan.accounts)
    return plan, tuple(entry for entry in recorded if entry.date >= opened)
