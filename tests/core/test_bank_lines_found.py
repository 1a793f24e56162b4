"""What each line of a bank is: no better pair is left over (RULES §18), tried against all pairs there are."""

from collections import Counter
from collections.abc import Iterator
from datetime import date, timedelta
from itertools import product
from typing import NamedTuple

from households import TODAY, Document, iso, read
from hypothesis import event, given, settings
from hypothesis import strategies as st
from seen import seen

from effort import examples
from next_penny.core.bank_lines.found import Is, Known, OnAccount, Place
from next_penny.core.bank_lines.matching import match
from next_penny.core.bank_lines.statements import FileLine, days_of
from next_penny.core.bank_lines.taking_in import Taken, TakingIn
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.plan.entries import BankTie, Entry
from next_penny.core.plan.kept.bank_lines import PayeeRule

# No two have a word in common.
NAMES = ("Orchard Works", "Millpond", "Ferryman Ltd", "Quince and Rye")
AMOUNTS = (-40_00, -32_00, -30_00, 30_00, 40_00)
ACCOUNTS = ("a", "b")

near = st.integers(-25, 12).map(lambda days: TODAY + timedelta(days=days))
line_days = st.integers(-20, 0).map(lambda days: TODAY + timedelta(days=days))


@st.composite
def bills(draw: st.DrawFn, number: int) -> Document:
    amount, days = draw(st.sampled_from(AMOUNTS)), draw(st.lists(near, min_size=1, max_size=3, unique=True))
    side = "to_account" if amount > 0 else "from_account"
    return {
        "id": f"f{number}", "name": draw(st.sampled_from(NAMES)), "kind": "income" if amount > 0 else "bill",
        "amount": abs(amount), side: draw(st.sampled_from(ACCOUNTS)), "dates": sorted(map(iso, days)),
        "category": "pay" if amount > 0 else "food", "estimate": draw(st.booleans()),
        "late_days": draw(st.sampled_from([0, 0, 3])),
    }  # fmt: skip


@st.composite
def entries(draw: st.DrawFn, number: int) -> Document:
    amount, account = draw(st.sampled_from(AMOUNTS)), draw(st.sampled_from(ACCOUNTS))
    tie = draw(st.sampled_from([None, None, None, "", "X1"]))
    return {
        "id": f"e{number}", "date": iso(draw(line_days)), "payee": draw(st.sampled_from(NAMES)),
        "legs": [{"account": account, "amount": amount}, {"category": "pay" if amount > 0 else "food",
                                                          "amount": -amount}],
        "bank_ids": [] if tie is None else [{"account": account, "id": tie}],
    }  # fmt: skip


file_lines = st.builds(
    FileLine,
    line_days,
    st.sampled_from(AMOUNTS),
    st.sampled_from(NAMES),
    bank_id=st.none() | st.integers(0, 10_000).map(lambda number: f"B{number}"),
)


@st.composite
def households(draw: st.DrawFn) -> Document:
    opening = {"date": iso(TODAY - timedelta(days=60)), "balance": 100_00}
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "country": None,
        "accounts": [{"id": "a", "name": "Purse", "kind": "checking", "currency": "USD", "opening": opening},
                     {"id": "b", "name": "Attic", "kind": "savings", "currency": "USD", "opening": opening}],
        "categories": [{"id": "food", "name": "Food"}, {"id": "pay", "name": "Pay", "kind": "income"}],
        "flows": [draw(bills(number)) for number in range(draw(st.integers(0, 3)))],
        "entries": [draw(entries(number)) for number in range(draw(st.integers(0, 5)))],
    }  # fmt: skip


class Pair(NamedTuple):
    """A line, and an entry or occurrence that it may be; smaller goes first: days apart, entries, likely payees."""

    days: int
    is_occurrence: bool
    is_unlike: bool
    line: Place
    thing: tuple[str, ...]


Lines = tuple[list[FileLine], list[FileLine]]


def each_line(lines: Lines) -> Iterator[tuple[Place, str, FileLine]]:
    for number, account in enumerate(ACCOUNTS):
        for at, line in enumerate(lines[number]):
            yield (number, at), account, line


def pairs(document: Document, lines: Lines, *, like_payees: bool) -> Iterator[Pair]:
    """All pairs of a recorded entry or something expected and a line; like_payees: those that are only offered."""
    for (place, account, line), entry in product(each_line(lines), document["entries"]):
        days, (leg, _) = abs((date.fromisoformat(entry["date"]) - line.date).days), entry["legs"]
        is_tied = any(tie["id"] or line.bank_id is None for tie in entry["bank_ids"])
        if not like_payees and (leg["account"], leg["amount"]) == (account, line.amount) and days <= 5 and not is_tied:
            yield Pair(days, False, entry["payee"] != line.payee, place, (entry["id"], account))
    for (place, account, line), flow in product(each_line(lines), document["flows"]):
        amount = flow["amount"] * (1 if flow["kind"] == "income" else -1)
        is_same = line.amount == amount
        is_near = line.amount * amount > 0 and abs(line.amount - amount) * 4 <= abs(amount)
        fits = is_near and flow["name"] == line.payee if like_payees else is_same or (flow["estimate"] and is_near)
        for nominal in flow["dates"]:
            later = (line.date - date.fromisoformat(nominal)).days
            mine = flow.get("from_account", flow.get("to_account")) == account
            if mine and fits and -7 <= later <= 7 + flow["late_days"]:
                yield Pair(abs(later), True, flow["name"] != line.payee, place, (flow["id"], nominal, account))


def again(lines: Lines) -> set[Place]:
    """The lines that say once more what an earlier one said, by the bank's id, day and amount."""
    places: set[Place] = set()
    for number, of in enumerate(lines):
        said = [(line.bank_id, line.date, line.amount) for line in of]
        places |= {(number, at) for at, one in enumerate(said) if one[0] is not None and one in said[:at]}
    return places


def thing_of(found: Is, account: str) -> tuple[str, ...] | None:
    """The entry or occurrence that a line was taken for."""
    if found.kind == "entry":
        return (found.entry or "", account)
    if found.kind == "occurrence":
        return (found.flow or "", iso(found.nominal) if found.nominal else "", account)
    return None


@given(households(), st.tuples(st.lists(file_lines, max_size=5), st.lists(file_lines, max_size=4)))
@settings(max_examples=examples(400))
def test_no_line_and_thing_are_left_that_are_nearer_than_what_they_became(document: Document, lines: Lines) -> None:
    plan, recorded = read(document)
    moment = seen(plan, recorded, TODAY)
    statements = [OnAccount(plan.account_by_id[id], lines[number]) for number, id in enumerate(ACCOUNTS)]
    rule = PayeeRule("r", "pond", "food", least=35_00)
    found = match(moment, statements, Known({}, recorded, (rule,), {"ferryman ltd": "pay"}))
    became = {(number, at): what for number, of in enumerate(found) for at, what in enumerate(of or ())}
    account_of = {place: account for place, account, _ in each_line(lines)}
    known = again(lines)
    assert {place for place, what in became.items() if what.kind == "known"} == known
    for kinds in ((False, ("entry", "occurrence")), (True, ("occurrence",))):
        offered = kinds[0]
        chosen = {place: thing for place, what in became.items() if what.kind in kinds[1] and what.offered == offered
                  if (thing := thing_of(what, account_of[place])) is not None}  # fmt: skip
        taken = {thing: place for place, thing in chosen.items()}
        assert len(taken) == len(chosen)
        possible = {(pair.line, pair.thing): pair for pair in pairs(document, lines, like_payees=offered)
                    if pair.line not in known}  # fmt: skip
        assert set(chosen.items()) <= set(possible)
        before = set() if not offered else {thing_of(what, account_of[place]) for place, what in became.items()
                                            if not what.offered}  # fmt: skip
        for (place, thing), pair in possible.items():
            if thing in before or (offered and place not in chosen and became[place].kind == "entry"):
                continue
            if offered and became[place].kind == "occurrence" and not became[place].offered:
                continue
            rivals = [possible[place, chosen[place]]] if place in chosen else []
            rivals += [possible[taken[thing], thing]] if thing in taken else []
            assert any(rival[:3] <= pair[:3] for rival in rivals), pair
    check_the_rest(document, lines, became)
    event(f"kinds: {sorted(Counter(what.kind for what in became.values()))}")


def check_the_rest(document: Document, lines: Lines, became: dict[Place, Is]) -> None:
    """Transfers are of the opposite amount within five days, each side once; what is new goes where a rule says."""
    by_place = {place: (account, line) for place, account, line in each_line(lines)}
    other_sides = Counter[object]()
    for place, what in became.items():
        account, line = by_place[place]
        if what.kind == "transfer":
            assert (what.offered, what.account) == (True, "b" if account == "a" else "a")
            if what.partner is not None:
                other = by_place[what.partner][1]
                assert became[what.partner].partner == place
                amount, day = other.amount, other.date
            else:
                entry = next(each for each in document["entries"] if each["id"] == what.entry)
                assert entry["legs"][0]["account"] == what.account
                amount, day = entry["legs"][0]["amount"], date.fromisoformat(entry["date"])
            assert (amount, abs((day - line.date).days) <= 5) == (-line.amount, True)
            other_sides[what.partner or what.entry] += 1
        if what.kind == "new":
            ruled = "food" if "pond" in line.payee and abs(line.amount) >= 35_00 else None
            last = "pay" if line.payee == "Ferryman Ltd" else None
            assert what.category == (ruled or last or ("unsorted-income" if line.amount > 0 else "unsorted"))
    assert all(times == 1 for times in other_sides.values())
    open_lines = [place for place, what in became.items() if what.kind == "new"]
    for one, other in product(open_lines, open_lines):
        (account, line), (other_account, other_line) = by_place[one], by_place[other]
        is_move = line.amount == -other_line.amount and abs((line.date - other_line.date).days) <= 5
        assert account == other_account or not is_move


@given(households(), st.tuples(st.lists(file_lines, max_size=5), st.lists(file_lines, max_size=4)))
@settings(max_examples=examples(300))
def test_what_is_taken_in_moves_the_books_by_its_lines_and_is_known_ever_after(
    document: Document, lines: Lines
) -> None:
    plan, recorded = read(document)
    moment = seen(plan, recorded, TODAY)
    statements = [OnAccount(plan.account_by_id[id], lines[number]) for number, id in enumerate(ACCOUNTS)]
    found = match(moment, statements, Known({}, recorded))
    by_id = {entry.id: entry for entry in recorded}
    taken = [
        Taken((number, at), statement.lines[at], statement.account, what.kind, what.entry, what.flow, what.nominal,
              what.account, what.category, what.partner)
        for number, (statement, of) in enumerate(zip(statements, found, strict=True))
        for at, what in enumerate(of or ()) if what.kind != "known"
    ]  # fmt: skip
    work = TakingIn(moment, by_id.get)
    counts = work.take(taken)
    after = apply_to_moment(moment, work.changes, by_id.get)
    kinds = Counter(one.kind for one in taken)
    assert (counts.taken, counts.matched, counts.settled) == (len(taken), kinds["entry"], kinds["occurrence"])
    made = {change.id: change.item for change in work.changes if isinstance(change.item, Entry)}
    for number, account in enumerate(ACCOUNTS):
        moved = sum(line.amount for line in lines[number])
        known = [line.amount for line, what in zip(lines[number], found[number] or (), strict=True)
                 if what.kind in ("known", "entry")]  # fmt: skip
        # A move found on this side alone stands on the other as it was recorded there.
        sides = sum(-one.line.amount for one in taken if one.kind == "transfer" and one.account.id != account
                    and one.partner is None and one.entry is None)  # fmt: skip
        assert (
            after.balance_on(plan.account_by_id[account], moment.now)
            - moment.balance_on(plan.account_by_id[account], moment.now)
            == moved - sum(known) + sides
        )
        ties = Counter(tie for entry in made.values() for tie in entry.bank_ids if tie.account == account)
        own = Counter(BankTie(account, one.line.bank_id or "") for one in taken if one.account.id == account)
        assert own <= ties
    remembered: dict[str, Counter[tuple[object, ...]]] = {account: Counter() for account in ACCOUNTS}
    for change in work.changes:
        if change.kind == "bank_line":
            remembered[change.item.account][change.item.identity] += 1  # type: ignore[union-attr]
    entries_now = [*{**by_id, **made}.values()]
    second = match(after, statements, Known(remembered, entries_now))
    assert {what.kind for of in second for what in of or ()} <= {"known"}


@given(st.lists(file_lines, max_size=5))
@settings(max_examples=examples(100))
def test_a_file_reaches_from_its_first_line_to_its_last_in_whatever_order_they_are(lines: list[FileLine]) -> None:
    first, last = days_of(lines)
    ordered = sorted(line.date for line in lines)
    assert [first, last] == ([ordered[0], ordered[-1]] if lines else [None, None])
