"""What a line of a bank is taken for, and what has to be known to find it out."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Literal

from next_penny.core.bank_lines.statements import FileLine
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.kept.bank_lines import PayeeRule

LineKind = Literal["known", "entry", "occurrence", "transfer", "new"]
# A statement by its place in the file, and a line by its place in the statement.
Place = tuple[int, int]


@dataclass(frozen=True, slots=True)
class Is:
    """What a line is taken for. offered: nobody can be sure: a person decides.

    account: the other side of a transfer. partner: the line that is that other side, where the file has it too.
    """

    kind: LineKind
    offered: bool = False
    entry: str | None = None
    flow: str | None = None
    nominal: date | None = None
    account: str | None = None
    category: str | None = None
    partner: Place | None = None


@dataclass(frozen=True)
class Known:
    """What the household knows already.

    lines: by account, how often each identity was taken in. entries: what was recorded around the days of the lines.
    categories: by payee, in small letters, what it was recorded with last. last_fours: by account, the ends of its
    bank numbers.
    """

    lines: Mapping[str, Counter[tuple[object, ...]]]
    entries: Sequence[Entry]
    rules: Sequence[PayeeRule] = ()
    categories: Mapping[str, str] = field(default_factory=dict)
    last_fours: Mapping[str, tuple[str, ...]] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class OnAccount:
    """Lines of a statement, and the account that they are of."""

    account: Account
    lines: Sequence[FileLine]
