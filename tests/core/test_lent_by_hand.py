"""Money lent: what is owed, late and still to come, against a count by hand from RULES, §17."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction

import pytest
from households import TODAY, Document, iso, read
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import half_up
from seen import seen

from effort import examples
from next_penny.core.books.moment import Moment
from next_penny.core.edits.one_off import change_one_off
from next_penny.core.edits.receiving import Received, receive
from next_penny.core.forecast.projection import project
from next_penny.core.loans.lent.standing import lent_standing
from next_penny.core.loans.schedule import as_scheduled
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.starter import LENT_INTEREST
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.core.problems import PlanError

OPENED, UNTIL = date(2026, 9, 10), date(2028, 3, 1)


def household(lent: Document, balance: int, late: str = "carry") -> Plan:
    opening = {"date": iso(OPENED), "balance": 0}
    accounts = [
        {"id": "a", "name": "A", "kind": "checking", "opening": opening},
        {"id": "tin", "name": "Tin", "kind": "cash", "opening": opening},
        {"id": "l", "name": "Lent", "kind": "owed_to_us", "opening": opening | {"balance": balance}, "lent": lent},
    ]
    document = {"format": "next-penny-plan", "version": 1, "currency": "USD", "past_due": late, "accounts": accounts}
    return read(document)[0]


def coming(moment: Moment, until: date) -> list[tuple[date, int]]:
    """What is expected into the account that it comes to: its day and amount."""
    events = project(moment, until).events
    return sorted((each.date, each.amount) for each in events if each.account == "a" and each.status != "settled")


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
        interest = min(amount, half_up(self.accrued))
        principal = amount - interest if all_of_it else min(amount - interest, max(0, self.balance))
        self.accrued = Fraction(0) if interest == half_up(self.accrued) else self.accrued - interest
        self.balance -= principal
        self.received += interest + principal
        return interest, principal

    def expect(self, day: date, amount: int) -> list[tuple[date, int]]:
        """What comes of an amount that is due on a day, as far as anything is owed by then."""
        self.until(day)
        came = sum(self.receive(min(amount, max(0, self.balance) + half_up(self.accrued))))
        return [(day, came)] if came else []


def due_days(day_of_month: int, start: date, until: date) -> list[date]:
    months = [(2026 + number // 12, number % 12 + 1) for number in range(48)]
    return [day for year, month in months if start <= (day := date(year, month, day_of_month)) <= until]


def received(plan: Plan, entries: list[Entry], hand: ByHand, came: Received) -> None:
    """Record a repayment as proposed, against its parts by hand; what is beyond all is owed back."""
    moment = seen(plan, entries, TODAY)
    account = moment.plan.account_by_id["l"]
    hand.until(came.day)
    over = came.amount > half_up(hand.accrued) + max(0, hand.balance)
    if over:
        with pytest.raises(PlanError):
            receive(moment, account, came)
    entry = receive(moment, account, replace(came, rest="owed_back" if over else None))[-1].item
    interest, principal = hand.receive(came.amount, all_of_it=over)
    legs = (Leg(came.amount, came.into or "a"), Leg(-principal, "l"), Leg(-interest, category=LENT_INTEREST.id))
    assert isinstance(entry, Entry)
    assert entry.legs == tuple(leg for leg in legs if leg.amount or leg.account == "l")
    entries.append(entry)


receipts = st.lists(st.tuples(st.integers(0, 172), st.integers(1, 30_000), st.booleans()), max_size=6)
# Which of the dates to come are put off by how long, or left out.
put_off = st.dictionaries(st.integers(0, 8), st.none() | st.integers(-20, 40), max_size=3)


@settings(max_examples=examples(200))
@given(
    st.integers(1, 90_000), st.sampled_from(["0", "3", "6.5", "24"]), st.integers(1, 40_000), st.integers(1, 28),
    receipts, st.integers(-20, 200), st.sampled_from(["carry", "ignore"]), put_off,
)  # fmt: skip
def test_what_is_owed_late_and_to_come_is_as_counted_by_hand(
    balance: int,
    rate: str,
    amount: int,
    day_of_month: int,
    receipts: list[tuple[int, int, bool]],
    starts: int,
    late: str,
    put_off: dict[int, int | None],
) -> None:
    start = OPENED + timedelta(days=starts)
    repays = {"amount": amount, "rules": [f"FREQ=MONTHLY;BYMONTHDAY={day_of_month}"], "start": iso(start)}
    plan = household({"to": "Bo", "into_account": "a", "annual_rate": rate, "repays": repays}, balance, late)
    hand, entries, earned = ByHand(balance, rate), list[Entry](), 0
    for number, (days, came, is_cash) in enumerate(sorted(receipts)):
        day = OPENED + timedelta(days=days)
        received(plan, entries, hand, Received(f"r{number}", day, came, "tin" if is_cash else None))
        earned -= sum(leg.amount for leg in entries[-1].legs if leg.category == LENT_INTEREST.id)
    hand.until(TODAY)
    moment, account = seen(plan, entries, TODAY), plan.account_by_id["l"]
    standing = lent_standing(moment, account)
    told = (standing.owed, standing.accrued, standing.lent - standing.repaid, standing.earned)
    assert told == (hand.balance, half_up(hand.accrued), hand.balance, earned)
    assert standing.last_received == max((entry.date.toordinal() for entry in entries), default=None)
    # What is due by today is covered by what came, the oldest first, as far as anything is owed.
    covered, open_ones, left = hand.received, [], max(0, hand.balance) + half_up(hand.accrued)
    for day in due_days(day_of_month, max(start, OPENED), TODAY):
        rest = min(max(0, amount - covered), left)
        covered, left = max(0, covered - amount), left - rest
        open_ones += [(day, rest)] if rest else []
    missed = [each for each in open_ones if each[0] < TODAY]
    assert standing.late(TODAY.toordinal()) == (
        (sum(rest for _, rest in missed), missed[0][0].toordinal()) if missed else None
    )
    expected = []
    for day, rest in open_ones:
        if late == "carry" or day == TODAY:
            expected += hand.expect(TODAY, rest)
    ahead = due_days(day_of_month, max(start, TODAY + timedelta(days=1)), UNTIL)
    lands = {day: day for day in ahead}
    for place, by in put_off.items():
        if place < len(ahead):
            flow, day = moment.plan.all_flows[0], ahead[place]
            if day.toordinal() not in {due.nominal for due in lent_standing(moment, account).dues(UNTIL.toordinal())}:
                continue  # nothing is owed by then
            moved = None if by is None else max(TODAY + timedelta(days=1), day + timedelta(days=by))
            values = {"left_out": True} if moved is None else {"moved_to": moved}
            moment = seen(replace(moment.plan, flows=(change_one_off(moment, flow, day, values),)), entries, TODAY)
            lands.pop(day)
            lands |= {} if moved is None else {day: moved}
    for day in sorted(lands.values()):
        if day <= UNTIL:
            expected += hand.expect(day, amount)
    assert coming(moment, UNTIL) == sorted(expected)
    for until in lands.values() if late == "carry" else ():
        # As far as a day, that of one that is put off or to come sooner included; asked anew, nothing lies beyond it.
        dues = lent_standing(seen(moment.plan, entries, TODAY), account).dues(until.toordinal())
        assert sum(due.amount for due in dues) == sum(part for day, part in expected if day <= until)
    (run,) = project(moment, UNTIL, ["l"]).runs
    assert ([balance for _, balance in run.levels] or [run.start_balance])[-1] == hand.balance


@settings(max_examples=examples(60))
@given(st.integers(10_000, 900_000), st.sampled_from(["0", "4.5", "9"]), st.integers(2, 36), st.integers(0, 5))
def test_a_schedule_is_a_loans_from_the_other_side(balance: int, rate: str, count: int, paid: int) -> None:
    terms = LoanTerms(balance, Decimal(rate), OPENED, date(2026, 10, 10), payments=count)
    rows = list(as_scheduled(terms).rows)
    paid = min(paid, len(rows))
    lent = {"to": "Bo", "into_account": "a",
            "terms": {"principal": balance, "annual_rate": rate, "payments": count, "disbursed": iso(OPENED),
                      "first_payment": "2026-10-10"}}  # fmt: skip
    plan, entries = household(lent, balance), list[Entry]()
    for number, row in enumerate(rows[:paid]):
        moment = seen(plan, entries, TODAY)
        came = Received(f"r{number}", date.fromordinal(row.due), row.interest + row.principal)
        entry = receive(moment, plan.account_by_id["l"], came)[-1].item
        assert isinstance(entry, Entry)
        legs = (Leg(came.amount, "a"), Leg(-row.principal, "l"), Leg(-row.interest, category=LENT_INTEREST.id))
        assert entry.legs == tuple(leg for leg in legs if leg.amount or leg.account == "l")
        entries.append(entry)
        # On its day it has come: nothing of it is owed or expected any more.
        then = seen(plan, entries, date.fromordinal(row.due))
        assert lent_standing(then, plan.account_by_id["l"]).accrued == 0
        assert sum(amount for _, amount in coming(then, date(2030, 12, 31))) == sum(
            row.interest + row.principal for row in rows[number + 1 :]
        )
    moment = seen(plan, entries, TODAY)
    standing = lent_standing(moment, plan.account_by_id["l"])
    missed = [row for row in rows[paid:] if row.due <= TODAY.toordinal()]
    assert standing.owed == balance - sum(row.principal for row in rows[:paid])
    assert standing.accrued == sum(row.interest for row in missed)
    assert standing.late(TODAY.toordinal()) == (
        (sum(row.interest + row.principal for row in missed), missed[0].due) if missed else None
    )
    wanted = [(max(date.fromordinal(row.due), TODAY), row.interest + row.principal) for row in rows[paid:]]
    assert coming(moment, date(2030, 12, 31)) == sorted(wanted)
