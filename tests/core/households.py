"""Random households as plan documents, with a past, for tests that hold the forecast against `ledger`."""

from datetime import date, timedelta
from typing import Any

from hypothesis import strategies as st
from ledger import RULES
from seen import seen

from next_penny.core.books.moment import Moment
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan
from next_penny.formats.documents.plan import PlanDocument

TODAY = date(2027, 3, 1)
Document = dict[str, Any]
ACCOUNTS = ("a", "b", "c")
CURRENCIES = {"a": "USD", "b": "USD", "c": "JPY"}

amounts = st.integers(0, 500_00)
near_days = st.integers(-90, 200).map(lambda days: TODAY + timedelta(days=days))
past_days = st.integers(-90, 0).map(lambda days: TODAY + timedelta(days=days))
pays = st.fixed_dictionaries(
    {"rate": st.integers(0, 40_00), "share": st.sampled_from(["100", "62.5"]), "hours": st.sampled_from(["0", "37.5"])}
)


def iso(day: date) -> str:
    return day.isoformat()


@st.composite
def revisions(draw: st.DrawFn, kind: str, other: str | None, opened: date) -> Document:
    moves = other is not None and draw(st.booleans())
    side = "to_account" if kind == "income" else "from_account"
    return {
        "from": iso(max(draw(near_days), opened)),
        "amount": draw(st.none() | amounts),
        "rules": draw(st.none() | st.lists(st.sampled_from(sorted(RULES)), min_size=1, max_size=2, unique=True)),
        **({side: other} if moves else {}),
        **({"hourly": draw(pays)} if kind == "income" and draw(st.booleans()) else {}),
    }


@st.composite
def flows(draw: st.DrawFn, number: int, opened: date) -> Document:
    kind = draw(st.sampled_from(["income", "bill", "transfer"]))
    first, second, third = draw(st.permutations(ACCOUNTS))
    amount, days = draw(amounts), draw(st.lists(near_days, max_size=4, unique=True))
    main = second if kind == "income" else first
    # A revision moves a flow only between accounts of one currency.
    other = third if CURRENCIES[third] == CURRENCIES[main] and not (kind == "transfer" and third == second) else None
    start = draw(st.none() | near_days)
    ends = draw(st.sampled_from(["never", "until", "count"]))
    splits = [{"account": third, "amount": draw(st.integers(0, amount))}] if draw(st.booleans()) else []
    if draw(st.booleans()) and kind != "transfer":
        left = amount - sum(split["amount"] for split in splits)
        splits.append({"category": "food", "amount": draw(st.integers(0, left))})
    follows = draw(st.integers(0, 3))
    flow = {
        "id": f"f{number}", "name": draw(st.sampled_from(["Rent", "Pay", "Power"])), "kind": kind, "amount": amount,
        "category": draw(st.sampled_from([None, "food", "fun"])) if kind == "bill" else None,
        "from_account": None if kind == "income" else first, "to_account": None if kind == "bill" else second,
        "rules": draw(st.lists(st.sampled_from(sorted(RULES)), min_size=1, max_size=2, unique=True)),
        "dates": sorted(map(iso, days)), "except": sorted(map(iso, draw(st.lists(near_days, max_size=3, unique=True)))),
        "start": start and iso(start), "until": iso((start or TODAY) + timedelta(days=120)) if ends == "until" else None,
        "count": draw(st.integers(1, 20)) if ends == "count" else None,
        "roll": draw(st.sampled_from(["none", "before", "after", "nearest"])),
        "seasonal": draw(st.sampled_from([{}, {"3": amount // 2, "6": amount}])),
        "growth": draw(st.none() | st.fixed_dictionaries(
            {"percent": st.sampled_from(["-5", "3", "12.5"]),
             "from": st.integers(-1500, 100).map(lambda back: iso(TODAY + timedelta(days=back)))})),
        "revisions": draw(st.lists(revisions(kind, other, opened), max_size=2, unique_by=lambda each: each["from"])),
        "changes": [
            {"nominal": iso(day), "amount": draw(st.none() | amounts), "left_out": draw(st.booleans()),
             "moved_to": draw(st.none() | near_days.map(iso))}
            for day in days[:2]
        ],
        "splits": splits, "estimate": follows > 0, "always_happens": draw(st.integers(0, 4)) == 0,
    }  # fmt: skip
    return flow | ({"follows": follows} if follows else {})


@st.composite
def allowances(draw: st.DrawFn) -> Document:
    start = draw(st.none() | near_days)
    return {
        "id": "eat", "name": "Eating", "limit": draw(amounts), "account": draw(st.sampled_from(("a", "b"))),
        "period": draw(st.sampled_from(["week", "two_weeks", "month"])), "categories": ["food"],
        "week_starts": draw(st.sampled_from(["MO", "SU"])), "timing": draw(st.sampled_from(["at_end", "evenly"])),
        "carry": draw(st.sampled_from(["none", "forward"])), "from": start and iso(start),
        "until": draw(st.none() | st.just(iso((start or TODAY) + timedelta(days=70)))),
        "revisions": [{"from": iso(day), "limit": draw(amounts)}
                      for day in draw(st.lists(near_days, max_size=2, unique=True))],
    }  # fmt: skip


@st.composite
def entries(draw: st.DrawFn, number: int, flow_count: int) -> Document:
    amount, account = draw(amounts), draw(st.sampled_from(ACCOUNTS))
    other = "b" if account == "a" else "a"
    legs = [{"account": account, "amount": -amount}, {"account": other, "amount": amount}]
    if CURRENCIES[account] != "USD" or draw(st.booleans()):
        legs = [
            {"account": account, "amount": -amount},
            {"category": draw(st.sampled_from(["food", "fun"])), "amount": amount},
        ]
    settles = flow_count > 0 and draw(st.booleans())
    return {
        "id": f"e{number}", "date": iso(draw(near_days)), "payee": "Somebody", "legs": legs,
        "flow": f"f{draw(st.integers(0, flow_count - 1))}" if settles else None,
        "nominal": iso(draw(near_days)) if settles else None,
    }  # fmt: skip


@st.composite
def documents(draw: st.DrawFn) -> Document:
    opened = {id: draw(st.just(TODAY - timedelta(days=90)) | near_days) for id in ACCOUNTS}
    latest, flow_count = max(opened.values()), draw(st.integers(0, 5))
    recorded = [draw(entries(number, flow_count)) for number in range(draw(st.integers(0, 8)))]
    settled = [(each["flow"], each["nominal"]) for each in recorded]
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "country": draw(st.sampled_from([None, "US"])),
        "past_due": draw(st.sampled_from(["carry", "ignore"])),
        "accounts": [
            {"id": id, "name": id, "kind": "checking", "currency": CURRENCIES[id],
             "opening": {"date": iso(opened[id]), "balance": draw(amounts)}, "floor": floor,
             "cushion": floor + draw(amounts)}
            for id in ACCOUNTS for floor in [draw(st.integers(-100_00, 100_00))]
        ],
        "categories": [{"id": "food", "name": "Food"}, {"id": "fun", "name": "Fun"}],
        "flows": [draw(flows(number, latest)) for number in range(flow_count)],
        "allowances": [draw(allowances())] if draw(st.booleans()) else [],
        "entries": [
            each for number, each in enumerate(recorded)
            if all(each["date"] >= iso(opened[leg["account"]]) for leg in each["legs"] if "account" in leg)
            and (each["flow"] is None or settled.index(settled[number]) == number)
        ],
        "rates": [{"date": "2027-02-01", "from": "USD", "to": "JPY", "rate": "150.5"},
                  {"date": iso(draw(near_days)), "from": "JPY", "to": "USD", "rate": "0.007"}],
    }  # fmt: skip


def read(document: Document) -> tuple[Plan, tuple[Entry, ...]]:
    held = PlanDocument.model_validate(document)
    return held.to_core(), held.core_entries()


def moment_from(document: Document) -> Moment:
    plan, recorded = read(document)
    return seen(plan, recorded, TODAY)
