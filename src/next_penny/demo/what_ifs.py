"""What the demo household thinks about: two what-ifs that it keeps."""

import json
from datetime import date

from next_penny.core.dates.calendar import add_months
from next_penny.core.plan.kept.what_ifs import SavedWhatIf


def demo_what_ifs(today: date) -> tuple[SavedWhatIf, ...]:
    """Less put away for a while, and more help for Gran: each from the first of a month to come."""
    soon, later = (add_months(today.replace(day=1), months) for months in (1, 3))
    return (
        _what_if("less-away", "Half as much into savings", "to-savings", soon, 117_50),
        _what_if("gran-more", "Gran's helper comes twice a week", "gran", later, 640_00),
    )


def _what_if(id: str, name: str, flow: str, start: date, amount: int) -> SavedWhatIf:
    change = {"op": "revise", "kind": "flow", "id": flow, "from": start.isoformat(), "value": {"amount": amount}}
    return SavedWhatIf(id, name, json.dumps([change]))
