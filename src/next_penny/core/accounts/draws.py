"""What credit lines lend: exactly what is missing on an account that they cover (docs/rules.md, Cards)."""

from collections.abc import Sequence

from next_penny.core.accounts.generated import Facts, Generated
from next_penny.core.accounts.ledger import Ledger
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.terms.cards import CardTerms


class Cover:
    """One line that covers an account."""

    def __init__(self, line: Account, terms: CardTerms, lending: Ledger, covered: Ledger) -> None:
        self._line, self._terms, self._lending, self._covered = line, terms, lending, covered
        self._floor = covered.account.floor
        self.begins = max(lending.opened, covered.opened)

    def draw(self, day: int) -> Generated | None:
        """What it lends at the end of a day, if the account would end that below its floor."""
        missing = self._floor - self._covered.balance(day)
        if missing <= 0 or day < self.begins:
            return None
        available = self._terms.limit - self._lending.owed(day)
        amount = min(missing, max(0, available))
        if amount == 0:
            return None
        legs = ((self._line.id, -amount), (self._covered.account.id, amount))
        return Generated(day, "line_draw", self._line.id, None, 0, legs, Facts(base=missing))

    def may_draw(self, first: int, last: int) -> bool:
        """Whether it could lend from one day to another, in which no rule has made anything yet."""
        return self._covered.least(first, last) < self._floor

    @property
    def days(self) -> set[int]:
        """The days on which something fixed moves on the account or the line, or both are open for the first time."""
        return {self.begins, *self._covered.fixed_days, *self._lending.fixed_days}


def days_to_look(covers: Sequence[Cover]) -> list[int]:
    """The days on which a draw may become needed or possible, each once, in order."""
    return sorted({day for cover in covers for day in cover.days})
