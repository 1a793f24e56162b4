"""What a sentence means before a household: the readings of it, likeliest first (docs/rules.md, Said in a sentence)."""

from collections.abc import Iterator, Sequence
from datetime import date

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_start
from next_penny.core.money import format_amount
from next_penny.core.saying.asking import Asking, as_far_as_said, on_day
from next_penny.core.saying.changing import change_flow, change_limit, leave_out
from next_penny.core.saying.currencies import taken_out
from next_penny.core.saying.days import day_of, month_of
from next_penny.core.saying.gathered import gathered
from next_penny.core.saying.phrases import NotUnderstood, said
from next_penny.core.saying.planning import move, plan_new
from next_penny.core.saying.readings import Answers, Known, Question, Reading
from next_penny.core.saying.recording import record_or_plan
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
    names = [each.name for each in plan.accounts] + [each.name for each in plan.all_flows]
    names += [each.name for each in plan.categories] + [each.payee for each in payees]
    try:
        plain, currency = taken_out(text, plan)
        found = gathered(said(plain, names))
        asking = Asking(moment, found, list(payees), answers, currency)
        asking.take_means()
        readings = list(_readings(asking, new_id)) if found.is_told else []
    except NotUnderstood as error:
        return Understood([], error.part)
    if not readings:
        return Understood([], text.strip() or None)
    for each in readings:
        each.does = "what_if" if found.said.opener == "what_if" else each.does
    return Understood(readings, found.rest[0] if found.rest else None)


def _readings(asking: Asking, new_id: str) -> Iterator[Reading]:
    for reading in _meant(asking, new_id):
        yield as_far_as_said(asking, reading)


def _meant(asking: Asking, new_id: str) -> Iterator[Reading]:
    found = asking.said
    if "in_past" in found.verbs and not found.name and "source" in found.names:
        found.names["name"] = found.names.pop("source")
    if "out_past" in found.verbs and not found.name and "target" in found.names and not asking.is_account("target"):
        found.names["name"] = found.names.pop("target")
    if found.said.opener == "afford":
        # What it is for is no part of the question.
        found.rest.clear()
        yield _afford(asking)
        return
    if "in_past" in found.verbs and not found.name and (income := asking.income("")) is not None:
        found.names["name"] = income.name
    _pays_an_account(asking)
    if found.verbs & {"none", "stops"}:
        yield leave_out(asking)
    elif found.verbs & {"move", "move_past"} or ("target" in found.names and not found.name):
        yield move(asking, new_id)
    elif found.name or "pay" in found.verbs or "source" in found.names:
        yield from _of_a_name(asking, new_id)


def _of_a_name(asking: Asking, new_id: str) -> Iterator[Reading]:
    """A flow that is to be another, or else something new: with a rhythm, or once."""
    found = asking.said
    rhythm = rhythm_of(asking.moment, found)
    is_change = bool(found.verbs & _SETS) or found.is_once or found.from_now or bool(found.months)
    if rhythm is not None and not found.name and "pay" in found.verbs and not is_change:
        yield from _pay(asking, rhythm, new_id)
        return
    if not found.name and "pay" in found.verbs and is_change:
        flow = asking.income(found.names["pay"]) or (asking.income("") if "flow" not in asking.choices else None)
    else:
        flow = asking.flow() if found.name else None
    if "flow" in asking.choices and is_change:
        yield Reading(f"Which “{found.name or found.names['pay']}” is meant?")
        return
    if flow is not None and (is_change or ((rhythm or found.begins) and not found.is_past)):
        yield change_flow(asking, flow, rhythm)
        return
    if is_change and flow is None and found.verbs & _SETS:
        raise NotUnderstood(found.name or found.said.text.strip())
    asking.no_need("flow")
    if not found.amounts and not found.verbs and "amount" not in asking.answers:
        # A name and a rhythm: what is looked for, and nothing to do.
        raise NotUnderstood(found.said.text.strip())
    if rhythm is not None:
        if (limit := change_limit(asking, rhythm)) is not None:
            yield limit
        yield plan_new(asking, rhythm, new_id)
    else:
        yield from record_or_plan(asking, flow, new_id)


def _pays_an_account(asking: Asking) -> None:
    """“pay Heron card 200”: what is paid to a card or a loan is moved there."""
    found = asking.said
    if not found.verbs & {"pay", "out_past"} or "target" in found.names or not asking.is_debt("name"):
        return
    flow = asking.flow()
    # What the account makes of itself is such a payment too.
    if flow is None or flow.id in asking.moment.plan.maker_accounts:
        asking.no_need("flow")
        found.names["target"] = found.names.pop("name")
        if "means" in found.names:
            found.names["source"] = found.names.pop("means")


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
    found, moment = asking.said, asking.moment
    account = asking.paid_from()
    amount, day = asking.amount(account), asking.day(is_past=False)
    rhythm = rhythm_of(moment, found)
    if day is None and found.begins is not None and found.begins.sort == "from_day":
        day = day_of(moment, found.begins, is_past=False)
    if day is None and found.months:
        day = max(moment.today, date.fromordinal(month_start(month_of(moment, found.months[0]))))
    if day is None:
        asking.need("date")
    if rhythm is not None and not rhythm.rules[0].startswith("FREQ=MONTHLY"):
        raise NotUnderstood(found.said.between(found.rhythms[0].begin, found.rhythms[0].end))
    money = format_amount(amount, account.currency) if amount is not None and account is not None else "…"
    when = on_day(asking, day) if day is not None else "…"
    often = " every month from" if rhythm is not None else " on"
    sentence = f"Can {account.name if account else '…'} bear {money}{often} {when}?"
    question = None
    if account is not None and amount is not None and day is not None:
        until = add_months(max(day, moment.today), 12)
        question = Question(account.id, amount, day, rhythm is not None, until)
    return Reading(sentence, "afford", question=question)
