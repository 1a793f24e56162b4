"""What became of every occurrence that was expected in a stretch (docs/rules.md, Expected and actual)."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from contextlib import suppress
from datetime import date
from typing import Literal, NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.flows.makers import past_due
from next_penny.core.loans.lent.standing import lent_standing
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.memory import Expected, Key
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import NoRate
from next_penny.core.review.expecting import Sources, told_over
from next_penny.core.review.remembering import is_left_out

Status = Literal["settled", "assumed", "left_out", "past_due", "not_paid", "expected"]


class Became(NamedTuple):
    """An occurrence, what was expected and what was recorded for it, whenever, and how it stands.

    Amounts are changes of the account that it was paid from in fact, or is to be, in that account's currency: what was
    expected, or paid, in another is converted at the day on which it was to land, or was paid.
    """

    row: Expected
    expected: int
    actual: int
    account: str
    status: Status
    days: tuple[date, ...]

    def is_in_its_currency(self, plan: Plan) -> bool:
        """Whether it was paid in the currency in which it was expected."""
        paid = plan.account_by_id.get(self.account)
        planned = plan.account_by_id.get(main_leg(self.row.kind == "income", self.row.legs).account or "")
        return paid is None or planned is None or paid.currency == planned.currency


def occurrences_over(
    moment: Moment, sources: Sources, first: date, last: date, accounts: Sequence[Account] | None = None,
    of: Collection[str] | None = None,
) -> list[Became]:  # fmt: skip
    """Every occurrence that was or is expected in some days, on some accounts or all, by day.

    of: of the past, the flows that are asked about; None means all.
    """
    ids = None if accounts is None else {account.id for account in accounts}
    rows = [row for row in told_over(moment, sources, first, last, of)
            if ids is None or any(leg.account in ids for leg in row.legs)]  # fmt: skip
    return became_of(moment, sources, rows, of)


def became_of(
    moment: Moment, sources: Sources, expected: Iterable[Expected], of: Collection[str] | None = None
) -> list[Became]:  # fmt: skip
    """What became of some occurrences, by day; those of nothing are left out."""
    rows = [row for row in expected if row.legs]
    if not rows:
        return []
    paid = sources.paid_for(min(row.nominal for row in rows), max(row.nominal for row in rows), of)
    assumed = {Key(entry.flow, entry.nominal): entry for entry in moment.assumed if entry.flow and entry.nominal}
    late = _carried(moment, rows)
    outcomes = [_became(moment, row, paid, assumed, late) for row in rows]
    return sorted(outcomes, key=lambda outcome: (outcome.row.lands, outcome.row.name, outcome.row.nominal))


def _became(
    moment: Moment, row: Expected, paid: Mapping[Key, Sequence[Entry]], assumed: Mapping[Key, Entry],
    late: frozenset[Key],
) -> Became:  # fmt: skip
    entries = paid.get(row.key, ())
    status = _status(moment, row, entries, assumed, late)
    if status == "assumed":
        entries = [*entries, assumed[row.key]]
    on = main_leg(row.kind == "income", row.legs)
    if (rest := _rest_of_lent(moment, row, status)) is not None:
        # Which days are settled follows from the sums received, whatever their entries name.
        status = "settled" if not rest else status
        return Became(
            row, on.amount, on.amount + rest, on.account or "", status, tuple(entry.date for entry in entries)
        )
    paid_legs = [(main_leg(row.kind == "income", entry.legs), entry.date) for entry in entries]
    account = next((leg.account for leg, _ in reversed(paid_legs)), on.account) or ""
    actual = sum(_as_on(moment.plan, account, leg, day) for leg, day in paid_legs)
    expected = _as_on(moment.plan, account, on, row.lands)
    return Became(row, expected, actual, account, status, tuple(entry.date for entry in entries))


def _as_on(plan: Plan, account: str, leg: Leg, day: date) -> int:
    """A leg's amount in an account's currency; by way of the household's where the two have no rate.

    As it is where none is known: what is told of a stretch is refused then by its sums.
    """
    source, here = leg.account or "", plan.household.currency
    if source not in plan.account_by_id or account not in plan.account_by_id:
        return leg.amount
    have, want = plan.account_by_id[source].currency, plan.account_by_id[account].currency
    with suppress(NoRate):
        return plan.converted(leg.amount, have, want, day)
    with suppress(NoRate):
        return plan.converted(plan.converted(leg.amount, have, here, day), here, want, day)
    return leg.amount


def _rest_of_lent(moment: Moment, row: Expected, status: Status) -> int | None:
    """What of the principal of a repayment that was due is still to come; None for anything else."""
    flow = moment.plan.flow_by_id.get(row.source)
    lent = moment.plan.lent_by(flow) if flow is not None else None
    if lent is None or status == "left_out" or row.lands >= moment.today:
        return None
    rest = {due.nominal: due.principal for due in lent_standing(moment, lent).open}
    return rest.get(row.nominal.toordinal(), 0)


def main_leg(is_income: bool, legs: Iterable[Leg]) -> Leg:
    """The leg on the account that money arrives on, or that it is paid from."""
    on_accounts = [leg for leg in legs if leg.account is not None]
    wanted = [leg for leg in on_accounts if (leg.amount > 0) == is_income and leg.amount]
    return next(iter(wanted or on_accounts), Leg(0))


def _status(
    moment: Moment, row: Expected, entries: Sequence[Entry], assumed: Mapping[Key, Entry], late: frozenset[Key]
) -> Status:
    if any(entry.settles is not None for entry in entries):
        return "settled"
    if row.key in assumed:
        return "assumed"
    if is_left_out(moment, row):
        return "left_out"
    if row.lands >= moment.today:
        return "expected"
    return "past_due" if row.key in late else "not_paid"


def _carried(moment: Moment, rows: Iterable[Expected]) -> frozenset[Key]:
    """What is past due of the flows of some occurrences, and carried."""
    if not moment.carries:
        return frozenset()
    flows = (moment.plan.flow_by_id.get(id) for id in {row.source for row in rows if row.lands < moment.today})
    return frozenset(
        Key(flow.id, date.fromordinal(nominal))
        for flow in flows if flow is not None
        for nominal in past_due(moment, flow).nominal.tolist()
    )  # fmt: skip
