"""What two households are told, held against the tables in `worked_tables/`: nothing of it changes unseen."""

from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

import pytest
from seen import seen, whys
from worked import held_against
from worked_households import House, abroad, demo

from next_penny.core.ahead.afford import afford
from next_penny.core.ahead.calendar_days import calendar_days
from next_penny.core.ahead.figures import figures
from next_penny.core.ahead.left import left_of
from next_penny.core.ahead.months import grid
from next_penny.core.ahead.put_in import put_in
from next_penny.core.ahead.remedies import remedies
from next_penny.core.ahead.revaluation import revaluation
from next_penny.core.ahead.side_by_side import seen as seen_beside
from next_penny.core.ahead.uncounted import uncounted
from next_penny.core.ahead.worth import whole_span, worth_over
from next_penny.core.ahead.year_list import year_list
from next_penny.core.books.registers import lines_of, register
from next_penny.core.dates.calendar import add_months, month_number
from next_penny.core.edits.month_cells import MonthAmount, month_changes
from next_penny.core.edits.notes import change_notes, loan_notes_of
from next_penny.core.edits.one_off import move_onward
from next_penny.core.edits.ready_made import bill_early, group_changed, groups, income_lost
from next_penny.core.edits.revising import revise_allowance, revise_flow, take_back
from next_penny.core.edits.settling.due import due_lines, left_out_lately
from next_penny.core.flows.allowances import periods, status
from next_penny.core.flows.candidates import candidates
from next_penny.core.flows.makers import next_occurrences
from next_penny.core.flows.setting_aside import savings
from next_penny.core.flows.subscriptions import subscription
from next_penny.core.flows.summary import summarize, yearly_by_kind
from next_penny.core.forecast.cards.payments import paying_against_minimum
from next_penny.core.forecast.cards.standing import card_totals, cards_standing, lines_available, marks
from next_penny.core.forecast.cards.statements import coming_months, coming_year, past_statements
from next_penny.core.forecast.chances.chance import chance
from next_penny.core.forecast.low_points import headrooms, lowest, stretches, top_ups
from next_penny.core.forecast.outlook import bills_ahead, held_periods, next_payday, pay_periods
from next_penny.core.forecast.overspending import overspending_cost
from next_penny.core.forecast.projection import project
from next_penny.core.forecast.reminders import calendar_items
from next_penny.core.forecast.shallows import shallows
from next_penny.core.forecast.tideline import lowest_ahead, tideline
from next_penny.core.loans.lent.standing import lent_standing
from next_penny.core.loans.overview import overview
from next_penny.core.mortgage.escrow_ahead import escrow_ahead, uncovered
from next_penny.core.mortgage.escrow_spent import escrow_spent
from next_penny.core.mortgage.loan_books import loan_books
from next_penny.core.mortgage.loan_years import coming_year as property_ahead
from next_penny.core.mortgage.loan_years import loan_years, properties, property_lines, sums_by_year
from next_penny.core.mortgage.statement_check import check_statement
from next_penny.core.mortgage.suspects import Suspects
from next_penny.core.mortgage.whole_years import whole_figures
from next_penny.core.payoff.adopting import adoption
from next_penny.core.payoff.consolidation import NewCard, NewLoan, consolidate
from next_penny.core.payoff.debts import Minimum
from next_penny.core.payoff.progress import progress, years_on_record
from next_penny.core.payoff.questions import debt_or_savings, extra_for, worth_of
from next_penny.core.payoff.way import Way
from next_penny.core.plan.changes import apply
from next_penny.core.plan.kept.statements import LastSplit, Statement
from next_penny.core.plan.kept.way_out import Asked, Choice, Wish
from next_penny.core.plan.kept.way_out import MonthAmount as OneTime
from next_penny.core.plan.terms.cards import RateStep
from next_penny.core.problems import PlanError
from next_penny.core.reconciling.causes import causes
from next_penny.core.reconciling.interest import credited_months
from next_penny.core.review.detail.behind import behind
from next_penny.core.review.detail.different import different
from next_penny.core.review.forward.habits import habits
from next_penny.core.review.forward.proposals import proposals
from next_penny.core.review.forward.year_end import year_end
from next_penny.core.review.goals.progress import progress_of, shares_of
from next_penny.core.review.goals.wording import sentence_of as goal_sentence
from next_penny.core.review.noticing import noticed
from next_penny.core.review.occurrences import became_of, occurrences_over
from next_penny.core.review.review import review_of
from next_penny.core.review.side_by_side import category_months
from next_penny.core.review.sums import Sums
from next_penny.core.review.tagged import tag_sums
from next_penny.core.review.telling import lines_of as told_lines
from next_penny.core.review.telling import proposal_sentence

Lines = Iterator[tuple[str, object]]


def months_and_days(home: House) -> Lines:
    half, before = home.months(0, 5), home.months(-1, -1)
    some = home.over(home.day(-45), home.day(50))
    yield "months", grid(home.over(*half))
    yield "months of what was and comes", grid(home.over(*home.months(-2, 1)))
    yield "months of a card", grid(home.over(*half, home.card))
    yield "left", [left_of(home.over(*half)), left_of(some)]
    yield "figures", [figures(home.over(*half)), figures(some), figures(home.over(*half, home.pot))]
    yield "put in", put_in(home.over(*half))
    yield "days", calendar_days(home.over(home.day(-9), home.day(34)), home.over(*before, home.card))
    yield "not counted", uncounted(home.moment, half[1])
    yield "by rates", revaluation(home.moment, *before, home.moment.plan.accounts)


def years_and_worth(home: House) -> Lines:
    moment = home.moment
    yield "this year", year_list(moment, home.today.year)
    yield "last year", year_list(moment, home.today.year - 1).months
    yield "worth", worth_over(moment, home.day(-60), home.day(90))
    yield "span", list(whole_span(moment))
    for years in (1, 2):
        yield f"after {years}", seen_beside(moment, [home.main, home.pot], add_months(home.today, 12 * years))


def forecast(home: House) -> Lines:
    run = project(home.moment, home.day(120), home.looked_at)
    for event, why, headroom in zip(run.events, whys(run), headrooms(run, run.events), strict=True):
        day = date.fromordinal(event.day)
        yield f"{day} {event.account}", f"{event.name} {event.amount} {event.balance} {headroom} {event.status}: {why}"


def low_points_and_paydays(home: House) -> Lines:
    until, now = add_months(home.today, 12), home.today.toordinal()
    run = project(home.moment, until)
    for account in (home.main, home.pot, home.card):
        of = run.run_of[account]
        yield account, [lowest(of), lowest(of, now + 20, now + 90), stretches(of, until.toordinal())[:3]]
        yield "top-ups", top_ups(of)[:5]
        yield "payday", [next_payday(run, account), bills_ahead(run, account), pay_periods(run, account)]
        yield "shallows", shallows(run, account, 3)
    yield "held", held_periods(run.events)[:12]
    line = tideline(run, [home.main, home.pot], {})
    yield "tideline", [lowest_ahead(line), line]
    main = home.plan.account_by_id[home.main]
    for short in stretches(run.run_of[home.main], until.toordinal())[:2]:
        yield "remedies", [(each.kind, each.title, each.cost, each.moved, each.steps, each.lowest)
                           for each in remedies(home.moment, main, short, until)]  # fmt: skip
    for amount, monthly in ((250_00, False), (2_000_00, False), (90_00, True), (900_00, True)):
        yield f"{amount}", afford(home.moment, main, amount, home.day(19), until, monthly=monthly)


def flows_and_allowances(home: House) -> Lines:
    moment, until = home.moment, home.day(91).toordinal()
    summaries = [summarize(moment, flow) for flow in moment.plan.all_flows]
    for summary in summaries:
        yield summary.flow.id, summary
        yield "next", next_occurrences(moment, summary.flow, home.today, 3)
        paid = [(entry.date, abs(entry.legs[0].amount)) for entry in home.entries if entry.flow == summary.flow.id]
        if summary.flow.kind == "bill":
            yield "subscription", subscription(summary, paid, home.today, is_overdue=False)
    yield "by kind", {" ".join(key): amount for key, amount in yearly_by_kind(summaries).items()}
    for allowance in moment.plan.allowances:
        stands = status(moment, allowance)
        yield allowance.id, [stands, list(periods(moment, allowance, until))]
        yield "costs", overspending_cost(moment, stands) if stands is not None else None
    yield "saved for", savings(moment.plan)
    yield "due", [due_lines(moment), left_out_lately(moment)]
    yield "reminders", calendar_items(moment)[:60]
    yield "candidates", candidates(moment.plan, [entry for entry in home.entries if entry.flow is None], (), home.today)


def cards_and_lines(home: House) -> Lines:
    moment = home.moment
    standing = cards_standing(moment)
    yield "standing", standing
    yield "totals", [card_totals(moment, standing), lines_available(moment, standing), marks(moment, home.day(92))]
    for card in (one.account for one in standing):
        yield card.id, [past_statements(moment, card)[:3], coming_months(moment, card)]
        yield "year", list(coming_year(coming_months(moment, card)))
        if card.card is not None:
            yield "minimum", paying_against_minimum(moment, card, "minimum")
            yield "fixed", paying_against_minimum(moment, card, "fixed", 150_00)


def loans_and_lent(home: House) -> Lines:
    moment = home.moment
    found = overview(moment)
    yield "all", [found.debt_free, found.this_month, found.next_twelve, found.years]
    for loan in found.loans:
        yield loan.standing.account.id, replace(loan, standing=None)
        at, shown = loan.standing, loan.standing.shown
        yield "stands", [at.passed, at.owed, at.paid_down, at.ends, at.never_ends, shown.first_number, len(shown)]
        yield "rows", [row for row in shown.rows if row.number < shown.first_number + 4 or row.number % 40 == 0]
    for account in moment.plan.accounts:
        if account.kind == "owed_to_us":
            lent = lent_standing(moment, account)
            yield account.id, [lent, lent.coming.until(home.day(400).toordinal()) if lent.coming else None]
    yield "notes", [loan_notes_of(moment), change_notes(moment, moment)]


def mortgage_and_escrow(home: House) -> Lines:
    moment, plan = home.moment, home.moment.plan
    for cushion in ("0", "1.5", "2"):
        yield f"escrow {cushion}", escrow_ahead(moment, plan.account_by_id["escrow"], Decimal(cushion))
    yield "uncovered", list(uncovered(moment))
    yield "spent", escrow_spent(moment, plan.account_by_id["escrow"], home.entries)
    for year in (2026, 2027, 2028):
        yield f"{year}", loan_years(moment, home.entries, year)
    for owned in properties(plan):
        lines = list(property_lines(plan, owned, home.entries))
        yield "property", [lines[-6:], sums_by_year(lines), property_ahead(moment, owned)]
    whole = whole_figures(moment, home.entries)
    yield "whole", whole
    books, suspects = loan_books(plan, plan.account_by_id["house"], home.entries), Suspects(plan, home.entries)
    for statement in (
        Statement(date(2027, 2, 15), principal_balance=236_009_74, interest_to_date=2_214_00),
        Statement(date(2027, 2, 15), 236_600_00, 2_100_00, 1_106_30, 1_283_58, LastSplit(436_10, 1_106_66, 641_79)),
        Statement(date(2026, 12, 31), 236_900_00, escrow_balance=1_466_42, interest_to_date=13_400_00),
    ):
        found = check_statement(moment, books, statement, suspects)
        yield f"statement {statement.date}", [found.compared, found.notes]
        yield "causes", [(cause.kind, cause.sentence, cause.explains, len(cause.changes)) for cause in found.causes]


def _way(home: House, choice: Choice, *, cap: str = "none", **wish: object) -> Way:
    strategy = "highest_rate" if choice == "cheapest" else choice
    return Way(home.moment, Asked(home.month + 1, choice, Wish(strategy=strategy, **wish), cap=cap))  # type: ignore[arg-type]


def way_out(home: House) -> Lines:
    first = _way(home, "smallest_balance", extra_monthly=400_00, one_time=(OneTime(home.month + 5, 1_000_00),))
    yield "debts", first.debts.debts
    yield "payer", first.payer
    yield "minimums", {id: months[:4] for id, months in first.least.months.items()}
    yield "asked", first.run
    yield "compared", first.compared
    capped = _way(home, "highest_rate", cap="affordable", extra_monthly=900_00)
    yield "what it bears", [capped.affordable, capped.run.debt_free, capped.run.paid[:24]]
    yield "notes", [list(first.notes()), list(capped.notes())]
    yield "by", extra_for(first, home.month + 48)
    yield "worth", worth_of(first, 500_00, home.month + 2)
    yield "or savings", debt_or_savings(first, home.moment.plan.account_by_id[home.pot], 500_00, home.month + 2)
    chosen = tuple(debt.id for debt in first.debts.debts[-2:])
    for new in (NewLoan(Decimal("7.9"), 60, 250_00), NewLoan(Decimal("12.5"), 36, 90_00, fees_financed=False),
                NewCard((RateStep(home.day(31), Decimal(0)), RateStep(home.day(397), Decimal(21))),
                        Minimum(25_00, Decimal(2), plus_interest=True), Decimal(3))):  # fmt: skip
        after = consolidate(first, chosen, new)
        yield "instead", after._replace(run=None)
        yield "then", [after.run.debt_free, after.run.paid[:12]]
    yield "so far", [progress(home.moment), years_on_record(home.moment)]
    adopted = apply(home.plan, adoption(first))
    for months in (0, 1, 3):
        followed = progress(seen(adopted, home.entries, add_months(home.today, months)))
        yield f"followed for {months}", followed and [replace(followed, adopted=None), followed.percent]


def reviewed(home: House) -> Lines:
    moment, sources = home.moment, home.sources
    before = home.months(-1, -1)
    for first, last in (before, home.months(-6, -1), (home.day(-12), home.day(13))):
        sums = Sums(moment, sources, first, last, None)
        review = review_of(sums)
        became = became_of(moment, sources, sums.planned)
        yield f"{first}", review
        yield "lines", told_lines(review)
        if (first, last) == before:
            yield "became", [(row.row.key, row.expected, row.actual, row.status, row.days) for row in became]
        yield "different", different(moment.plan, became, sums.unplanned())[:12]
        yield "behind", behind(sums, {row.key for row in review.rows[:3]})
    yield "one account", review_of(Sums(moment, sources, *before, [moment.plan.account_by_id[home.main]]))
    yield "months", category_months(moment, sources, home.month - 5, 6)
    yield "occurrences", occurrences_over(moment, sources, *before, of={flow.id for flow in moment.plan.flows[2:6]})
    yield "tagged", tag_sums(moment.plan, home.entries)


def looked_forward(home: House) -> Lines:
    moment, sources = home.moment, home.sources
    yield "habits", habits(moment, sources)
    for proposal in proposals(moment, sources):
        yield proposal_sentence(proposal), proposal
    yield "year", [year_end(moment, sources, home.today.year - back) for back in (0, 1)]
    for goal in progress_of(moment, sources):
        yield goal_sentence(goal, home.plan.household.currency, home.today), goal
    yield "shares", shares_of(moment, sources, "month", [Decimal(50), Decimal(30), Decimal(20)])
    yield "noticed", noticed(moment, home.entries, {}, None)
    main = [moment.plan.account_by_id[home.main]]
    yield "chance", chance(moment, main, home.day(91), habits(moment, sources), paths=200)


def held_against_the_bank(home: House) -> Lines:
    moment, day = home.moment, home.day(-2)
    for account in (moment.plan.account_by_id[id] for id in (home.main, home.pot, home.card)):
        lines = register(moment, account, lines_of(home.entries, account))
        yield account.id, lines[-14:]
        since = [entry for entry in home.entries if day - timedelta(days=31) <= entry.date]
        amounts = sorted({line.amount for line in lines[-20:]})
        for difference in (*amounts[:2], *amounts[-2:], 2 * amounts[0], amounts[0] + amounts[-1]):
            found = causes(moment, account, since, day, -difference)
            yield f"{-difference}", [(cause.kind, cause.moves, cause.sentence) for cause in found]
        if account.savings is not None:
            yield "credited", credited_months(account, account.savings, lines, home.today, 6)


def edited(home: House) -> Lines:
    moment, soon, later = home.moment, home.day(20), home.day(75)
    for flow in [flow for flow in home.plan.flows if flow.kind != "loan_payment"][::3]:
        one = revise_flow(flow, {"amount": flow.amount + 7_00}, soon, home.today).item
        two = revise_flow(one, {"amount": 9_00}, later, home.today)
        yield flow.id, [(edit.notes, edit.item.revisions) for edit in (
            two, revise_flow(two.item, {"amount": 8_00}, home.today, home.today),
            revise_flow(two.item, {"amount": 8_00}, soon, home.today, keep_later=False),
            revise_flow(two.item, {"amount": 5_00}, None, home.today), *(take_back(two.item, each.start) for each in two.item.revisions),
        )]  # fmt: skip
    for allowance in home.plan.allowances:
        edit = revise_allowance(allowance, {"limit": 77_00}, soon, home.today)
        yield allowance.id, [edit.notes, edit.item.revisions]
    for group in groups(home.plan):
        made = group_changed(moment, group, Decimal("-7.5"), soon)
        yield made.name, [(change.id, getattr(change.item, "amount", None), getattr(change.item, "revisions", None),
                           getattr(change.item, "growth", None)) for change in made.changes]  # fmt: skip
    for flow in (flow for flow in home.plan.flows if flow.kind == "income"):
        made = income_lost(moment, flow.id, soon, 2)
        yield (
            made.name,
            [(change.id, change.item.exceptions, change.item.changes, change.item.until) for change in made.changes],
        )
    for flow in [flow for flow in home.plan.flows if flow.kind == "bill" and flow.rules][::2]:
        coming = next_occurrences(moment, flow, home.day(9), 2)[-1]
        with suppress(PlanError):
            made = bill_early(moment, flow.id, coming.nominal, coming.lands - timedelta(days=4))
            yield made.name, [(change.id, change.item.changes) for change in made.changes]
            moved = move_onward(moment, flow, coming.nominal, coming.lands + timedelta(days=3))
            yield "onward", [moved.notes, moved.item.rules, moved.item.revisions, moved.item.changes]
        month = month_number(later)
        for onward in (False, True):
            changes = month_changes(moment, [MonthAmount(flow.id, month, 61_00, onward)])
            yield "in a month", [(change.item.changes, change.item.revisions, change.item.dates) for change in changes]


_ALL = (
    months_and_days, years_and_worth, forecast, low_points_and_paydays, flows_and_allowances, cards_and_lines,
    loans_and_lent, way_out, reviewed, looked_forward, held_against_the_bank, edited,
)  # fmt: skip


@pytest.mark.parametrize(("house", "of"), [
    *((house, of) for house in (demo, abroad) for of in _ALL), (demo, mortgage_and_escrow),
], ids=lambda part: part.__name__)  # fmt: skip
def test_a_household_is_told_what_it_was(house: Callable[[], House], of: Callable[[House], Lines]) -> None:
    held_against(f"{house.__name__} {of.__name__}", of(house()))
