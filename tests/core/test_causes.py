"""What explains a difference to the bank: against every single change of the books that RULES allow, tried by hand."""

from collections.abc import Iterator
from datetime import date, timedelta
from itertools import combinations
from typing import NamedTuple

from households import TODAY, moment_from, read
from hypothesis import assume, event, given, settings
from hypothesis import strategies as st

from effort import examples
from next_penny.core.plan.entries import Entry
from next_penny.core.reconciling.causes import Cause, causes

OPENED = TODAY - timedelta(days=90)


class Line(NamedTuple):
    """What was recorded on the account."""

    id: str
    day: date
    amount: int
    payee: str


class Guess(NamedTuple):
    """One change, and what it makes of the balance; of: what it is about."""

    kind: str
    moves: int
    of: frozenset[str]
    is_far: bool = False


def guesses(lines: list[Line], bills: dict[str, tuple[date, int]], day: date) -> Iterator[Guess]:
    """Every change of RULES §16, one at a time."""
    for id, (lands, amount) in bills.items():
        if 0 <= (day - lands).days <= 15:
            yield Guess("unsettled", amount, frozenset({f"{id} {lands}"}))
    # The 31 days up to the reading, its own included.
    lately = [line for line in lines if 0 <= (day - line.day).days <= 30]
    in_order = sorted(lately, key=lambda line: (line.day, line.id))
    for at, other in enumerate(in_order):
        alike = [one for one in in_order[:at] if (one.amount, one.payee.lower()) == (other.amount, other.payee.lower())]
        if alike and (other.day - alike[-1].day).days <= 5:
            yield Guess("doubled", -other.amount, frozenset({alike[-1].id, other.id}))
    for line in lately:
        yield Guess("sign", -2 * line.amount, frozenset({line.id}))
        for amount in turned(abs(line.amount)):
            change = amount - abs(line.amount)
            is_far = len(str(amount)) != len(str(abs(line.amount)))
            yield Guess("digits", change if line.amount > 0 else -change, frozenset({line.id}), is_far)
    for line in lines:
        if 0 <= (day - line.day).days <= 5:
            yield Guess("other_day", -line.amount, frozenset({line.id}))
        elif 0 < (line.day - day).days <= 5:
            yield Guess("other_day", line.amount, frozenset({line.id}))


def turned(amount: int) -> Iterator[int]:
    """An amount of cents with each two neighbouring digits changed round, a zero before it among them."""
    written = f"0{amount // 100}{amount % 100:02}"
    for at in range(len(written) - 1):
        left, right = written[at], written[at + 1]
        if left != right:
            yield int(written[:at] + right + left + written[at + 2 :])


def household(lines: list[Line], bills: dict[str, tuple[date, int]]) -> dict[str, object]:
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "country": None,
        "accounts": [{"id": "a", "name": "Purse", "kind": "checking", "currency": "USD",
                      "opening": {"date": OPENED.isoformat(), "balance": 500_00}}],
        "categories": [{"id": "food", "name": "Food"}],
        "flows": [
            {"id": id, "name": id, "kind": "bill", "amount": -amount, "from_account": "a", "dates": [lands.isoformat()],
             "category": "food"}
            for id, (lands, amount) in bills.items()
        ],
        "entries": [recorded(line) for line in lines],
    }  # fmt: skip


def recorded(line: Line) -> dict[str, object]:
    legs = [{"account": "a", "amount": line.amount}, {"category": "food", "amount": -line.amount}]
    return {"id": line.id, "date": line.day.isoformat(), "payee": line.payee, "legs": legs}


def balance(entries: dict[str, tuple[date, int]], day: date) -> int:
    return sum(amount for on, amount in entries.values() if on <= day)


def applied(lines: list[Line], cause: Cause) -> dict[str, tuple[date, int]]:
    """What is recorded once a cause is done."""
    after = {line.id: (line.day, line.amount) for line in lines}
    for change in cause.changes:
        if change.kind != "entry":
            continue
        if isinstance(change.item, Entry):
            assert sum(leg.amount for leg in change.item.legs) == 0
            after[change.id] = (change.item.date, change.item.on("a"))
        else:
            del after[change.id]
    return after


days_before = st.integers(-6, 40)
sums = st.sampled_from([-3, -12_00, -21_00, -40_05, -50, -1_050_00, 12_00, 21_00]) | st.integers(-200_00, 200_00)


@settings(max_examples=examples(150), deadline=None)
@given(
    st.lists(st.tuples(days_before, sums, st.sampled_from(["Baker", "baker", "Ferry"])), max_size=7),
    st.lists(st.tuples(st.integers(0, 20), st.integers(1, 60_00)), max_size=3),
    st.integers(0, 3),
    st.data(),
)
def test_what_is_told_explains_all_of_it_and_nothing_that_would_is_missing(
    drawn: list[tuple[int, int, str]], planned: list[tuple[int, int]], ago: int, data: st.DataObject
) -> None:
    day = TODAY - timedelta(days=ago)
    lines = [Line(f"e{at}", day - timedelta(days=back), amount, payee)
             for at, (back, amount, payee) in enumerate(drawn)
             if amount and day - timedelta(days=back) <= TODAY]  # fmt: skip
    bills = {f"f{at}": (day - timedelta(days=back), -amount) for at, (back, amount) in enumerate(planned)}
    document = household(lines, bills)
    moment = moment_from(document)
    single = list(guesses(lines, bills, day))
    some = data.draw(st.lists(st.sampled_from(single), max_size=2)) if single else []
    difference = sum(guess.moves for guess in some) or data.draw(st.integers(-300_00, 300_00))
    assume(difference != 0)

    told = causes(moment, moment.plan.accounts[0], read(document)[1], day, difference)
    before = balance({line.id: (line.day, line.amount) for line in lines}, day)
    for cause in told:
        assert balance(applied(lines, cause), day) - before == difference, cause.sentence

    alone = {(guess.kind, guess.of) for guess in single if guess.moves == difference}
    open_ones = [guess for guess in single if guess.kind == "unsettled"]
    if len(open_ones) > 1 and sum(guess.moves for guess in open_ones) == difference:
        alone.add(("unsettled", frozenset[str]().union(*(guess.of for guess in open_ones))))
    near = [guess for guess in single if not guess.is_far]
    pairs = [(one, other) for one, other in combinations(near, 2)
             if one.moves + other.moves == difference and not one.of & other.of]  # fmt: skip
    if alone:
        event("one change explains it")
        found = {(cause.kind, cause.of) for cause in told}
        # No more than eight are told, the fewest changes first.
        assert found <= alone if len(alone) >= 8 else found == alone
    elif pairs:
        event("two changes together explain it")
        assert {cause.kind for cause in told} == {"two"}
        assert {cause.of for cause in told} <= {one.of | other.of for one, other in pairs}
        assert len(told) <= 8
    else:
        event("nothing explains it")
        assert told == []
    # The fewest changes first, then the nearest day.
    order = [(changes_in(cause), abs((cause.day - day).days)) for cause in told]
    assert order == sorted(order)


def changes_in(cause: Cause) -> int:
    return {"two": 2, "unsettled": len(cause.of)}.get(cause.kind, 1)
