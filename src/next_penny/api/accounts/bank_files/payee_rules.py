"""The household's rules for what is new: in their order, tried on what is recorded. They are changed as all else is."""

from datetime import timedelta

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.http.errors import refused
from next_penny.api.http.session import Home, HomeOrWhatIf
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.bank_lines import MOST_PAYEE_RULES
from next_penny.formats.documents.fields import Document, Id
from next_penny.formats.documents.kept.bank_lines import PayeeRuleDocument
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision

router = APIRouter(prefix="/api/payee-rules", tags=["files from a bank"])
_TRIED_ON = timedelta(days=366)


class PayeeRuleRow(BaseModel):
    """A rule, and how many entries of the last year it would have sorted: the first that applies does."""

    rule: PayeeRuleDocument
    fits: int


class RuleOrder(Document):
    """The ids of all rules, in the order in which they are tried."""

    ids: list[Id] = Field(max_length=MOST_PAYEE_RULES)


@router.get("")
def read_payee_rules(home: HomeOrWhatIf) -> list[PayeeRuleRow]:
    """The rules, in the order in which they are tried."""
    rules = home.plan.payee_rules
    fits = {rule.id: 0 for rule in rules}
    recorded = home.recorded(home.reading.entries(home.today - _TRIED_ON, home.today)) if rules else ()
    for entry in recorded:
        leg = next((leg for leg in entry.legs if leg.account is not None), None)
        if leg is None or not entry.payee or entry.flow is not None:
            continue
        first = next((rule for rule in rules if rule.applies(entry.payee, leg.account or "", leg.amount)), None)
        if first is not None:
            fits[first.id] += 1
    return [PayeeRuleRow(rule=PayeeRuleDocument.of(rule), fits=fits[rule.id]) for rule in rules]


@router.post("/order")
def order_payee_rules(request: RuleOrder, home: Home) -> ChangeAnswer:
    """Try the rules in another order."""

    def decide(reading: Reading) -> Decision:
        rule_by_id = {rule.id: rule for rule in reading.moment.plan.payee_rules}
        if sorted(request.ids) != sorted(rule_by_id):
            raise refused(("body", "ids"), "Name every rule once: one was made or deleted meanwhile.", "unknown_id")
        # Those before the first that moves stay where they are; the rest follows them anew.
        same = next(
            (at for at, (one, other) in enumerate(zip(rule_by_id, request.ids, strict=True)) if one != other), None
        )
        moved = request.ids[same:] if same is not None else []
        gone = [PlanChange("payee_rule", id, None) for id in moved]
        return Decision([*gone, *(PlanChange("payee_rule", id, rule_by_id[id]) for id in moved)], "Ordered the rules")

    return done_answer(home.change(decide))
