"""Cards and credit lines: closings, statements, payments, interest, and what a line lends (docs/rules.md, Cards).

Regulation Z would leave out of a cycle's interest what was repaid in time after grace is lost (§ 1026.54), and adds
residual interest after a payment in full; both are simplified away, as the rules say.
"""

from collections.abc import Iterator, Mapping
from datetime import date
from fractions import Fraction
from typing import Generic, NamedTuple

from next_penny.core.accounts.generated import Act, Facts, Generated, Made, Passed, Step, Walked
from next_penny.core.accounts.ledger import Ledger
from next_penny.core.dates.calendar import EARLIEST, LAST_YEAR, clipped_day, month_number
from next_penny.core.money import LARGEST_AMOUNT, round_half_up, rounded_quotient
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import interest_id, payment_id
from next_penny.core.plan.terms.cards import CardTerms, StatementChange

DAYS_A_YEAR = 365
_FIRST_DAY = EARLIEST.toordinal()
# From a closing to its due day: no later than the next closing.
_LONGEST_TO_DUE = 62


def closing_in(terms: CardTerms, month: int) -> int:
    """The day on which the cycle of a month (by number) closes."""
    return clipped_day(month, terms.closing_day)


def closings(terms: CardTerms, first: int) -> Iterator[int]:
    """The closing days from a day on."""
    for month in range(month_number(date.fromordinal(first)), LAST_YEAR * 12):
        if (closing := closing_in(terms, month)) >= first:
            yield closing


def closing_before(terms: CardTerms, day: int) -> int:
    """The last closing before a day."""
    month = month_number(date.fromordinal(day))
    this = closing_in(terms, month)
    return this if this < day else closing_in(terms, month - 1)


def due_day(terms: CardTerms, closing: int) -> int:
    """When the statement of a closing is due; never later than the next closing."""
    due = terms.known_dues.get(closing)
    if due is None:
        due = terms.known_dues[closing] = _due_day(terms, closing)
    return due


def _due_day(terms: CardTerms, closing: int) -> int:
    if terms.begun_with is not None and terms.begun_with.closing.toordinal() == closing:
        return terms.begun_with.due.toordinal()
    month = month_number(date.fromordinal(closing))
    if terms.due.days_after is not None:
        due = closing + terms.due.days_after
    else:
        due = clipped_day(month, terms.due.day or 1)
        if due <= closing:
            due = clipped_day(month + 1, terms.due.day or 1)
    return min(due, closing_in(terms, month + 1))


def dues_between(terms: CardTerms, first: int, last: int) -> Iterator[tuple[int, int]]:
    """The closings whose statements are due from one day to another, each with its due day, in order."""
    for closing in closings(terms, max(first - _LONGEST_TO_DUE, _FIRST_DAY)):
        due = due_day(terms, closing)
        if due > last:
            return
        if due >= first:
            yield closing, due


def closing_of_due(terms: CardTerms, due: int) -> int | None:
    """The closing whose statement is due on a day; None where none is."""
    closing = closing_before(terms, due)
    return closing if due_day(terms, closing) == due else None


class Statement(NamedTuple):
    """What a closing says: what is owed, the least that it asks for, and until when."""

    closing: int
    due: int
    balance: int
    minimum: int


def minimum_of(terms: CardTerms, owed: int, interest: int) -> int:
    """The least that a statement asks for."""
    (percent, scale), minimum = terms.minimum_share, terms.minimum
    asked = rounded_quotient(percent * owed, 100 * scale) + (interest if minimum.plus_interest else 0)
    return min(owed, max(minimum.floor, asked))


def wanted(terms: CardTerms, statement: Statement, change: StatementChange | None) -> tuple[int, str]:
    """What is to be paid of a statement, what came in since not yet taken off, and how that is chosen."""
    if change is not None and change.amount is not None:
        return change.amount, "set"
    if terms.pays == "statement":
        return statement.balance, "statement"
    fixed = min(terms.fixed_amount or 0, statement.balance) if terms.pays == "fixed" else 0
    return (fixed, "fixed") if fixed > statement.minimum else (statement.minimum, "minimum")


class Interest(NamedTuple):
    """A cycle's interest, and the sum over its days of what was owed."""

    amount: int
    owed_days: int


class CardDays(Generic[Made]):
    """On which days a card or line does what; what it does then is made by whoever walks it."""

    def __init__(self, account: Account, accounts: Mapping[str, Account], passed: Passed, order: int) -> None:
        assert account.card is not None
        self.account, self.terms = account, account.card
        self.opened = account.opening.date.toordinal()
        self._order, self._passed = order, passed
        self._payment_flow, self._interest_flow = payment_id(account.id), interest_id(account.id)
        self._paid_days, self._charged = passed.of(self._payment_flow), passed.of(self._interest_flow)
        self._before: dict[int, int] = {}
        known, payer = account.known_since, accounts.get(self.terms.from_account or "")
        self._known_since = known.toordinal() if known is not None else 0
        # From when on it may be paid: never where nothing pays it.
        self._payable_since = max(self.opened, payer.opening.date.toordinal()) if payer is not None else None

    @property
    def begun(self) -> tuple[int, int | None] | None:
        """The closing of the statement that is there already, and what it says, where that was told; else None.

        What an older statement left unpaid is part of this one.
        """
        last, begun = closing_before(self.terms, self._passed.now), self.terms.begun_with
        if begun is not None and begun.closing.toordinal() >= last:
            return begun.closing.toordinal(), begun.balance
        return (last, None) if last >= self.opened else None

    def agenda(self, until: int) -> Iterator[Act[Made]]:
        """Everything it does by a day."""
        begun = self.begun
        if begun is not None and (payment := self._payment(begun[0], until)) is not None:
            yield payment
        before = closing_before(self.terms, max(self._passed.now, self.opened))
        for closing in closings(self.terms, max(self._passed.now, self.opened)):
            if closing > until:
                return
            self._before[closing] = before
            before = closing
            yield Act(closing, Step.CLOSING, self._order, self._close)
            if (payment := self._payment(closing, until)) is not None:
                yield payment

    def _pay(self, closing: int, day: int, counted: int, is_past_due: bool) -> Made | None:
        """Pay a statement on a day, less what came in by another."""
        raise NotImplementedError

    def _close(self, closing: int) -> Made | None:
        """Close a cycle: the statement, and what the cycle costs."""
        raise NotImplementedError

    def _payment(self, closing: int, until: int) -> Act[Made] | None:
        """What pays the statement of a closing, if anything does by a day."""
        change, now = self.terms.change_by_closing.get(closing), self._passed.now
        due = due_day(self.terms, closing)
        if self._payable_since is None or due in self._paid_days or (change is not None and change.left_out):
            return None
        lands = change.moved_to.toordinal() if change is not None and change.moved_to is not None else due
        is_past_due = lands < now
        if lands < self._known_since or (is_past_due and not self._passed.carries):
            return None
        day = max(lands, now)
        # A payment put off leaves the due date for what was paid otherwise.
        counted = day if is_past_due else min(due, day)
        # A statement from before may be set to be paid on a day on which the card is not begun here yet.
        if day > until or day < self._payable_since:
            return None
        return Act(day, Step.PAYMENT, self._order, lambda on: self._pay(closing, on, counted, is_past_due))


class Card(CardDays[Generated]):
    """One card or line in the walk: its statements so far, and what it does on which day."""

    def __init__(self, account: Account, walked: Walked, order: int) -> None:
        super().__init__(account, walked.accounts, walked.passed, order)
        self.ledger = walked.ledgers[account.id]
        self._statements: dict[int, Statement] = {}
        if self.begun is not None:
            closing, said = self.begun
            owed = said if said is not None else self.ledger.owed(closing)
            # Of its minimum, the cycle's interest is not known.
            minimum = minimum_of(self.terms, owed, 0)
            self._statements[closing] = Statement(closing, due_day(self.terms, closing), owed, minimum)

    def _pay(self, closing: int, day: int, counted: int, is_past_due: bool) -> Generated | None:
        statement = self._statements[closing]
        want, how = wanted(self.terms, statement, self.terms.change_by_closing.get(closing))
        paid = self.ledger.gained(closing, counted)
        amount = min(self.ledger.owed(day), max(0, want - paid))
        if amount == 0:
            return None
        legs = ((self.terms.from_account or "", -amount), (self.account.id, amount))
        facts = Facts(closing, statement.due, statement.balance, paid, how)
        flow = self._payment_flow
        return Generated(day, "card_payment", self.account.id, flow, statement.due, legs, facts, is_past_due)

    def _close(self, closing: int) -> Generated | None:
        first, change = max(self.opened, self._before[closing] + 1), self.terms.change_by_closing.get(closing)
        is_settled = closing in self._charged
        if is_settled:
            charged, interest, how = self._charged[closing], None, ""
        elif change is not None and change.interest is not None:
            charged, interest, how = change.interest, None, "set"
        else:
            interest = self._interest(first, closing)
            charged, how = interest.amount, ""
        owed = max(0, (0 if is_settled else charged) - self.ledger.balance(closing))
        minimum = minimum_of(self.terms, owed, charged)
        self._statements[closing] = Statement(closing, due_day(self.terms, closing), owed, minimum)
        if charged == 0 or is_settled:
            return None
        facts = Facts(first, closing, interest.owed_days if interest else 0, 0, how)
        flow, legs = self._interest_flow, ((self.account.id, -charged),)
        return Generated(closing, "card_interest", self.account.id, flow, closing, legs, facts)

    def _interest(self, first: int, closing: int) -> Interest:
        """What a cycle costs: nothing where the statement before it was paid in full in time."""
        if not self.terms.is_line:
            before = self._statements.get(self._before[closing])
            if before is None or self.ledger.gained(before.closing, before.due) >= before.balance:
                return Interest(0, 0)
        return interest_between(self.terms, self.ledger, first, closing)


def interest_between(terms: CardTerms, ledger: Ledger, first: int, last: int) -> Interest:
    """Interest of days by what is owed at each one's end and that day's rate, rounded once.

    Interest recorded on the last day is not in that day's base.
    """
    scale, cost, owed_days = terms.rate_scale, 0, 0
    for begin, end, _rate, scaled in terms.rates_between(first, last):
        here = ledger.owed_days(begin, end)
        if end == last and (charged := ledger.charged.get(last)):
            here += max(0, -(ledger.balance(last) - charged)) - ledger.owed(last)
        owed_days += here
        cost += here * scaled
    # What grows beyond all that can be counted stays at the largest amount.
    amount = min(LARGEST_AMOUNT, rounded_quotient(cost, 100 * DAYS_A_YEAR * scale))
    return Interest(amount, owed_days)


def yearly_cost(terms: CardTerms, owed: int, day: int) -> tuple[int, int]:
    """What is owed costs in a year and in a month at a day's rate."""
    rate = Fraction(terms.rate_on(day)) / 100
    return round_half_up(owed * rate), round_half_up(owed * rate / 12)
