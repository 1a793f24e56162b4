"""The maker of a calendar flow's movements: income, bills and transfers on the dates that rules give.

Parts split off come first, in order, and never more than there is; the main account or category takes the rest.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from datetime import date
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days, Roll, business_calendar
from next_penny.core.dates.landing import lands_on
from next_penny.core.dates.sentences import full_day, recurrence_sentence, short_day
from next_penny.core.flows.amounts import NOTHING_SETTLED, FlowAmounts, amounts_between, hourly_on, rules_on
from next_penny.core.flows.kinds.calendar_legs import calendar_legs
from next_penny.core.flows.occurrences import Occurrences, nominal_days, occurrences
from next_penny.core.flows.settled import settled_amounts
from next_penny.core.loans.standing import Parts
from next_penny.core.money import format_amount
from next_penny.core.plan.entries import Leg
from next_penny.core.plan.flows import Change, Flow
from next_penny.core.plan.kept.statements import PaidSplit
from next_penny.core.problems import refused

Mask = npt.NDArray[np.bool_]


class CalendarFlow:
    """One flow of the plan at a moment."""

    source = "flow"
    # It may be paid in parts, and one date may have an amount of its own.
    may_be_paid_in_parts = True
    # It may be settled on an account of another currency.
    may_be_foreign = True
    settles_itself = False

    def __init__(self, moment: Moment, flow: Flow) -> None:
        self.moment, self.flow = moment, flow
        self.opened = moment.plan.flow_opened(flow)
        self._expected_from = max(self.opened, moment.plan.known_since(flow)).toordinal()
        # The accounts of later eras are open by their first day; a date may still be moved to before that.
        self._eras_opened = [moment.plan.opened(then.first_account_ids).toordinal() for _, then in flow.eras]

    @property
    def settled(self) -> Mapping[int, int]:
        """What the household settled, by nominal day; what is only assumed teaches no average."""
        return settled_amounts(self.moment, self.moment.recorded, self.flow, skip_unknown=True)

    @property
    def basis(self) -> tuple[object, ...]:
        """What its occurrences follow from."""
        country, passed = self.moment.plan.household.country, self.moment.books.settled.get(self.flow.id)
        return (self.flow, self.settled, passed, tuple(self._eras_opened), country, self.moment.today)

    @property
    def posted_by(self) -> tuple[object, ...]:
        """What its postings follow from beside its occurrences."""
        plan = self.moment.plan
        return (plan.rates, tuple(plan.account_by_id[account].currency for account in self.flow.account_ids))

    def occurrences(self, first: int, last: int) -> Occurrences:
        """What lands from a day to a day, settled or not; nothing moves before its account is open, and it is known."""
        found_occurrences = occurrences(
            self.flow, self.opened, self.moment.calendar, max(first, self._expected_from), last,
            self.settled if self.flow.follows else NOTHING_SETTLED,
        )  # fmt: skip
        if len(self._eras_opened) == 1 or not len(found_occurrences.nominal):
            return found_occurrences
        begins = [begin.toordinal() for begin, _ in self.flow.eras]
        opened = np.array(self._eras_opened)[np.searchsorted(begins, found_occurrences.nominal, side="right") - 1]
        return found_occurrences.where(found_occurrences.landing >= opened)

    def nominal_days(self, first: int, last: int) -> list[int]:
        """The nominal days from a day to a day, whatever was set of them just this once."""
        return nominal_days(self.flow, self.opened, first, last)

    def amount_of(self, nominal: int) -> int:
        """What the occurrence of a nominal day comes to."""
        return FlowAmounts(self.flow, self.settled).with_source(nominal)[0]

    def postings(self, coming: Occurrences, days: Days) -> Iterator[tuple[str, Days, Mask | None]]:
        """What occurrences change on each account, and for which of them; `days` are those on which it moves."""
        plan = self.moment.plan
        for flow, mine in _eras(self.flow, coming.nominal):
            parts, _ = _parts(flow, coming.amount)
            arriving = coming.amount.copy() if flow.splits else coming.amount
            for split, part in zip(flow.splits, parts, strict=True):
                if split.account is not None:
                    arriving = arriving - part
                    yield split.account, amounts_between(plan, flow.main_account or "", split.account, part, days), mine
            if flow.from_account is not None:
                yield flow.from_account, -coming.amount, mine
            if flow.to_account is not None:
                if flow.from_account is not None:
                    arriving = amounts_between(plan, flow.from_account, flow.to_account, arriving, days)
                yield flow.to_account, arriving, mine

    def shares(self, coming: Occurrences) -> Iterator[tuple[str, Days, Mask | None]]:
        """What each category takes of occurrences, and of which: the parts split off, and the rest."""
        sign = -1 if self.flow.kind == "income" else 1
        for flow, mine in _eras(self.flow, coming.nominal):
            parts, rest = _parts(flow, coming.amount)
            if flow.category is not None:
                yield flow.category, sign * rest, mine
            for split, part in zip(flow.splits, parts, strict=True):
                if split.category is not None:
                    yield split.category, sign * part, mine

    def split(self, nominal: date) -> Parts | None:
        """What a payment of a nominal day is proposed to be made of; only a loan's is made of parts."""
        return None

    def legs(
        self, nominal: date, amount: int, day: date, account: str | None, split: PaidSplit | None = None
    ) -> Iterator[Leg]:
        """The legs of an amount as the flow would post it on a day, perhaps on another account than its own.

        The amount is in that account's currency. Raises PlanError for a `split`: see `LoanPayment`.
        """
        if split is not None:
            raise refused("split", "Only a loan's payment is split into principal and interest.", "not_used")
        return calendar_legs(self.moment.plan, self.flow.on(nominal), amount, day, account)

    def payee(self, nominal: date) -> str:
        """Whom the occurrence of a nominal day is paid to, or who pays it."""
        return self.flow.payee or self.flow.name

    def rhythm(self) -> str:
        """How it repeats now, in words."""
        return recurrence_sentence(self.flow.schedule(self.opened, rules_on(self.flow, self.moment.today)))

    def teller(self) -> "CalendarTeller":
        """What tells why its events are what they are."""
        return CalendarTeller(self)


class MadeFlow(CalendarFlow):
    """What a card or savings account makes of itself: recorded as such a flow is, but only a forecast has its dates.

    It is settled whole: what else is paid on a card counts by itself.
    """

    may_be_paid_in_parts = False
    may_be_foreign = False


def _eras(flow: Flow, nominal: Days) -> Iterator[tuple[Flow, Mask | None]]:
    """The flow with the accounts and category in force, and for which of some nominal days they are (None: all)."""
    eras = flow.eras
    if len(eras) == 1:
        yield flow, None
        return
    begins = [begin.toordinal() for begin, _ in eras]
    in_force = np.searchsorted(begins, nominal, side="right") - 1
    for index in np.unique(in_force).tolist():
        yield eras[index][1], in_force == index


def _parts(flow: Flow, amount: Days) -> tuple[list[Days], Days]:
    """What is split off of each amount, part by part, and what is left."""
    parts, rest = [], amount
    for split in flow.splits:
        part = np.minimum(rest, split.amount)
        parts.append(part)
        rest = rest - part
    return parts, rest


class CalendarTeller:
    """Tells why events of a calendar flow are what they are: rule, date and amount in one sentence."""

    def __init__(self, maker: CalendarFlow) -> None:
        self._maker, self._flow = maker, maker.flow
        self._currency = maker.moment.plan.currency_of(maker.flow)
        self._amounts = FlowAmounts(maker.flow, maker.settled)
        self._rules: dict[tuple[str, ...], str] = {}
        self._has_fixed_dates = maker.flow.roll == "none" and not maker.flow.changes
        is_plain = self._amounts.is_plain and not maker.flow.revisions
        self._ends = (self._rule(0), self._amount(0)) if is_plain and not maker.flow.changes else None

    @property
    def usual(self) -> str | None:
        """The sentence of every occurrence that lands on its nominal day, where all have the same."""
        return f"{self._ends[0]}; {self._ends[1]}." if self._ends is not None else None

    def why(self, nominal: int, is_past_due: bool) -> str:
        """One sentence for the occurrence of a nominal day."""
        date_told = "" if self._has_fixed_dates and not is_past_due else self._date(nominal, is_past_due)
        rule, amount = self._ends or (self._rule(nominal), self._amount(nominal))
        return f"{rule}; {date_told}; {amount}." if date_told else f"{rule}; {amount}."

    def _rule(self, nominal: int) -> str:
        flow = self._flow
        rules = rules_on(flow, date.fromordinal(nominal)) if flow.revisions else flow.rules
        if rules not in self._rules:
            text = recurrence_sentence(flow.schedule(self._maker.opened, rules))
            self._rules[rules] = f"{text[0].upper()}{text[1:]}"
        return self._rules[rules]

    def _date(self, nominal: int, is_past_due: bool) -> str:
        flow, moment = self._flow, self._maker.moment
        moved = flow.exceptional.moved.get(nominal)
        if moved is not None:
            day, to = date.fromordinal(nominal), date.fromordinal(moved)
            wording = f"moved from {short_day(day)} to {short_day(to)} just this once"
        else:
            wording = _rolled(moment.plan.household.country, nominal, flow.roll)
        if not is_past_due:
            return wording
        lands = lands_on(date.fromordinal(nominal), flow.roll, moment.calendar, flow.exceptional)
        overdue = f"was due {short_day(lands)}, not settled, and is assumed to move today"
        return f"{wording}; {overdue}" if wording else overdue

    def _amount(self, nominal: int) -> str:
        flow = self._flow
        amount, source = self._amounts.with_source(nominal) if nominal else (flow.base_amount, "flow")
        text = format_amount(amount, self._currency)
        if source == "this date":
            hours = flow.change_by_nominal[nominal].hours
            worked = f", {hours.normalize():f} hours worked" if hours is not None else ""
            return f"{text} just this once{worked}"
        if source == "average":
            return f"about {text}, the average of the last {flow.follows} settled"
        day = date.fromordinal(max(1, nominal))
        hourly = hourly_on(flow, day) if nominal else flow.hourly
        if hourly is not None:
            rate = format_amount(hourly.rate, self._currency)
            text += f" for {hourly.hours.normalize():f} hours at {rate}, {hourly.share.normalize():f}% of it taken home"
        if source == "season":
            return f"{text} as set for {day:%B}"
        if source == "revision":
            step = flow.amount_steps.on(day)
            text += f" since {full_day(step[0])}" if step is not None else ""
        if flow.growth is not None and day >= flow.growth.start:
            text += f", growing {flow.growth.percent.normalize():f}% a year from {full_day(flow.growth.start)}"
        return f"about {text}" if flow.estimate else text


@lru_cache(maxsize=65536)
def _rolled(country: str | None, nominal: int, roll: Roll) -> str:
    """Why a nominal day lands elsewhere; empty where it does not."""
    calendar = business_calendar(country)
    rolled = calendar.roll_one(nominal, roll)
    if rolled == nominal:
        return ""
    closed, day, lands = calendar.why_closed(nominal), date.fromordinal(nominal), date.fromordinal(rolled)
    return f"{short_day(day)} is {closed}, so it lands on {short_day(lands)}"


def changed_just_once(flow: Flow, nominal: date, **fields: object) -> Flow:
    """The flow with its change of one nominal date having other fields; what else was changed that once stays."""
    existing = flow.change_by_nominal.get(nominal.toordinal(), Change(nominal))
    others = tuple(change for change in flow.changes if change.nominal != nominal)
    changed = replace(existing, **fields)  # type: ignore[arg-type]
    changes: Sequence[Change] = (changed,) if changed != Change(nominal) else ()
    return replace(flow, changes=tuple(sorted((*others, *changes), key=lambda change: change.nominal)))
