"""The occurrences of any flow, whether its dates come from rules, from a loan or from balances."""

from collections.abc import Sequence
from datetime import date

import numpy as np

from next_penny.core.balances.making import Made
from next_penny.core.dates.calendar import LATEST, widening
from next_penny.core.flows import makers
from next_penny.core.flows.makers import Occurrence
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.forecast.acting import acted
from next_penny.core.moment import Moment
from next_penny.core.plan import Flow


def expected(moment: Moment, flow: Flow, until: int) -> Occurrences:
    """A flow's unsettled occurrences that land by a day, past due ones among them if the household carries these."""
    if flow.id not in moment.plan.maker_accounts:
        return makers.expected(moment, flow, until)
    return _columns(acted(moment, until).by_flow.get(flow.id, ()))


def past_due(moment: Moment, flow: Flow) -> Occurrences:
    """What landed before today and is not settled, whether or not the household carries it on."""
    if flow.id not in moment.plan.maker_accounts:
        return makers.past_due(moment, flow)
    made = acted(moment.carrying, moment.now).by_flow.get(flow.id, ())
    return _columns([each for each in made if each.is_past_due])


def _columns(made: Sequence[Made]) -> Occurrences:
    rows = [(each.nominal, each.nominal if each.is_past_due else each.day, each.amount) for each in made]
    return Occurrences(*np.array(rows, dtype=np.int64).reshape(-1, 3).T)


def occurrence(moment: Moment, flow: Flow, nominal: date) -> Occurrence | None:
    """The unsettled occurrence of a nominal date, past due or to come; None where there is none."""
    if flow.id not in moment.plan.maker_accounts:
        return makers.occurrence(moment, flow, nominal)
    number = nominal.toordinal()
    for rows in (past_due(moment, flow), *_ever_later(moment, flow, number)):
        at = np.flatnonzero(rows.nominal == number)
        if len(at):
            return Occurrence(nominal, date.fromordinal(int(rows.landing[at[0]])), int(rows.amount[at[0]]))
    return None


def _ever_later(moment: Moment, flow: Flow, nominal: int) -> list[Occurrences]:
    """What is expected until some months after a day: a payment is put off no further than that at a time."""
    return [expected(moment, flow, min(LATEST.toordinal(), max(moment.now, nominal) + 400))]


def next_made(moment: Moment, flow: Flow) -> Made | None:
    """The next movement of a flow that a card or savings account makes of itself; None where none comes."""
    for last in widening(moment.now, LATEST.toordinal()):
        made = acted(moment, last).by_flow.get(flow.id)
        if made or last > moment.now + 400:
            return made[0] if made else None
    return None
