"""Households with a past of all kinds of entries, for tests of what was expected and what happened."""

from calendar import monthrange
from collections.abc import Collection, Iterator, Mapping, Sequence
from datetime import date, timedelta
from fractions import Fraction

from households import TODAY, Document, iso
from hypothesis import strategies as st
from ledger import half_up

from next_penny.core.books.moment import Moment
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.memory import Expected, Key
from next_penny.core.review.remembering import landed

OPENED = date(2026, 12, 1)
CATEGORIES = {"food": "expense", "home": "expense", "fun": "expense", "pay": "income", "gift": "income"}
KINDS = {"a": "checking", "s": "savings", "v": "credit_card", "l": "credit_line"}
DEBTS = ("v", "l")
Legs = list[Document]

days = st.integers(0, 150).map(lambda number: OPENED + timedelta(days=number))
sums = st.integers(1, 90_00)
lengths = st.integers(1, 120)
# Up to which day what was expected is written down.
written = st.none() | st.integers(-70, 1).map(lambda number: TODAY + timedelta(days=number))


@st.composite
def flows(draw: st.DrawFn, number: int) -> Document:
    kind = draw(st.sampled_from(["bill", "income", "transfer"]))
    account = draw(st.sampled_from(["a", "a", "v"])) if kind == "bill" else "a"
    ends = {"bill": {"from_account": account}, "income": {"to_account": "a"},
            "transfer": {"from_account": "a", "to_account": draw(st.sampled_from(["s", "l"]))}}[kind]  # fmt: skip
    named = {"bill": ["food", "home", None], "income": ["pay", None], "transfer": [None]}[kind]
    return {
        "id": f"f{number}", "name": f"Flow {number}", "kind": kind, "amount": draw(sums), **ends,
        "category": draw(st.sampled_from(named)),
        "dates": sorted(map(iso, draw(st.lists(days, min_size=1, max_size=4, unique=True)))),
    }  # fmt: skip


@st.composite
def entries(draw: st.DrawFn, number: int) -> Document:
    account, amount = draw(st.sampled_from(sorted(KINDS))), draw(sums)
    what = draw(st.sampled_from(["spent", "credit", "received", "moved", "parts"]))
    other = draw(st.sampled_from([id for id in KINDS if id != account]))
    if what == "moved":
        legs = [{"account": account, "amount": -amount}, {"account": other, "amount": amount}]
    elif what == "parts":
        part = draw(st.integers(0, amount))
        legs = [{"account": account, "amount": -amount}, {"category": "food", "amount": part},
                {"category": "fun", "amount": amount - part}]  # fmt: skip
    else:
        category = draw(st.sampled_from(["pay", "gift"] if what == "received" else ["food", "home", "fun"]))
        sign = -1 if what == "spent" else 1
        legs = [{"account": account, "amount": sign * amount}, {"category": category, "amount": -sign * amount}]
    return {"id": f"e{number}", "date": iso(draw(days)), "payee": draw(st.sampled_from(["Mill", "Quay", "Tarn"])),
            "legs": legs, "flow": None, "nominal": None}  # fmt: skip


@st.composite
def households(draw: st.DrawFn) -> Document:
    planned = [draw(flows(number)) for number in range(draw(st.integers(0, 4)))]
    recorded = [draw(entries(number)) for number in range(draw(st.integers(0, 8)))]
    for flow in planned:
        for nominal in flow["dates"]:
            if nominal <= iso(TODAY) and draw(st.booleans()):
                about = st.integers(88, 112).map(lambda share, amount=flow["amount"]: max(1, amount * share // 100))
                paid, day = draw(sums | about), min(date.fromisoformat(nominal) + timedelta(days=draw(st.integers(-3, 9))),
                                            TODAY)  # fmt: skip
                recorded.append(settling(flow, nominal, paid, max(day, OPENED)))
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "country": None,
        "past_due": draw(st.sampled_from(["carry", "ignore"])),
        "accounts": [{"id": id, "name": id, "kind": kind, "currency": "USD",
                      "opening": {"date": iso(OPENED), "balance": 0}} for id, kind in KINDS.items()],
        "categories": [{"id": id, "name": id.title(), "kind": kind} for id, kind in CATEGORIES.items()],
        "allowances": [{"id": "eat", "name": "Eating", "limit": draw(sums), "account": "a", "period": "month",
                        "categories": ["food"]}] if draw(st.booleans()) else [],
        "flows": planned, "entries": recorded,
    }  # fmt: skip


def settling(flow: Document, nominal: str, paid: int, day: date) -> Document:
    ends = {"from_account": -paid, "to_account": paid}
    legs = [{"account": flow[end], "amount": amount} for end, amount in ends.items() if flow.get(end)]
    if len(legs) == 1:
        legs.append({"category": flow["category"] or ("pay" if flow["kind"] == "income" else "home"),
                     "amount": -legs[0]["amount"]})  # fmt: skip
    return {"id": f"{flow['id']} {nominal}", "date": iso(day), "payee": flow["name"], "legs": legs,
            "flow": flow["id"], "nominal": nominal}  # fmt: skip


def paid_of(document: Document) -> dict[tuple[str, str], Document]:
    return {(entry["flow"], entry["nominal"]): entry for entry in document["entries"] if entry["flow"]}


class Remembers:
    """What is recorded, and what was expected, written down to a day as the plan has it; None: of nothing yet."""

    def __init__(self, recorded: Sequence[Entry], moment: Moment | None = None, until: date | None = None) -> None:
        self.recorded, self.until = recorded, until
        self.rows = list(landed(moment, OPENED, until)) if moment is not None and until is not None else []

    def dated(self, first: date, last: date) -> Sequence[Entry]:
        return [entry for entry in self.recorded if first <= entry.date <= last]

    def paid_for(
        self, first: date, last: date, of: Collection[str] | None = None
    ) -> Mapping[Key, Sequence[Entry]]:  # fmt: skip
        return {Key(entry.flow, entry.nominal): [entry] for entry in self.recorded if entry.flow and entry.nominal
                and first <= entry.nominal <= last}  # fmt: skip

    def expected_until(self) -> date | None:
        return self.until

    def expected_between(self, first: date, last: date, of: Collection[str] | None = None) -> Sequence[Expected]:
        return [row for row in self.rows if (of is None or row.source in of) and row.lands >= first
                and (row.nominal if row.is_allowance else row.lands) <= last]  # fmt: skip

    def expected_keys(self, first: date, last: date) -> frozenset[Key]:
        return frozenset(row.key for row in self.rows if first <= row.nominal <= last)


def of_limit(limit: int, first: date, last: date) -> int:
    """The share of a monthly limit that some days have, month by month, rounded as the days add up."""
    share, day = 0, max(first, OPENED)
    while day <= last:
        length = monthrange(day.year, day.month)[1]
        end = min(last, day.replace(day=length))
        share += half_up(Fraction(limit * end.day, length)) - half_up(Fraction(limit * (day.day - 1), length))
        day = end + timedelta(days=1)
    return share


def earned_or_spent(legs: Legs, kind: str, categories: list[str], otherwise: str | None) -> int:
    sum = 0
    for leg in legs:
        if "account" in leg:
            continue
        own = CATEGORIES[leg["category"]] if leg["category"] else otherwise
        if own == kind and (not categories or leg["category"] in categories):
            sum += leg["amount"]
    return -sum if kind == "income" else sum


def to_come(document: Document, first: date, last: date) -> Iterator[tuple[date, Legs, str]]:
    """What is not settled and counts from today on: its day, what it moves and what it is."""
    settled = {(entry["flow"], entry["nominal"]) for entry in document["entries"]}
    for flow in document["flows"]:
        for nominal in flow["dates"]:
            if (flow["id"], nominal) in settled or (nominal < iso(TODAY) and document["past_due"] == "ignore"):
                continue
            day = max(date.fromisoformat(nominal), TODAY)
            ends = [(flow.get("from_account"), -flow["amount"]), (flow.get("to_account"), flow["amount"])]
            legs = [{"account": account, "amount": amount} for account, amount in ends if account]
            if len(legs) == 1:
                legs.append({"category": flow["category"], "amount": -legs[0]["amount"]})
            if first <= day <= last:
                yield day, legs, "income" if flow["kind"] == "income" else "expense"


def held_back(document: Document, first: date, last: date) -> int:
    """What the allowance for food still takes at the ends of months within the rest of a period."""
    held, month = 0, TODAY.replace(day=1)
    while document["allowances"] and month <= last:
        after = (month + timedelta(days=32)).replace(day=1)
        end = after - timedelta(days=1)
        used = sum(earned_or_spent(entry["legs"], "expense", ["food"], None) for entry in document["entries"]
                   if iso(month) <= entry["date"] <= iso(end))  # fmt: skip
        used += sum(earned_or_spent(legs, "expense", ["food"], what) for _, legs, what in to_come(document, month, end))
        if max(first, TODAY) <= end <= last:
            held += max(0, document["allowances"][0]["limit"] - used)
        month = after
    return held
