"""Settling: the changes by which an occurrence is recorded, left out or put off.

Settling an occurrence records an entry that names its flow and nominal date. A part payment is marked as one; the rest
stays expected as the amount of that one date. Leaving out and putting off are changes just this once.
"""

from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from next_penny.core.accounts.parts import changed_one_off
from next_penny.core.books.moment import Moment
from next_penny.core.checks.of_flows.amounts import MOST_HOURS
from next_penny.core.dates.sentences import full_day
from next_penny.core.flows.amounts import hourly_on
from next_penny.core.flows.kinds.calendar_flow import changed_just_once
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import Occurrence, occurrence
from next_penny.core.money import LARGEST_AMOUNT, format_amount
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.kept.statements import PaidSplit
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import NoRate
from next_penny.core.plan.starter import categories_for
from next_penny.core.problems import PlanError, refused


@dataclass(frozen=True, slots=True)
class Settlement:
    """How an occurrence was really paid; None where it was as expected. With `is_part` the rest stays expected.

    The amount is in the currency of the account that it was paid from; as expected, it is converted at its day's rate.
    A paycheck by the hour may be given its hours in place of an amount; a loan's payment, how it was split.
    """

    id: str
    flow: str
    nominal: date
    amount: int | None = None
    day: date | None = None
    account: str | None = None
    is_part: bool = False
    hours: Decimal | None = None
    split: PaidSplit | None = None


def settle(moment: Moment, settlement: Settlement) -> list[PlanChange]:
    """The changes that settle an occurrence. Raises PlanError when there is no such unsettled occurrence."""
    recorded = moment.as_recorded
    flow, due = _occurrence(recorded, settlement.flow, settlement.nominal)
    maker = maker_of(recorded, flow)
    # What was expected today or earlier is taken to have happened when it was expected.
    day = settlement.day or min(moment.today, due.lands)
    paying = _Paying(recorded.plan, flow, settlement.account or flow.main_account or "", day)
    paying.check(settlement, may_be_foreign=maker.may_be_foreign)
    amount = _paid_amount(paying, due.amount, settlement)
    covered = paying.of_flow(amount)
    _check_settlement(paying, settlement, amount, may_be_part=maker.may_be_paid_in_parts)
    if settlement.is_part and not 0 < covered < due.amount:
        whole = format_amount(due.amount, recorded.plan.currency_of(flow))
        raise refused("amount", f"A part is more than nothing and less than {whole}.", "range")
    entry = Entry(
        id=settlement.id,
        date=day,
        payee=maker.payee(settlement.nominal),
        legs=tuple(maker.legs(settlement.nominal, amount, day, settlement.account, settlement.split)),
        flow=flow.id,
        nominal=settlement.nominal,
        # What comes back of money lent settles its days by the sums.
        part=settlement.is_part or maker.settles_itself,
        notes=f"{settlement.hours.normalize():f} hours" if settlement.hours is not None else "",
    )
    changes = [*categories_for(recorded.plan, entry.legs), *_kept(recorded.plan, flow)]
    changes.append(PlanChange("entry", entry.id, entry))
    if settlement.is_part:
        rest = changed_just_once(flow, settlement.nominal, amount=due.amount - covered)
        changes.append(PlanChange("flow", flow.id, rest))
    return changes


def _kept(plan: Plan, flow: Flow) -> list[PlanChange]:
    """A flow that an account makes of itself becomes one of the plan's own once something is recorded of it."""
    is_made = flow.id in plan.maker_accounts or plan.lent_by(flow) is not None
    is_own = is_made or any(planned.id == flow.id for planned in plan.flows)
    return [] if is_own else [PlanChange("flow", flow.id, flow)]


@dataclass(frozen=True, slots=True)
class _Paying:
    """On which account a flow's occurrence is recorded on a day, in what currency."""

    plan: Plan
    flow: Flow
    account: str
    day: date

    def check(self, settlement: Settlement, *, may_be_foreign: bool) -> None:
        """Refuse an account that there is not, or of a currency in which this cannot be. Raises PlanError."""
        if settlement.account is not None and settlement.account not in self.plan.account_by_id:
            raise refused("account", f"There is no account “{settlement.account}”.", "unknown_id")
        own = self.plan.currency_of(self.flow)
        if not may_be_foreign and self.currency != own:
            raise refused("account", f"“{self.flow.name}” is in {own}: choose an account in {own}.", "other_currency")

    @property
    def currency(self) -> str:
        """The account's."""
        return self.plan.account_by_id[self.account].currency

    def of_flow(self, amount: int) -> int:
        """What an amount of the account is in the flow's currency."""
        return self._between(self.account, self.flow.main_account or "", amount)

    def of_account(self, amount: int) -> int:
        """What an amount of the flow is in the account's currency."""
        return self._between(self.flow.main_account or "", self.account, amount)

    def _between(self, source: str, target: str, amount: int) -> int:
        try:
            return self.plan.between(source, target, amount, self.day)
        except NoRate as error:
            raise refused("account", str(error), "no_rate") from error


def _check_settlement(paying: _Paying, settlement: Settlement, amount: int, *, may_be_part: bool) -> None:
    if settlement.is_part and not may_be_part:
        raise refused("part", "This is settled whole: give the amount that was paid.", "not_possible")
    if amount < 0:
        raise refused("amount", "Give the amount without a sign.", "negative")
    if amount > LARGEST_AMOUNT:
        most = format_amount(LARGEST_AMOUNT, paying.currency)
        raise refused("amount", f"The amount is too large: at most {most}.", "range")


def _paid_amount(paying: _Paying, planned: int, settlement: Settlement) -> int:
    """What was paid, in the currency of the account."""
    if settlement.hours is None:
        return paying.of_account(planned) if settlement.amount is None else settlement.amount
    pay = hourly_on(paying.flow, settlement.nominal)
    if pay is None:
        raise refused("hours", "This is not paid by the hour.", "not_used")
    if not 0 <= settlement.hours <= MOST_HOURS:
        raise refused("hours", f"Hours are from 0 to {MOST_HOURS}.", "range")
    return paying.of_account(pay.pay(settlement.hours))


def leave_out(moment: Moment, flow_id: str, nominal: date) -> list[PlanChange]:
    """The change that leaves one occurrence out."""
    flow, _ = _occurrence(moment.as_recorded, flow_id, nominal)
    return [_once(moment.plan, flow, nominal, left_out=True)]


def put_off(moment: Moment, flow_id: str, nominal: date, to: date) -> list[PlanChange]:
    """The change that moves one occurrence to another day, today or later."""
    if to < moment.today:
        raise refused("to", "Put it off to today or a later day.", "range")
    flow, _ = _occurrence(moment.as_recorded, flow_id, nominal)
    try:
        return [_once(moment.plan, flow, nominal, moved_to=to)]
    except PlanError as error:  # the day that is refused is the one put off to
        raise PlanError([replace(problem, loc=("to",)) for problem in error.problems]) from error


def _once(plan: Plan, flow: Flow, nominal: date, **fields: object) -> PlanChange:
    """One date of a flow having other fields; of a flow that an account makes of itself, the account has them."""
    account = plan.maker_accounts.get(flow.id)
    if account is None:
        return PlanChange("flow", flow.id, changed_just_once(flow, nominal, **fields))
    return PlanChange("account", account.id, changed_one_off(account, flow.id, nominal, fields))


def _occurrence(recorded: Moment, flow_id: str, nominal: date) -> tuple[Flow, Occurrence]:
    """An unsettled occurrence and its flow."""
    flow = recorded.plan.flow_by_id.get(flow_id)
    if flow is None:
        raise refused("flow", f"There is no flow “{flow_id}”.", "unknown_id")
    due = occurrence(recorded, flow, nominal)
    if due is None:
        is_settled = nominal.toordinal() in recorded.books.settled.get(flow_id, ())
        why = "is settled already" if is_settled else "is not expected"
        raise refused("nominal", f"“{flow.name}” of {full_day(nominal)} {why}.", "not_expected")
    return flow, due
