"""Running balances: what every account holds after each movement, all accounts in one pass over the columns."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from next_penny.core.forecast.events import Column


class DayEnds(NamedTuple):
    """The days (as numbers) on which something moves on one account, and what it holds at the end of each."""

    days: Column
    balances: Column


class Running(NamedTuple):
    """By movement, the balance after it and its day's balance if money out left before money in; and by account."""

    balance: Column
    intraday_low: Column
    day_ends: list[DayEnds]


def running(account: Column, day: Column, amount: Column, starts: Sequence[int]) -> Running:
    """The balances that movements leave, in minor units.

    account: the place of each movement's account in `starts`, the balances before the first of them. The movements
    come in order of day. One sum runs through all accounts, one after the other; what an account holds is a
    difference of two of its values, right even where the sum itself would leave 64 bits (it wraps around).
    """
    if not len(day):
        return Running(amount, amount, [DayEnds(day, amount) for _ in starts])
    # In as few bits as hold the places of all accounts: of up to 16, numpy's stable sort is by radix.
    order = np.argsort(account.astype(np.min_scalar_type(len(starts))), kind="stable")
    account, day, amount = account[order], day[order], amount[order]
    lengths = np.bincount(account, minlength=len(starts))
    begins = np.cumsum(lengths) - lengths
    total = np.cumsum(amount)
    before = np.concatenate(([0], total))[begins]
    balance = total + np.repeat(np.array(starts, dtype=np.int64) - before, lengths)
    is_first = np.concatenate(([True], (day[1:] != day[:-1]) | (account[1:] != account[:-1])))
    firsts = np.flatnonzero(is_first)
    low = balance[firsts] - amount[firsts] + np.add.reduceat(np.minimum(amount, 0), firsts)
    lows = np.repeat(low, np.diff(np.append(firsts, len(day))))
    lasts = np.append(firsts[1:] - 1, len(day) - 1)
    cuts = np.searchsorted(account[lasts], np.arange(1, len(starts)))
    ends = map(DayEnds, np.split(day[lasts], cuts), np.split(balance[lasts], cuts))
    return Running(_in_place(balance, order), _in_place(lows, order), list(ends))


def _in_place(column: Column, order: Column) -> Column:
    """A column that was taken in an order, back where each of its values came from."""
    back = np.empty_like(column)
    back[order] = column
    return back
