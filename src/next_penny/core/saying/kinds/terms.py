"""Sentences about what a debt or an allowance is bound to: extras, rates, level payments, limits."""

from collections.abc import Iterator
from datetime import date

from next_penny.core.dates.sentences import full_day, month_name
from next_penny.core.money import format_amount, percent_text
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.core.saying.asking import Asking, on_day
from next_penny.core.saying.days import month_of
from next_penny.core.saying.kinds.changing import begins, change_limit, ends, is_just_once
from next_penny.core.saying.kinds.planning import money_of, move
from next_penny.core.saying.kinds.single_dates import in_month
from next_penny.core.saying.names import Named, found
from next_penny.core.saying.phrases import NotUnderstood, is_word
from next_penny.core.saying.readings import Meant, Reading
from next_penny.core.saying.rhythms import Rhythm, rhythm_of

# How often a year what is said to repeat comes.
_A_YEAR = {"FREQ=WEEKLY": 52, "FREQ=WEEKLY;INTERVAL=2": 26, "FREQ=MONTHLY": 12, "FREQ=MONTHLY;INTERVAL=3": 4}
_FILLING = ("on", "of", "for", "the", "my", "our")


def extra(asking: Asking, new_id: str) -> Iterator[Reading]:
    """`200 extra on the mortgage each month`: an extra of a loan; on another debt it is money moved there."""
    slots = asking.said
    slot = "target" if "target" in slots.names else "name"
    loan = _loan(asking, slots.names[slot])
    if loan is None and "account" in asking.choices:
        yield Reading(f"Which “{slots.names[slot]}” is meant?")
        return
    day = asking.day(is_past=slots.is_past) or (asking.moment.today if slots.is_past else None)
    if loan is not None and (day is None or day > asking.moment.today):
        unused = slots.besides("amounts", slot, "rhythm", "day", "month", "begins", "ends")
        yield from _extra_of(asking, *loan, day, unused)
        return
    # What has been paid beyond the schedule is principal from its day on.
    slots.names["target"] = slots.names.pop(slot)
    yield move(asking, new_id)


def _extra_of(
    asking: Asking, account: Account, terms: LoanTerms, day: date | None, unused: list[str]
) -> Iterator[Reading]:
    slots, rhythm = asking.said, rhythm_of(asking.moment, asking.said)
    amount = asking.amount(account)
    what = f"Pay {money_of(asking, amount, account)} extra on “{account.name}”"
    if rhythm is not None or (day is None and "more" in slots.verbs and not slots.months):
        value, when = _repeating(asking, terms, rhythm)
        yield _extra(account, {"amount": amount, **value}, f"{what} {when}", unused)
        return
    if day is None and slots.months:
        flow = asking.moment.plan.loan_flow(account.id)
        due = in_month(asking, flow) if flow is not None else []
        day = due[0].nominal if due else None
    if day is None:
        asking.need("date")
    when = on_day(asking, day) if day is not None else "…"
    yield _extra(account, {"amount": amount, "date": day.isoformat() if day else None}, f"{what} on {when}", unused)


def _extra(account: Account, value: dict[str, object], sentence: str, unused: list[str]) -> Reading:
    return Reading(sentence, changes=[Meant("extra", "account", account.id, value)], unused=unused)


def _repeating(asking: Asking, terms: LoanTerms, rhythm: Rhythm | None) -> tuple[dict[str, object], str]:
    """With every payment, or yearly in a month, and how that is said. Raises NotUnderstood for another rhythm."""
    slots, today = asking.said, asking.moment.today
    start, last = begins(asking) or today, ends(asking)
    bounds: dict[str, object] = {"from": start.isoformat()}
    said = f"from {on_day(asking, start)}"
    if last is not None:
        bounds["to"] = last.isoformat()
        said += f" until {full_day(last)}"
    rule = rhythm.rules[0].split(";BY")[0] if rhythm is not None else ""
    if rule == "FREQ=YEARLY" and slots.months:
        month = month_of(asking.moment, slots.months[0])
        return {"yearly_in": month % 12 + 1, **bounds}, f"every year in {month_name(month).split()[0]} {said}"
    if rhythm is not None and _A_YEAR.get(rule) != terms.payments_per_year:
        phrase = slots.rhythms[0] if slots.rhythms else slots.days[0]
        raise NotUnderstood(slots.said.between(phrase.begin, phrase.end))
    return {"every": 1, **bounds}, f"with every payment {said}{'' if last else ' on'}"


def terms_of(asking: Asking) -> Reading | None:
    """`mortgage rate 6.5% from september`, `limit groceries to 500`; None where no such word stands in the name."""
    slots, words = asking.said, _words(asking)
    for term, rest in _split(words):
        if term == "limit" and slots.amounts and (reading := _limit(asking, rest)) is not None:
            return reading
        if term == "payment" and slots.amounts and (loan := _loan(asking, rest)) is not None:
            return level_payment(asking, loan[0])
        if term == "annual_rate" and slots.percents and (account := _owed_on(asking, rest)) is not None:
            return _rate(asking, account)
    if len(words) > 1 and is_word("bound", words[0]) == "limit":
        raise NotUnderstood(" ".join(words[1:]))
    return None


def is_of_terms(asking: Asking) -> bool:
    """Whether a rate, limit or payment is spoken of."""
    return next(_split(_words(asking)), None) is not None


def _words(asking: Asking) -> list[str]:
    return [word for word in asking.said.name.split() if word.lower() not in _FILLING]


def _split(words: list[str]) -> Iterator[tuple[str, str]]:
    """What is bound and of what: the word stands last, or first, and may be two."""
    for count in (2, 1):
        for term, rest in ((words[-count:], words[:-count]), (words[:count], words[count:])):
            if rest and (meant := is_word("bound", " ".join(term))) is not None:
                yield meant, " ".join(rest)


def level_payment(asking: Asking, account: Account) -> Reading:
    """The principal and interest of a loan's payments from a day on; what it pays into escrow stays."""
    slots = asking.said
    if slots.percents or slots.rhythms or slots.verbs & {"up", "down"}:
        raise NotUnderstood(slots.name)
    start, amount = _start(asking), asking.amount(account)
    sentence = f"Principal and interest of “{account.name}” are {money_of(asking, amount, account)} a payment"
    return _from(asking, sentence, account, {"payment": amount}, start, "amounts")


def _rate(asking: Asking, account: Account) -> Reading:
    slots, rate = asking.said, asking.percent()
    if rate is None or slots.verbs & {"up", "down"}:
        raise NotUnderstood(slots.percents[0])
    sentence = f"The yearly rate of “{account.name}” is {percent_text(rate)}"
    return _from(asking, sentence, account, {"annual_rate": str(rate)}, _start(asking), "percents")


def _from(
    asking: Asking, sentence: str, account: Account, value: dict[str, object], start: date | None, used: str
) -> Reading:
    when = on_day(asking, start) if start is not None else "…"
    change = Meant("revise", "account", account.id, value, start)
    unused = asking.said.besides("name", used, "day", "begins")
    return Reading(f"{sentence} from {when} on", changes=[change], unused=unused)


def _start(asking: Asking) -> date | None:
    start = begins(asking) or asking.day(is_past=False)
    if start is None:
        asking.need("date")
    return start


def limit_of(asking: Asking, rhythm: Rhythm | None) -> Reading | None:
    """`cut groceries to 400 a month`: the limit of an allowance of this name; None where there is none.

    A rhythm that is said must be its period.
    """
    allowance = asking.allowance()
    if allowance is None or not asking.said.amounts or is_just_once(asking, rhythm):
        return None
    return _limit(asking, asking.said.name) if rhythm is None else change_limit(asking, rhythm)


def _limit(asking: Asking, name: str) -> Reading | None:
    """Another limit of an allowance from a day on, or of a card from now on."""
    plan, slots, today = asking.moment.plan, asking.said, asking.moment.today
    if (allowance := asking.allowance(name)) is not None:
        account, start = plan.account_by_id[allowance.account], begins(asking) or today
        sentence = f"The limit of “{allowance.name}” is {money_of(asking, asking.amount(account), account)}"
        change = Meant("revise", "allowance", allowance.id, {"limit": asking.amount(account)}, start)
        unused = slots.besides("name", "amounts", "begins")
        return Reading(f"{sentence} from {on_day(asking, start)} on", changes=[change], unused=unused)
    card = _owed_on(asking, name)
    if card is None or card.limit is None:
        return None
    amount = asking.amount(card)
    sentence = f"The limit of “{card.name}” is {format_amount(amount or 0, card.currency)} from now on"
    change = Meant("revise", "account", card.id, {"limit": amount})
    return Reading(sentence, changes=[change], unused=slots.besides("name", "amounts"))


def _loan(asking: Asking, name: str) -> tuple[Account, LoanTerms] | None:
    """The loan of a name, or that a flow of this name pays; None where there is none, or it is noted as a choice."""
    plan = asking.moment.plan
    open_loans = {account.id: (account, terms) for account, terms in plan.loans if not _is_closed(asking, account)}
    if "account" in asking.answers:
        return open_loans.get(asking.answers["account"])
    flows = [flow for flow in plan.flows if plan.paid_by(flow) is not None]
    named = [Named("account", account.id, account.name) for account, _ in open_loans.values()]
    named += [Named("account", flow.to_account or "", flow.name) for flow in flows if flow.to_account in open_loans]
    ids = list(dict.fromkeys(hit.id for hit in found(name, named)))
    if len(ids) > 1:
        asking.choose("account", ids)
    return open_loans[ids[0]] if len(ids) == 1 else None


def _owed_on(asking: Asking, name: str) -> Account | None:
    """The debt of a name, whose rate may change; None where there is none, or several."""
    if (loan := _loan(asking, name)) is not None or "account" in asking.choices:
        return loan[0] if loan is not None else None
    debts = [account for account in asking.moment.plan.accounts if account.is_debt and not _is_closed(asking, account)]
    hits = found(name, [Named("account", account.id, account.name) for account in debts])
    return next((account for account in debts if len(hits) == 1 and account.id == hits[0].id), None)


def _is_closed(asking: Asking, account: Account) -> bool:
    return account.is_closed_on(asking.moment.today)
