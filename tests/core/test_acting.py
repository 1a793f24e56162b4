"""Cards, lines, savings and sweeps: against a walk over every day, and worked cases."""

from datetime import date, timedelta

import pytest
from acting_households import acting_documents
from acting_ledger import ActingLedger
from households import TODAY, Document, moment_from, read
from hypothesis import given, settings
from seen import whys
from test_forecast import end_of_day

from next_penny.core.checks.plan import check
from next_penny.core.forecast.projection import project

UNTIL = TODAY + timedelta(days=150)


def agrees(document: Document) -> None:
    plan, _ = read(document)
    assert [each for each in check(plan) if each.loc[0] == "accounts"] == []
    forecast, ledger = project(moment_from(document), UNTIL), ActingLedger(document, TODAY, UNTIL)
    for run in forecast.runs:
        by_day = ledger.end_of_days(run.account.id)
        assert {day: end_of_day(run, day) for day in by_day} == by_day
    made = [event for event in forecast.events if event.source not in ("flow", "allowance", "recorded")]
    told = [(e.date, e.source, e.account, e.amount, e.nominal and str(date.fromordinal(e.nominal))) for e in made]
    assert sorted(told, key=str) == sorted(ledger.made, key=str)
    assert all(whys(forecast))


@given(acting_documents())
def test_what_depends_on_balances_is_what_a_walk_over_every_day_finds(document: Document) -> None:
    agrees(document)


@pytest.mark.slow
@settings(max_examples=2000)
@given(acting_documents())
def test_many_more_households(document: Document) -> None:
    agrees(document)
