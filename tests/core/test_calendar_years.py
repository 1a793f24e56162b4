"""A calendar year for the tax return: loans and properties as paid, and what is tagged, against sums by hand."""

from collections import defaultdict
from datetime import date
from fractions import Fraction

from households import Document, iso, read
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import half_up
from seen import seen

from effort import examples
from next_penny.core.mortgage.loan_years import loan_years, net_of, properties, property_lines, sums_by_year, sums_of
from next_penny.core.review.tagged import tag_sums

TODAY, OPENED = date(2027, 6, 15), date(2026, 1, 1)
# What a euro is in dollars, by the day from which it is.
RATES = {"2026-01-01": "1.25", "2026-10-01": "1.2"}
ACCOUNTS = {"bank": "USD", "euro": "EUR", "escrow": "USD", "house": "USD", "loan": "USD"}
PURPOSES = {"tax": "tax", "insurance": "insurance", "upkeep": "upkeep", "let": "rent", "fence": "other"}
days = st.integers(0, 700).map(lambda number: date.fromordinal(OPENED.toordinal() + number))


def spent(account: str, amount: int, category: str = "home") -> list[Document]:
    return [{"account": account, "amount": -amount}, {"category": category, "amount": amount}]


@st.composite
def entries(draw: st.DrawFn, number: int) -> Document:
    what = draw(st.sampled_from(["flow", "tagged", "escrow", "payment", "nothing"]))
    amount, account = draw(st.integers(1, 2_000_00)), draw(st.sampled_from(["bank", "euro"]))
    entry = {"id": f"e{number}", "date": iso(draw(days)), "payee": "Somebody", "flow": None, "nominal": None}
    tags = [draw(st.sampled_from(["House", "house", "tax", "Tax"])) for _ in range(draw(st.integers(0, 2)))]
    if what == "flow":
        flow = draw(st.sampled_from(sorted(PURPOSES)))
        sign = -1 if flow == "let" else 1
        return {**entry, "flow": flow, "nominal": entry["date"], "legs": spent(account, sign * amount)}
    if what == "payment":
        interest = draw(st.integers(0, amount))
        legs = [{"account": "bank", "amount": -amount}, {"account": "loan", "amount": amount - interest},
                {"category": "interest", "amount": interest}]  # fmt: skip
        return {**entry, "flow": "mortgage", "nominal": entry["date"], "legs": legs}
    if what == "tagged":
        return {**entry, "legs": spent(account, draw(st.sampled_from([1, -1])) * amount), "tags": tags}
    return {**entry, "legs": spent("escrow" if what == "escrow" else account, amount)}


@st.composite
def households(draw: st.DrawFn) -> Document:
    recorded = [draw(entries(number)) for number in range(draw(st.integers(0, 9)))]
    once = {(entry["flow"], entry["nominal"]): entry for entry in recorded if entry["flow"]}
    loan = {"principal": 100_000_00, "annual_rate": "6", "payments": 360, "disbursed": iso(OPENED),
            "first_payment": "2026-02-01", "from_account": "bank", "escrow_account": "escrow", "property": "house",
            "escrow": [{"from": iso(OPENED), "amount": 200_00}],
            "years_before": [{"year": 2025, "interest": 41_50, "property_tax": 0}]}  # fmt: skip
    kinds = {"house": "asset", "loan": "loan", "escrow": "escrow"}
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "country": None,
        "accounts": [
            {"id": id, "name": id.title(), "kind": kinds.get(id, "checking"), "currency": currency,
             "opening": {"date": iso(OPENED), "balance": -100_000_00 if id == "loan" else 0},
             **({"loan": loan} if id == "loan" else {})}
            for id, currency in ACCOUNTS.items()
        ],
        "categories": [{"id": id, "name": id, "kind": "expense"} for id in ("home", "interest")],
        "flows": [
            {"id": "mortgage", "name": "Mortgage", "kind": "loan_payment", "amount": 0, "from_account": "bank",
             "to_account": "loan", "category": "interest", "payee": "Lender"},
            *({"id": id, "name": id, "kind": "income" if id == "let" else "bill", "amount": 1, "category": None,
               ("to_account" if id == "let" else "from_account"): "bank", "dates": [], "property": "house",
               "purpose": None if id in ("let", "fence") else id}
              for id in PURPOSES),
        ],
        "entries": [entry for entry in recorded if entry["flow"] is None] + list(once.values()),
        "rates": [{"date": day, "from": "EUR", "to": "USD", "rate": rate} for day, rate in RATES.items()],
    }  # fmt: skip


def at_home(account: str, amount: int, day: str) -> int:
    rate = [rate for since, rate in RATES.items() if since <= day][-1] if ACCOUNTS[account] == "EUR" else 1
    return half_up(amount * Fraction(rate))


def cost_of(entry: Document) -> int:
    account = entry["legs"][0]["account"]
    return sum(at_home(account, leg["amount"], entry["date"]) for leg in entry["legs"] if "category" in leg)


@given(households())
@settings(max_examples=examples(200))
def test_a_propertys_year_is_what_its_flows_its_escrow_its_loans_and_its_tags_cost(document: Document) -> None:
    plan, recorded = read(document)
    wanted: defaultdict[int, defaultdict[str, int]] = defaultdict(lambda: defaultdict(int))
    interest: defaultdict[int, int] = defaultdict(int)
    for entry in document["entries"]:
        year, cost = int(entry["date"][:4]), cost_of(entry)
        is_tagged = any(tag.lower() == "house" for tag in entry.get("tags", []))
        if entry["flow"] == "mortgage":
            wanted[year]["interest"] += cost
            interest[year] += cost
        elif entry["flow"] is not None:
            wanted[year][PURPOSES[entry["flow"]]] += -cost if entry["flow"] == "let" else cost
        elif is_tagged or entry["legs"][0]["account"] == "escrow":
            wanted[year]["rent" if cost < 0 else "other"] += abs(cost)
    (house,) = properties(plan)
    lines = list(property_lines(plan, house, recorded))
    by_year = {year: {item: amount for item, amount in sums.items() if amount}
               for year, sums in sums_by_year(lines).items()}  # fmt: skip
    assert {year: sums for year, sums in by_year.items() if sums} == {
        year: kept
        for year, sums in wanted.items()
        if (kept := {item: amount for item, amount in sums.items() if amount})
    }
    assert net_of(sums_of(lines)) == sum(line.amount if line.item == "rent" else -line.amount for line in lines)
    # A loan's year has the same interest, with what was paid before the household began here.
    for year in (2025, 2026, 2027):
        told = [one.parts.interest for one in loan_years(seen(plan, recorded, TODAY), recorded, year)]
        assert sum(told) == interest[year] + (41_50 if year == 2025 else 0)


@given(households())
@settings(max_examples=examples(200))
def test_what_is_tagged_counts_once_in_each_tag_whatever_its_capitals(document: Document) -> None:
    plan, recorded = read(document)
    wanted: defaultdict[str, list[tuple[str, int]]] = defaultdict(list)
    for entry in sorted(document["entries"], key=lambda each: (each["date"], each["id"])):
        for tag in {tag.lower() for tag in entry.get("tags", [])}:
            wanted[tag].append((entry["id"], cost_of(entry)))
    told = tag_sums(plan, recorded)
    assert {one.tag.lower(): [(line.entry.id, line.at_home) for line in one.entries] for one in told} == wanted
    assert [one.tag.lower() for one in told] == sorted(wanted)
    assert [one.total for one in told] == [sum(amount for _, amount in wanted[one.tag.lower()]) for one in told]
