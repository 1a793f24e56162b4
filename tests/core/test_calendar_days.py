"""The days of a calendar: their balances by a walk over every day, and their items by what the balances change by."""

from datetime import date, timedelta
from itertools import pairwise

from households import TODAY, Document, documents, read
from hypothesis import assume, given
from ledger import Ledger
from seen import seen

from next_penny.core.ahead.calendar_days import calendar_days
from next_penny.core.ahead.stretch import stretch

FIRST, LAST = TODAY - timedelta(45), TODAY + timedelta(75)


@given(documents())
def test_each_day_closes_with_what_a_walk_finds_and_changes_by_its_items(document: Document) -> None:
    plan, entries = read(document)
    moment, ledger = seen(plan, entries, TODAY), Ledger(document, TODAY)
    currency = plan.accounts[0].currency
    accounts = tuple(one for one in plan.accounts if one.currency == currency and one.loan is None)
    assume(accounts)
    ids = {account.id for account in accounts}
    recorded = [entry for entry in entries if entry.date < TODAY and any(leg.account in ids for leg in entry.legs)]
    over = stretch(moment, accounts, FIRST, LAST, recorded)
    days = calendar_days(over, None)
    assert [day.day for day in days] == list(range(FIRST.toordinal(), LAST.toordinal() + 1))

    balances = {account.id: ledger.balances(account.id, LAST) for account in accounts}
    for day in days:
        on = date.fromordinal(day.day)
        assert all(item.day == day.day for item in day.items)
        if on < TODAY:
            assert (day.depth, day.short_account, day.short_by) == ("clear", None, 0)
            continue
        held = {account: balances[account.id][on] for account in accounts if account.opening.date <= on}
        assert (day.closing or 0) == sum(held.values())
        short = {account.id: account.floor - balance for account, balance in held.items() if not account.is_debt}
        worst = max(short.values(), default=0)
        assert day.short_by == max(0, worst)
        assert (short[day.short_account] if day.short_account else 0) == max(0, worst)
        under = any(balance < account.cushion for account, balance in held.items() if not account.is_debt)
        assert day.depth == ("floor" if worst > 0 else "cushion" if under else "clear")

    opened = {account.opening.date.toordinal(): 0 for account in accounts}
    for account in accounts:
        opened[account.opening.date.toordinal()] += account.opening.balance
    held_back = dict.fromkeys(range(FIRST.toordinal(), LAST.toordinal() + 1), 0)
    assert over.forecast is not None
    for event in over.forecast.events:
        if event.source == "allowance" and event.account in ids:
            held_back[event.day] += event.amount
    for before, day in pairwise(days):
        change = (day.closing or 0) - (before.closing or 0)
        assert change == sum(item.net for item in day.items) + held_back[day.day] + opened.get(day.day, 0)
    # Each occurrence and entry is there once.
    named = [(item.day, item.flow, item.nominal, item.name) for day in days for item in day.items if item.entry is None]
    assert len(named) == len(set(named))
    told = [item.entry for day in days for item in day.items if item.entry is not None]
    assert len(told) == len(set(told))
