"""Random households in which everything that depends on a balance occurs at once."""

from calendar import monthrange
from datetime import date, timedelta

from households import TODAY, Document, amounts, documents, iso, near_days, past_days
from hypothesis import strategies as st
from ledger import RULES

limits = st.integers(0, 2_000_00)
rates = st.lists(
    st.fixed_dictionaries({"from": near_days.map(iso), "annual_rate": st.sampled_from(["0", "9.9", "24.99"])}),
    max_size=2, unique_by=lambda step: step["from"],
)  # fmt: skip
dues = st.fixed_dictionaries({"day": st.sampled_from([1, 5, 28, 31])}) | st.fixed_dictionaries(
    {"days_after": st.integers(1, 28)}
)


def closing(number: int, day: int) -> str:
    """The closing day of the month that lies so many months after that of today."""
    month = (TODAY.replace(day=1) + timedelta(days=31 * number)).replace(day=1)
    following = (month + timedelta(days=31)).replace(day=1)
    return iso(min(month.replace(day=1) + timedelta(days=day - 1), following - timedelta(days=1)))


@st.composite
def cards(draw: st.DrawFn, is_line: bool) -> Document:
    day, pays = draw(st.sampled_from([1, 15, 28, 31])), draw(st.sampled_from(["statement", "minimum", "fixed"]))
    changes = []
    for number in draw(st.lists(st.integers(-1, 3), max_size=2, unique=True)):
        closes = closing(number, day)
        later = iso(TODAY.fromisoformat(closes) + timedelta(days=draw(st.integers(1, 45))))
        changes.append({
            "closing": closes, "amount": draw(st.none() | amounts), "moved_to": draw(st.none() | st.just(later)),
            "left_out": draw(st.integers(0, 3)) == 0, "interest": draw(st.none() | st.integers(0, 30_00)),
        })  # fmt: skip
    return {
        "limit": draw(limits), "closing_day": day, "due": draw(dues), "rates": draw(rates),
        "minimum": {"percent": draw(st.sampled_from(["0", "2", "3.5"])), "plus_interest": draw(st.booleans()),
                    "floor": draw(st.sampled_from([0, 25_00]))},
        "pays": pays, "fixed_amount": draw(amounts) if pays == "fixed" else None,
        "from_account": draw(st.sampled_from(["a", "a", "b", None])), "is_line": is_line,
        "covers": "a" if is_line and draw(st.booleans()) else None, "changes": changes,
    }  # fmt: skip


@st.composite
def begun_before(draw: st.DrawFn, day: int, opened: date) -> Document:
    """The statement that closed last before a card was begun, due after that and by the next closing."""

    def closes(when: date) -> bool:
        return when.day == min(day, monthrange(when.year, when.month)[1])

    last = next(when for days in range(1, 40) if closes(when := opened - timedelta(days)))
    following = next(when for days in range(1, 40) if closes(when := last + timedelta(days)))
    dues = st.dates(max(opened, last + timedelta(1)), following)
    return {"closing": iso(last), "balance": draw(st.integers(0, 900_00)), "due": iso(draw(dues))}


@st.composite
def savings(draw: st.DrawFn) -> Document:
    value, is_yield = draw(st.sampled_from(["0.5", "4.25", "12"])), draw(st.booleans())
    change = {
        "month": f"{TODAY:%Y-%m}", "amount": draw(st.none() | st.integers(0, 20_00)),
        "moved_to": draw(st.none() | st.integers(30, 50).map(lambda days: iso(TODAY + timedelta(days=days)))),
        "left_out": draw(st.booleans()),
    }  # fmt: skip
    return {
        "apy": value if is_yield else None, "rate": None if is_yield else value,
        "basis": draw(st.sampled_from(["365", "actual", "360"])),
        "compounding": draw(st.sampled_from(["daily", "none"])),
        "movements_earn": draw(st.sampled_from(["same_day", "next_day"])),
        "rounding": draw(st.sampled_from(["at_credit", "daily"])),
        "changes": [change] if draw(st.booleans()) else [],
    }  # fmt: skip


sweeps = st.fixed_dictionaries({
    "with": st.just("b"), "least": st.integers(-50_00, 200_00), "most": st.none() | st.just(400_00),
    "rules": st.sampled_from(sorted(RULES)).map(lambda rule: [rule]), "start": st.none() | near_days.map(iso),
})  # fmt: skip


@st.composite
def acting_documents(draw: st.DrawFn) -> Document:
    """A random household with a card, a line, savings and a sweep, bills on the card, and some of it settled."""
    document = draw(documents())
    for account in document["accounts"]:
        account |= {"savings": None, "sweep": None, "card": None}
    checking, saved = document["accounts"][0], document["accounts"][1]
    saved |= {"kind": "savings", "savings": draw(savings())}
    checking["sweep"] = draw(st.none() | sweeps)
    opened = draw(st.just(TODAY - timedelta(days=90)) | near_days)
    for id, kind in (("v", "credit_card"), ("l", "credit_line")):
        balance = -draw(st.integers(-20_00, 900_00))
        card = draw(cards(kind == "credit_line"))
        if draw(st.booleans()):
            card["begun_with"] = draw(begun_before(card["closing_day"], opened))
        document["accounts"].append({
            "id": id, "name": id, "kind": kind, "currency": "USD", "opening": {"date": iso(opened), "balance": balance},
            "card": card, "savings": None, "sweep": None,
        })  # fmt: skip
    for flow in document["flows"]:
        if flow["kind"] == "bill" and not flow["revisions"] and flow["from_account"] in ("a", "b"):
            flow["from_account"] = draw(st.sampled_from(["v", "l", flow["from_account"]]))
    for entry in draw(st.lists(recorded_on_cards(), max_size=4, unique_by=lambda each: each["id"])):
        if entry["date"] >= max(each["opening"]["date"] for each in document["accounts"]):
            document["entries"].append(entry)
    return document


@st.composite
def recorded_on_cards(draw: st.DrawFn) -> Document:
    """A payment, purchase or charge on the card; some with what they settle, on a day on which that may be due."""
    amount, kind = draw(st.integers(1, 200_00)), draw(st.sampled_from(["paid", "bought", "charged"]))
    day, card = draw(past_days | near_days), draw(st.sampled_from(["v", "l"]))
    legs = {
        "paid": [{"account": "a", "amount": -amount}, {"account": card, "amount": amount}],
        "bought": [{"account": card, "amount": -amount}, {"category": "food", "amount": amount}],
        "charged": [{"account": card, "amount": -amount}, {"category": "fun", "amount": amount}],
    }[kind]
    nominal = draw(
        st.sampled_from([iso(day), *(closing(number, 28) for number in (-1, 0, 1)), "2027-03-31", "2027-04-05"])
    )
    settles = {"paid": f"{card}-payment", "charged": f"{card}-interest", "bought": None}[kind]
    flow = settles if settles and draw(st.booleans()) else None
    return {
        "id": f"{kind}{card}{nominal}", "date": iso(day), "payee": "Card", "legs": legs, "flow": flow,
        "nominal": nominal if flow else None,
    }  # fmt: skip
