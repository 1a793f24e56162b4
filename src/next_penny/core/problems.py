"""Why there is no answer: what is wrong with a plan or a change, or that nobody waits any more.

Each problem is a sentence at the field that it is about. Who asks for something long says how it is told that nobody
waits (`waiting`); what takes long asks `go_on` now and then. Without anybody who says so, everything is computed to
its end.
"""

from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from itertools import islice
from typing import TypeVar

Loc = tuple[str | int, ...]
_Item = TypeVar("_Item")
# Asking costs as much as one small item.
_BETWEEN_ASKING = 64


@dataclass(frozen=True, slots=True)
class Problem:
    """`loc` names the field as in the plan document, such as ("accounts", 0, "cushion")."""

    loc: Loc
    message: str
    kind: str

    def under(self, *loc: str | int) -> "Problem":
        """The same, of what stands at a place of something larger."""
        return Problem((*loc, *self.loc), self.message, self.kind)


class NextPennyError(Exception):
    """Whatever this app refuses or cannot do; all other exceptions are faults of its own.

    Of the rules: PlanError, NoRate, LoanError, RuleError; GivenUp where nobody waits. Of documents: DocumentErrors,
    UnreadableChange, ReceiptError. Of the household's file: StoreError, BackupError, FileFault. Of requests: Refused.
    """


class PlanError(NextPennyError, ValueError):
    """A plan, or a change to one, that cannot be: nothing was changed."""

    def __init__(self, problems: Sequence[Problem]) -> None:
        super().__init__(problems[0].message)
        self.problems = list(problems)


def refused(field: str, message: str, kind: str) -> PlanError:
    """The error of one field."""
    return PlanError([Problem((field,), message, kind)])


_is_given_up: ContextVar[Callable[[], bool] | None] = ContextVar("is_given_up", default=None)


class GivenUp(NextPennyError):
    """Nobody waits for the answer any more."""


@contextmanager
def waiting(is_given_up: Callable[[], bool]) -> Iterator[None]:
    """Let what is computed within be given up as soon as `is_given_up` says so."""
    token = _is_given_up.set(is_given_up)
    try:
        yield
    finally:
        _is_given_up.reset(token)


def given_up_by() -> Callable[[], bool]:
    """What says, here and now, whether nobody waits any more."""
    return _is_given_up.get() or never


def never() -> bool:
    """What is begun is done to its end."""
    return False


def go_on() -> None:
    """Raises GivenUp where nobody waits any more."""
    asked = _is_given_up.get()
    if asked is not None and asked():
        raise GivenUp


def while_waited_for(items: Iterable[_Item]) -> Iterator[_Item]:
    """The same items; raises GivenUp where nobody waits any more."""
    rest = iter(items)
    while some := tuple(islice(rest, _BETWEEN_ASKING)):
        go_on()
        yield from some
