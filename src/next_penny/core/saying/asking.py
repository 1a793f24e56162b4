"""What a sentence names, looked up; what it leaves open is noted as missing, what is unclear as a choice."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal

from propcache.api import cached_property

from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import short_day
from next_penny.core.edits.defaults import paying_account
from next_penny.core.money import LARGEST_AMOUNT, read_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.flows import Flow, payment_id
from next_penny.core.problems import PlanError
from next_penny.core.saying.days import day_of
from next_penny.core.saying.gathered import Gathered
from next_penny.core.saying.names import Named, found
from next_penny.core.saying.phrases import NotUnderstood, is_word
from next_penny.core.saying.readings import Answers, Known, Reading


@dataclass
class Asking:
    """A sentence in its slots, before a household; `answers` are to what was missing or a choice.

    currency: that of its amount, where one is said.
    """

    moment: Moment
    said: Gathered
    payees: list[Known]
    answers: Answers
    currency: str | None = None
    missing: list[str] = field(default_factory=list)
    choices: dict[str, list[str]] = field(default_factory=dict)
    _known: dict[str, Known | None] = field(default_factory=dict)

    def account(self, slot: str, field_: str) -> Account | None:
        """The account that a slot names; None where nothing is said, or it is noted as missing."""
        plan, text = self.moment.plan, self.said.names.get(slot, "")
        if field_ in self.answers:
            return self._answered(field_)
        if not text:
            return None
        hits = [plan.account_by_id[named_stretch.id] for named_stretch in found(text, self._accounts)]
        kind = is_word("means", text)
        hits = hits or [account for account in self._open if account.kind == kind]
        if not hits:
            raise NotUnderstood(text)
        if len(hits) > 1:
            self.choose(field_, [account.id for account in hits])
            return None
        return hits[0]

    def is_account(self, slot: str) -> bool:
        """Whether a slot names an account."""
        return self.names_account(self.said.names.get(slot, ""))

    def names_account(self, text: str) -> bool:
        """Whether a text names an account."""
        return bool(found(text, self._accounts))

    def is_category(self, text: str) -> bool:
        """Whether a text names a category."""
        return bool(found(text, [Named("category", category.id, category.name)
                                 for category in self.moment.plan.categories if not category.retired]))  # fmt: skip

    def is_debt(self, slot: str) -> bool:
        """Whether a slot names what is owed on, and nothing else."""
        plan = self.moment.plan
        hits = found(self.said.names.get(slot, ""), self._accounts)
        return bool(hits) and all(plan.account_by_id[named_stretch.id].is_debt for named_stretch in hits)

    def take_means(self) -> None:
        """“haircut 38 cash”: what is left over may be what it is paid with."""
        rest = self.said.rest
        if rest and "means" not in self.said.names and (is_word("means", rest[0]) or found(rest[0], self._accounts)):
            self.said.names["means"] = rest.pop(0)

    def _answered(self, field_: str) -> Account:
        account = self.moment.plan.account_by_id.get(self.answers[field_])
        if account is None:
            raise NotUnderstood(self.answers[field_])
        return account

    @cached_property
    def _open(self) -> list[Account]:
        return [account for account in self.moment.plan.accounts if not account.is_closed_on(self.moment.today)]

    @property
    def has_cash(self) -> bool:
        """Whether there is an account of cash."""
        return any(account.kind == "cash" for account in self._open)

    @cached_property
    def _accounts(self) -> list[Named]:
        return [Named("account", account.id, account.name) for account in self._open]

    def paid_from(self, known: Known | None = None) -> Account | None:
        """What is paid from (or arrives on): as said, else as this payee's last, else what forms begin with."""
        account = self.account("means", "account") or self.account("source", "account")
        if account is not None or "account" in self.choices:
            return account
        last = self.moment.plan.account_by_id.get((known.account if known else None) or "")
        if last is not None and not last.is_closed_on(self.moment.today) and self._has_currency(last):
            return last
        usual = paying_account(self.moment.plan, self.moment.today)
        if usual is not None and self._has_currency(usual):
            return usual
        others = [
            one_account for one_account in self._open if self.currency is not None and self._has_currency(one_account)
        ]
        if len(others) == 1:
            return others[0]
        self.choose("account", [other.id for other in others]) if others else self.need("account")
        return None

    def _has_currency(self, account: Account) -> bool:
        return self.currency in (None, account.currency)

    def need(self, field_: str) -> None:
        """Note that something must be said yet."""
        if field_ not in self.missing:
            self.missing.append(field_)

    def no_need(self, field_: str) -> None:
        """Take that back."""
        self.choices.pop(field_, None)
        if field_ in self.missing:
            self.missing.remove(field_)

    def choose(self, field_: str, ids: list[str]) -> None:
        """Note that one of several is meant."""
        self.need(field_)
        self.choices[field_] = ids

    def flow(self) -> Flow | None:
        """The flow that the sentence's name means; None where there is none, or it is noted as a choice.

        “Water bill” may be called “Water”.
        """
        name, flows = self.said.name, self.moment.plan.all_flows
        flow, called = self._flow(name, flows), self._without_bill(name)
        if flow is not None or "flow" in self.choices or not called:
            return flow
        return self._flow(called, flows) or self._payment_of(called)

    def flow_or_pay(self) -> Flow | None:
        """The flow that is spoken of; of pay without another name, the income that is called so, or the only one."""
        pay = self.said.names.get("pay", "")
        if self.said.name or not pay:
            return self.flow() if self.said.name else None
        return self.income(pay) or self.income("")

    def _without_bill(self, name: str) -> str:
        """What a bill is a bill of; nothing where the name says none."""
        words = name.split()
        return " ".join(words[:-1]) if len(words) > 1 and is_word("called", words[-1]) is not None else ""

    def _payment_of(self, name: str) -> Flow | None:
        """The payment that a card makes of itself, by the card's name."""
        hits = found(name, [hit for hit in self._accounts if payment_id(hit.id) in self.moment.plan.maker_accounts])
        if len(hits) > 1:
            self.choose("flow", [payment_id(hit.id) for hit in hits])
        return self.moment.plan.flow_by_id.get(payment_id(hits[0].id)) if len(hits) == 1 else None

    def income(self, name: str) -> Flow | None:
        """The income of a name, in the same way, or of a category of that name; of no name, the only one."""
        incomes = [flow for flow in self.moment.plan.flows
                   if flow.kind == "income" and not _is_over(flow, self.moment.today)]  # fmt: skip
        if not name:
            return incomes[0] if len(incomes) == 1 else None
        categories = self.moment.plan.category_by_id
        return self._flow(name, incomes, [Named("flow", flow.id, categories[flow.category].name)
                                          for flow in incomes if flow.category])  # fmt: skip

    def _flow(self, name: str, among: Sequence[Flow], more: Sequence[Named] = ()) -> Flow | None:
        plan = self.moment.plan
        if "flow" in self.answers:
            return plan.flow_by_id.get(self.answers["flow"])
        named = [Named("flow", flow.id, flow.name) for flow in among]
        named += [Named("flow", flow.id, flow.payee) for flow in among if flow.payee]
        ids = list(dict.fromkeys(named_stretch.id for named_stretch in found(name, [*named, *more])))
        ids = [id for id in ids if not _is_over(plan.flow_by_id[id], self.moment.today)] or ids
        if len(ids) > 1:
            self.choose("flow", ids)
            return None
        return plan.flow_by_id[ids[0]] if ids else None

    def allowance(self, name: str | None = None) -> Allowance | None:
        """The allowance of a name, or of the sentence's, if that is one."""
        allowances = [allowance for allowance in self.moment.plan.allowances
                      if allowance.until is None or allowance.until >= self.moment.today]  # fmt: skip
        hits = {
            named_stretch.id
            for named_stretch in found(
                self.said.name if name is None else name,
                [Named("allowance", allowance.id, allowance.name) for allowance in allowances],
            )
        }
        return next((allowance for allowance in allowances if hits == {allowance.id}), None)

    def knows(self, name: str) -> bool:
        """Whether a flow or an allowance has this name, or begins so."""
        plan = self.moment.plan
        named = [Named("flow", flow.id, flow.name) for flow in plan.all_flows]
        named += [Named("flow", flow.id, flow.payee) for flow in plan.all_flows if flow.payee]
        named += [Named("allowance", allowance.id, allowance.name) for allowance in plan.allowances]
        return any(found(called, named) for called in (name, self._without_bill(name)))

    def known_payee(self) -> Known | None:
        """Who was paid before under the sentence's name."""
        name = self.said.name
        if name not in self._known:
            named = [Named("payee", payee.payee, payee.payee) for payee in self.payees]
            hits = found(name, named)
            self._known[name] = next((payee for payee in self.payees if hits and payee.payee == hits[0].id), None)
        return self._known[name]

    def category(self, kind: str, known: Known | None) -> str | None:
        """The category that is said, that the name is, or that this payee had last."""
        if "category" in self.answers:
            return self.answers["category"]
        plan, text = self.moment.plan, self.said.names.get("category", "")
        among = [Named("category", category.id, category.name) for category in plan.categories
                 if category.kind == kind and not category.retired]  # fmt: skip
        if text:
            hits = found(text, among)
            if not hits:
                raise NotUnderstood(text)
            if len(hits) > 1:
                self.choose("category", [named_stretch.id for named_stretch in hits])
                return None
            return hits[0].id
        if known is not None and known.category in {named_stretch.id for named_stretch in among}:
            return known.category
        hits = found(self.said.name, among)
        return hits[0].id if len(hits) == 1 else None

    def amount(self, account: Account | None) -> int | None:
        """The amount that is said, in an account's currency; None where it is noted as missing."""
        currency = account.currency if account is not None else self.moment.plan.household.currency
        texts = [self.answers["amount"]] if "amount" in self.answers else self.said.amounts
        if not texts:
            self.need("amount")
            return None
        if account is not None and not self._has_currency(account):
            raise NotUnderstood(self.currency or "")
        if len(texts) > 1:
            raise NotUnderstood(texts[1])
        try:
            amount = read_amount(texts[0], currency)
        except PlanError:
            raise NotUnderstood(texts[0]) from None
        if not 0 < amount <= LARGEST_AMOUNT:
            raise NotUnderstood(texts[0])
        return amount

    def percent(self) -> Decimal | None:
        """The share that is said, in percent."""
        texts = self.said.percents
        return Decimal(re.sub(r"[^\d.]", "", texts[0].replace(",", "."))) if texts else None

    def day(self, *, is_past: bool) -> date | None:
        """The day that is said; None where none is."""
        if "date" in self.answers:
            try:
                return date.fromisoformat(self.answers["date"])
            except ValueError:
                raise NotUnderstood(self.answers["date"]) from None
        return day_of(self.moment, self.said.days[0], is_past=is_past) if self.said.days else None


def as_far_as_said(asking: Asking, reading: Reading) -> Reading:
    """A reading with what is missing until now; then nothing of it can be done yet."""
    if not asking.missing:
        return reading
    return replace(
        reading, changes=[], question=None, missing=list(asking.missing), choices=dict(asking.choices)
    )  # fmt: skip


def on_day(asking: Asking, day: date) -> str:
    """A day as one says it, with its year where that is not this one's."""
    year = f", {day.year}" if day.year != asking.moment.today.year else ""
    return f"{short_day(day)}{year}"


def _is_over(flow: Flow, today: date) -> bool:
    return flow.until is not None and flow.until < today
