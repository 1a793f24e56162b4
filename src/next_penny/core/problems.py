"""What is wrong with a plan or a change, each a sentence at the field that it is about."""

from collections.abc import Sequence
from dataclasses import dataclass

Loc = tuple[str | int, ...]


@dataclass(frozen=True, slots=True)
class Problem:
    """`loc` names the field as in the plan document, such as ("accounts", 0, "cushion")."""

    loc: Loc
    message: str
    kind: str

    def under(self, *loc: str | int) -> "Problem":
        """The same, of what stands at a place of something larger."""
        return Problem((*loc, *self.loc), self.message, self.kind)


class PlanError(ValueError):
    """A plan, or a change to one, that cannot be: nothing was changed."""

    def __init__(self, problems: Sequence[Problem]) -> None:
        super().__init__(problems[0].message)
        self.problems = list(problems)


def refused(field: str, message: str, kind: str) -> PlanError:
    """The error of one field."""
    return PlanError([Problem((field,), message, kind)])
