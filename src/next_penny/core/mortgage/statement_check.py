"""A lender's statement held against the books: what agrees, and what explains the rest (docs/rules.md, Escrow).

A cause is told only after it was laid over the books and made what it explains agree to the minor unit.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import combinations

from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import full_day
from next_penny.core.mortgage.evidence import CauseKind, Evidence, Hypothesis
from next_penny.core.mortgage.hypotheses import hypotheses
from next_penny.core.mortgage.loan_books import Compared, Item, LoanBooks
from next_penny.core.mortgage.splitting import Correction, Splitter
from next_penny.core.mortgage.suspects import Suspects
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.kept.statements import Statement, StatementCheck
from next_penny.core.problems import refused

# How many mistakes at once are looked for, and among how many guesses.
_MOST_AT_ONCE = 3
_MOST_COMBINED = 8
_MOST_CAUSES = 8


@dataclass(frozen=True, slots=True)
class Cause:
    """Why a statement and the books differ; `changes`, made, let what it `explains` agree.

    parts: where several mistakes explain it together, each of them by itself, whatever that explains.
    """

    kind: CauseKind
    sentence: str
    explains: tuple[Item, ...]
    changes: tuple[PlanChange, ...]
    parts: "tuple[Cause, ...]" = ()


@dataclass(frozen=True, slots=True)
class Checked:
    """A statement held against the books, the likeliest causes first."""

    compared: tuple[Compared, ...]
    causes: tuple[Cause, ...]
    notes: tuple[str, ...]

    @property
    def agrees(self) -> bool:
        """Whether every figure that was given is as the books have it."""
        return not any(comparison.difference for comparison in self.compared)


def check_statement(
    moment: Moment, books: LoanBooks, statement: Statement, suspects: Suspects
) -> Checked:  # fmt: skip
    """Hold a statement against a loan's books; `suspects` are entries that may be payments of it, recorded whole.

    Raises PlanError for a statement dated in the future, or before the loan.
    """
    refuse_date(moment, books.account, statement)
    compared = tuple(books.compare(statement))
    splitter = Splitter(moment, books, suspects)
    guessing = Evidence(splitter, statement, compared, suspects)
    causes = tuple(_causes(guessing)) if guessing.differs else ()
    return Checked(compared, causes, tuple(_notes(books, statement)))


def refuse_date(moment: Moment, account: Account, statement: Statement) -> None:
    """Raise PlanError for a statement that the books cannot be held against."""
    if statement.date > moment.today:
        raise refused("date", "This statement is dated in the future: give the date that is on it.", "range")
    if statement.date < account.opening.date:
        opened = full_day(account.opening.date)
        raise refused("date", f"The books of this loan begin on {opened}: give a statement of then or later.", "range")


def _notes(books: LoanBooks, statement: Statement) -> Iterator[str]:
    opened = books.account.opening.date
    asks_for_year = statement.interest_to_date is not None or statement.escrow_to_date is not None
    if asks_for_year and opened.year == statement.date.year and (opened.month, opened.day) != (1, 1):
        yield f"The books of this loan begin on {full_day(opened)}: what was paid earlier that year is not in them."


def confirmed_until(books: LoanBooks, checks: Sequence[StatementCheck]) -> date | None:
    """Until when payments' splits are confirmed: by the newest statement on what is owed that agrees with the books."""
    agreed = [
        check.statement.date for check in checks
        if check.statement.principal_balance is not None
        and not any(comparison.difference for comparison in books.compare(check.statement))
    ]  # fmt: skip
    return max(agreed, default=None)


class _Tried:
    """One guess or several laid over the books: what agrees then."""

    def __init__(self, guessing: Evidence, tries: Sequence[Hypothesis]) -> None:
        self.tries, self._guessing = tries, guessing
        correction = Correction()
        for hypothesis in tries:
            correction = correction.and_then(hypothesis.correction)
        self._correction = correction
        self._entries = guessing.splitter.entries_of(correction)
        self.left = _left(guessing, self._entries)

    @property
    def explains(self) -> tuple[Item, ...]:
        """What differed and now agrees."""
        return tuple(item for item in self._guessing.differs if item not in self.left)

    @property
    def is_right(self) -> bool:
        """Whether it makes something agree, and lets nothing differ that agreed."""
        return bool(self.explains) and self.left.keys() <= self._guessing.differs.keys()

    def cause(self, tried: Sequence["_Tried"] = ()) -> Cause:
        """What it explains. tried: single guesses, among them those of which it is made."""
        wording = " ".join(hypothesis.sentence for hypothesis in self.tries)
        changes = self._guessing.splitter.changes(self._correction, self._entries)
        several = [trial for trial in tried if len(self.tries) > 1 and trial.tries[0] in self.tries]
        return Cause(self.tries[0].kind, wording, self.explains, changes, tuple(trial.cause() for trial in several))


def _left(guessing: Evidence, entries: Mapping[str, Entry | None]) -> dict[Item, int]:
    """What still differs with these entries."""
    compared = guessing.books.with_entries(entries).compare(guessing.statement)
    return {comparison.item: comparison.difference for comparison in compared if comparison.difference}


def _causes(guessing: Evidence) -> list[Cause]:
    """What explains the differences: what explains most first, then the likelier kind."""
    tries = list(hypotheses(guessing))
    tried = [_Tried(guessing, [hypothesis]) for hypothesis in tries if not hypothesis.is_last]
    right = [trial for trial in tried if trial.is_right]
    parts: list[_Tried] = []
    if _is_open(right) and (together := _together(guessing, [trial for trial in tried if trial.tries[0].is_simple])):
        right.append(together)
        parts = [trial for trial in tried if trial.tries[0] in together.tries]
    if _is_open(right):
        right += [
            trial for hypothesis in tries if hypothesis.is_last and (trial := _Tried(guessing, [hypothesis])).is_right
        ]
    distinct: list[_Tried] = []
    for one_trial in sorted(right, key=lambda guess: (len(guess.left), len(guess.tries))):
        # Of two guesses of one kind that explain the same, the simpler was first.
        if not any(_same(one_trial, other) or _is_needless(one_trial, other) for other in distinct):
            distinct.append(one_trial)
    # Several mistakes together are told one by one too, as far as each explains something by itself.
    alone = [part for part in parts if part not in distinct and part.explains]
    return [trial.cause(tried) for trial in [*distinct, *alone][:_MOST_CAUSES]]


def _is_open(right: Sequence[_Tried]) -> bool:
    """Whether something is left that nothing explains."""
    return not any(not trial.left for trial in right)


def _is_needless(one: _Tried, other: _Tried) -> bool:
    """Whether a guess that fits any difference is not needed beside another that explains the same."""
    fits_anything = one.tries[0].kind in ("extra_missing", "rounding")
    return fits_anything and set(one.explains) <= set(other.explains)


def _same(one: _Tried, other: _Tried) -> bool:
    kinds = [hypothesis.kind for hypothesis in one.tries]
    return kinds == [hypothesis.kind for hypothesis in other.tries] and set(one.explains) <= set(other.explains)


def _together(guessing: Evidence, simple: Sequence[_Tried]) -> _Tried | None:
    """The fewest guesses that leave nothing unexplained together; else those that leave the least."""
    tries = [trial.tries[0] for trial in simple][:_MOST_COMBINED]
    best: _Tried | None = None
    for count in range(2, _MOST_AT_ONCE + 1):
        for several in combinations(tries, count):
            if _overlap(several) or not (tried := _Tried(guessing, several)).is_right:
                continue
            if not tried.left:
                return tried
            if best is None or len(tried.left) < len(best.left):
                best = tried
    alone = min((len(trial.left) for trial in simple if trial.is_right), default=len(guessing.differs))
    return best if best is not None and len(best.left) < alone else None


def _overlap(several: Sequence[Hypothesis]) -> bool:
    """Whether two guesses are about the same entry: both cannot be right."""
    named = [
        set(hypothesis.correction.entries) | {target.entry.id for target in hypothesis.correction.targets}
        for hypothesis in several
    ]
    return any(one & other for one, other in combinations(named, 2))
