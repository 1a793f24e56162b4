"""The parts of accounts that act over balances: one table, and what is asked of each (docs/architecture.md, Parts).

Adding one: its terms in `core/plan/terms/` (see `part.py` there), what it does in a module of this folder, a row here.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any, Protocol

from next_penny.core.accounts import wording
from next_penny.core.accounts.cards import Card, closing_before
from next_penny.core.accounts.check import RuleProblem, card_problems, savings_problems, sweep_problems
from next_penny.core.accounts.draws import Cover
from next_penny.core.accounts.generated import Act, Acting, Facts, Walked
from next_penny.core.accounts.one_off import card_one_off, savings_one_off
from next_penny.core.accounts.over_paths.cards import CardOverPaths
from next_penny.core.accounts.over_paths.draws import CoverOverPaths
from next_penny.core.accounts.over_paths.ledger import Moved, PathsWalked
from next_penny.core.accounts.over_paths.savings import SavingsOverPaths
from next_penny.core.accounts.over_paths.sweeps import SweepOverPaths
from next_penny.core.accounts.savings import Savings, first_open_month
from next_penny.core.accounts.sweeps import Sweep
from next_penny.core.dates.calendar import month_start
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Problem

OneOff = Callable[[Account, str, date, Mapping[str, Any] | None], Account]
Sentence = Callable[[Account, Facts], str]


class ActingOverPaths(Protocol):
    """A part of an account under way in a walk over many paths."""

    def agenda(self, until: int) -> Iterator[Act[Moved]]:
        """Everything it does from today until a day."""
        ...


@dataclass(frozen=True)
class ActingPart:
    """One sort of part.

    name: the account's field with its terms. begins: what does its acts in a walk, given the account, the walk and the
    account's place in the plan; over_paths: the same in a walk over many paths at once. since: from which day on, seen
    from a day, movements must be known one by one. problems: what is wrong with it. sentences: why a movement is what
    it is, by the movement's source. names: what one that has no flow is called, before the account's name. one_off: the
    account with one occurrence of a flow set otherwise; None where it makes no flow.
    """

    name: str
    begins: Callable[[Account, Walked, int], Acting]
    over_paths: Callable[[Account, PathsWalked, int], "ActingOverPaths"]
    since: Callable[[Account, int], int]
    problems: Callable[[Plan, Account, RuleProblem], Iterator[Problem]]
    sentences: Mapping[str, Sentence]
    names: Mapping[str, str] = field(default_factory=dict)
    one_off: OneOff | None = None


def _since_closing(account: Account, now: int) -> int:
    assert account.card is not None
    return closing_before(account.card, now)


def _since_month(account: Account, now: int) -> int:
    assert account.savings is not None
    return month_start(first_open_month(account.savings, now)) - 1


PARTS = (
    ActingPart(
        "card", Card, CardOverPaths, _since_closing, card_problems,
        {"card_payment": wording.payment_sentence, "card_interest": wording.charge_sentence,
         "line_draw": wording.draw_sentence},
        {"line_draw": "Drawn on"}, card_one_off,
    ),
    ActingPart(
        "savings", Savings, SavingsOverPaths, _since_month, savings_problems,
        {"savings_interest": wording.credit_sentence}, one_off=savings_one_off,
    ),
    ActingPart(
        "sweep", Sweep, SweepOverPaths, lambda account, now: now, sweep_problems, {"sweep": wording.sweep_sentence},
        {"sweep": "Sweep,"},
    ),
)  # fmt: skip


def acting_parts(account: Account) -> Iterator[ActingPart]:
    """What an account does over balances."""
    return (part for part in PARTS if getattr(account, part.name) is not None)


def needed_since(account: Account, now: int) -> int:
    """From which day on an account's movements must be known one by one, seen from a day."""
    return min([now, *(part.since(account, now) for part in acting_parts(account))])


def covers(account: Account, walked: Walked) -> Iterator[Cover]:
    """The account that a line lends to, if it covers one."""
    if account.card is not None and account.card.covers is not None:
        yield Cover(account, account.card, walked.ledgers[account.id], walked.ledgers[account.card.covers])


def covers_over_paths(account: Account, walked: PathsWalked) -> Iterator[CoverOverPaths]:
    """The same in a walk over many paths."""
    if account.card is not None and account.card.covers is not None:
        lending, covered = walked.ledgers[account.id], walked.ledgers[account.card.covers]
        yield CoverOverPaths(account, account.card, lending, covered)


def part_problems(plan: Plan, account: Account, rule_problem: RuleProblem) -> Iterator[Problem]:
    """What is wrong with what an account does by itself."""
    for part in acting_parts(account):
        yield from part.problems(plan, account, rule_problem)


def sentence(account: Account, source: str, facts: Facts) -> str:
    """Why a movement that an account made is what it is, without a full stop. `source` is the movement's."""
    (tell,) = (part.sentences[source] for part in PARTS if source in part.sentences)
    return tell(account, facts)


def movement_name(account: Account, source: str) -> str:
    """What a movement of an account that has no flow is called."""
    (name,) = (part.names[source] for part in PARTS if source in part.names)
    return f"{name} {account.name}"


def changed_one_off(account: Account, flow: str, nominal: date, values: Mapping[str, Any] | None) -> Account:
    """The account with other values for one occurrence of a flow that it makes; without values, as it would be.

    `values` may have amount, moved_to and left_out. Raises PlanError.
    """
    for part in acting_parts(account):
        if part.one_off is not None and flow in {
            one_flow.id for one_flow in getattr(account, part.name).flows(account.id, "")
        }:
            return part.one_off(account, flow, nominal, values)
    raise KeyError(flow)
