"""A simulated bank: what it booked on the demo household's accounts, day by day.

It follows the plan as life does: a payment two days late, an amount a little off, a purchase that nobody planned, a
line booked twice and put right later. The same days give the same lines, however often it is asked.
"""

import hashlib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from random import Random

from next_penny.core.bank_lines.statements import ClosingBalance, FileLine
from next_penny.core.books.moment import Moment
from next_penny.core.forecast.events import Event
from next_penny.core.forecast.projection import project
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.formats.bank_files.ofx_writing import OfxStatement

_KINDS = ("checking", "savings", "credit_card")
_SHOPS = ("LOW TIDE BAKERY", "HARBOUR HARDWARE", "MARLA'S CORNER STORE", "GULL AND ANCHOR", "FERRY KIOSK 4")
_ONE_IN_LATE, _ONE_IN_DOUBLED, _ONE_IN_PURCHASE = 6, 14, 3
_DAYS_LATE, _DAYS_UNTIL_CORRECTED = 2, 2


@dataclass(frozen=True)
class SimulatedBank:
    """A bank that knows what was recorded up to the day of a moment, and from then on does as that moment expects."""

    moment: Moment
    recorded: Sequence[Entry]

    @property
    def accounts(self) -> list[Account]:
        """The household's accounts that this bank keeps."""
        return [account for account in self.moment.plan.accounts if account.kind in _KINDS and not account.closed]

    def statement(self, account: Account, first: date, last: date) -> OfxStatement:
        """What was booked on an account in some days, and what it held at the end of them."""
        booked = self._booked(account, last)
        before = next(run for run in project(self.moment, self.moment.today).runs if run.account.id == account.id)
        begun = self.moment.today
        balance = before.today_balance
        balance += sum(line.amount for line in booked if begun < line.date <= last)
        balance -= sum(line.amount for line in booked if last < line.date <= begun)
        lines = [line for line in booked if first <= line.date <= last]
        closing = ClosingBalance(last, balance)
        return OfxStatement(account.kind, number_of(account), account.currency, (first, last), lines, closing)

    def _booked(self, account: Account, last: date) -> list[FileLine]:
        past = [
            FileLine(entry.date, amount, _as_banks_write(self.moment.plan.name_of(entry)), "",
                     _id_of(entry, account.id))
            for entry in self.recorded if (amount := entry.on(account.id)) and entry.date <= self.moment.today
        ]  # fmt: skip
        coming = sorted(self._coming(account, last), key=lambda line: (line.date, line.bank_id or ""))
        return [*past, *coming]

    def _coming(self, account: Account, last: date) -> Iterator[FileLine]:
        begun = self.moment.today
        if last > begun:
            forecast = project(self.moment, last)
            for event in forecast.events:
                if event.account == account.id and event.status != "settled" and event.allowance is None:
                    yield from (line for line in self._as_booked(event) if begun < line.date <= last)
        for number in range(begun.toordinal() + 1, last.toordinal() + 1):
            yield from self._purchase(account, date.fromordinal(number))

    def _as_booked(self, event: Event) -> Iterator[FileLine]:
        """What is expected as the bank books it; both sides of a transfer alike."""
        plan = self.moment.plan
        flow = plan.flow_by_id.get(event.flow or "")
        chance = Random(f"{event.flow or event.name} {event.nominal or event.day}")
        is_late, is_doubled = not chance.randrange(_ONE_IN_LATE), not chance.randrange(_ONE_IN_DOUBLED)
        off = chance.randint(-11, 11)
        day, amount = event.date, event.amount
        if flow is not None and flow.estimate:
            amount += amount * off // 100
        is_bill = flow is not None and flow.kind == "bill"
        if is_bill and is_late:
            day += timedelta(days=_DAYS_LATE)
        name = (flow.payee if flow is not None else "") or event.name
        line = FileLine(day, amount, _as_banks_write(name))
        line = replace(line, bank_id=_id(event.account, event.flow or name, str(event.nominal or event.day)))
        yield line
        if is_bill and is_doubled:
            corrected = day + timedelta(days=_DAYS_UNTIL_CORRECTED)
            yield replace(line, bank_id=f"{line.bank_id}B")
            yield replace(line, date=corrected, amount=-amount, memo="CORRECTION", bank_id=f"{line.bank_id}C")

    def _purchase(self, account: Account, day: date) -> Iterator[FileLine]:
        """Something that nobody planned, on the account that the household pays in shops from."""
        chance = Random(f"purchase {day}")
        card = next((one_account for one_account in self.accounts if one_account.kind == "credit_card"), None)
        if (card or self.accounts[0]).id == account.id and not chance.randrange(_ONE_IN_PURCHASE):
            shop, cents = chance.choice(_SHOPS), chance.randint(380, 4260)
            yield FileLine(day, -cents, f"{shop} {chance.randint(1000, 9999)}", "CARD PAYMENT", _id(str(day), shop))


def number_of(account: Account) -> str:
    """The number under which the bank keeps an account."""
    digits = int(hashlib.sha256(f"number {account.id}".encode()).hexdigest(), 16)
    return f"{digits % 10**12:012d}"


def _id_of(entry: Entry, account: str) -> str:
    """What the bank calls what was recorded; never the household's own name for it, which the bank does not know."""
    return next((tie.id for tie in entry.bank_ids if tie.account == account and tie.id), _id(account, entry.id))


def _id(*words: str) -> str:
    return hashlib.sha256(" ".join(words).encode()).hexdigest()[:16].upper()


def _as_banks_write(name: str) -> str:
    return name.upper()
