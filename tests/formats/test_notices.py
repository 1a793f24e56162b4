"""Balances in plain messages: taught once, found again in other words for day and amount, and else told."""

from datetime import date

import pytest

from next_penny.core.bank_lines.statements import ClosingBalance
from next_penny.formats.notices import Notice, NoticeError, balance_told, numbers_in, pattern_of

SENT = date(2027, 3, 2)
TAUGHT = "Your balance on Monday 1 March: USD 1,204.55 (available: 900.00)"


def notice(*lines: str, sent: date = SENT) -> Notice:
    return Notice("<1@bank.example>", "bank@bank.example", "", sent, lines)


@pytest.mark.parametrize(
    ("line", "other", "told"),
    [
        # Another day, another amount, another second number.
        (TAUGHT, "Your balance on Friday 26 February: USD 88.10 (available: 7.00)", ("2027-02-26", 88_10)),
        (TAUGHT, "Your balance on Monday 1 March: USD -1,204.55 (available: 0.00)", ("2027-03-01", -1_204_55)),
        # A day without a year is the last before the message.
        (TAUGHT, "your balance on Thursday 31 December: USD 5.00 (available: 5.00)", ("2026-12-31", 5_00)),
        # No day named: the day before the message.
        ("Balance: $12.00", "Balance: $1,512", ("2027-03-01", 1_512_00)),
        ("02/28/2027 closing balance 10.00", "03/01/2027 closing balance 11.50", ("2027-03-01", 11_50)),
        ("Held: 1.204,55", "Held: 12.345", ("2027-03-01", 12_345_00)),
        # Another form is told, never misread.
        ("Balance: $12.00", "Balance and overdraft: $12.00", "another form"),
        ("Balance: $12.00", "Balance: $12.00 of 2027-03-03 to come", "another form"),
        ("Balance on 2027-03-01: $12.00", "Balance on 2027-03-09: $13.00", "not yet when it was sent"),
        ("Balance: $12.00", "Balance: 12.345", "no amount"),
    ],
)
def test_the_balance_is_found_again_or_the_message_is_told(line: str, other: str, told: tuple[str, int] | str) -> None:
    pattern = pattern_of(notice(line), 0, 0, "joint", "USD", owed=False)
    itself = balance_told(pattern, notice(line), "USD", "month_first")
    assert isinstance(itself, ClosingBalance)
    assert itself.balance == numbers_in(line, "USD")[0].amount
    found = balance_told(pattern, notice("Hello,", other), "USD", "month_first")
    if isinstance(told, str):
        assert isinstance(found, str)
        assert told in found
    else:
        assert found == ClosingBalance(date.fromisoformat(told[0]), told[1])


def test_what_is_owed_is_below_zero_and_two_numbers_are_none() -> None:
    taught = pattern_of(notice("You owe $240.10 now"), 0, 0, "card", "USD", owed=True)
    assert balance_told(taught, notice("You owe $99.00 now"), "USD", "month_first") == ClosingBalance(
        date(2027, 3, 1), -99_00
    )
    twice = balance_told(taught, notice("You owe $99.00 now", "You owe $98.00 now"), "USD", "month_first")
    assert isinstance(twice, str)
    with pytest.raises(NoticeError, match="No word stands beside"):
        pattern_of(notice("1 March 2027: 99.00"), 0, 0, "card", "USD", owed=True)
