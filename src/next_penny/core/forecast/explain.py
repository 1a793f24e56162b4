"""Why an event is what it is, in one sentence: its maker tells it."""

from collections.abc import Iterator
from datetime import date

import numpy as np

from next_penny.core.accounts.generated import Facts
from next_penny.core.accounts.parts import sentence
from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import full_day, short_day
from next_penny.core.flows.allowances import limit_on
from next_penny.core.flows.kinds.maker import Teller, maker_of
from next_penny.core.flows.owed_back import owing_account
from next_penny.core.forecast.events import STATUSES, Column, EventTable, Origin
from next_penny.core.money import format_amount
from next_penny.core.plan.allowances import PERIOD_NAMES

_SETTLED, _PAST_DUE, _EXPECTED = (STATUSES.index(status) for status in ("settled", "past_due", "expected"))


class Explainer:
    """Explains the events of one moment; what many events share is worded once."""

    def __init__(self, moment: Moment) -> None:
        self._moment = moment
        self._tellers: dict[str, Teller] = {}
        self._held_back_told: dict[tuple[str, int], str] = {}

    def whys(self, events: EventTable) -> tuple[list[str], Column]:
        """Sentences, and for each event the place of its own among them; most have the usual one of their flow."""
        columns, origins = events.columns, events.origins
        takes_what_is_owed = [self._takes_what_is_owed(origin) for origin in origins]
        usual = [
            "" if is_bounded else self._usual(origin)
            for origin, is_bounded in zip(origins, takes_what_is_owed, strict=True)
        ]
        has_usual = np.array([bool(sentence) for sentence in usual], dtype=np.bool_)[columns.origin]
        is_usual = has_usual & (columns.day == columns.nominal) & (columns.status == _EXPECTED)
        others = np.flatnonzero(~is_usual)
        codes = columns.origin.copy()
        codes[others] = np.arange(len(others)) + len(usual)
        return [*usual, *self._unusual(events, others, takes_what_is_owed)], codes

    def _unusual(self, events: EventTable, rows: Column, takes_what_is_owed: list[bool]) -> Iterator[str]:
        """The sentences of some events, each by itself."""
        columns, origins = events.columns, events.origins
        told_by = (columns.day, columns.nominal, columns.origin, columns.status, columns.amount)
        for day, nominal, number, status, amount in zip(*(column[rows].tolist() for column in told_by), strict=True):
            origin, is_past_due = origins[number], status == _PAST_DUE
            if status == _SETTLED:
                yield self._recorded(origin, day, nominal)
            elif origin.owner is not None:
                facts = events.rules.facts[origin.source, origin.owner, day, nominal]
                yield self._made(origin, facts, nominal, day, is_past_due)
            elif takes_what_is_owed[number]:
                yield self._paid_back(origin, nominal, is_past_due, abs(amount))
            else:
                yield self._planned(origin, nominal, is_past_due)

    def _usual(self, origin: Origin) -> str:
        """What every event of an origin has that lands on its nominal day; empty where they have not one."""
        teller = self._teller(origin)
        return teller.usual or "" if teller is not None else ""

    def _planned(self, origin: Origin, nominal: int, is_past_due: bool) -> str:
        teller = self._teller(origin)
        return teller.why(nominal, is_past_due) if teller is not None else self._held_back(origin, nominal)

    def _teller(self, origin: Origin) -> Teller | None:
        flow = self._moment.plan.flow_by_id.get(origin.flow or "")
        if flow is None or origin.source == "recorded" or origin.owner is not None:
            return None
        if flow.id not in self._tellers:
            self._tellers[flow.id] = maker_of(self._moment, flow).teller()
        return self._tellers[flow.id]

    def _takes_what_is_owed(self, origin: Origin) -> bool:
        flow = self._moment.plan.flow_by_id.get(origin.flow or "")
        return flow is not None and owing_account(self._moment, flow) is not None

    def _paid_back(self, origin: Origin, nominal: int, is_past_due: bool, amount: int) -> str:
        teller, flow = self._teller(origin), self._moment.plan.flow_by_id[origin.flow or ""]
        assert teller is not None
        wording = teller.why(nominal, is_past_due)
        if amount >= maker_of(self._moment, flow).amount_of(nominal):
            return wording
        currency = self._moment.plan.account_by_id[flow.from_account or ""].currency
        return f"{wording.removesuffix('.')}; only {format_amount(amount, currency)} is still owed."

    def _recorded(self, origin: Origin, day: int, nominal: int) -> str:
        flow = self._moment.plan.flow_by_id.get(origin.flow or "")
        settles = f" and settles “{flow.name}” of {full_day(date.fromordinal(nominal))}" if flow and nominal else ""
        return f"Recorded on {full_day(date.fromordinal(day))}{settles}."

    def _made(self, origin: Origin, facts: Facts, nominal: int, day: int, is_past_due: bool) -> str:
        account = self._moment.plan.account_by_id[origin.owner or ""]
        wording = sentence(account, origin.source, facts)
        if is_past_due:
            wording += f"; was due {short_day(date.fromordinal(nominal))}, not settled, and is assumed to move today"
        elif nominal and day != nominal:
            wording += f"; put off from {short_day(date.fromordinal(nominal))} just this once"
        return f"{wording}."

    def _held_back(self, origin: Origin, first: int) -> str:
        key = (origin.allowance or "", first)
        if key not in self._held_back_told:
            allowance = self._moment.plan.allowance_by_id[origin.allowance or ""]
            currency = self._moment.plan.account_by_id[allowance.account].currency
            limit = format_amount(limit_on(allowance, first), currency)
            when = "on the last day of the period" if allowance.timing == "at_end" else "evenly over the days left"
            self._held_back_told[key] = (
                f"Held back for “{allowance.name}”: what is left of {limit} a {PERIOD_NAMES[allowance.period]}, "
                f"taken {when}."
            )
        return self._held_back_told[key]
