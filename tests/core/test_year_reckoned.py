"""A year's bills month by month, and what is left of a stretch, against sums by hand (RULES §13)."""

from collections import defaultdict
from datetime import date, timedelta
from fractions import Fraction

from households import TODAY, Document, iso, read
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import half_up
from reviewed_households import DEBTS, OPENED, held_back, households, to_come
from seen import seen

from effort import examples
from next_penny.core.ahead.left import last_payday, left_of
from next_penny.core.ahead.stretch import stretch
from next_penny.core.ahead.year_list import year_list


@given(households(), st.sampled_from([2026, 2027, 2028]))
@settings(max_examples=examples(200))
def test_a_year_has_each_bill_in_the_month_of_its_date_whether_paid_or_to_pay(document: Document, year: int) -> None:
    plan, recorded = read(document)
    listed = year_list(seen(plan, recorded, TODAY), year)
    paid = {(entry["flow"], entry["nominal"]): entry["legs"] for entry in document["entries"] if entry["nominal"]}
    wanted, months = {}, [0] * 12
    for flow in document["flows"]:
        pays_debt = flow["kind"] == "transfer" and flow["to_account"] in DEBTS
        inside = [nominal for nominal in flow["dates"] if nominal.startswith(f"{year}-")]
        if not inside or not (flow["kind"] == "bill" or pays_debt):
            continue
        by_month: dict[int, list[tuple[str, int]]] = defaultdict(list)
        for nominal in inside:
            legs = paid.get((flow["id"], nominal))
            amount = abs(legs[0]["amount"]) if legs else flow["amount"]
            stands = "settled" if legs else "past_due" if nominal < iso(TODAY) else "expected"
            by_month[int(nominal[5:7]) - 1].append((stands, amount))
            months[int(nominal[5:7]) - 1] += amount
        wanted[flow["id"]] = (int(inside[0][8:]), [mark_of(by_month[at]) for at in range(12)])
    assert {row.id: (row.due_day, [(mark.stands, mark.amount) for mark in row.months]) for row in listed.rows
            if row.id in wanted} == wanted  # fmt: skip
    others = [row for row in listed.rows if row.id not in wanted]
    assert [a + b for a, b in zip(months, (sum(row.months[at].amount for row in others) for at in range(12)),
                                  strict=True)] == listed.months  # fmt: skip
    assert listed.rows == sorted(listed.rows, key=lambda row: (row.due_day, row.name.lower(), row.id))
    for row in listed.rows:
        busy = sum(mark.stands != "none" for mark in row.months)
        assert row.monthly == half_up(Fraction(row.total, busy))
    debts = {flow["to_account"] for flow in document["flows"] if flow["id"] in wanted and flow["kind"] == "transfer"}
    moved = [leg for entry in document["entries"] if entry["date"] <= iso(TODAY) for leg in entry["legs"]]
    owed = {id: max(0, -sum(leg["amount"] for leg in moved if leg.get("account") == id)) for id in debts}
    assert listed.owed == sum(owed.values())


def mark_of(occurrences: list[tuple[str, int]]) -> tuple[str, int]:
    """How a month stands: late before anything else, a part where some of it is paid."""
    stands = {stands for stands, _ in occurrences}
    name = next((name for name in ("past_due", "expected", "settled") if name in stands), "none")
    if name == "expected" and "settled" in stands:
        name = "part"
    return name, sum(amount for _, amount in occurrences)


@given(households(), st.integers(0, 130), st.integers(1, 70), st.sampled_from([["a"], ["a", "s"], ["s"], ["v", "a"]]))
@settings(max_examples=examples(300))
def test_what_is_left_is_what_comes_less_what_goes_beside_savings(
    document: Document, after: int, length: int, ids: list[str]
) -> None:
    plan, recorded = read(document)
    first = OPENED + timedelta(days=after)
    last = first + timedelta(days=length - 1)
    over = stretch(seen(plan, recorded, TODAY), [plan.account_by_id[id] for id in ids], first, last, recorded)
    at_hand = [id for id in ids if id != "s"] or ids
    inside = [entry["legs"] for entry in document["entries"] if iso(first) <= entry["date"] <= iso(last)]
    inside += [legs for _, legs, _ in to_come(document, max(first, TODAY), last)]
    nets = []
    for legs in inside:
        here = [(leg["account"], leg["amount"]) for leg in legs if leg.get("account") in ids]
        own = [amount for account, amount in here if account in at_hand]
        nets.append(sum(own) if own else sum(amount for _, amount in here))
    held = held_back(document, first, last) if "a" in ids else 0
    left = left_of(over)
    assert left.income == sum(net for net in nets if net > 0)
    assert left.out == held - sum(net for net in nets if net < 0)
    assert left.left == left.income - left.out
    pays = {flow["id"]: flow for flow in document["flows"] if flow["kind"] == "income"}
    came = [
        (entry["date"], sum(leg["amount"] for leg in entry["legs"] if leg.get("account") in ids))
        for entry in document["entries"]
        if entry["flow"] in pays and iso(first) <= entry["date"] <= iso(last)
    ]
    came += [(iso(day), sum(leg["amount"] for leg in legs if leg.get("account") in ids))
             for day, legs, what in to_come(document, first, min(last, TODAY)) if what == "income"]  # fmt: skip
    most = max((amount for day, amount in came if day <= iso(TODAY)), default=0)
    days = [day for day, amount in came if day <= iso(TODAY) and 0 < most <= 2 * amount]
    payday = last_payday(over)
    assert (date.fromordinal(payday).isoformat() if payday is not None else None) == max(days, default=None)


def test_what_was_paid_on_a_card_stays_in_the_year_when_it_is_paid_by_hand_from_then_on() -> None:
    card = {"limit": 1_000_00, "closing_day": 5, "due": {"day": 25}, "from_account": None}
    kinds = {"a": "checking", "v": "credit_card"}
    document = {
        "format": "next-penny-plan", "version": 1, "currency": "USD",
        "accounts": [{"id": id, "name": id, "kind": kind, "opening": {"date": iso(OPENED), "balance": 0},
                      **({"card": card} if id == "v" else {})} for id, kind in kinds.items()],
        "entries": [{"id": "e", "date": "2027-02-25", "payee": "V", "flow": "v-payment", "nominal": "2027-02-25",
                     "legs": [{"account": "a", "amount": -50_00}, {"account": "v", "amount": 50_00}]}],
    }  # fmt: skip
    plan, recorded = read(document)
    (row,) = year_list(seen(plan, recorded, TODAY), 2027).rows
    assert (row.currency, row.total, row.months[1].stands) == ("USD", 50_00, "settled")


def test_a_bill_stands_in_the_month_of_its_date_wherever_it_lands() -> None:
    document = {
        "format": "next-penny-plan", "version": 1, "currency": "USD",
        "accounts": [{"id": "a", "name": "A", "kind": "checking", "opening": {"date": iso(OPENED), "balance": 0}}],
        # 31 December 2028 is a Sunday; of 2027 it is a Friday, put off by three weeks.
        "flows": [{"id": "f", "name": "F", "kind": "bill", "amount": 70_00, "from_account": "a", "roll": "after",
                   "dates": ["2027-12-31", "2028-12-31"],
                   "changes": [{"nominal": "2027-12-31", "moved_to": "2028-01-21"}]}],
    }  # fmt: skip
    plan, _ = read(document)
    for year in (2027, 2028):
        (row,) = year_list(seen(plan, (), TODAY), year).rows
        assert [(mark.stands, mark.amount) for mark in row.months] == [("none", 0)] * 11 + [("expected", 70_00)]
        assert row.due_day == 31


def test_an_income_of_today_is_the_last_payday_and_half_of_the_largest_is_enough() -> None:
    def payday_with(today_paid: int, before: int) -> int | None:
        flows = [
            {
                "id": "f",
                "name": "F",
                "kind": "income",
                "amount": 1,
                "to_account": "a",
                "dates": ["2027-02-10", iso(TODAY)],
            }
        ]
        entries = [
            {"id": day, "date": day, "payee": "F", "flow": "f", "nominal": day,
             "legs": [{"account": "a", "amount": amount}, {"category": "pay", "amount": -amount}]}
            for day, amount in (("2027-02-10", before), (iso(TODAY), today_paid))
        ]  # fmt: skip
        document = {
            "format": "next-penny-plan", "version": 1, "currency": "USD", "flows": flows, "entries": entries,
            "accounts": [{"id": "a", "name": "A", "kind": "checking", "opening": {"date": iso(OPENED), "balance": 0}}],
            "categories": [{"id": "pay", "name": "Pay", "kind": "income"}],
        }  # fmt: skip
        plan, recorded = read(document)
        over = stretch(seen(plan, recorded, TODAY), list(plan.accounts), date(2027, 2, 1), date(2027, 3, 31), recorded)
        return last_payday(over)

    assert payday_with(50_00, 100_00) == TODAY.toordinal()
    assert payday_with(49_99, 100_00) == date(2027, 2, 10).toordinal()
    # The largest is today's: what came before is less than half of it.
    assert payday_with(100_00, 49_99) == TODAY.toordinal()
