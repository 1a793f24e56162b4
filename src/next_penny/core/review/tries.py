"""What may have gone wrong with a loan's books, each with what would put it right; a statement check tries them all.

Each try is a guess: whether it is right is found out by laying it over the books (`statement_check`).
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from typing import Literal, get_args

from next_penny.core.dates.sentences import full_day
from next_penny.core.editing import revise_loan
from next_penny.core.flows.calendar_flow import changed_just_once
from next_penny.core.flows.makers import maker_of
from next_penny.core.forecast.coming import past_due
from next_penny.core.loan_terms import InterestMethod, year_fraction
from next_penny.core.loans.standing import Parts, Standing
from next_penny.core.moment import Moment
from next_penny.core.money import format_amount, percent_text, round_half_up
from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Entry, Flow, Leg
from next_penny.core.review.loan_books import Compared, Item, LoanBooks, paying_legs, split_legs
from next_penny.core.review.recorded_whole import whole_targets
from next_penny.core.review.splitting import Correction, Splitter, Target
from next_penny.core.statements import Statement

CauseKind = Literal[
    "recorded_whole", "split_behind", "extra_missing", "rate_changed", "escrow_changed", "disbursement_missing",
    "other_method", "rounding",
]  # fmt: skip
# How many payments back a change that was not entered is looked for.
_LOOKED_BACK = 12
# How far from the rate that a statement's interest would take the right one may be, and how many steps.
_NEAR_RATE, _NEAR_STEPS = Decimal("0.06"), 20
# How far a disbursement may be from what was planned, as a share of it.
_NEAR_SHARE = Fraction(1, 4)
# How far a statement's interest may be from what a method counts on the books' balance, which may be off.
_NEAR_INTEREST = Fraction(3, 1000)
# What rounding may come to: so much for each payment of the year, and at least so much.
_ROUNDING = 5
_METHODS: tuple[InterestMethod, ...] = get_args(InterestMethod)
_METHOD_WORDS = {
    "equal_periods": "in equal periods", "actual_365": "by days of a year of 365",
    "actual_360": "by days of a year of 360", "actual_actual": "by days of the calendar year",
    "30_360": "by months of 30 days",
}  # fmt: skip


@dataclass(frozen=True)
class Try:
    """A guess: of what kind, in a sentence, and what would put it right.

    is_simple: it may be one of several mistakes at once. is_last: it is tried where nothing simpler explains all.
    """

    kind: CauseKind
    sentence: str
    correction: Correction
    is_simple: bool = True
    is_last: bool = False


class Guessing:
    """Everything that guesses are made from: a statement, the books, and what the two differ by."""

    def __init__(
        self, splitter: Splitter, statement: Statement, compared: Sequence[Compared], suspects: Sequence[Entry]
    ) -> None:
        self.splitter, self.statement, self.suspects = splitter, statement, suspects
        self.books: LoanBooks = splitter.books
        self.differs: dict[Item, int] = {each.item: each.difference for each in compared if each.difference}
        self.paid = [entry for entry in self.books.payments if entry.date <= statement.date]
        # Of these, those of a due day, the oldest first.
        self.settled = [entry for entry in self.paid if entry.nominal is not None]

    def money(self, amount: int) -> str:
        return format_amount(amount, self.books.account.currency)

    def tries(self) -> Iterator[Try]:
        """All guesses, the likeliest kinds first."""
        makers: tuple[Callable[[Guessing], Iterator[Try]], ...] = (
            _whole, _behind, _disbursement, _escrow, _rate, _method, _extra, _rounding,
        )  # fmt: skip
        for guesses in makers:
            yield from guesses(self)


def _day(entry: Entry) -> str:
    return full_day(entry.date)


def _targets(entries: Sequence[Entry]) -> tuple[Target, ...]:
    return tuple(Target(entry, entry.nominal.toordinal()) for entry in entries if entry.nominal is not None)


def _since(seen: Guessing, nominal: int) -> tuple[Target, ...]:
    """Every payment by the statement that is of a due day from one on."""
    return tuple(target for target in _targets(seen.settled) if target.nominal >= nominal)


def _whole(seen: Guessing) -> Iterator[Try]:
    found = [each for each in whole_targets(seen.splitter, seen.suspects) if each.entry.date <= seen.statement.date]
    if not found:
        return
    first = found[0].entry
    paid = seen.money(seen.books.paid(first))
    told = f"The payment of {_day(first)} ({paid}) was recorded whole, as spending: it lowered nothing that is owed."
    if len(found) > 1:
        told = f"{len(found)} payments, the first of {_day(first)}, were recorded whole, as spending."
    correction = Correction(targets=tuple(found))
    yield Try("recorded_whole", told, correction)
    later = Correction(targets=_since(seen, found[0].nominal))
    also = f"{told} Those after it were split as if it had not been paid."
    yield Try("recorded_whole", also, correction.and_then(later), is_simple=False, is_last=True)


def _behind(seen: Guessing) -> Iterator[Try]:
    wrong: list[Entry] = []
    told: dict[str, tuple[Parts, Parts]] = {}
    for before, entry in zip(seen.settled, seen.settled[1:], strict=False):
        parts, right = seen.books.parts(entry), seen.splitter.told(entry)
        earlier = [seen.books.parts(before), seen.splitter.told(before)]
        if right is None or parts.interest == right.interest or not parts.principal:
            continue
        if any(each is not None and each[:2] == parts[:2] for each in earlier):
            wrong.append(entry)
            told[entry.id] = (parts, right)
    for entry in reversed(wrong[-_LOOKED_BACK:]):
        parts, right = told[entry.id]
        sentence = (
            f"The payment of {_day(entry)} was split like the one before it: of it, {seen.money(right.interest)} is "
            f"interest, not {seen.money(parts.interest)}."
        )
        one = Correction(targets=_targets([entry]))
        yield Try("split_behind", sentence, one)
        also = f"{sentence} Those after it follow from that."
        assert entry.nominal is not None
        cascade = Correction(targets=_since(seen, entry.nominal.toordinal()))
        yield Try("split_behind", also, cascade, is_simple=False, is_last=True)
    if len(wrong) > 1:
        sentence = f"{len(wrong)} payments, the first of {_day(wrong[0])}, were split like the one before each."
        yield Try("split_behind", sentence, Correction(targets=_targets(wrong)))


def _disbursement(seen: Guessing) -> Iterator[Try]:
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
                told = (
                    f"“{flow.name}” of {full_day(day)}, {seen.money(paid)}{planned}, was paid from escrow and is not "
                    "recorded."
                )
                yield Try("disbursement_missing", told, _paid_out(moment, flow, nominal, day, paid), paid == amount)


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
    kept = changed_just_once(flow, nominal, left_out=False)
    return Correction((PlanChange("flow", flow.id, kept),) if is_left_out else (), {entry.id: entry})


def _escrow(seen: Guessing) -> Iterator[Try]:
    last, split = seen.settled[-1:], seen.statement.last_split
    if not last or split is None or split.escrow is None or "last_escrow" not in seen.differs:
        return
    if split.escrow < 0:
        return  # no payment takes out of escrow
    for count in range(1, min(_LOOKED_BACK, len(seen.settled)) + 1):
        since = seen.settled[-count]
        assert since.nominal is not None
        account = revise_loan(seen.books.account, {"escrow": split.escrow}, since.nominal, keep_later=True).item
        changes = (PlanChange("account", account.id, account),)
        sentence = f"Escrow is {seen.money(split.escrow)} with each payment from {full_day(since.nominal)} on."
        paid = seen.settled[-count:]
        yield Try("escrow_changed", sentence, Correction(changes, targets=_targets(paid)), count == 1, count > 1)
        entries: dict[str, Entry | None] = {entry.id: _with_escrow(seen.books, entry, split.escrow) for entry in paid}
        also = f"{sentence} What left the account is more or less by as much."
        yield Try("escrow_changed", also, Correction(changes, entries), is_simple=count == 1)


def _with_escrow(books: LoanBooks, entry: Entry, escrow: int) -> Entry:
    """A payment with another escrow part, larger or smaller by as much."""
    parts = books.parts(entry)
    paying = paying_legs(books, entry)
    if paying:
        more = replace(paying[0], amount=paying[0].amount - (escrow - parts.escrow))
        entry = replace(entry, legs=tuple(more if leg is paying[0] else leg for leg in entry.legs))
    return replace(entry, legs=split_legs(books, entry, parts._replace(escrow=escrow)))


def _rate(seen: Guessing) -> Iterator[Try]:
    split = seen.statement.last_split
    if split is None or split.interest is None or "last_interest" not in seen.differs:
        return
    stands = seen.splitter.stands
    for count in range(1, min(_LOOKED_BACK, len(seen.settled)) + 1):
        paid = seen.settled[-count:]
        since = paid[0].nominal
        assert since is not None
        rate = _rate_since(seen, paid, split.interest)
        if rate is not None:
            begin = date.fromordinal(_period_begin(stands, since.toordinal()))
            account = revise_loan(seen.books.account, {"annual_rate": rate}, begin, keep_later=True).item
            told = f"The rate is {percent_text(rate)} from {full_day(begin)} on."
            changes = (PlanChange("account", account.id, account),)
            correction = Correction(changes, targets=_targets(paid))
            yield Try("rate_changed", told, correction, is_simple=count == 1, is_last=count > 1)


def _period_begin(stands: Standing, day: int) -> int:
    """The day from which the interest of a due day runs."""
    return max((each for each in stands.shown.due if each < day), default=stands.shown.since)


def _rate_since(seen: Guessing, paid: Sequence[Entry], interest: int) -> Decimal | None:
    """The simplest rate from the first of some payments on that makes the last one's interest what the statement says.

    None where none does. Rates are looked for around the one that the books' own balance would take.
    """
    stands = seen.splitter.stands
    owed = -seen.books.balance(seen.books.account, paid[0].date - timedelta(days=1))
    dues = [entry.nominal.toordinal() for entry in paid if entry.nominal is not None]
    row = stands.row_by_day.get(dues[-1])
    shares = [_share_of_year(stands, due) for due in dues]
    if owed <= 0 or row is None or row.interest <= 0:
        return None
    sums = [parts.interest + parts.principal for parts in map(seen.books.parts, paid)]
    about = row.annual_rate * interest / row.interest
    for rate in _simple_rates_near(about):
        if rate != row.annual_rate and _last_interest(owed, rate, sums, shares) == interest:
            return rate
    return None


def _share_of_year(stands: Standing, due: int, method: InterestMethod | None = None) -> Fraction:
    """The part of a year for which a payment's interest runs, as the loan counts it or by another method."""
    counted = method or stands.terms.interest
    if counted == "equal_periods":
        return Fraction(1, stands.terms.payments_per_year)
    return year_fraction(counted, _period_begin(stands, due), due)


def _last_interest(owed: int, rate: Decimal, sums: Sequence[int], shares: Sequence[Fraction]) -> int:
    """The last payment's interest when each of some sums pays interest first, then principal."""
    interest = 0
    for paid, share in zip(sums, shares, strict=True):
        interest = round_half_up(owed * Fraction(rate) / 100 * share)
        owed -= paid - interest
    return interest


def _simple_rates_near(about: Decimal) -> Iterator[Decimal]:
    """Rates close to one, the simplest first: eighths, hundredths, thousandths."""
    for step in (Decimal("0.125"), Decimal("0.01"), Decimal("0.001")):
        nearest = (about / step).to_integral_value()
        for away in sorted(range(-_NEAR_STEPS, _NEAR_STEPS + 1), key=abs):
            rate = (nearest + away) * step
            if abs(rate - about) <= _NEAR_RATE and rate >= 0:
                yield rate.normalize()


def _method(seen: Guessing) -> Iterator[Try]:
    terms = seen.splitter.stands.terms
    for method in _METHODS:
        if method == terms.interest or not _may_be(seen, method):
            continue
        account = replace(seen.books.account, loan=replace(terms, interest=method))
        changes = (PlanChange("account", account.id, account),)
        told = f"Interest is counted {_METHOD_WORDS[method]}, not {_METHOD_WORDS[terms.interest]}."
        year = [entry for entry in seen.settled if entry.date.year == seen.statement.date.year]
        for entries in (seen.settled[-1:], year, seen.settled):
            if entries:
                yield Try(
                    "other_method", told, Correction(changes, targets=_targets(entries)), is_simple=False, is_last=True
                )


def _may_be(seen: Guessing, method: InterestMethod) -> bool:
    """Whether the statement's last interest is near what a method counts; what it does not show rules nothing out."""
    split, last = seen.statement.last_split, seen.settled[-1] if seen.settled else None
    if last is None or last.nominal is None or split is None or split.interest is None:
        return True
    stands, due = seen.splitter.stands, last.nominal.toordinal()
    row = stands.row_by_day.get(due)
    if row is None:
        return False
    share = _share_of_year(stands, due, method)
    owed = -seen.books.balance(seen.books.account, last.date - timedelta(days=1))
    counted = owed * Fraction(row.annual_rate) / 100 * share
    return abs(counted - split.interest) <= counted * _NEAR_INTEREST


def _extra(seen: Guessing) -> Iterator[Try]:
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
    told = f"An extra of {seen.money(missing)} toward principal is not recorded."
    yield Try("extra_missing", told, Correction(entries={entry.id: entry}), is_simple=False)


def _rounding(seen: Guessing) -> Iterator[Try]:
    if not seen.paid:
        return
    last = seen.paid[-1]
    counted = sum(entry.date.year == seen.statement.date.year for entry in seen.paid)
    parts = seen.books.parts(last)
    shifts = [seen.differs.get(item, 0) for item in ("last_interest", "interest_to_date", "principal_balance")]
    for shift in dict.fromkeys(shifts):
        if 0 < abs(shift) <= max(_ROUNDING, counted):
            interest = parts.interest + shift
            entry = replace(last, legs=split_legs(seen.books, last, parts._replace(interest=interest)))
            told = f"The lender rounds otherwise: {seen.money(abs(shift))} of the payment of {_day(last)} is "
            told += "interest, not principal." if shift > 0 else "principal, not interest."
            yield Try("rounding", told, Correction(entries={entry.id: entry}))
