"""What a sentence means before a household: the readings of it, likeliest first (docs/rules.md, Said in a sentence)."""

from collections.abc import Iterator, Sequence
from datetime import date

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_start
from next_penny.core.money import format_amount
from next_penny.core.plan.flows import Flow
from next_penny.core.saying.ambiguous import is_extra, names_in
from next_penny.core.saying.asking import Asking, as_far_as_said, on_day
from next_penny.core.saying.currencies import taken_out
from next_penny.core.saying.days import month_of
from next_penny.core.saying.gathered import gathered
from next_penny.core.saying.kinds.another_day import is_of_another_day, put_on_another_day
from next_penny.core.saying.kinds.changing import begins, change_flow, change_limit, is_just_once
from next_penny.core.saying.kinds.ending import end_or_leave_out
from next_penny.core.saying.kinds.lending import borrow, is_of_cash, lend, of_cash, owed_by_who_paid, paid_back
from next_penny.core.saying.kinds.planning import move, plan_new
from next_penny.core.saying.kinds.recording import record_or_plan
from next_penny.core.saying.kinds.terms import extra, level_payment, limit_of, terms_of
from next_penny.core.saying.phrases import NotUnderstood, is_word, said
from next_penny.core.saying.readings import Answers, Known, Question, Reading
from next_penny.core.saying.rhythms import Rhythm, rhythm_of

_SETS = {"is_now", "up", "down"}


class Understood:
    """The readings of a sentence, and the first part of it that means nothing."""

    def __init__(self, readings: Sequence[Reading], not_understood: str | None = None) -> None:
        self.readings, self.not_understood = list(readings), not_understood


def understand(
    moment: Moment, text: str, payees: Sequence[Known], answers: Answers, new_id: str
) -> Understood:  # fmt: skip
    """A sentence read into changes or a question; nothing is changed. `new_id` is for what it would add.

    What is missing is noted in the readings, and so is what is ambiguous; changes are only where nothing is missing.
    """
    plan = moment.plan
    names = [account.name for account in plan.accounts] + [flow.name for flow in plan.all_flows]
    names += [category.name for category in plan.categories] + [payee.payee for payee in payees]
    try:
        plain, currency = taken_out(text, plan)
        slots = gathered(said(plain, names))
        asking = Asking(moment, slots, list(payees), answers, currency)
        if as_words := names_in(asking):
            slots = asking.said = gathered(slots.said, as_words)
        asking.take_means()
        readings = list(_readings(asking, new_id)) if slots.is_told else []
    except NotUnderstood as error:
        return Understood([], error.part)
    if not readings:
        return Understood([], text.strip() or None)
    for reading in readings:
        reading.does = "what_if" if slots.said.opener == "what_if" else reading.does
    return Understood(readings, next(iter([*slots.rest, *readings[0].unused]), None))


def _readings(asking: Asking, new_id: str) -> Iterator[Reading]:
    for reading in _meant(asking, new_id):
        yield as_far_as_said(asking, reading)


def _meant(asking: Asking, new_id: str) -> Iterator[Reading]:
    slots = asking.said
    _take_who_paid(asking)
    if slots.said.opener == "afford":
        # What it is for is no part of the question.
        slots.rest.clear()
        yield _afford(asking)
        return
    if "in_past" in slots.verbs and not slots.name and (income := asking.income("")) is not None:
        slots.names["name"] = income.name
    _pays_an_account(asking)
    if is_extra(asking):
        yield from extra(asking, new_id)
    elif (account := owed_by_who_paid(asking)) is not None:
        yield from paid_back(asking, account, new_id)
    elif (moved := _moved(asking, new_id)) is not None:
        yield moved
    else:
        yield from _of_what_there_is(asking, new_id)


def _take_who_paid(asking: Asking) -> None:
    """Who it came from, or went to, is the name; what it was for may be its category."""
    slots = asking.said
    if slots.verbs & {"in_past", "refund", "back"} and "source" in slots.names and not asking.is_account("source"):
        what = slots.names.pop("name", "")
        slots.names["name"] = slots.names.pop("source")
        if what and "category" not in slots.names and asking.is_category(what):
            slots.names["category"] = what
        elif what:
            slots.rest.append(what)
    if "in_past" in slots.verbs and slots.rest and "category" not in slots.names and asking.is_category(slots.rest[0]):
        slots.names["category"] = slots.rest.pop(0)
    if "out_past" in slots.verbs and not slots.name and "target" in slots.names and not asking.is_account("target"):
        slots.names["name"] = slots.names.pop("target")
    if {"in_past", "back"} <= slots.verbs and owed_by_who_paid(asking) is None:
        slots.verbs.add("refund")
        slots.verbs.remove("back")


def _moved(asking: Asking, new_id: str) -> Reading | None:
    """Money that changes hands or accounts and is neither earned nor spent; None where nothing of that is said."""
    slots = asking.said
    if slots.verbs & {"lent", "lend"}:
        return lend(asking, new_id)
    if slots.verbs & {"borrowed", "borrow"}:
        return borrow(asking, new_id)
    if is_of_cash(asking):
        return of_cash(asking, new_id)
    if "repaid" not in slots.verbs:
        return None
    if asking.is_debt("name"):
        slots.names["target"] = slots.names.pop("name")
    if "target" not in slots.names:
        raise NotUnderstood(slots.words_of("repaid"))
    return move(asking, new_id)


def _of_what_there_is(asking: Asking, new_id: str) -> Iterator[Reading]:
    slots = asking.said
    _take_what_it_is_for(asking)
    # “Salary to savings” says where it arrives; “pay” is what one does, too.
    is_earned = is_word("earned", slots.names.get("pay", "")) is not None
    if (bound := terms_of(asking)) is not None:
        yield bound
    elif is_of_another_day(asking):
        yield from put_on_another_day(asking)
    elif slots.verbs & {"none", "stops", "cancels", "ends_then"}:
        yield from end_or_leave_out(asking)
    elif slots.verbs & {"move", "move_past"} or ("target" in slots.names and not slots.name and not is_earned):
        yield move(asking, new_id)
    elif slots.name or "pay" in slots.verbs or "source" in slots.names:
        yield from _of_a_name(asking, new_id)


def _take_what_it_is_for(asking: Asking) -> None:
    """“Put 100 on the wharf card for shoes” and “charged 30 to it” are spent with it, and no move to it."""
    slots = asking.said
    slot = "target" if "target" in slots.names else "name"
    words = slots.names.get(slot, "").split()
    at = next((place for place, word in enumerate(words) if is_word("purpose", word) is not None), len(words))
    account, purpose = " ".join(words[:at]), " ".join(words[at + 1 :])
    is_put = bool(slots.verbs & {"move", "move_past"}) and slot == "name" and purpose
    if asking.names_account(account) and (is_put or "charged" in slots.verbs):
        slots.verbs -= {"move", "move_past"}
        del slots.names[slot]
        slots.names |= {"means": account, **({"name": purpose} if purpose else {})}


def _of_a_name(asking: Asking, new_id: str) -> Iterator[Reading]:
    """A flow that is to be another, or else something new: with a rhythm, or once."""
    slots = asking.said
    rhythm = rhythm_of(asking.moment, slots)
    is_change = bool(slots.verbs & _SETS) or slots.is_once or slots.from_now or bool(slots.months)
    if rhythm is not None and not slots.name and "pay" in slots.verbs and not is_change:
        yield from _pay(asking, rhythm, new_id)
        return
    if not slots.name and "pay" in slots.verbs and is_change:
        flow = asking.income(slots.names["pay"]) or (asking.income("") if "flow" not in asking.choices else None)
    else:
        flow = asking.flow() if slots.name else None
    if "flow" in asking.choices and is_change:
        yield Reading(f"Which “{slots.name or slots.names['pay']}” is meant?")
        return
    if flow is not None and (is_change or ((rhythm or slots.begins) and not slots.is_past)):
        yield _changed(asking, flow, rhythm)
        return
    if is_change and flow is None and (limit := limit_of(asking, rhythm)) is not None:
        yield limit
        return
    if is_change and flow is None and slots.verbs & _SETS:
        raise NotUnderstood(slots.name or slots.said.text.strip())
    asking.no_need("flow")
    if not slots.amounts and not slots.verbs and "amount" not in asking.answers:
        # A name and a rhythm: what is looked for, and nothing to do.
        raise NotUnderstood(slots.said.text.strip())
    if rhythm is not None:
        if (limit := change_limit(asking, rhythm)) is not None:
            yield limit
        yield plan_new(asking, rhythm, new_id)
    else:
        yield from record_or_plan(asking, flow, new_id)


def _changed(asking: Asking, flow: Flow, rhythm: Rhythm | None) -> Reading:
    """A flow that is to be another; what a loan is paid follows its terms, what a card is paid its statement."""
    plan, slots, is_once = asking.moment.plan, asking.said, is_just_once(asking, rhythm)
    loan = plan.paid_by(flow)
    if (loan is not None and is_once) or (flow.id in plan.maker_accounts and not is_once):
        raise NotUnderstood(next(iter(slots.amounts), flow.name))
    return change_flow(asking, flow, rhythm) if loan is None else level_payment(asking, loan)


def _pays_an_account(asking: Asking) -> None:
    """“pay Heron card 200”: what is paid to a card or a loan is moved there."""
    slots = asking.said
    if not slots.verbs & {"pay", "out_past"} or "target" in slots.names or not asking.is_debt("name"):
        return
    flow = asking.flow()
    # What the account makes of itself is such a payment too.
    if flow is None or flow.id in asking.moment.plan.maker_accounts or "off" in slots.verbs:
        asking.no_need("flow")
        slots.names["target"] = slots.names.pop("name")
        if "means" in slots.names:
            slots.names["source"] = slots.names.pop("means")


def _pay(asking: Asking, rhythm: Rhythm, new_id: str) -> Iterator[Reading]:
    """“pay 900 every friday” is said of the pay that there is, or of another: both are readings."""
    name = asking.said.names["pay"]
    flow = asking.income(name)
    if flow is not None:
        yield change_flow(asking, flow, rhythm)
    elif "flow" in asking.choices:
        yield Reading(f"Which “{name}” is meant?")
    asking.no_need("flow")
    yield plan_new(asking, rhythm, new_id)
    only = asking.income("") if flow is None else None
    if only is not None:
        yield change_flow(asking, only, rhythm)
    asking.no_need("flow")


def _afford(asking: Asking) -> Reading:
    """Whether an account bears it: the one that is said, else what is paid from."""
    slots, moment = asking.said, asking.moment
    account = asking.paid_from()
    amount, day = asking.amount(account), asking.day(is_past=False)
    rhythm = rhythm_of(moment, slots)
    day = day or begins(asking)
    if day is None and slots.months:
        day = max(moment.today, date.fromordinal(month_start(month_of(moment, slots.months[0]))))
    if day is None:
        asking.need("date")
    if rhythm is not None and not rhythm.rules[0].startswith("FREQ=MONTHLY"):
        raise NotUnderstood(slots.said.between(slots.rhythms[0].begin, slots.rhythms[0].end))
    money = format_amount(amount, account.currency) if amount is not None and account is not None else "…"
    when = on_day(asking, day) if day is not None else "…"
    often = " every month from" if rhythm is not None else " on"
    sentence = f"Can {account.name if account else '…'} bear {money}{often} {when}?"
    question = None
    if account is not None and amount is not None and day is not None:
        until = add_months(max(day, moment.today), 12)
        question = Question(account.id, amount, day, rhythm is not None, until)
    unused = slots.besides(
        "name", "amounts", "rhythm", "day", "month", "begins", "means", "source", "category", "target"
    )
    return Reading(sentence, "afford", question=question, unused=unused)
