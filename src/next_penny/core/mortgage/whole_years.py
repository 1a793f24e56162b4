"""All payments of a household's loans that were recorded whole, and what splitting them makes of its figures."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from next_penny.core.ahead.worth import net_worth, spending_of
from next_penny.core.books.moment import Moment
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.mortgage.loan_books import books_by_loan
from next_penny.core.mortgage.recorded_whole import RecordedWhole, Whole, recorded_whole
from next_penny.core.mortgage.splitting import Splitter
from next_penny.core.mortgage.suspects import Suspects
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan


@dataclass(frozen=True)
class TwoWays:
    """A figure as recorded, and as it should be, in minor units."""

    recorded: int
    right: int


@dataclass(frozen=True)
class WholeLoan:
    """One loan's payments recorded whole, what is owed on it, and what its escrow account holds, if it has one."""

    account: Account
    whole: RecordedWhole
    owed: TwoWays
    escrow: TwoWays | None


@dataclass(frozen=True)
class WholeFigures:
    """Every loan with such payments; spending of each calendar year with one, and net worth, in the household's
    currency. `net_worth` is None where nothing was recorded whole."""

    loans: tuple[WholeLoan, ...]
    spending: Mapping[int, TwoWays]
    net_worth: TwoWays | None


def whole_figures(moment: Moment, recorded: Sequence[Entry]) -> WholeFigures:
    """Payments recorded whole, anywhere among all that was recorded. Raises NoRate where a rate is lacking."""
    suspects, by_id = Suspects(moment.plan, recorded), {entry.id: entry for entry in recorded}
    wholes = list[Whole]()
    whole_by_loan = list[tuple[Account, RecordedWhole]]()
    for books in books_by_loan(moment.plan, recorded).values():
        whole = recorded_whole(
            Splitter(moment, books, suspects), suspects, {one_whole.entry.id for one_whole in wholes}
        )
        if whole.wholes:
            whole_by_loan.append((books.account, whole))
            wholes += whole.wholes
    if not wholes:
        return WholeFigures((), {}, None)
    after = apply_to_moment(
        moment, [change for _, recorded_whole in whole_by_loan for change in recorded_whole.changes], by_id.get
    )
    feeding = Counter(account.escrow_account for account, _ in whole_by_loan)
    loans = list[WholeLoan]()
    for account, whole in whole_by_loan:
        escrow = account.escrow_account
        # What splitting one loan's payments makes of its accounts is what splitting all makes, but of a shared escrow.
        is_shared = escrow is not None and feeding[escrow] > 1
        alone = apply_to_moment(moment, whole.changes, by_id.get) if is_shared else after
        loans.append(_whole_loan(moment, alone, account, whole))
    worth = TwoWays(net_worth(moment), net_worth(after))
    return WholeFigures(tuple(loans), _spending(moment, recorded, wholes), worth)


def _whole_loan(moment: Moment, after: Moment, account: Account, whole: RecordedWhole) -> WholeLoan:
    escrow = moment.plan.account_by_id.get(account.escrow_account or "")
    owed = TwoWays(*(-one_moment.balance_on(account, moment.now) for one_moment in (moment, after)))
    into = (
        TwoWays(*(one_moment.balance_on(escrow, moment.now) for one_moment in (moment, after)))
        if escrow is not None
        else None
    )
    return WholeLoan(account, whole, owed, into)


def _spending(moment: Moment, recorded: Iterable[Entry], wholes: Iterable[Whole]) -> Mapping[int, TwoWays]:
    overstated = overstated_by_year(moment.plan, wholes)
    entries: defaultdict[int, list[Entry]] = defaultdict(list)
    for entry in recorded:
        if entry.date <= moment.today and entry.date.year in overstated:
            entries[entry.date.year].append(entry)
    spent = {year: spending_of(moment, entries[year]) for year in overstated}
    return {year: TwoWays(spent[year], spent[year] - amount) for year, amount in overstated.items()}


def overstated_by_year(plan: Plan, wholes: Iterable[Whole]) -> dict[int, int]:
    """By calendar year, how much of what is recorded as spending is debt repaid or put into escrow.

    In the household's currency; below zero where interest was recorded as debt repaid. Raises NoRate where a loan's
    cannot be converted.
    """
    years: dict[int, int] = {}
    for whole in wholes:
        difference = _kept_by(whole.corrected) - _kept_by(whole.entry)
        year, currency = whole.entry.date.year, plan.household.currency
        years[year] = years.get(year, 0) + plan.converted(
            difference, whole.account.currency, currency, whole.entry.date
        )
    return dict(sorted(years.items()))


def _kept_by(entry: Entry) -> int:
    """What an entry puts on accounts, a loan's principal and escrow among them."""
    return sum(leg.amount for leg in entry.legs if leg.account is not None and leg.amount > 0)
