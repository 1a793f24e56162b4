"""The JSON Schema of the plan document, printed: docs/plan-schema.json is kept from it."""

import json
import sys

from next_penny.formats.documents.plan import PlanDocument


def plan_schema() -> dict[str, object]:
    """What a plan document may hold, as JSON Schema says it."""
    return PlanDocument.model_json_schema()


if __name__ == "__main__":
    json.dump(plan_schema(), sys.stdout, indent=1, ensure_ascii=False)
    sys.stdout.write("\n")
