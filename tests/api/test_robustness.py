"""Whatever is sent, the app answers with a sentence: never with a failure of its own, and nothing is half done."""

import re
from collections.abc import Iterator
from datetime import date, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from effort import examples
from next_penny.api.app import create_app
from next_penny.demo import fill_with_demo
from stores import new_store

TODAY = date(2027, 3, 1)


@pytest.fixture(scope="module")
def demo() -> Iterator[TestClient]:
    store = new_store()
    fill_with_demo(store, TODAY)
    yield TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1:8765", raise_server_exceptions=True)
    store.close()


anything = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False, allow_infinity=False)
    | st.sampled_from(["", "joint", "mortgage", "2027-03-01", "2027-02-30", "FREQ=DAILY", "FREQ=WEEKLY;INTERVAL=0",
                       "9999-12-31", "0001-01-01", "-5", "US", "boat", "\x00", "x" * 300]),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.sampled_from(["amount", "id", "from", "date"]), inner, max_size=3),
    max_leaves=8,
)  # fmt: skip

FLOW_FIELDS = (
    "name", "kind", "amount", "category", "from_account", "to_account", "payee", "rules", "dates", "except", "start",
    "until", "count", "roll", "seasonal", "growth", "revisions", "changes", "splits", "estimate", "remind_days", "notes",
)  # fmt: skip
OTHER_FIELDS = ("name", "kind", "currency", "opening", "floor", "cushion", "limit", "period", "categories", "account",
                "timing", "carry", "from", "legs", "date", "payee", "flow", "nominal", "country", "past_due", "group")  # fmt: skip

changes = st.fixed_dictionaries(
    {
        "op": st.sampled_from(["add", "update", "remove", "burn"]),
        "kind": st.sampled_from(["flow", "account", "allowance", "entry", "category", "household", "moon"]),
        "id": st.sampled_from(["mortgage", "joint", "groceries", "boat", "new", "", "electricity", "tin"]),
        "value": st.none() | st.dictionaries(st.sampled_from(FLOW_FIELDS + OTHER_FIELDS), anything, max_size=4),
    }
)


def is_an_answer(response: Any) -> None:
    assert response.status_code in (200, 422), response.text
    if response.status_code == 422:
        for detail in response.json()["detail"]:
            assert detail["msg"]
            assert detail["msg"][0].isupper() or detail["msg"][0] in "“0123456789"
            assert detail["loc"][0] in ("body", "query", "path")
            # Days are told as people write them, but for how one is typed and what was sent.
            assert not re.search(r"(?<!such as )(?<!“)\d{4}-\d\d-\d\d", detail["msg"]), detail["msg"]


@settings(max_examples=examples(80), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(changes, max_size=3))
def test_any_change_is_previewed_or_refused(demo: TestClient, sent: list[dict[str, Any]]) -> None:
    body = {"until": "2027-06-01", "changes": sent}
    preview = demo.post("/api/forecast/preview", json=body)
    is_an_answer(preview)
    tideline = demo.post("/api/tideline", json={**body, "from": "2027-02-01"})
    is_an_answer(tideline)
    assert (tideline.status_code == 200) == (preview.status_code == 200)


days = st.integers(-400, 900).map(lambda number: str(TODAY + timedelta(days=number)))
money = st.integers(-5, 500_00)


def meant(op: str, kind: str, ids: list[str], value: st.SearchStrategy[Any], **more: st.SearchStrategy[Any]) -> Any:
    return st.fixed_dictionaries(
        {"op": st.just(op), "kind": st.just(kind), "id": st.sampled_from(ids), "value": value, **more})  # fmt: skip


FLOWS = ["gran", "phones", "mortgage", "wren-pay", "electricity", "house-payment"]
spending = st.fixed_dictionaries(
    {"date": days, "account": st.sampled_from(["joint", "tin"]), "amount": money,
     "parts": st.lists(st.fixed_dictionaries({"category": st.sampled_from(["groceries", "boat"]), "amount": st.none() | money}), max_size=3)}
)  # fmt: skip
edits = st.one_of(
    meant("revise", "flow", FLOWS, st.fixed_dictionaries({"amount": money}, optional={"category": st.just("boat")}),
          **{"from": st.none() | days, "keep_later": st.booleans()}),
    meant("once", "flow", FLOWS, st.none() | st.fixed_dictionaries({}, optional={"amount": money, "moved_to": days,
          "left_out": st.booleans()}), nominal=days | st.sampled_from(["2027-03-09", "2027-04-01", "2027-05-01"])),
    meant("revise", "allowance", ["groceries"], st.fixed_dictionaries({"limit": money}), **{"from": st.none() | days}),
    meant("revise", "account", ["house"], st.fixed_dictionaries({}, optional={"annual_rate": st.sampled_from(["4", "9.5"]),
          "payment": st.integers(1, 9_000_00), "escrow": money}), **{"from": days}),
    meant("extra", "account", ["house"], st.fixed_dictionaries({"amount": money, "date": days})),
    meant("spent", "entry", ["one", "two"], spending),
    meant("received", "entry", ["one"], spending),
    meant("moved", "entry", ["three"], st.fixed_dictionaries({"date": days, "account": st.just("joint"), "amount": money,
          "to_account": st.sampled_from(["tin", "rainy-day", "joint", "house"])})),
)  # fmt: skip


def test_what_people_mean_is_done_or_refused_and_mostly_done(demo: TestClient) -> None:
    answered: list[int] = []

    @settings(max_examples=examples(120))
    @given(st.lists(edits, min_size=1, max_size=2))
    def mean(sent: list[dict[str, Any]]) -> None:
        before = demo.get("/api/plan").json()
        saved = demo.post("/api/changes", json={"changes": sent})
        is_an_answer(saved)
        answered.append(saved.status_code)
        if saved.status_code == 200:
            for view in ("forecast?until=2028-01-01", "debts", "settle", "flows", "debts/house"):
                assert demo.get(f"/api/{view}").status_code == 200
            if demo.get("/api/plan").json() != before:
                demo.post("/api/undo")
        assert demo.get("/api/plan").json() == before

    mean()
    assert answered.count(200) > len(answered) // 6


@settings(max_examples=examples(50), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(changes, min_size=1, max_size=2))
def test_any_change_is_saved_whole_or_not_at_all(demo: TestClient, sent: list[dict[str, Any]]) -> None:
    before = demo.get("/api/plan").json()
    saved = demo.post("/api/changes", json={"changes": sent})
    is_an_answer(saved)
    if saved.status_code == 200:
        is_an_answer(demo.get("/api/forecast?until=2027-06-01"))
        if demo.get("/api/plan").json() != before:
            demo.post("/api/undo")
    assert demo.get("/api/plan").json() == before


@settings(max_examples=examples(50), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.dictionaries(
        st.sampled_from(["rules", "dates", "except", "start", "until", "count", "roll", "country", "from", "to"]),
        anything,
    )
)
def test_any_schedule_is_listed_or_refused(demo: TestClient, sent: dict[str, Any]) -> None:
    is_an_answer(demo.post("/api/tools/occurrences", json=sent))


@settings(max_examples=examples(50), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.dictionaries(
        st.sampled_from(["format", "version", "currency", "accounts", "flows", "entries", "rates", "name"]), anything
    )
)
def test_any_document_is_checked(demo: TestClient, sent: dict[str, Any]) -> None:
    whole = {"format": "next-penny-plan", "version": 1, "currency": "USD", "accounts": [], **sent}
    checked = demo.post("/api/plan/check", json=whole)
    assert checked.status_code == 200
    found = checked.json()
    assert found["ok"] == (found["detail"] == [])


@pytest.mark.parametrize("body", [b"", b"{", b"[]", b"null", b'"x"', b"[" * 3000, b"\xff\xfe", b'{"changes": NaN}'])
@pytest.mark.parametrize("path", ["/api/changes", "/api/settle", "/api/forecast/preview", "/api/plan/check"])
def test_what_is_no_request_is_refused(demo: TestClient, path: str, body: bytes) -> None:
    answer = demo.post(path, content=body, headers={"content-type": "application/json"})
    assert answer.status_code in (200, 400, 413, 422)


@pytest.mark.parametrize(
    "path",
    [
        "/api/register?account=", "/api/register?account=zz", "/api/ahead?until=x", "/api/ahead?until=2027-01-01",
        "/api/ahead?until=2027-05-01&accounts=zz", "/api/entries/zz", "/api/forecast?until=2027-05-01&accounts=,",
        "/api/forecast?until=99999-01-01", "/api/ahead?until=2027-05-01&from=never",
    ],
)  # fmt: skip
def test_addresses_that_ask_for_nothing_known(demo: TestClient, path: str) -> None:
    answer = demo.get(path)
    assert answer.status_code == 422
    assert all(detail["msg"] for detail in answer.json()["detail"])


def test_amounts_up_to_the_largest_stay_exact_through_file_and_forecast() -> None:
    store = new_store()
    client = TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1:8765")
    most = 10**12
    plan = {
        "format": "next-penny-plan", "version": 1, "currency": "JPY",
        "accounts": [{"id": "a", "name": "A", "kind": "checking", "opening": {"date": "2027-03-01", "balance": -most}}],
        "flows": [{"id": "f", "name": "F", "kind": "income", "amount": most, "to_account": "a", "start": "2027-03-01",
                   "rules": ["FREQ=DAILY"]}],
    }  # fmt: skip
    assert client.put("/api/plan", json=plan).status_code == 200
    answer = client.get("/api/forecast?until=2029-03-01").json()
    days = (date(2029, 3, 1) - TODAY).days
    assert answer["accounts"][0]["steps"][-1] == ["2029-03-01", most * days]
    assert answer["events"][0]["why"] == "Every day; ¥1,000,000,000,000."


def test_an_unknown_currency_is_refused_with_whatever_else_is_wrong(demo: TestClient) -> None:
    legs = [{"amount": -9657, "account": "nobody"}, {"category": "none", "amount": 6852}]
    entry = {"id": "x", "date": "2027-03-01", "legs": legs}
    plan = {"format": "next-penny-plan", "version": 1, "currency": "((H", "accounts": [], "entries": [entry]}
    answer = demo.put("/api/plan", json=plan)
    assert answer.status_code == 422
    said = {tuple(each["loc"][1:]): each["msg"] for each in answer.json()["detail"]}
    assert said["entries", 0, "legs"] == "The legs must sum to zero."
    assert said[("currency",)] == "“((H” is not a currency: give a code such as USD or EUR."
