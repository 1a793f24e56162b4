"""What would explain a difference to the bank, in sentences."""

from datetime import date

from next_penny.core.dates.sentences import short_day
from next_penny.core.money import format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan


class Wording:
    """Sentences about one account, amounts in its currency."""

    def __init__(self, plan: Plan, account: Account) -> None:
        self._plan, self._account = plan, account

    def unsettled(self, flow: Flow, lands: date, moves: int) -> str:
        """An occurrence that happened and is not settled."""
        did = "came in" if moves > 0 else "was paid"
        return f"“{flow.name}” of {short_day(lands)}, {self._money(moves)}, {did} and is not settled here."

    def all_open(self, number: int) -> str:
        """All that is open happened."""
        return f"All {number} that were expected in these days happened and are not settled here."

    def doubled(self, one: Entry, other: Entry) -> str:
        """An entry that stands twice."""
        days = f"on {short_day(one.date)} and on {short_day(other.date)}"
        return f"{self._name(one)}, {self._amount(one)}, stands twice, {days}."

    def digits(self, entry: Entry, amount: int, turned: int) -> str:
        """Two digits changed round."""
        return f"{self._name(entry)} of {short_day(entry.date)} was {self._money(turned)}, not {self._money(amount)}."

    def sign(self, entry: Entry) -> str:
        """Money in that stands as money out, or the other way."""
        leg = next(leg for leg in entry.legs if leg.account == self._account.id)
        did = "went out, not in" if leg.amount > 0 else "came in, not out"
        return f"{self._name(entry)} of {short_day(entry.date)}, {self._amount(entry)}, {did}."

    def other_day(self, entry: Entry, to: date) -> str:
        """An entry that the bank has on the other side of a day."""
        return (
            f"{self._name(entry)} of {short_day(entry.date)}, {self._amount(entry)}, is of {short_day(to)} at the bank."
        )

    def _name(self, entry: Entry) -> str:
        return self._plan.name_of(entry)

    def _amount(self, entry: Entry) -> str:
        return self._money(entry.on(self._account.id))

    def _money(self, amount: int) -> str:
        return format_amount(abs(amount), self._account.currency)
