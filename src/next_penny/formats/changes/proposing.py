"""Changes that the core proposes, as the interface sends them back to preview, keep or save them."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import Any, cast

from next_penny.core.edits.commands.carrying_out import Items
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan
from next_penny.formats.changes.documents import DOCUMENTS, OneOff
from next_penny.formats.changes.request import ChangeRequest, Kind


def requests_for(plan: Plan, changes: Sequence[PlanChange], is_recorded: Callable[[str], bool]) -> list[ChangeRequest]:
    """Changes that the core proposes, as the interface sends them back to preview, keep or save them.

    Of what is held only what becomes another is said, so that a kept what-if leaves all else to the plan.
    """
    requests: list[ChangeRequest] = []
    for change in changes:
        # All else is kept beside the plan, and proposed by nobody.
        kind = cast(Kind, change.kind)
        assert kind in DOCUMENTS
        if change.item is None:
            requests.append(_request("remove", kind, change.id, None))
            continue
        flow = None if kind == "entry" else Items(plan, lambda id: None).find(kind, change.id)
        if (
            isinstance(flow, Flow)
            and isinstance(change.item, Flow)
            and replace(change.item, changes=flow.changes) == flow
        ):
            requests += _once(flow, change.item)
            continue
        value = DOCUMENTS[kind].of(change.item).model_dump(mode="json", by_alias=True)
        if flow is not None:
            before = DOCUMENTS[kind].of(flow).model_dump(mode="json", by_alias=True)
            value = {name: given for name, given in value.items() if given != before[name]}
        is_held = is_recorded(change.id) if kind == "entry" else flow is not None
        requests.append(_request("update" if is_held else "add", kind, change.id, value))
    return requests


def _once(existing: Flow, flow: Flow) -> Iterator[ChangeRequest]:
    """What single dates of a flow become."""
    before, after = ({change.nominal: change for change in one.changes} for one in (existing, flow))
    for day in sorted({*before, *after}):
        if before.get(day) != after.get(day):
            said = after.get(day)
            value = None if said is None else OneOff(
                amount=said.amount, moved_to=said.moved_to, left_out=said.left_out, hours=said.hours
            ).model_dump(mode="json")  # fmt: skip
            yield _request("once", "flow", flow.id, value, nominal=day.isoformat())


def _request(op: str, kind: str, id: str, value: Any, **more: Any) -> ChangeRequest:
    return ChangeRequest.model_validate({"op": op, "kind": kind, "id": id, "value": value, **more})
