"""Goals in words: how one stands, and what several of one period ask for together."""

from collections import defaultdict
from datetime import date

from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import full_day, joined
from next_penny.core.money import format_amount
from next_penny.core.plan.kept.goals import USES, Per
from next_penny.core.review.goals.progress import Days, Progress, Shares
from next_penny.core.review.stretches import is_whole_months, name_of

_DID = {"earn": "earned", "save": "saved", "repay": "repaid", "give": "given", "spend_at_most": "spent"}


def sentence_of(progress: Progress, currency: str, today: date) -> str:
    """How a goal stands, in one sentence."""
    goal, did = progress.goal, _DID[progress.goal.kind]
    amounts = (progress.target, progress.so_far, progress.by_end, progress.behind, progress.needed_monthly)
    target, so_far, by_end, behind, needed = (format_amount(amount, currency) for amount in amounts)
    at_most = "at most " if goal.kind == "spend_at_most" else ""
    head = f"{_when(progress.days)}: {so_far} of {at_most}{target} {did}"
    if today > progress.days.last:
        return f"{head}; {_over(progress, behind)}."
    if progress.is_met:
        return f"{head} so far; the forecast ends at {by_end}."
    missed = f"{behind} too much" if goal.kind == "spend_at_most" else f"{behind} short"
    more = f"; {needed} a month {'may be spent' if goal.kind == 'spend_at_most' else 'is needed'} from here"
    return f"{head} so far; the forecast ends at {by_end}, {missed}{more if _is_long(progress, today) else ''}."


def _over(progress: Progress, behind: str) -> str:
    if progress.is_met:
        return "met"
    return f"missed by {behind}"


def _is_long(progress: Progress, today: date) -> bool:
    begin = max(today, progress.days.first)
    return (begin.year, begin.month) != (progress.days.last.year, progress.days.last.month)


def _when(days: Days) -> str:
    """`March 2027`, `2027`, or `By December 31, 2027`."""
    return name_of(*days) if is_whole_months(*days) else f"By {full_day(days.last)}"


def shares_sentence(shares: Shares, per: Per, currency: str) -> str:
    """What shares come to, and what is left of 100 percent."""
    left, income = 100 - shares.sum, format_amount(shares.income, currency)
    of = f"{shares.sum:f} percent of this {per}'s income of {income}"
    if left < 0:
        return f"{of}: {-left:f} percent more than comes in."
    return f"{of}; {left:f} percent is left, {format_amount(shares.income - sum(shares.amounts), currency)}."


def together_notes(moment: Moment, progress: list[Progress]) -> dict[str, list[str]]:
    """By goal, that with the others of its days it asks for more than all that comes in."""
    together: defaultdict[Days, list[Progress]] = defaultdict(list)
    for one_progress in progress:
        if one_progress.goal.kind in USES:
            together[one_progress.days].append(one_progress)
    notes: dict[str, list[str]] = {}
    for days, uses in together.items():
        several = _apart(uses)
        asked, income = sum(goal_progress.target for goal_progress in several), several[0].income
        if len(several) > 1 and asked > income:
            currency = moment.plan.household.currency
            names = joined([f"“{goal_progress.goal.name}”" for goal_progress in several])
            note = (f"{names} together ask for {format_amount(asked, currency)}, and "
                    f"{format_amount(income, currency)} comes in ({_when(days)}).")  # fmt: skip
            for one_progress in several:
                notes.setdefault(one_progress.goal.id, []).append(note)
    return notes


def _apart(uses: list[Progress]) -> list[Progress]:
    """Goals of which none is a part of another: where one is about all spending, gifts and categories are in it."""
    is_of_all = any(use.goal.kind == "spend_at_most" and not use.goal.categories for use in uses)
    return [use for use in uses if not (is_of_all and use.goal.categories)]
