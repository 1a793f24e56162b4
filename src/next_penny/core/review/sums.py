"""The sums of one stretch of days: what was recorded, and what was expected, by category (docs/rules.md)."""

from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Sequence
from datetime import date

from next_penny.core.books.moment import Moment
from next_penny.core.money import rounded_quotient
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.categories import Category, CategoryKind
from next_penny.core.plan.entries import Entry, Leg, first_account
from next_penny.core.plan.memory import Expected
from next_penny.core.plan.starter import MADE_WHEN_NEEDED, UNSORTED_INCOME, UNSORTED_SPENDING
from next_penny.core.problems import go_on
from next_penny.core.review.expecting import Sources, periods_over, told_over
from next_penny.core.review.measures import borrowed, converted, repaid, saved
from next_penny.core.review.records import (
    AccountSums,
    AllowanceUse,
    Largest,
    Moved,
    Payee,
    Row,
    RowKey,
    RowKind,
    Totals,
    Two,
)

# As many single sums as one reads at once.
_MOST_LARGEST = 10
NOT_SORTED = (UNSORTED_INCOME.id, UNSORTED_SPENDING.id)


def recorded_over(moment: Moment, sources: Sources, first: date, last: date) -> list[Entry]:
    """What is recorded of a stretch up to today, and what is assumed of it."""
    upto = min(last, moment.today)
    assumed = [entry for entry in moment.assumed if first <= entry.date <= upto]
    go_on()
    return [*sources.dated(first, upto), *assumed]


class Actual:
    """What is recorded of a stretch on some accounts or all, and what each leg of it counts."""

    def __init__(
        self, moment: Moment, sources: Sources, first: date, last: date, accounts: Sequence[Account] | None
    ) -> None:
        self._plan, self._first, self._last = moment.plan, first, last
        self._ids = None if accounts is None else frozenset(account.id for account in accounts)
        self.entries = [entry for entry in recorded_over(moment, sources, first, last) if self.is_of(entry.legs)]

    def is_of(self, legs: Iterable[Leg]) -> bool:
        return self._ids is None or any(leg.account in self._ids for leg in legs)

    def _converted(self, amount: int, account: str | None, day: date) -> int:
        return converted(self._plan, amount, account, day)

    def key_of(self, leg: Leg) -> RowKey:
        return self._key(leg.category, "income" if leg.amount < 0 else "expense")

    def counted(self, entry: Entry, leg: Leg) -> int:
        """What a category's leg counts in its row, in the household's currency."""
        return _sign(self.key_of(leg)) * self._converted(leg.amount, first_account(entry.legs), entry.date)

    def _key(self, category: str | None, otherwise: CategoryKind) -> RowKey:
        category = self._plan.merged(category)
        existing = self._plan.category_by_id.get(category or "")
        return RowKey(
            existing.kind if existing is not None else otherwise, None if category in NOT_SORTED else category
        )


class Sums(Actual):
    """The sums of one stretch, added up once."""

    def __init__(
        self, moment: Moment, sources: Sources, first: date, last: date, accounts: Sequence[Account] | None
    ) -> None:
        super().__init__(moment, sources, first, last, accounts)
        self._periods = [period for period in periods_over(moment, sources, first, last) if self._has(period.account)]
        self.expected: defaultdict[RowKey, int] = defaultdict(int)
        self.actual: defaultdict[RowKey, int] = defaultdict(int)
        self._count: defaultdict[RowKey, int] = defaultdict(int)
        self._names = {period.id: period.name for period in self._periods}
        # By allowance, its categories, each as what it was merged into.
        self._categories: dict[str, dict[str, None]] = {}
        for period in self._periods:
            self._categories.setdefault(period.id, {}).update(dict.fromkeys(map(self._plan.merged, period.categories)))
        for period in self._periods:
            limit = self._converted(period.share(first, last), period.account, min(period.last, last))
            self.expected[RowKey("allowance", period.id)] += limit
        self.planned = [row for row in told_over(moment, sources, first, last) if self.is_of(row.legs)]
        for row in self.planned:
            for key, amount in self.expected_of(row):
                self.expected[key] += amount
        for entry in self.entries:
            self._add_actual(entry)

    def _has(self, account: str | None) -> bool:
        return self._ids is None or account in self._ids

    def expected_of(self, row: Expected) -> Iterator[tuple[RowKey, int]]:
        """What an occurrence counts as expected, row by row; what an allowance expects, its flows do not."""
        account = first_account(row.legs)
        for leg in row.legs:
            if leg.account is None:
                key = self._key(leg.category, "income" if row.kind == "income" else "expense")
                if key.kind == "income" or not self._is_of_allowance(leg.category, row.lands):
                    yield key, _sign(key) * self._converted(leg.amount, account, row.lands)

    def _add_actual(self, entry: Entry) -> None:
        for leg in entry.legs:
            if leg.account is None:
                self.actual[self.key_of(leg)] += self.counted(entry, leg)
        for key in {self.key_of(leg) for leg in entry.legs if leg.account is None}:
            self._count[key] += 1

    def _is_of_allowance(self, category: str | None, day: date) -> bool:
        """Whether a category is expected by its allowance on a day, as it was called when that was written down."""
        return any(period.first <= day <= period.last and category in period.categories for period in self._periods)

    def name_of_flow(self, id: str | None) -> str:
        """What a flow is called now; empty for none."""
        flow = self._plan.flow_by_id.get(id or "")
        return flow.name if flow is not None else (id or "")

    def totals(self) -> Totals:
        """The sums of all rows."""
        income = self._sum(("income",))
        return Totals(self._first, self._last, income, self._sum(("expense", "allowance")))

    def _sum(self, kinds: Sequence[RowKind]) -> Two:
        expected, actual = (
            sum(amount for key, amount in sums.items() if key.kind in kinds) for sums in (self.expected, self.actual)
        )
        return Two(expected, actual)

    def rows(self) -> tuple[Row, ...]:
        """Every category and allowance with something on it, the largest first."""
        keys = dict.fromkeys((*self.expected, *self.actual))
        rows = [self._row(key) for key in keys if self.expected[key] or self.actual[key] or self._count[key]]
        return tuple(sorted(rows, key=lambda row: (-max(row.sums.expected, row.sums.actual), row.name)))

    def _row(self, key: RowKey) -> Row:
        # What interest and the like are sorted in is made with the first entry; expected, it has its name before.
        category = self._plan.category_by_id.get(key.id or "") or MADE_WHEN_NEEDED.get(key.id or "")
        name = self._names.get(key.id or "", "") if key.kind == "allowance" else _name_of(category, key)
        of_allowance = next(
            (id for id, named in self._categories.items() if key.kind == "expense" and key.id in named), None
        )
        named = self._categories.get(key.id or "", ()) if key.kind == "allowance" else (key.id,)
        group = category.group if category is not None else self._plan.group_of(named)
        return Row(key, name, group, Two(self.expected[key], self.actual[key]), self._count[key], of_allowance)

    def allowances(self) -> tuple[AllowanceUse, ...]:
        """Each allowance of the stretch."""
        uses = (
            AllowanceUse(id, self._names[id], self.expected[RowKey("allowance", id)],
                         sum(self.actual[RowKey("expense", category)] for category in named))
            for id, named in self._categories.items()
        )  # fmt: skip
        return tuple(
            sorted(uses, key=lambda allowance_use: (-allowance_use.limit, allowance_use.name, allowance_use.id))
        )

    def payees(self) -> tuple[Payee, ...]:
        """By payee, what was spent and received; entries that only move money are in none."""
        found_sums = (Payee(payee, *sums) for payee, sums in self._by(lambda entry: entry.payee).items())
        return tuple(sorted(found_sums, key=lambda one_payee: (-one_payee.spent, -one_payee.received, one_payee.payee)))

    def accounts(self) -> tuple[AccountSums, ...]:
        """The same by account: the first one that an entry moves money on."""
        sums_of = self._by(lambda entry: first_account(entry.legs))
        found_sums = (AccountSums(account, *sums) for account, sums in sums_of.items())
        return tuple(
            sorted(
                found_sums, key=lambda account_sums: (-account_sums.spent, -account_sums.received, account_sums.account)
            )
        )

    def _by(self, key_of: Callable[[Entry], str]) -> dict[str, list[int]]:
        """By a key of entries, what was spent and received, and how many they are."""
        found_sums: dict[str, list[int]] = {}
        for entry in self.entries:
            legs = [leg for leg in entry.legs if leg.account is None]
            if not legs:
                continue
            sums = found_sums.setdefault(key_of(entry), [0, 0, 0])
            for leg in legs:
                sums[self.key_of(leg).kind == "income"] += self.counted(entry, leg)
            sums[2] += 1
        return found_sums

    def largest(self) -> tuple[Largest, ...]:
        """The entries on which most was spent, the largest first."""
        spent = [(sum(self.counted(entry, leg) for leg in entry.legs if self._is_spent(leg)), entry)
                 for entry in self.entries]  # fmt: skip
        spent.sort(key=lambda sums_of: (-sums_of[0], sums_of[1].date, sums_of[1].id))
        whole = self._sum(("expense", "allowance")).actual
        return tuple(
            Largest(entry.id, entry.date, self._plan.name_of(entry), amount,
                    rounded_quotient(1000 * amount, whole) if whole > 0 else None)
            for amount, entry in spent[:_MOST_LARGEST] if amount > 0
        )  # fmt: skip

    def _is_spent(self, leg: Leg) -> bool:
        return leg.account is None and self.key_of(leg).kind == "expense"

    def unplanned(self) -> list[Entry]:
        """What was recorded that was neither an occurrence nor in a category of an allowance."""
        merged = self._plan.merged
        allowed = [(period.first, period.last, set(map(merged, period.categories))) for period in self._periods]

        def is_allowed(leg: Leg, day: date) -> bool:
            return any(first <= day <= last and merged(leg.category) in named for first, last, named in allowed)

        return [
            entry for entry in self.entries
            if entry.flow is None
            and any(leg.account is None and not is_allowed(leg, entry.date) for leg in entry.legs)
        ]  # fmt: skip

    def moved(self) -> Moved:
        """What was saved, repaid and borrowed."""
        plan = self._plan
        return Moved(*(
            sum(measure(plan, entry.legs, entry.date) for entry in self.entries)
            for measure in (saved, repaid, borrowed)
        ))  # fmt: skip


def _sign(key: RowKey) -> int:
    return -1 if key.kind == "income" else 1


def _name_of(category: Category | None, key: RowKey) -> str:
    if category is not None:
        return category.name
    return UNSORTED_SPENDING.name if key.id is None else "A category that is no more"
