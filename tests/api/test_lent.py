"""Money lent: what is owed, late and still to come, against a count by hand from RULES, §17."""

from datetime import date, timedelta
from fractions import Fraction
from typing import Any

from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from answers import Json, done, plan_alone, refused
from effort import examples
from next_penny.api.app import create_app
from stores import new_store

TODAY, OPENED = date(2027, 3, 1), date(2026, 9, 10)
_CLIENT = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")


def household(lent: Json | None, balance: int, entries: Any = ()) -> Json:
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "entries": list(entries),
        "accounts": [
            {"id": "a", "name": "A", "kind": "checking", "opening": {"date": "2026-09-10", "balance": 0}},
            {"id": "tin", "name": "Tin", "kind": "cash", "opening": {"date": "2026-09-10", "balance": 0}},
            {"id": "l", "name": "Lent", "kind": "owed_to_us", "opening": {"date": "2026-09-10", "balance": balance},
             "lent": lent},
        ],
    }  # fmt: skip


def is_coming(event: Json) -> bool:
    """Whether an event is expected on the account into which it comes back."""
    return bool(event["account"] == "a" and event["status"] != "settled")


def rounded(amount: Fraction) -> int:
    return int(amount + Fraction(1, 2))


class ByHand:
    """Money lent counted day by day: interest on the balance of the evening before, taken first."""

    def __init__(self, balance: int, rate: str) -> None:
        self.balance, self.accrued, self.rate = balance, Fraction(0), Fraction(rate)
        self.day, self.received = OPENED, 0

    def until(self, day: date) -> None:
        while self.day < day:
            self.day += timedelta(days=1)
            self.accrued += max(0, self.balance) * self.rate / 36500

    def receive(self, amount: int, *, all_of_it: bool = False) -> tuple[int, int]:
        """What of an amount is interest and principal; more than both only where the rest is owed back."""
        interest = min(amount, rounded(self.accrued))
        principal = amount - interest if all_of_it else min(amount - interest, max(0, self.balance))
        self.accrued = Fraction(0) if interest == rounded(self.accrued) else self.accrued - interest
        self.balance -= principal
        self.received += interest + principal
        return interest, principal


def due_days(day_of_month: int, start: date, until: date) -> list[date]:
    months = [(2026 + number // 12, number % 12 + 1) for number in range(48)]
    return [day for year, month in months if start <= (day := date(year, month, day_of_month)) <= until]


@settings(max_examples=examples(60), deadline=None)
@given(
    st.integers(1, 90_000), st.sampled_from(["0", "3", "6.5", "24"]), st.integers(1, 40_000), st.integers(1, 28),
    st.lists(st.tuples(st.integers(0, 172), st.integers(1, 30_000), st.booleans()), max_size=6),
    st.integers(-20, 200), st.sampled_from(["carry", "ignore"]),
)  # fmt: skip
def test_what_is_owed_late_and_to_come_is_as_counted_by_hand(
    balance: int,
    rate: str,
    amount: int,
    day_of_month: int,
    receipts: list[tuple[int, int, bool]],
    starts: int,
    late: str,
) -> None:
    start = OPENED + timedelta(days=starts)
    lent = {"to": "Bo", "into_account": "a", "annual_rate": rate,
            "repays": {"amount": amount, "rules": [f"FREQ=MONTHLY;BYMONTHDAY={day_of_month}"], "start": start.isoformat()}}  # fmt: skip
    done(_CLIENT.put("/api/plan", json={**household(lent, balance), "past_due": late}))
    hand, earned = ByHand(balance, rate), 0
    for days, came, is_cash in sorted(receipts):
        day = OPENED + timedelta(days=days)
        hand.until(day)
        over = came > rounded(hand.accrued) + max(0, hand.balance)
        body = {"date": day.isoformat(), "amount": came, "account": "tin" if is_cash else None}
        answer = _CLIENT.post("/api/lent/l/receive", json=body)
        if over:
            assert "a gift, or owed back?" in refused(answer)[1]
            answer = _CLIENT.post("/api/lent/l/receive", json={**body, "rest": "owed_back"})
        interest, principal = hand.receive(came, all_of_it=over)
        earned += interest
        legs = [{"account": "tin" if is_cash else "a", "amount": came}, {"account": "l", "amount": -principal}]
        legs += [{"category": "lent-interest", "amount": -interest}] if interest else []
        assert done(answer)["legs"] == legs
    hand.until(TODAY)
    row = done(_CLIENT.get("/api/lent"))[0]
    told = (row["owed"], row["accrued"], row["lent"] - row["repaid"], row["interest_earned"])
    assert told == (hand.balance, rounded(hand.accrued), hand.balance, earned)
    # What is due by today is covered by what came, the oldest first, as far as anything is owed.
    covered, open_ones, left = hand.received, [], max(0, hand.balance) + rounded(hand.accrued)
    for day in due_days(day_of_month, max(start, OPENED), TODAY):
        rest = min(max(0, amount - covered), left)
        covered, left = max(0, covered - amount), left - rest
        open_ones += [(day, rest)] if rest else []
    missed = [each for each in open_ones if each[0] < TODAY]
    assert row["late"] == (
        {"amount": sum(rest for _, rest in missed), "since": missed[0][0].isoformat()} if missed else None
    )
    expected = []
    for day, rest in open_ones:
        if late == "carry" or day == TODAY:
            hand.receive(rest)
            expected.append((TODAY.isoformat(), rest))
    for day in due_days(day_of_month, max(start, TODAY + timedelta(days=1)), date(2028, 3, 1)):
        hand.until(day)
        came = sum(hand.receive(min(amount, max(0, hand.balance) + rounded(hand.accrued))))
        expected += [(day.isoformat(), came)] if came else []
    events = done(_CLIENT.get("/api/forecast?until=2028-03-01"))["events"]
    assert sorted((each["date"], each["amount"]) for each in events if is_coming(each)) == sorted(expected)
    lent_run = done(_CLIENT.get("/api/forecast?until=2028-03-01&accounts=l"))["accounts"][0]
    assert (lent_run["steps"][-1][1] if lent_run["steps"] else lent_run["today_balance"]) == hand.balance


@settings(max_examples=examples(24), deadline=None)
@given(st.integers(10_000, 900_000), st.sampled_from(["0", "4.5", "9"]), st.integers(2, 36), st.integers(0, 5))
def test_a_schedule_is_a_loans_from_the_other_side(balance: int, rate: str, count: int, paid: int) -> None:
    terms = {"principal": balance, "annual_rate": rate, "payments": count, "disbursed": OPENED.isoformat(),
             "first_payment": "2026-10-10"}  # fmt: skip
    rows = done(_CLIENT.post("/api/tools/loan-schedule", json=terms))["rows"]
    paid = min(paid, len(rows))
    done(_CLIENT.put("/api/plan", json=household({"to": "Bo", "into_account": "a", "terms": terms}, balance)))
    for row in rows[:paid]:
        body = {"date": row["due"], "amount": row["payment"]}
        legs = {leg.get("account") or leg["category"]: leg["amount"]
                for leg in done(_CLIENT.post("/api/lent/l/receive", json=body))["legs"]}  # fmt: skip
        assert legs == {
            "a": row["payment"],
            "l": -row["principal"],
            **({"lent-interest": -row["interest"]} if row["interest"] else {}),
        }
    told = done(_CLIENT.get("/api/lent"))[0]
    by_now = [row for row in rows if row["due"] <= TODAY.isoformat()]
    missed = by_now[paid:]
    assert told["owed"] == (rows[paid - 1]["balance"] if paid and rows[:paid] else balance)
    assert told["late"] == (
        {"amount": sum(row["payment"] for row in missed), "since": missed[0]["due"]} if missed else None
    )
    assert told["accrued"] == sum(row["interest"] for row in missed)
    events = [each for each in done(_CLIENT.get("/api/forecast?until=2030-12-31"))["events"] if is_coming(each)]
    wanted = [(max(row["due"], TODAY.isoformat()), row["payment"]) for row in rows[max(paid, 0) :]]
    assert sorted((each["date"], each["amount"]) for each in events) == sorted(wanted)


def test_what_comes_as_it_comes_and_what_is_beyond_it() -> None:
    lending = {"id": "lent-more", "date": "2027-01-05", "payee": "Bo",
               "legs": [{"account": "a", "amount": -5_000}, {"account": "l", "amount": 5_000}]}  # fmt: skip
    done(_CLIENT.put("/api/plan", json=household(None, 20_000, [lending])))
    before = plan_alone(done(_CLIENT.get("/api/plan")))
    row = done(_CLIENT.get("/api/lent"))[0]
    assert [row[name] for name in ("to", "owed", "lent", "late", "next", "sure")] == [
        "Lent", 25_000, 25_000, None, None, "counted"
    ]  # fmt: skip
    assert (
        row["reminder"]
        == "Dear Lent, of what I lent you on September 10, 2026 $250.00 is still open: when would it suit you?"
    )

    def receive(**values: Any) -> Any:
        return _CLIENT.post(
            "/api/lent/l/receive", json={"date": "2027-02-01", "amount": 1000, "account": "a", **values}
        )

    for values, field, says in (
        ({"account": None}, "account", "Say into which account"), ({"account": "l"}, "account", "choose another"),
        ({"amount": 0}, "amount", "more than nothing"), ({"date": "2027-03-02"}, "date", "today or before"),
        ({"date": "2026-09-09"}, "date", "begins on"), ({"principal": 1001}, "principal", "come to"),
        ({"principal": 1, "interest": 2}, "interest", "come to"), ({"interest": -1}, "interest", "without a sign"),
        ({"amount": 25_001}, "rest", "$0.01 is more"),
    ):  # fmt: skip
        loc, words = refused(receive(**values))
        assert field in loc
        assert says in words
    assert (
        "no money that was lent"
        in refused(_CLIENT.post("/api/lent/a/receive", json={"date": "2027-02-01", "amount": 1}))[1]
    )
    # Lending more takes nothing of what has accrued, not even what does not make a cent yet.
    days = [OPENED + timedelta(each) for each in range(1, 29)]
    legs = [{"account": "a", "amount": -1}, {"account": "l", "amount": 1}]
    entries = [{**lending, "id": f"more {day}", "date": day.isoformat(), "legs": legs} for day in days]
    done(_CLIENT.put("/api/plan", json=household({"to": "Bo", "annual_rate": "1"}, 1000, entries)))
    hand = ByHand(1000, "1")
    for day in days:
        hand.until(day)
        hand.balance += 1
    hand.until(TODAY)
    assert done(_CLIENT.get("/api/lent"))[0]["accrued"] == rounded(hand.accrued) > 0
    _CLIENT.post("/api/undo")
    # Interest alone is earned, and owed stays; a gift is income and no repayment; what is owed back is below zero.
    done(receive(interest=1000))
    done(receive(amount=26_000, rest="gift"))
    row = done(_CLIENT.get("/api/lent"))[0]
    assert (row["owed"], row["interest_earned"], row["repaid"], row["reminder"]) == (0, 1000, 25_000, None)
    done(receive(amount=300, rest="owed_back"))
    assert done(_CLIENT.get("/api/lent"))[0]["owed"] == -300
    plan = done(_CLIENT.get("/api/plan"))
    assert {leg["category"]: leg["amount"] for each in plan["entries"] for leg in each["legs"] if "category" in leg} == {
        "lent-interest": -1000, "gifts-received": -1000
    }  # fmt: skip
    assert done(_CLIENT.put("/api/plan", json=plan)) == plan
    for _ in range(4):
        _CLIENT.post("/api/undo")
    assert plan_alone(done(_CLIENT.get("/api/plan"))) == before


def test_repayments_are_settled_left_out_and_put_off_as_any_and_may_be_in_no_balance() -> None:
    lent = {"to": "Bo", "into_account": "a",
            "repays": {"amount": 5_000, "rules": ["FREQ=MONTHLY;BYMONTHDAY=10"], "start": "2027-02-01"}}  # fmt: skip

    def settle(**line: Any) -> Any:
        return _CLIENT.post("/api/settle", json={"lines": [{"flow": "l-repayment", "do": "settle", **line}]})

    def coming() -> list[tuple[str, int]]:
        events = done(_CLIENT.get("/api/forecast?until=2027-12-31"))["events"]
        return [
            (each["date"], each["amount"])
            for each in events
            if (each["account"], each["status"] == "settled") == ("a", False)
        ]

    done(_CLIENT.put("/api/plan", json=household(lent, 20_000)))
    assert coming() == [("2027-03-01", 5000), ("2027-03-10", 5000), ("2027-04-10", 5000), ("2027-05-10", 5000)]
    # What is due stands in Settle as money that comes, on the account that it comes to.
    due = done(_CLIENT.get("/api/settle"))["due"]
    assert [(each["kind"], each["account"], each["amount"]) for each in due] == [("income", "a", 5000)]
    assert due[0]["moves_lowest"] < 0  # without it the lowest point would be lower
    # Review tells what became of a day by the sums, whatever entries name; and what is owed by person and in all.
    for came, stands, actual in ((0, "past_due", 0), (2000, "past_due", -2000), (4000, "settled", -5000)):
        if came:
            done(_CLIENT.post("/api/lent/l/receive", json={"date": "2027-02-20", "amount": came}))
        told = done(_CLIENT.get("/api/review?from=2027-02-01&to=2027-02-28"))["occurrences"]
        assert [(each["status"], each["expected"], each["actual"]) for each in told] == [(stands, -5000, actual)]
    totals = done(_CLIENT.get("/api/lent/totals"))
    assert [(each["to"], each["owed"], each["late"], each["repaid"]) for each in (*totals["people"], totals["all"])] == [
        ("Bo", 14_000, 0, 6_000), ("", 14_000, 0, 6_000)
    ]  # fmt: skip
    for _ in range(2):
        _CLIENT.post("/api/undo")
    # A part leaves the rest due; early, by name, it is due no more.
    done(settle(nominal="2027-02-10", amount=2000))
    assert coming()[0] == ("2027-03-01", 3000)
    done(settle(nominal="2027-03-10", date="2027-03-01"))
    assert coming() == [("2027-03-01", 3000), ("2027-04-10", 5000), ("2027-05-10", 5000)]
    done(settle(nominal="2027-04-10", do="put_off", to="2027-04-20"))
    done(settle(nominal="2027-02-10", do="leave_out"))
    assert coming() == [("2027-04-20", 5000), ("2027-05-10", 5000), ("2027-06-10", 3000)]
    assert "more than the $130.00 that is owed" in refused(settle(nominal="2027-05-10", amount=13_001))[1]
    for sure, balance in (("doubtful", 13_000), ("left_out", 0)):
        value = {"lent": {**lent, "sure": sure}}
        done(
            _CLIENT.post(
                "/api/changes", json={"changes": [{"op": "update", "kind": "account", "id": "l", "value": value}]}
            )
        )
        assert sum(amount for _, amount in coming()) == balance
        assert done(_CLIENT.get("/api/lent"))[0]["next"] == {"date": "2027-04-20", "amount": 5000}
        ahead = done(_CLIENT.get("/api/ahead?until=2027-12-31&accounts=a"))
        marked = [each["amount"] for each in ahead["events"] if each["may_not_come"]]
        assert (sum(marked), sum(each["amount"] for each in ahead["uncounted"])) == (balance, 13_000 - balance)
    # It goes where the account says now, whatever was set of single dates; its flow is nobody's own; all goes with it.
    into = {"lent": {**lent, "into_account": "tin", "sure": "counted"}}
    done(
        _CLIENT.post("/api/changes", json={"changes": [{"op": "update", "kind": "account", "id": "l", "value": into}]})
    )
    events = done(_CLIENT.get("/api/forecast?until=2027-12-31"))["events"]
    assert [(each["date"], each["amount"]) for each in events if each["account"] == "tin"] == [
        ("2027-04-20", 5000), ("2027-05-10", 5000), ("2027-06-10", 3000)
    ]  # fmt: skip
    written = done(_CLIENT.get("/api/plan"))
    assert done(_CLIENT.put("/api/plan", json=written)) == written
    own = {"kind": "flow", "id": "l-repayment"}
    for change in ({"op": "update", "value": {"amount": 1}}, {"op": "remove"}):
        assert "what was agreed" in refused(_CLIENT.post("/api/changes", json={"changes": [{**own, **change}]}))[1]
    gone = {"changes": [{"op": "remove", "kind": "account", "id": "l"}]}
    assert "what has happened is kept" in refused(_CLIENT.post("/api/changes", json=gone))[1]
    for each in done(_CLIENT.get("/api/plan"))["entries"]:
        done(_CLIENT.post("/api/changes", json={"changes": [{"op": "remove", "kind": "entry", "id": each["id"]}]}))
    done(_CLIENT.put("/api/plan", json={**done(_CLIENT.get("/api/plan")), "expected": [], "expected_until": None}))
    done(_CLIENT.post("/api/changes", json=gone))
    _CLIENT.post("/api/undo")
    for value, says in (
        ({**lent, "into_account": None}, "into which account"), ({**lent, "into_account": "l"}, "choose another"),
        ({**lent, "to": " "}, "to whom"), ({**lent, "annual_rate": "101"}, "from 0 to 100"),
        ({**lent, "repays": {**lent["repays"], "amount": 0}}, "more than nothing"),
    ):  # fmt: skip
        change = {"op": "update", "kind": "account", "id": "l", "value": {"lent": value}}
        assert says in refused(_CLIENT.post("/api/changes", json={"changes": [change]}))[1]
