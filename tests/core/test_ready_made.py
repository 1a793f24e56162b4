"""What-ifs of two or three figures: whatever a group's amounts follow from, each is so much more from a day on."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction

from households import TODAY, Document, documents, moment_from, read
from hypothesis import given, settings
from hypothesis import strategies as st
from said import PLAN as SAID
from seen import seen

from effort import examples
from next_penny.core.books.moment import Moment
from next_penny.core.edits.ready_made import group_changed, income_lost
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import expected
from next_penny.core.plan.changes import apply
from next_penny.core.plan.flows import Growth
from next_penny.core.problems import PlanError
from next_penny.core.saying.meaning import understand


@given(documents(), st.integers(0, 200), st.sampled_from(["10", "-25", "3.5", "120"]))
@settings(max_examples=examples(120), deadline=None)
def test_a_group_is_dearer_by_a_share_of_what_each_date_would_have_come_to(
    document: Document, after: int, percent: str
) -> None:
    for category in document["categories"]:
        category["group"] = "Household"
    moment, start = moment_from(document), TODAY + timedelta(days=after)
    share = 1 + Fraction(percent) / 100
    try:
        changes = group_changed(moment, "Household", Decimal(percent), start).changes
    except PlanError:
        return
    _, recorded = read(document)
    dearer = seen(apply(moment.plan, changes), recorded, TODAY)
    for flow in moment.plan.flows:
        changed = dearer.plan.flow_by_id[flow.id]
        once = {change.nominal.toordinal() for change in (*flow.changes, *changed.changes)}
        # What was settled of later dates is followed as it was.
        settled = [nominal for nominal in moment.books.settled.get(flow.id, {}) if nominal >= start.toordinal()]
        for day in range(moment.now, (start + timedelta(days=800)).toordinal(), 11):
            before, now = (maker_of(seen, one).amount_of(day) for seen, one in ((moment, flow), (dearer, changed)))
            # An average that is followed does not grow; an amount that is set does.
            if day in once or (flow.follows and (settled or flow.growth)):
                continue
            is_meant = day >= start.toordinal() and flow.kind == "bill" and flow.category is not None
            # Rounded where it is set, and that is what grows from then on.
            if is_meant and (flow.until is None or flow.until >= start):
                assert abs(now - before * share) <= 2
            elif date.fromordinal(day).month not in dict(flow.seasonal):
                assert now == before


@given(documents(), st.integers(0, 60), st.integers(1, 5))
@settings(max_examples=examples(100), deadline=None)
def test_a_lost_income_brings_nothing_for_so_many_months_and_the_same_after(
    document: Document, after: int, months: int
) -> None:
    moment, start = moment_from(document), TODAY + timedelta(days=after)
    number = start.year * 12 + start.month - 1 + months
    ends = date(number // 12, number % 12 + 1, 1) + timedelta(days=start.day - 1)
    for flow in (flow for flow in moment.plan.flows if flow.kind == "income"):
        coming = expected(moment, flow, (TODAY + timedelta(days=400)).toordinal())
        rows = list(zip(coming.landing.tolist(), coming.amount.tolist(), strict=True))
        kept = [row for row in rows if not start.toordinal() <= row[0] < ends.toordinal()]
        if kept == rows or start.day > 28:
            continue
        _, recorded = read(document)
        lost = seen(apply(moment.plan, income_lost(moment, flow.id, start, months).changes), recorded, TODAY)
        left = expected(lost, lost.plan.flow_by_id[flow.id], (TODAY + timedelta(days=400)).toordinal())
        assert list(zip(left.landing.tolist(), left.amount.tolist(), strict=True)) == kept


def test_a_growing_bill_goes_up_from_what_it_has_grown_to() -> None:
    rent = replace(SAID.flow_by_id["rent"], growth=Growth(Decimal(10), date(2026, 1, 1)))
    plan = replace(SAID, flows=tuple(rent if flow.id == "rent" else flow for flow in SAID.flows))
    for text, amount in (("rent goes up 5% from july", "$1,386.00"), ("rent goes up by 80 from july", "$1,400.00")):
        (reading,) = understand(Moment(plan, TODAY), text, [], {}, "new").readings
        assert reading.sentence == f"“Rent” is {amount} from Thu Jul 1 on ($1,320.00 until then)"
