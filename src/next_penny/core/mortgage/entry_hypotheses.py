"""What may be wrong with the entries of a loan's books, each with what would put it right."""

from collections.abc import Iterator
from datetime import date
from fractions import Fraction

from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import full_day
from next_penny.core.flows.kinds.calendar_flow import changed_just_once
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import past_due
from next_penny.core.loans.standing import Parts
from next_penny.core.mortgage.evidence import LOOKED_BACK, Evidence, Hypothesis, day_of, payments_since, targets_of
from next_penny.core.mortgage.loan_books import paying_legs
from next_penny.core.mortgage.recorded_whole import whole_targets
from next_penny.core.mortgage.splitting import Correction
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow

# How far a disbursement may be from what was planned, as a share of it.
_NEAR_SHARE = Fraction(1, 4)


def recorded_whole(seen: Evidence) -> Iterator[Hypothesis]:
    targets = [
        whole_target
        for whole_target in whole_targets(seen.splitter, seen.suspects)
        if whole_target.entry.date <= seen.statement.date
    ]
    if not targets:
        return
    first = targets[0].entry
    paid = seen.money(seen.books.paid(first))
    wording = (
        f"The payment of {day_of(first)} ({paid}) was recorded whole, as spending: it lowered nothing that is owed."
    )
    if len(targets) > 1:
        wording = f"{len(targets)} payments, the first of {day_of(first)}, were recorded whole, as spending."
    correction = Correction(targets=tuple(targets))
    yield Hypothesis("recorded_whole", wording, correction)
    later = Correction(targets=payments_since(seen, targets[0].nominal))
    also = f"{wording} Those after it were split as if it had not been paid."
    yield Hypothesis("recorded_whole", also, correction.and_then(later), is_simple=False, is_last=True)


def split_behind(seen: Evidence) -> Iterator[Hypothesis]:
    wrong: list[Entry] = []
    splits: dict[str, tuple[Parts, Parts]] = {}
    for before, entry in zip(seen.settled, seen.settled[1:], strict=False):
        parts, right = seen.books.parts(entry), seen.splitter.told(entry)
        earlier = [seen.books.parts(before), seen.splitter.told(before)]
        if right is None or parts.interest == right.interest or not parts.principal:
            continue
        if any(one_parts is not None and one_parts[:2] == parts[:2] for one_parts in earlier):
            wrong.append(entry)
            splits[entry.id] = (parts, right)
    for entry in reversed(wrong[-LOOKED_BACK:]):
        parts, right = splits[entry.id]
        sentence = (
            f"The payment of {day_of(entry)} was split like the one before it: of it, {seen.money(right.interest)} is "
            f"interest, not {seen.money(parts.interest)}."
        )
        one = Correction(targets=targets_of([entry]))
        yield Hypothesis("split_behind", sentence, one)
        also = f"{sentence} Those after it follow from that."
        assert entry.nominal is not None
        cascade = Correction(targets=payments_since(seen, entry.nominal.toordinal()))
        yield Hypothesis("split_behind", also, cascade, is_simple=False, is_last=True)
    if len(wrong) > 1:
        sentence = f"{len(wrong)} payments, the first of {day_of(wrong[0])}, were split like the one before each."
        yield Hypothesis("split_behind", sentence, Correction(targets=targets_of(wrong)))


def disbursement_missing(seen: Evidence) -> Iterator[Hypothesis]:
    escrow = seen.books.escrow
    if escrow is None or "escrow_balance" not in seen.differs:
        return
    moment, wanted = seen.splitter.moment.carrying, -seen.differs["escrow_balance"]
    for flow in moment.plan.flows:
        if flow.kind != "bill" or escrow.id not in flow.account_ids:
            continue
        for nominal, day, amount in _unsettled(moment, flow):
            if day > seen.statement.date or flow.on(nominal).from_account != escrow.id:
                continue
            is_near = wanted != amount and abs(wanted - amount) <= amount * _NEAR_SHARE
            for paid in (amount, wanted) if is_near else (amount,):
                planned = "" if paid == amount else f", planned at {seen.money(amount)}"
                wording = (
                    f"“{flow.name}” of {full_day(day)}, {seen.money(paid)}{planned}, was paid from escrow and is not "
                    "recorded."
                )
                yield Hypothesis(
                    "disbursement_missing", wording, _paid_out(moment, flow, nominal, day, paid), paid == amount
                )


def _unsettled(moment: Moment, flow: Flow) -> Iterator[tuple[date, date, int]]:
    """The nominal dates before today that are not settled, left out ones too, each with its day and amount."""
    for nominal, landing, amount in zip(*(column.tolist() for column in past_due(moment, flow)), strict=True):
        yield date.fromordinal(nominal), date.fromordinal(landing), amount
    settled = moment.recorded.settled.get(flow.id, {})
    for nominal in sorted(flow.exceptional.left_out - settled.keys()):
        if nominal < moment.now:
            day = date.fromordinal(nominal)
            yield day, day, maker_of(moment, flow).amount_of(nominal)


def _paid_out(moment: Moment, flow: Flow, nominal: date, day: date, paid: int) -> Correction:
    """A payment out of escrow as it is to be recorded; if it was left out, it no longer is."""
    maker = maker_of(moment, flow)
    legs = tuple(maker.legs(nominal, paid, day, None))
    entry = Entry(f"{flow.id}-{nominal}-escrow", day, maker.payee(nominal), legs, flow.id, nominal)
    is_left_out = nominal.toordinal() in flow.exceptional.left_out
    restored = changed_just_once(flow, nominal, left_out=False)
    return Correction((PlanChange("flow", flow.id, restored),) if is_left_out else (), {entry.id: entry})


def extra_missing(seen: Evidence) -> Iterator[Hypothesis]:
    missing = -seen.differs.get("principal_balance", 0)
    paid_from = next((leg.account for entry in reversed(seen.paid) for leg in paying_legs(seen.books, entry)), None)
    paid_from = paid_from or (seen.books.flow.from_account if seen.books.flow is not None else None)
    if missing <= 0 or paid_from is None:
        return
    day = seen.paid[-1].date if seen.paid else seen.statement.date
    account = seen.books.account
    legs = (Leg(-missing, account=paid_from), Leg(missing, account=account.id))
    entry = Entry(f"{account.id}-extra-{seen.statement.date}", day, seen.books.flow.payee if seen.books.flow else "",
                  legs)  # fmt: skip
    wording = f"An extra of {seen.money(missing)} toward principal is not recorded."
    yield Hypothesis("extra_missing", wording, Correction(entries={entry.id: entry}), is_simple=False)
