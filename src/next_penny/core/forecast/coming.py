"""The occurrences of any flow, whether its dates come from rules, from a loan or from balances."""

from collections.abc import Sequence
from datetime import date

import numpy as np

from next_penny.core.accounts.generated import Generated
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import LATEST
from next_penny.core.flows import makers
from next_penny.core.flows.makers import Occurrence
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.forecast.acting import acted
from next_penny.core.plan.flows import Flow

_FURTHEST_PUT_OFF = 400


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
    return _columns([movement for movement in made if movement.is_past_due])


def _columns(made: Sequence[Generated]) -> Occurrences:
    rows = [
        (movement.nominal, movement.nominal if movement.is_past_due else movement.day, movement.amount)
        for movement in made
    ]
    return Occurrences(*np.array(rows, dtype=np.int64).reshape(-1, 3).T)


def occurrence(moment: Moment, flow: Flow, nominal: date) -> Occurrence | None:
    """The unsettled occurrence of a nominal date, past due or to come; None where there is none."""
    if flow.id not in moment.plan.maker_accounts:
        return makers.occurrence(moment, flow, nominal)
    number = nominal.toordinal()
    # Nothing is put off further than that at a time.
    ahead = min(LATEST.toordinal(), max(moment.now, number) + _FURTHEST_PUT_OFF)
    for rows in (past_due(moment, flow), expected(moment, flow, ahead)):
        occurrence = makers.named(rows, nominal)
        if occurrence is not None:
            return occurrence
    return None
