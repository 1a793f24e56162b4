"""The OpenAPI document against the app: nothing that it allows is answered with a fault, or with what it does not tell."""

import os
from datetime import date
from random import Random
from typing import Any

import pytest
import schemathesis
from fastapi.testclient import TestClient
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
_PLAN = TestClient(create_app(_store, lambda: TODAY), base_url="http://127.0.0.1:8765").get("/api/plan").json()
# What a call may name: things that are there, things that are not, and days at the limits of what may be asked.
_IDS = [
    each["id"] for name in ("accounts", "flows", "allowances", "categories", "entries") for each in _PLAN[name][-9:]
]
_NAMES = [*_IDS, *_IDS, "nobody", ""]
_DAYS = ["2027-03-01", "2027-02-28", "2028-02-29", "2077-03-01", "2077-03-02", "1900-01-01", "2199-12-31", "2027-09-15"]
_chance = Random(21)


def _named(values: Any) -> Any:
    """Values with ids and days in the place of most texts that stand for them."""
    if isinstance(values, dict):
        return {name: _one(name, value) for name, value in values.items()}
    if isinstance(values, list):
        return [_named(value) for value in values]
    return values


def _one(name: str, value: Any) -> Any:
    if not isinstance(value, str) or _chance.random() < 0.2:
        return _named(value)
    if name in ("until", "from", "to", "on", "date", "nominal", "first", "last"):
        return _chance.choice(_DAYS)
    if name in ("id", "account", "accounts", "flow", "category", "from_account", "to_account", "allowance", "entry"):
        return _chance.choice(_NAMES)
    return value


@schemathesis.hook
def map_query(context: Any, query: Any) -> Any:
    return _named(query)


@schemathesis.hook
def map_path_parameters(context: Any, path_parameters: Any) -> Any:
    named = _named(path_parameters)
    return {name: value or "nobody" for name, value in named.items()} if isinstance(named, dict) else named


@schemathesis.hook
def map_body(context: Any, body: Any) -> Any:
    return _named(body)


# Nobody is shut out meanwhile, and what is open stays open.
SAFE = SCHEMA.exclude(path_regex="/api/(password|login|file/)")


@pytest.mark.slow
@SAFE.parametrize()
@settings(
    # As many as wanted: with 1,000, all operations together are asked a hundred thousand times.
    max_examples=int(os.environ.get("NEXT_PENNY_FUZZED", "25")),
    deadline=None,
    phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
)
def test_no_fault_and_no_status_that_is_not_documented(case: schemathesis.Case) -> None:
    # A busy machine is no fault; how long the longest questions take is measured elsewhere.
    answer = case.call(timeout=120)
    assert answer.status_code != 503 or b"file" not in answer.content
    case.validate_response(answer, checks=[not_a_server_error, status_code_conformance])
