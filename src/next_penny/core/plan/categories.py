"""Categories as data: what money was earned by or spent on."""

from dataclasses import dataclass
from typing import Literal

CategoryKind = Literal["income", "expense"]


@dataclass(frozen=True, slots=True)
class Category:
    id: str
    name: str
    group: str = ""
    kind: CategoryKind = "expense"
    icon: str = ""
    retired: bool = False
