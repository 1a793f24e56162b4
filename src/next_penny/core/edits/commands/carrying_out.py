"""What a command changes of a household, as it is at that moment with what was commanded before it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any, NamedTuple, assert_never

from next_penny.core.accounts.parts import changed_one_off
from next_penny.core.books.moment import Moment
from next_penny.core.edits.commands.records import (
    AddExtra,
    Borrow,
    ChangeOneDate,
    Command,
    MoveOnward,
    PutItem,
    PutRate,
    RecordMoney,
    RemoveItem,
    Revise,
    SetWorth,
    TakeBack,
)
from next_penny.core.edits.one_off import change_one_off, move_onward
from next_penny.core.edits.paying_by_move import paid_by_move
from next_penny.core.edits.recording import borrowed, record, with_escrow_account, worth
from next_penny.core.edits.revising import Edited, revise_allowance, revise_flow, take_back
from next_penny.core.edits.revising_accounts import add_extra, revise_account, take_back_of_account
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.changes import Item, Kind, PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow, repayment_id
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.starter import categories_for
from next_penny.core.problems import PlanError, refused


@dataclass(frozen=True, slots=True)
class Items:
    """Items of the plan as earlier commands left it, and the entries by id."""

    plan: Plan
    recorded: Callable[[str], Entry | None]

    def find(self, kind: Kind, id: str) -> Item | None:
        """The item of a kind with an id; the household has none."""
        plan = self.plan
        match kind:
            case "household":
                return plan.household
            case "account":
                return plan.account_by_id.get(id)
            case "flow":
                return plan.flow_by_id.get(id)
            case "allowance":
                return plan.allowance_by_id.get(id)
            case "category":
                return plan.category_by_id.get(id)
            case "entry":
                return self.recorded(id)
        others: dict[str, Sequence[Any]] = {"goal": plan.goals, "rate": plan.rates, "payee_rule": plan.payee_rules}
        return next((item for item in others.get(kind, ()) if item.id == id), None)

    def existing(self, kind: Kind, id: str) -> Item:
        """The same. Raises PlanError where there is none."""
        item = self.find(kind, id)
        if item is None:
            raise no_such(kind, id)
        return item


class Outcome(NamedTuple):
    """The changes that a command comes to, and what is worth saying about them."""

    changes: list[PlanChange]
    notes: Sequence[str] = ()


def no_such(kind: Kind, id: str) -> PlanError:
    """The refusal where an item is not there."""
    name = kind.replace("_", " ")
    return refused("id", f"There is no {name} “{id}”: it may be deleted already.", "unknown_id")


def not_done_with(kind: Kind) -> PlanError:
    """The refusal of what cannot be done with things of a kind."""
    return refused("op", f"This cannot be done with a {kind.replace('_', ' ')}.", "not_possible")


def carry_out(moment: Moment, items: Items, command: Command) -> Outcome:
    """What a command comes to. Raises PlanError where it cannot be."""
    plan = items.plan
    _refuse_what_follows(plan, items, command)
    match command:
        case PutItem():
            return Outcome([_put(items, command)])
        case RemoveItem():
            return Outcome(_removed(items, command))
        case PutRate():
            return _rated(items, command)
        case RecordMoney():
            return Outcome(_recorded(moment, items, command))
        case Borrow():
            return Outcome(_borrowed(items, command))
        case SetWorth():
            entry = worth(moment, command.entry, _account(items, command.id), command.amount, command.day)
            return Outcome([*categories_for(plan, entry.legs), PlanChange("entry", entry.id, entry)])
        case AddExtra():
            account = add_extra(_account(items, command.id), command.extra)
            return Outcome([PlanChange("account", account.id, account)])
        case ChangeOneDate() if command.id in plan.maker_accounts:
            account = plan.maker_accounts[command.id]
            changed = changed_one_off(account, command.id, command.nominal, command.values)
            return Outcome([PlanChange("account", account.id, changed)])
        case ChangeOneDate():
            flow = change_one_off(moment, _flow(items, command.id), command.nominal, command.values)
            return Outcome([PlanChange("flow", flow.id, flow)])
        case MoveOnward():
            moved = move_onward(moment, _flow(items, command.id), command.start, command.day)
            return Outcome([PlanChange("flow", command.id, moved.item)], moved.notes)
        case Revise() | TakeBack():
            edited = _revised(moment, items, command) if isinstance(command, Revise) else _taken_back(items, command)
            return Outcome([PlanChange(command.kind, command.id, edited.item)], edited.notes)
        case _:
            assert_never(command)


def _refuse_what_follows(plan: Plan, items: Items, command: Command) -> None:
    """What follows from an account is changed there, but for single dates."""
    if not isinstance(command, PutItem | RemoveItem | Revise | TakeBack | MoveOnward):
        return
    if command.kind != "flow":
        return
    if command.id in plan.maker_accounts:
        raise refused("id", "This follows from its account: change the account, or just one date.", "not_possible")
    flow = items.find("flow", command.id)
    if isinstance(flow, Flow) and plan.lent_by(flow):
        raise refused("id", "This is what was agreed: change the account, or just one date.", "not_possible")
    is_derived = flow is not None and all(own.id != command.id for own in items.plan.flows)
    if is_derived and isinstance(command, RemoveItem):
        raise refused("id", "This follows from its loan, and goes on while that does.", "not_possible")


def _put(items: Items, command: PutItem) -> PlanChange:
    existing = items.find(command.kind, command.id)
    if command.is_new and existing is not None:
        message = f"There is already a {command.kind.replace('_', ' ')} with the id “{command.id}”."
        raise refused("id", message, "duplicate_id")
    if not command.is_new and existing is None:
        raise no_such(command.kind, command.id)
    return PlanChange(command.kind, getattr(command.item, "id", ""), command.item)


def _removed(items: Items, command: RemoveItem) -> list[PlanChange]:
    items.existing(command.kind, command.id)
    if command.kind == "household":
        raise refused("op", "The household itself cannot be removed.", "not_possible")
    own = repayment_id(command.id) if command.kind == "account" else ""
    repayment = [PlanChange("flow", flow.id, None) for flow in items.plan.flows if flow.id == own]
    return [*repayment, PlanChange(command.kind, command.id, None)]


def _rated(items: Items, command: PutRate) -> Outcome:
    """The rate of a day set; the day has one of a pair, whichever way round it is given."""
    if not command.is_new:
        items.existing("rate", command.id)
    rate = command.rate
    gone = [other for other in items.plan.rates if other.id in (command.id, rate.id, rate.opposite)]
    changes = [PlanChange("rate", other.id, None) for other in gone if other.id != rate.id]
    replaced = [other for other in gone if command.is_new and other != rate]
    notes = [
        f"It takes the place of the rate of that day, 1 {other.source} = {other.rate:f} {other.target}."
        for other in replaced
    ]
    return Outcome([*changes, PlanChange("rate", rate.id, rate)], notes)


def _recorded(moment: Moment, items: Items, command: RecordMoney) -> list[PlanChange]:
    money = command.money
    if money.pays is not None and money.way == "moved":
        return paid_by_move(moment, command.id, money)
    entry = record(items.plan, command.id, money, items.recorded(command.id))
    return [*categories_for(items.plan, entry.legs), PlanChange("entry", entry.id, entry)]


def _borrowed(items: Items, command: Borrow) -> list[PlanChange]:
    existing = items.plan.account_by_id.get(command.id)
    account = borrowed(
        command.id, command.name, command.currency, command.terms, command.owed, command.owed_on, existing
    )
    if existing is None:
        account = replace(account, known_since=command.known_since)
    made: tuple[Account, ...] = (account,)
    if command.escrow is not None:
        made = with_escrow_account(items.plan, account, command.escrow)
    return [PlanChange("account", one.id, one) for one in made]


def _revised(moment: Moment, items: Items, command: Revise) -> Edited[Any]:
    """An item with other values from a day on."""
    start, values, keep_later = command.start, dict(command.values), command.keep_later
    match items.existing(command.kind, command.id):
        case Flow() as flow:
            return revise_flow(flow, values, start, moment.today, keep_later=keep_later)
        case Allowance() as allowance:
            return revise_allowance(allowance, values, start, moment.today, keep_later=keep_later)
        case Account() as account:
            return revise_account(account, values, start, keep_later=keep_later)
        case _:
            raise not_done_with(command.kind)


def _taken_back(items: Items, command: TakeBack) -> Edited[Any]:
    """An item without what was planned from a day on."""
    match items.existing(command.kind, command.id):
        case Flow() | Allowance() as item:
            return take_back(item, command.start)
        case Account() as account:
            return Edited(take_back_of_account(account, command.start), [])
        case _:
            raise not_done_with(command.kind)


def _account(items: Items, id: str) -> Account:
    account = items.existing("account", id)
    assert isinstance(account, Account)
    return account


def _flow(items: Items, id: str) -> Flow:
    flow = items.existing("flow", id)
    assert isinstance(flow, Flow)
    return flow
