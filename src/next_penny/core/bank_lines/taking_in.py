"""Taking lines of a bank in: what each becomes, as changes of one undoable step (docs/rules.md, Lines from a bank)."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Literal, NamedTuple
from uuid import uuid4

from next_penny.core.bank_lines.found import Place
from next_penny.core.bank_lines.statements import FileLine
from next_penny.core.books.moment import Moment
from next_penny.core.edits.settling.settle import Settlement, settle
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import BankTie, Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.kept.bank_lines import BankLine
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.starter import MADE_WHEN_NEEDED, categories_for
from next_penny.core.problems import PlanError, refused, while_waited_for

Take = Literal["entry", "occurrence", "transfer", "new"]


@dataclass(frozen=True, slots=True)
class Taken:
    """A line, and what it is to be. partner: the line that is the other side of a transfer, taken with it.

    waiting_id: what names the line among those that wait, if it waited. shown: the name under which what is new is
    recorded, where it is not the bank's.
    """

    place: Place
    line: FileLine
    account: Account
    kind: Take
    entry: str | None = None
    flow: str | None = None
    nominal: date | None = None
    other: str | None = None
    category: str | None = None
    partner: Place | None = None
    waiting_id: str | None = None
    shown: str = ""


class Counts(NamedTuple):
    """How many lines were taken in, and how many of them were an entry already or settled what was expected."""

    taken: int = 0
    matched: int = 0
    settled: int = 0


@dataclass
class TakingIn:
    """The changes that taking lines in comes to, worked out one after another."""

    moment: Moment
    recorded: Callable[[str], Entry | None]
    changes: list[PlanChange] = field(default_factory=list)
    _entries: dict[str, Entry] = field(default_factory=dict)
    _settled: dict[tuple[str, date], int] = field(default_factory=dict)

    def take(self, lines: Sequence[Taken]) -> Counts:
        """Every line becomes what it is to be. Raises PlanError, each problem under the place of its line."""
        by_place = {line.place: line for line in lines}
        done: set[Place] = set()
        counts = Counts()
        # By day, so that a loan's payments are split one after another.
        for taken_line in while_waited_for(
            sorted(lines, key=lambda one_taken_line: (one_taken_line.line.date, one_taken_line.place))
        ):
            if taken_line.place in done:
                continue
            partner = self._partner(taken_line, by_place)
            try:
                self._take(taken_line, partner)
            except PlanError as error:
                raise PlanError([problem.under(*taken_line.place) for problem in error.problems]) from error
            taken = [taken_line, *([partner] if partner is not None else [])]
            done |= {one.place for one in taken}
            self.changes += [_remembered(one) for one in taken]
            counts = Counts(
                counts.taken + len(taken),
                counts.matched + (taken_line.kind == "entry"),
                counts.settled + (taken_line.kind == "occurrence"),
            )
        self.changes += [PlanChange("entry", entry.id, entry) for entry in self._entries.values()]
        return counts

    def _partner(self, line: Taken, by_place: Mapping[Place, Taken]) -> Taken | None:
        """The other side of a transfer, where it is taken as that too."""
        other = by_place.get(line.partner) if line.kind == "transfer" and line.partner is not None else None
        is_so = other is not None and other.kind == "transfer" and other.account.id == line.other
        return other if is_so and other is not None and other.other == line.account.id else None

    def _take(self, line: Taken, partner: Taken | None) -> None:
        match line.kind:
            case "entry":
                self._tie(line)
            case "occurrence":
                self._settle(line)
            case "transfer":
                self._move(line, partner)
            case "new":
                if line.category is None:
                    raise refused("category", "Choose a category.", "needed")
                if line.category not in self.moment.plan.category_by_id and line.category not in MADE_WHEN_NEEDED:
                    raise refused("category", f"There is no category “{line.category}”.", "unknown_id")
                legs = (Leg(line.line.amount, account=line.account.id), Leg(-line.line.amount, category=line.category))
                self._put(_new(line, legs))

    def _put(self, entry: Entry) -> None:
        self.changes += categories_for(self.moment.plan, entry.legs)
        self._entries[entry.id] = entry

    def _held(self, line: Taken) -> Entry:
        entry = self._entries.get(line.entry or "") or self.recorded(line.entry or "")
        if entry is None:
            raise refused("entry", "This entry is not there any more.", "unknown_id")
        return entry

    def _tie(self, line: Taken) -> None:
        entry = self._held(line)
        if entry.on(line.account.id) != line.line.amount:
            raise refused("entry", "This entry moves another amount on this account.", "range")
        self._put(replace(entry, bank_ids=(*entry.bank_ids, _tie_of(line))))

    def _settle(self, line: Taken) -> None:
        flow = self.moment.plan.flow_by_id.get(line.flow or "")
        if flow is None or line.nominal is None:
            raise refused("flow", "Say which flow this is, and of which date.", "needed")
        at = self._settled.get((flow.id, line.nominal))
        if at is not None:
            self._settle_other_side(line, at)
            return
        amount = abs(line.line.amount) if _says_the_amount(self.moment.plan, flow, line.account) else None
        id = str(uuid4())
        made = settle(self.moment, Settlement(id, flow.id, line.nominal, amount, line.line.date))
        made = [
            PlanChange("entry", id, _as_told(change.item, line)) if isinstance(change.item, Entry) else change
            for change in made
        ]
        self.changes += made
        self._settled[flow.id, line.nominal] = next(
            at for at, change in enumerate(self.changes) if change.id == id and isinstance(change.item, Entry)
        )
        if _follows_from_before(self.moment.plan, flow):
            self.moment = apply_to_moment(self.moment, made, self.recorded)

    def _settle_other_side(self, line: Taken, at: int) -> None:
        """What another line settled just now, as it stands on this line's account."""
        change = self.changes[at]
        assert isinstance(change.item, Entry)
        if change.item.on(line.account.id) != line.line.amount:
            raise refused("flow", "Another line settles this already, with another amount.", "range")
        tied = replace(change.item, bank_ids=(*change.item.bank_ids, _tie_of(line)))
        self.changes[at] = replace(change, item=tied)

    def _move(self, line: Taken, partner: Taken | None) -> None:
        plan = self.moment.plan
        other = plan.account_by_id.get(line.other or "")
        if other is None or other.id == line.account.id:
            raise refused("account", "Choose the account on the other side.", "needed")
        if other.currency != line.account.currency:
            message = f"“{other.name}” is in {other.currency}: record this move by hand, with what arrived there."
            raise refused("account", message, "not_possible")
        if line.entry is not None:
            self._put(_joined(self._held(line), line, other))
            return
        legs = (Leg(line.line.amount, account=line.account.id), Leg(-line.line.amount, account=other.id))
        entry = replace(_new(line, legs), payee="", notes=line.line.text.replace("\n", " · "))
        if partner is not None:
            entry = replace(entry, date=min(line.line.date, partner.line.date),
                            bank_ids=(*entry.bank_ids, _tie_of(partner)))  # fmt: skip
        self._put(entry)


def _new(line: Taken, legs: tuple[Leg, ...]) -> Entry:
    # Under another name, what the bank wrote stays beside it.
    notes = line.line.text.replace("\n", " · ") if line.shown else line.line.memo
    return Entry(
        str(uuid4()), line.line.date, line.shown or line.line.payee, legs, notes=notes, number=line.line.number,
        bank_ids=(_tie_of(line),),
    )  # fmt: skip


def _tie_of(line: Taken) -> BankTie:
    return BankTie(line.account.id, line.line.bank_id or "")


def _as_told(entry: Entry, line: Taken) -> Entry:
    return replace(entry, bank_ids=(_tie_of(line),), number=entry.number or line.line.number)


def _joined(entry: Entry, line: Taken, other: Account) -> Entry:
    """An entry of the other side that gives up its category: it is a move between the two accounts."""
    if any(leg.account not in (None, other.id) for leg in entry.legs) or entry.on(other.id) != -line.line.amount:
        raise refused("entry", f"This entry is not the other side of it on “{other.name}”.", "range")
    legs = (Leg(-line.line.amount, account=other.id), Leg(line.line.amount, account=line.account.id))
    return replace(entry, legs=legs, bank_ids=(*entry.bank_ids, _tie_of(line)))


def _says_the_amount(plan: Plan, flow: Flow, account: Account) -> bool:
    """Whether what a line moves on an account is the amount of the flow's occurrence, and not a share of it."""
    main = plan.account_by_id.get(flow.main_account or "")
    if main is None or account.id == main.id:
        return True
    return flow.kind == "transfer" and not flow.splits and main.currency == account.currency


def _follows_from_before(plan: Plan, flow: Flow) -> bool:
    """Whether what a settled occurrence is made of depends on those before it."""
    return plan.paid_by(flow) is not None or plan.lent_by(flow) is not None or flow.id in plan.maker_accounts


def _remembered(line: Taken) -> PlanChange:
    """The line as one that was taken in."""
    bank_id = line.line.bank_id
    text = line.line.text if bank_id is None else ""
    bank_line = BankLine(line.account.id, line.line.date, line.line.amount, bank_id, text)
    return PlanChange("bank_line", line.waiting_id or str(uuid4()), bank_line)


def waits(account: Account, line: FileLine) -> PlanChange:
    """The line as one that waits for somebody to decide."""
    bank_line = BankLine(account.id, line.date, line.amount, line.bank_id, line.text, waiting=True)
    return PlanChange("bank_line", str(uuid4()), bank_line)
