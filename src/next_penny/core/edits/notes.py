"""What of a change is accepted and worth saying: a loan that is never paid off, parts that are cut, and the like."""

from datetime import timedelta
from decimal import Decimal

from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import full_day, joined
from next_penny.core.flows.makers import next_occurrences, past_due
from next_penny.core.loans.standing import Standing, standings
from next_penny.core.money import format_amount
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.kept.goals import USES
from next_penny.core.plan.plan import Plan


def change_notes(before: Moment, after: Moment) -> list[str]:
    """What is so after a change and was not before it."""
    if after.plan is before.plan and after.recorded is before.recorded:
        return []
    # Asked with every key that is typed, over the same household.
    said_before = before.keep("standing notes", lambda: frozenset(_standing_notes(before)))
    return [*_late_notes(before, after), *(note for note in _standing_notes(after) if note not in said_before)]


def _standing_notes(moment: Moment) -> list[str]:
    """What is worth saying of the household as it is."""
    return [*loan_notes_of(moment), *_parts_notes(moment), *_limit_notes(moment), *_escrow_notes(moment),
            *_closed_notes(moment), *_share_notes(moment.plan)]  # fmt: skip


def _share_notes(plan: Plan) -> list[str]:
    """That the goals of a month or year ask for more than all of its income."""
    notes = []
    for per in ("month", "year"):
        several = [goal for goal in plan.goals if goal.per == per and goal.kind in USES and goal.share is not None]
        share = sum((goal.share for goal in several if goal.share is not None), Decimal())
        if share > 100:
            names = joined([f"“{goal.name}”" for goal in several])
            notes.append(f"{names} together ask for {share:f} percent of a {per}'s income.")
    return notes


def _closed_notes(moment: Moment) -> list[str]:
    """Closed accounts on which flows still expect money to move."""
    notes = []
    for account in moment.plan.accounts:
        if account.closed is None:
            continue
        moving = [flow for flow in moment.plan.flows if account.id in flow.account_ids]
        for flow in moving:
            following = next_occurrences(moment, flow, max(moment.today, account.closed - timedelta(1)), 1)
            if following:
                notes.append(f"“{account.name}” is closed, and “{flow.name}” is still expected on it.")
    return notes


def _late_notes(before: Moment, after: Moment) -> list[str]:
    """How many dates before today a changed flow makes past due."""
    notes = []
    for flow in after.plan.flows:
        existing = before.plan.flow_by_id.get(flow.id)
        if existing == flow:
            continue
        earlier = len(past_due(before, existing).nominal) if existing is not None else 0
        more = len(past_due(after, flow).nominal) - earlier
        if more > 0:
            said = "One date" if more == 1 else f"{more} dates"
            notes.append(f"{said} of “{flow.name}” before today will be past due: should it begin later?")
    return notes


def loan_notes_of(moment: Moment) -> list[str]:
    """What is to be said of the household's loans."""
    return [note for standing in standings(moment) for note in loan_notes(standing)]


def loan_notes(standing: Standing) -> list[str]:
    """What is to be said of one loan: a payment that does not cover its interest, and one that never ends."""
    schedule, account, notes = standing.shown.findings, standing.account, []
    if schedule.shortfall is not None:
        covering = format_amount(schedule.shortfall.covering, account.currency)
        notes.append(
            f"The payment of “{account.name}” does not cover its interest from payment {schedule.shortfall.number} on: "
            f"what is owed grows. A payment of {covering} would cover it."
        )
    if schedule.never_ends:
        notes.append(f"“{account.name}” is never paid off as it is.")
    return notes


def _limit_notes(moment: Moment) -> list[str]:
    """Cards and lines on which more is owed today than their limit."""
    notes = []
    for account in moment.plan.accounts:
        over = -(account.available(moment.balance_on(account, moment.now)) or 0)
        if over > 0:
            notes.append(f"“{account.name}” owes {format_amount(over, account.currency)} more than its limit.")
    return notes


def _escrow_notes(moment: Moment) -> list[str]:
    """Escrow accounts from which more was paid than was there."""
    notes = []
    for account in moment.plan.accounts:
        balance = moment.balance_on(account, moment.now) if account.kind == "escrow" else 0
        if balance < 0:
            short = format_amount(-balance, account.currency)
            notes.append(f"“{account.name}” is {short} short of what was paid from it: the lender advances that.")
    return notes


def _parts_notes(moment: Moment) -> list[str]:
    return [note for flow in moment.plan.flows if flow.splits and (note := _parts_note(moment, flow))]


def _parts_note(moment: Moment, flow: Flow) -> str | None:
    """Parts are never more than there is: where a later amount is less, they are cut to it."""
    apart = sum(split.amount for split in flow.splits)
    less = [revision.start for revision in flow.revisions if revision.base is not None and revision.base < apart]
    less += [change.nominal for change in flow.changes if change.amount is not None and change.amount < apart]
    if less:
        return f"The parts of “{flow.name}” are more than its amount on {full_day(min(less))}: they are cut to it."
    if any(amount < apart for _, amount in flow.seasonal):
        return f"The parts of “{flow.name}” are more than its amount in some months: they are cut to it."
    return None
