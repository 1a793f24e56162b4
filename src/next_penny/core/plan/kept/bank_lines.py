"""What a household keeps of its bank's files, as data: the lines taken in, and its rules for what is new.

docs/rules.md, Lines from a bank. Amounts are minor units, signed as they change the account.
"""

import datetime
from collections.abc import Iterable
from dataclasses import dataclass

MOST_PAYEE_RULES = 500


@dataclass(frozen=True, slots=True)
class BankLine:
    """A line of a bank's file that was taken in, or waits for somebody to decide what it is.

    bank_id: what the bank calls it; None for a line without one, which its text then tells apart. `text` of a line that
    waits is its payee and memo, on a line of text each.
    """

    account: str
    date: datetime.date
    amount: int
    bank_id: str | None = None
    text: str = ""
    waiting: bool = False

    @property
    def identity(self) -> tuple[object, ...]:
        """What the same line of another file has in common with it."""
        return identity_of(self.date, self.amount, self.bank_id, self.text)


def identity_of(day: datetime.date, amount: int, bank_id: str | None, text: str) -> tuple[object, ...]:
    """What makes two lines of an account the same: the bank's id where there is one, else the text."""
    return (day, amount, bank_id, "") if bank_id is not None else (day, amount, None, text)


@dataclass(frozen=True, slots=True)
class BankAccount:
    """An account of a bank by its number, of which only a hash and the last four signs are kept."""

    hash: str
    last_four: str
    account: str


@dataclass(frozen=True, slots=True)
class TableShape:
    """Which column is what in tables that look alike, as the JSON text in which a person named them."""

    shape: str
    columns: str


@dataclass(frozen=True, slots=True)
class PayeeRule:
    """What is new and from or to a payee that contains a text belongs in a category.

    account: on that account alone. least, most: only of amounts between, both counted, whatever their sign.
    shown: the name under which such a payee is recorded; empty: as the bank writes it.
    """

    id: str
    contains: str
    category: str
    account: str | None = None
    least: int | None = None
    most: int | None = None
    shown: str = ""

    def applies(self, payee: str, account: str, amount: int) -> bool:
        """Whether it says where a line belongs."""
        return (
            self.contains.casefold() in payee.casefold()
            and self.account in (None, account)
            and (self.least is None or self.least <= abs(amount))
            and (self.most is None or abs(amount) <= self.most)
        )


def rule_for(rules: Iterable[PayeeRule], payee: str, account: str, amount: int) -> PayeeRule | None:
    """The first rule that applies to what is new on an account; None where none does."""
    return next((rule for rule in rules if rule.applies(payee, account, amount)), None)
