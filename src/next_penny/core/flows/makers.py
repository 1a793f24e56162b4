"""What any flow is expected to move, whether its dates come from rules, from a loan or from balances."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from next_penny.core.accounts.generated import Generated
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import LATEST, widening
from next_penny.core.flows import planned
from next_penny.core.flows.acting import acted
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.plan.flows import Flow

# Nothing is put off further than that at a time; what balances make is looked for no further either.
_FURTHEST_PUT_OFF = 400


@dataclass(frozen=True, slots=True)
class Occurrence:
    """One occurrence of a flow: its nominal day, the day on which it lands, and its amount in minor units."""

    nominal: date
    lands: date
    amount: int


def expected(moment: Moment, flow: Flow, until: int) -> Occurrences:
    """A flow's unsettled occurrences that land by a day, past due ones among them if the household carries these."""
    if flow.id not in moment.plan.maker_accounts:
        return planned.expected(moment, flow, until)
    return _columns(acted(moment, until).by_flow.get(flow.id, ()))


def past_due(moment: Moment, flow: Flow) -> Occurrences:
    """What landed before today and is not settled, whether or not the household carries it on."""
    if flow.id not in moment.plan.maker_accounts:
        return planned.past_due(moment, flow)
    made = acted(moment.carrying, moment.now).by_flow.get(flow.id, ())
    return _columns([movement for movement in made if movement.is_past_due])


def _columns(made: Sequence[Generated]) -> Occurrences:
    rows = [
        (movement.nominal, movement.nominal if movement.is_past_due else movement.day, movement.amount)
        for movement in made
    ]
    return Occurrences(*np.array(rows, dtype=np.int64).reshape(-1, 3).T)


def next_occurrences(moment: Moment, flow: Flow, after: date, count: int) -> list[Occurrence]:
    """The next unsettled occurrences that land after a day (today or later), by the day they land."""
    rows: list[tuple[int, int, int]] = []
    for last in widening(moment.now, _furthest(moment, flow, after)):
        coming = expected(moment, flow, last)
        later = coming.where(coming.landing > after.toordinal())
        rows = sorted(zip(later.landing.tolist(), later.nominal.tolist(), later.amount.tolist(), strict=True))[:count]
        if len(rows) == count:
            break
    return [Occurrence(date.fromordinal(nominal), date.fromordinal(lands), amount) for lands, nominal, amount in rows]


def occurrence(moment: Moment, flow: Flow, nominal: date) -> Occurrence | None:
    """The unsettled occurrence of a nominal date, past due or to come; None where there is none."""
    late = _named(past_due(moment, flow), nominal)
    if late is not None:
        return late
    begins = max(moment.now, nominal.toordinal())
    is_moved = nominal.toordinal() in flow.exceptional.moved or flow.id in moment.plan.maker_accounts
    for last in widening(begins, _furthest(moment, flow, max(moment.today, nominal))):
        coming = _named(expected(moment, flow, last), nominal)
        # No roll reaches beyond the first stretch that is looked at.
        if coming is not None or not is_moved:
            return coming
    return None


def _furthest(moment: Moment, flow: Flow, after: date) -> int:
    """Up to which day a flow's dates are looked for."""
    if flow.id not in moment.plan.maker_accounts:
        return LATEST.toordinal()
    return min(LATEST, max(moment.today, after) + timedelta(days=_FURTHEST_PUT_OFF)).toordinal()


def _named(rows: Occurrences, nominal: date) -> Occurrence | None:
    """Of some occurrences, that of a nominal date."""
    at = np.flatnonzero(rows.nominal == nominal.toordinal())
    return Occurrence(nominal, date.fromordinal(int(rows.landing[at[0]])), int(rows.amount[at[0]])) if len(at) else None
