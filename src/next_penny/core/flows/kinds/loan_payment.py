"""The maker of a loan's payments: their dates and amounts come from the loan's schedule, not from rules of the flow."""

from collections.abc import Iterator
from datetime import date

import numpy as np

from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days
from next_penny.core.dates.landing import land, lands_on
from next_penny.core.dates.rules import WEEKDAYS, parse_rule
from next_penny.core.dates.sentences import rule_sentence, short_day
from next_penny.core.flows.kinds.calendar_flow import Mask
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.loans.standing import Parts, Standing, standing
from next_penny.core.money import format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.kept.statements import PaidSplit
from next_penny.core.plan.starter import ESCROW_PAID, LENDER_FEES, LOAN_INSURANCE, LOAN_INTEREST
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.core.problems import refused


class LoanPayment:
    """What pays one loan at a moment."""

    source = "loan"
    # It is settled whole, and its amount is what the loan's terms say: an extra of the loan changes it.
    may_be_paid_in_parts = False
    may_be_foreign = False
    settles_itself = False

    def __init__(self, moment: Moment, flow: Flow, account: Account) -> None:
        self.moment, self.flow, self.account = moment, flow, account
        self.opened = moment.plan.flow_opened(flow)
        self._expected_from = max(self.opened, moment.plan.known_since(flow)).toordinal()

    @property
    def loan_standing(self) -> Standing:
        """The loan as the books have it."""
        return standing(self.moment, self.account)

    @property
    def basis(self) -> tuple[object, ...]:
        """What its occurrences follow from."""
        country = self.moment.plan.household.country
        return (self.flow, self.loan_standing, self._expected_from, country, self.moment.today)

    @property
    def posted_by(self) -> tuple[object, ...]:
        """What its postings follow from beside its occurrences."""
        return (self._escrow_account(),)

    def _escrow_account(self) -> Account | None:
        return self.moment.plan.account_by_id.get(self.account.escrow_account or "")

    def occurrences(self, first: int, last: int) -> Occurrences:
        """What lands from a day to a day, settled or not."""
        parts = self.loan_standing.parts
        nominal, landing = land(
            sorted(parts), self.flow.roll, self.moment.calendar, self.flow.exceptional,
            max(first, self._expected_from), last,
        )  # fmt: skip
        return Occurrences(nominal, landing, np.array([parts[day].total for day in nominal.tolist()], dtype=np.int64))

    def nominal_days(self, first: int, last: int) -> list[int]:
        """The nominal days from a day to a day, whatever was set of them just this once."""
        days = {*self.loan_standing.parts, *self.flow.exceptional.left_out}
        return [day for day in days if first <= day <= last]

    def amount_of(self, nominal: int) -> int:
        """What the payment of a nominal day comes to."""
        return self.loan_standing.parts[nominal].total if nominal in self.loan_standing.parts else 0

    def postings(self, coming: Occurrences, days: Days) -> Iterator[tuple[str, Days, Mask | None]]:
        """What payments change on each account: interest and insurance are spent, principal lowers what is owed."""
        parts = self.loan_standing.parts
        rows = [parts[day] for day in coming.nominal.tolist()]
        if self.flow.from_account is not None:
            yield self.flow.from_account, -coming.amount, None
        yield self.account.id, np.array([row.principal for row in rows], dtype=np.int64), None
        escrow = self._escrow_account()
        if escrow is not None:
            # Until the escrow account is open, its part is in its opening balance.
            fed = np.array([row.escrow for row in rows], dtype=np.int64)
            yield escrow.id, np.where(coming.landing >= escrow.opening.date.toordinal(), fed, 0), None

    def shares(self, coming: Occurrences) -> Iterator[tuple[str, Days, Mask | None]]:
        """It spends in no category that an allowance limits."""
        yield from ()

    def split(self, nominal: date) -> Parts | None:
        """What the payment of a nominal day is proposed to be made of."""
        return self.loan_standing.parts.get(nominal.toordinal(), Parts(0, 0, 0, 0))

    def legs(
        self, nominal: date, amount: int, day: date, account: str | None, split: PaidSplit | None = None
    ) -> Iterator[Leg]:
        """What is paid beyond (or short of) its parts is principal more (or less); `split` overwrites parts.

        Raises PlanError for parts that do not sum to the payment.
        """
        parts = self.loan_standing.parts.get(nominal.toordinal(), Parts(0, 0, 0, 0))
        if split is not None:
            parts = self._as_said(parts, split, amount)
        escrow = self._escrow_account()
        yield Leg(-amount, account=account or self.flow.from_account)
        if principal := parts.principal + amount - parts.total:
            yield Leg(principal, account=self.account.id)
        if parts.interest:
            yield Leg(parts.interest, category=self.flow.category or LOAN_INTEREST.id)
        if parts.escrow:
            yield Leg(parts.escrow, account=escrow.id) if escrow else Leg(parts.escrow, category=ESCROW_PAID.id)
        if parts.insurance:
            yield Leg(parts.insurance, category=LOAN_INSURANCE.id)
        if parts.fee:
            yield Leg(parts.fee, category=LENDER_FEES.id)

    def _as_said(self, parts: Parts, split: PaidSplit, amount: int) -> Parts:
        """The parts with what was said of them, principal taking up the difference."""
        said = {name: getattr(split, name) for name in ("interest", "escrow", "insurance")}
        for name, part in said.items():
            if part is not None and part < 0:
                raise refused("split", f"Give the {name} without a sign.", "negative")
        parts = parts._replace(**{name: part for name, part in said.items() if part is not None})
        principal = amount - (parts.total - parts.principal)
        if split.principal not in (None, principal):
            wording = format_amount(parts.total - parts.principal + (split.principal or 0), self.account.currency)
            paid = format_amount(amount, self.account.currency)
            message = f"These parts come to {wording}, the payment to {paid}: change one, or leave principal empty."
            raise refused("split", message, "does_not_sum")
        return parts._replace(principal=principal)

    def payee(self, nominal: date) -> str:
        """The lender of that time."""
        lender = self.loan_standing.terms.lender_on(nominal.toordinal())
        return lender.name if lender is not None else self.flow.payee or self.flow.name

    def rhythm(self) -> str:
        """How it repeats, in words."""
        terms = self.account.loan_terms
        return rule_sentence(parse_rule(due_rule(terms)), terms.first_payment)

    def teller(self) -> "LoanTeller":
        """What tells why its events are what they are."""
        return LoanTeller(self)


class LoanTeller:
    """Tells what a payment of a loan is made of."""

    def __init__(self, maker: LoanPayment) -> None:
        self._maker, self._loan_standing = maker, maker.loan_standing
        columns = self._loan_standing.shown.columns
        self._carried = {due: amount for due, amount in zip(columns.due, columns.carried, strict=True) if amount}

    usual = None

    def why(self, nominal: int, is_past_due: bool) -> str:
        """One sentence for the payment of a nominal day."""
        standing, parts = self._loan_standing, self._loan_standing.parts[nominal]
        row = standing.row_by_day.get(nominal)
        head = f"Payment {row.number}" if row is not None else "Extra principal"
        total = standing.terms.payments
        of = f" of {total}" if row is not None and total is not None and row.number <= total else ""
        named = (("interest", parts.interest), ("principal", parts.principal), ("escrow", parts.escrow),
                 ("insurance", parts.insurance), ("the lender's fee", parts.fee))  # fmt: skip
        wording = ", ".join(f"{name} {self._money(amount)}" for name, amount in named if amount)
        if nominal in self._carried:
            wording += f"; {self._money(self._carried[nominal])} of the interest is from payments that were not made"
        moved = self._date(nominal, is_past_due)
        return f"{head}{of} of “{standing.account.name}”: {wording}{f'; {moved}' if moved else ''}."

    def _money(self, amount: int) -> str:
        return format_amount(amount, self._loan_standing.account.currency)

    def _date(self, nominal: int, is_past_due: bool) -> str:
        moment, flow = self._maker.moment, self._maker.flow
        day = date.fromordinal(nominal)
        lands = lands_on(day, flow.roll, moment.calendar, flow.exceptional)
        parts = []
        if nominal in flow.exceptional.moved:
            parts.append(f"moved from {short_day(day)} to {short_day(lands)} just this once")
        elif lands != day:
            parts.append(
                f"{short_day(day)} is {moment.calendar.why_closed(nominal)}, so it lands on {short_day(lands)}"
            )
        if is_past_due:
            parts.append(f"was due {short_day(lands)}, not settled, and is assumed to move today")
        return "; ".join(parts)


def due_rule(terms: LoanTerms) -> str:
    """A loan's due dates as an RFC 5545 rule, to be said in words."""
    first, per_year = terms.first_payment, terms.payments_per_year
    if per_year in (26, 52):
        return f"FREQ=WEEKLY;INTERVAL={52 // per_year};BYDAY={WEEKDAYS[first.weekday()]}"
    if per_year == 24:
        other = first.day + 15 if first.day <= 16 else first.day - 15
        return f"FREQ=MONTHLY;BYMONTHDAY={min(first.day, other)},{max(first.day, other)}"
    months = 12 // per_year
    interval = f";INTERVAL={months}" if months > 1 else ""
    return f"FREQ=MONTHLY{interval};BYMONTHDAY={first.day}"
