"""What a statement check goes by: a statement, the books, what the two differ by, and guesses at the causes."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from next_penny.core.dates.sentences import full_day
from next_penny.core.money import format_amount
from next_penny.core.mortgage.loan_books import Compared, Item, LoanBooks
from next_penny.core.mortgage.splitting import Correction, Splitter, Target
from next_penny.core.mortgage.suspects import Suspects
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.kept.statements import Statement

CauseKind = Literal[
    "recorded_whole", "split_behind", "extra_missing", "rate_changed", "escrow_changed", "disbursement_missing",
    "other_method", "rounding",
]  # fmt: skip


# How many payments back a change that was not entered is looked for.
LOOKED_BACK = 12


@dataclass(frozen=True)
class Hypothesis:
    """A guess: of what kind, in a sentence, and what would put it right.

    is_simple: it may be one of several mistakes at once. is_last: it is tried where nothing simpler explains all.
    """

    kind: CauseKind
    sentence: str
    correction: Correction
    is_simple: bool = True
    is_last: bool = False


class Evidence:
    """Everything that guesses are made from: a statement, the books, and what the two differ by."""

    def __init__(
        self, splitter: Splitter, statement: Statement, compared: Sequence[Compared], suspects: Suspects
    ) -> None:
        self.splitter, self.statement, self.suspects = splitter, statement, suspects
        self.books: LoanBooks = splitter.books
        self.differs: dict[Item, int] = {
            comparison.item: comparison.difference for comparison in compared if comparison.difference
        }
        self.paid = [entry for entry in self.books.payments if entry.date <= statement.date]
        # Of these, those of a due day, the oldest first.
        self.settled = [entry for entry in self.paid if entry.nominal is not None]

    def money(self, amount: int) -> str:
        return format_amount(amount, self.books.account.currency)


def day_of(entry: Entry) -> str:
    return full_day(entry.date)


def targets_of(entries: Sequence[Entry]) -> tuple[Target, ...]:
    return tuple(Target(entry, entry.nominal.toordinal()) for entry in entries if entry.nominal is not None)


def payments_since(seen: Evidence, nominal: int) -> tuple[Target, ...]:
    """Every payment by the statement that is of a due day from one on."""
    return tuple(target for target in targets_of(seen.settled) if target.nominal >= nominal)
