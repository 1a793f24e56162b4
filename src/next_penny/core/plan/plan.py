"""The plan as data: what a household has and plans, looked up by id."""

import datetime
from bisect import bisect_right
from collections.abc import Iterable
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import overload

from propcache.api import cached_property

from next_penny.core.money import convert
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow, repayment_id
from next_penny.core.plan.household import UNNAMED, Household
from next_penny.core.plan.kept.account_statements import AccountStatement
from next_penny.core.plan.kept.bank_lines import PayeeRule
from next_penny.core.plan.kept.goals import Goal
from next_penny.core.plan.kept.readings import BalanceReading
from next_penny.core.plan.kept.statements import StatementCheck
from next_penny.core.plan.kept.way_out import WayOut
from next_penny.core.plan.kept.what_ifs import SavedWhatIf
from next_penny.core.plan.rates import NoRate, Rate
from next_penny.core.plan.terms.cards import CardTerms
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.core.plan.terms.part import ids


@dataclass(frozen=True)
class Plan:
    """A household's plan. Entries are not part of it: see `next_penny.core.books`."""

    household: Household = UNNAMED
    accounts: tuple[Account, ...] = ()
    categories: tuple[Category, ...] = ()
    flows: tuple[Flow, ...] = ()
    allowances: tuple[Allowance, ...] = ()
    rates: tuple[Rate, ...] = ()
    way_out: WayOut | None = None
    statement_checks: tuple[StatementCheck, ...] = ()
    what_ifs: tuple[SavedWhatIf, ...] = ()
    goals: tuple[Goal, ...] = ()
    readings: tuple[BalanceReading, ...] = ()
    statements: tuple[AccountStatement, ...] = ()
    payee_rules: tuple[PayeeRule, ...] = ()

    @cached_property
    def account_by_id(self) -> dict[str, Account]:
        return {account.id: account for account in self.accounts}

    @cached_property
    def currencies(self) -> frozenset[str]:
        """The currencies of all accounts."""
        return frozenset(account.currency for account in self.accounts)

    def currency_of(self, flow: Flow) -> str:
        """The currency of a flow's amounts: its main account's; of a card that is paid by hand, the card's."""
        return self.account_by_id[flow.main_account or flow.to_account or ""].currency

    @cached_property
    def category_by_id(self) -> dict[str, Category]:
        return {category.id: category for category in self.categories}

    @cached_property
    def allowance_by_id(self) -> dict[str, Allowance]:
        return {allowance.id: allowance for allowance in self.allowances}

    @cached_property
    def all_flows(self) -> tuple[Flow, ...]:
        """The flows, and the payments that loans make by themselves where no flow of the plan is theirs."""
        own = {flow.to_account for flow in self.flows if flow.kind == "loan_payment"}
        made = (account.flows(acting=False) for account in self.accounts if account.id not in own)
        named = {flow.id for flow in self.flows}
        own_now = (self._as_agreed(flow) for flow in self.flows)
        return (*own_now, *(flow for flows in made for flow in flows if flow.id not in named))

    def _as_agreed(self, flow: Flow) -> Flow:
        """A flow of the plan; what comes back of money lent goes where that says now, whatever was written then."""
        account = self.lent_by(flow)
        if account is None or account.lent is None:
            return flow
        return replace(flow, to_account=account.lent.into_account, payee=account.lent.to)

    @overload
    def merged(self, category: str) -> str: ...
    @overload
    def merged(self, category: str | None) -> str | None: ...
    def merged(self, category: str | None) -> str | None:
        """The category that has what a category had: itself, unless it was merged into another."""
        existing = self.category_by_id.get(category or "")
        return existing.merged_into if existing is not None and existing.merged_into is not None else category

    def group_of(self, categories: Iterable[str | None]) -> str:
        """The group of the first of some categories that there is; "" where none is."""
        named = (self.category_by_id.get(id or "") for id in categories)
        return next((category.group for category in named if category is not None), "")

    @cached_property
    def flow_by_id(self) -> dict[str, Flow]:
        return {flow.id: flow for flow in (*self.all_flows, *self.generated_flows)}

    @cached_property
    def generated_flows(self) -> tuple[Flow, ...]:
        """The flows of cards and savings, whose occurrences only a forecast knows."""
        return tuple(flow for account in self.accounts for flow in account.flows(acting=True))

    @cached_property
    def accounts_read(self) -> tuple[Account, ...]:
        """The accounts whose balances decide what accounts do; what a card is paid from is not one by that."""
        named = {id for account in self.accounts for id in account.read_accounts}
        return tuple(account for account in self.accounts if account.id in named)

    @cached_property
    def maker_accounts(self) -> dict[str, Account]:
        """By flow that a card or savings account makes of itself, that account."""
        return {flow.id: account for account in self.accounts for flow in account.flows(acting=True)}

    @cached_property
    def loans(self) -> tuple[tuple[Account, LoanTerms], ...]:
        """The loans whose terms are known, in the plan's order."""
        return tuple((account, account.loan) for account in self.accounts if account.loan is not None)

    @cached_property
    def cards(self) -> tuple[tuple[Account, CardTerms], ...]:
        """The cards and lines whose terms are known, in the plan's order."""
        return tuple((account, account.card) for account in self.accounts if account.card is not None)

    @cached_property
    def _loan_flows(self) -> dict[str, Flow]:
        paying = [flow for flow in self.all_flows if flow.kind == "loan_payment" and flow.to_account is not None]
        return {flow.to_account or "": flow for flow in reversed(paying)}

    def loan_flow(self, account: str) -> Flow | None:
        """The flow that pays a loan; None for one that nothing pays."""
        return self._loan_flows.get(account)

    def paid_by(self, flow: Flow) -> Account | None:
        """The loan that a flow pays, if it pays one."""
        account = self.account_by_id.get(flow.to_account or "") if flow.kind == "loan_payment" else None
        return account if account is not None and account.loan is not None else None

    def lent_by(self, flow: Flow) -> Account | None:
        """The account of money lent that a flow pays back, if it is what that makes of itself."""
        account = self.account_by_id.get(flow.from_account or "")
        is_own = account is not None and account.lent is not None and flow.id == repayment_id(account.id)
        return account if is_own else None

    def counts_on(self, flow: Flow) -> bool:
        """Whether what a flow moves is in the balances: money lent may be told alone."""
        lent = self.lent_by(flow)
        return lent is None or lent.lending.sure != "left_out"

    @cached_property
    def _flows_opened(self) -> dict[str, datetime.date]:
        return {flow.id: self.opened(flow.first_account_ids) for flow in (*self.all_flows, *self.generated_flows)}

    def flow_opened(self, flow: Flow) -> datetime.date:
        """The first day on which a flow can happen: all of its first accounts are open."""
        opened = self._flows_opened.get(flow.id)
        return opened if opened is not None else self.opened(flow.first_account_ids)

    def known_since(self, flow: Flow) -> datetime.date:
        """The day from which a flow's occurrences are expected: since it, and the loan or card that it pays, is known.

        What landed before is recorded only.
        """
        paying = self.paid_by(flow) or self.maker_accounts.get(flow.id)
        known = flow.known_since or datetime.date.min
        return known if paying is None or paying.known_since is None else max(known, paying.known_since)

    @cached_property
    def accounts_moved(self) -> dict[str, frozenset[str]]:
        """By flow, every account that it moves money on; a loan's payment may feed an escrow account too."""
        return {flow.id: frozenset((*flow.account_ids, *self._escrow_fed(flow))) for flow in self.all_flows}

    def _escrow_fed(self, flow: Flow) -> tuple[str, ...]:
        account = self.paid_by(flow)
        return ids(account.escrow_account) if account is not None else ()

    @cached_property
    def flows_by_category(self) -> dict[str, list[Flow]]:
        """The flows that name a category, at first or after a revision."""
        naming: dict[str, list[Flow]] = {}
        for flow in self.flows:
            for category in flow.category_ids:
                naming.setdefault(category, []).append(flow)
        return naming

    def name_of(self, entry: Entry) -> str:
        """What a person calls an entry: its payee; else its flow, between which accounts it moved, or its category."""
        return self.called(
            entry.payee, entry.flow, [(leg.account or leg.category or "", leg.amount) for leg in entry.legs]
        )

    def called(self, payee: str, flow: str | None, legs: Iterable[tuple[str, int]]) -> str:
        """What a person calls money that moved; what each account or category changed by (the sign is enough)."""
        if payee:
            return payee
        if flow in self.flow_by_id:
            return self.flow_by_id[flow].name
        legs = tuple(legs)
        moved = [(self.account_by_id[id].name, amount) for id, amount in legs if id in self.account_by_id]
        given, taken = (next((name for name, amount in moved if sign * amount > 0), None) for sign in (-1, 1))
        if given and taken:
            return f"{given} to {taken}"
        return next((self.category_by_id[id].name for id, _ in legs if id in self.category_by_id), "Entry")

    def opened(self, accounts: Iterable[str]) -> datetime.date:
        """The first day on which all of some accounts are open."""
        return max(self.account_by_id[account].opening.date for account in accounts)

    @cached_property
    def _rate_tables(self) -> dict[tuple[str, str], tuple[list[datetime.date], list[Fraction]]]:
        """By pair, days in order and what one unit is worth from each on; every rate counts both ways."""
        tables: dict[tuple[str, str], tuple[list[datetime.date], list[Fraction]]] = {}
        for rate in sorted(self.rates, key=lambda rate: rate.date):
            if rate.rate <= 0:
                continue  # it is refused where the plan is checked
            worth = Fraction(rate.rate)
            for pair, value in (((rate.source, rate.target), worth), ((rate.target, rate.source), 1 / worth)):
                days, values = tables.setdefault(pair, ([], []))
                if not days or days[-1] < rate.date:
                    days.append(rate.date)
                    values.append(value)
        return tables

    def rate(self, source: str, target: str, day: datetime.date) -> Fraction | None:
        """The latest rate by a day, or the first before any; the opposite rate inverted counts. None without one."""
        days, values = self._rate_tables.get((source, target), ([], []))
        return values[max(0, bisect_right(days, day) - 1)] if days else None

    def highest_rate(self, source: str, target: str) -> Fraction:
        """The highest that any day's rate of a pair comes to. Raises KeyError for a pair without a rate."""
        return max(self._rate_tables[source, target][1])

    def converted(self, amount: int, source: str, target: str, day: datetime.date) -> int:
        """An amount in another currency at the rate of a day. Raises NoRate where there is none."""
        if source == target:
            return amount
        rate = self.rate(source, target, day)
        if rate is None:
            raise NoRate(source, target, day)
        return convert(amount, rate, source, target)

    def between(self, source: str, target: str, amount: int, day: datetime.date) -> int:
        """An amount of one account as one of another, at the rate of a day. Raises NoRate where there is none."""
        have, want = (self.account_by_id[id].currency for id in (source, target))
        return self.converted(amount, have, want, day)
