"""Categories as data: what money was earned by or spent on."""

from dataclasses import dataclass
from typing import Literal

CategoryKind = Literal["income", "expense"]


@dataclass(frozen=True, slots=True)
class Category:
    """What money is earned by or spent on.

    retired: offered nowhere. merged_into: the category that has what it had; what was expected still names it.
    """

    id: str
    name: str
    group: str = ""
    kind: CategoryKind = "expense"
    icon: str = ""
    retired: bool = False
    merged_into: str | None = None
