"""The OpenAPI document against the app: nothing that it allows is answered with a fault, or with what it does not tell."""

from datetime import date

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import status_code_conformance

from next_penny.api.app import create_app
from next_penny.demo import fill_with_demo
from stores import new_store

TODAY = date(2027, 3, 1)
_store = new_store()
fill_with_demo(_store, TODAY)
SCHEMA = schemathesis.openapi.from_asgi("/api/openapi.json", create_app(_store, lambda: TODAY, ["testserver"]))
# Nobody is shut out meanwhile, and what is open stays open.
SAFE = SCHEMA.exclude(path_regex="/api/(password|login|file/)")


@pytest.mark.slow
@SAFE.parametrize()
@settings(
    max_examples=25,
    deadline=None,
    phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
)
def test_no_fault_and_no_status_that_is_not_documented(case: schemathesis.Case) -> None:
    answer = case.call()
    assert answer.status_code != 503 or b"file" not in answer.content
    case.validate_response(answer, checks=[not_a_server_error, status_code_conformance])
