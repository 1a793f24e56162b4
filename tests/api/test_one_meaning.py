"""Figures of one meaning, read from every page of random households, held against each other."""

from collections.abc import Iterator
from datetime import date, timedelta
from itertools import pairwise
from typing import Any

from acting_households import acting_documents
from fastapi.testclient import TestClient
from households import TODAY
from hypothesis import HealthCheck, assume, given, settings

from answers import Json, done
from effort import examples
from next_penny.api.app import create_app
from stores import new_store

UNTIL = TODAY + timedelta(days=120)


class Pages:
    """What the pages of a household answer."""

    def __init__(self, document: Json) -> None:
        self._client = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")
        # Some random rules never give a date, which is refused.
        assume(self._client.put("/api/plan", json=document).status_code == 200)

    def get(self, path: str, **query: Any) -> Any:
        named = {name.rstrip("_"): str(value) for name, value in query.items()}
        answer = self._client.get(f"/api/{path}", params=named)
        return done(answer)

    def tideline(self, account: str) -> Json:
        body = {"accounts": [account], "from": str(TODAY - timedelta(days=30)), "until": str(UNTIL)}
        return done(self._client.post("/api/tideline", json=body))


def on(steps: list[Any], day: date, before: int) -> int:
    """What a step line is at on a day."""
    return [before, *(balance for when, balance in steps if when <= str(day))][-1]


def days(first: date, last: date) -> Iterator[date]:
    return (date.fromordinal(number) for number in range(first.toordinal(), last.toordinal() + 1))


@settings(max_examples=examples(24), suppress_health_check=[HealthCheck.too_slow])
@given(acting_documents())
def test_a_figure_is_the_same_on_every_page_that_has_it(document: Json) -> None:
    pages = Pages(document)
    rows = {row["account"]["id"]: row for row in pages.get("accounts")["accounts"]}
    forecast = {each["id"]: each for each in pages.get("forecast", until=UNTIL)["accounts"]}
    owed = 0
    for id, row in rows.items():
        account, opened = row["account"], date.fromisoformat(row["account"]["opening"]["date"])
        assert_today(pages, id, row, forecast[id])
        assert_ahead(pages, account, opened, forecast[id])
        assert_months(pages, account, opened)
        if row["is_debt"] and account["currency"] == document["currency"]:
            owed += max(0, -row["today_balance"])
    debts = pages.get("debts")
    assert debts["owed"] == owed
    assert {each["id"]: each["owed"] for each in debts["cards"]} == {
        id: max(0, -row["today_balance"]) for id, row in rows.items() if row["account"]["card"]
    }
    assert_due(pages, document)
    assert_worth(pages, document)


def assert_today(pages: Pages, id: str, row: Json, run: Json) -> None:
    """What is there today is what was recorded, wherever it stands."""
    recorded = [line["balance"] for line in pages.get("register", account=id)["rows"] if line["date"] <= str(TODAY)]
    opening = row["account"]["opening"]
    at_first = opening["balance"] if opening["date"] <= str(TODAY) else 0
    assert row["today_balance"] == run["today_balance"] == (recorded[0] if recorded else at_first)
    (ahead,) = pages.get("ahead", until=UNTIL, accounts=id)["accounts"]
    assert ahead["today_balance"] == row["today_balance"]


def assert_ahead(pages: Pages, account: Json, opened: date, run: Json) -> None:
    """Days, calendar, tideline, figures and low points tell one line."""
    id = account["id"]
    calendar = pages.get("calendar-days", from_=TODAY, to=UNTIL, accounts=id)["days"]
    line, ahead = pages.tideline(id)["line"], pages.get("ahead", until=UNTIL, accounts=id)
    closing = {day["date"]: day["closing"] for day in calendar}
    for day in days(max(TODAY, opened), UNTIL):
        balance = on(run["steps"], day, run["today_balance"])
        assert closing[str(day)] == balance == on(line["pencil"], day, run["today_balance"])
    last = {event["date"]: event["balance"] for event in ahead["events"]}
    assert last == {day: closing[day] for day in last}
    if opened <= UNTIL:
        lowest = min(amount for amount in closing.values() if amount is not None)
        assert run["lowest"]["balance"] == ahead["lows"][id]["balance"] == lowest
        # What is owed has no floor: the tideline tells no low point of it.
        assert (line["lowest"] or run["lowest"])["balance"] == lowest
        figures = pages.get("figures", from_=max(TODAY, opened), to=UNTIL, accounts=id)
        assert figures["lowest"]["balance"] == lowest
        assert figures["closing"] == closing[str(UNTIL)]
    for stretch in run["stretches"]:
        below = [closing[str(day)] for day in days(*(date.fromisoformat(stretch[end]) for end in ("from", "to")))]
        assert max(below) < account[stretch["below"]] == stretch["short_by"] + min(below)
    moved = sum(item["amount"] for day in calendar for item in day["items"])
    held_back = sum(event["amount"] for event in ahead["events"] if event["kind"] == "allowance")
    begun = account["opening"]["balance"] if opened > TODAY else 0
    is_today_first = on(run["steps"], TODAY - timedelta(days=1), run["today_balance"])
    todays = sum(item["amount"] for item in calendar[0]["items"] if item["status"] == "settled")
    if opened <= UNTIL:
        assert closing[str(UNTIL)] == is_today_first - todays + moved + held_back + begun


def assert_months(pages: Pages, account: Json, opened: date) -> None:
    """Months are the figures of their days, each opens as the one before closed, and rows come to their net."""
    months = pages.get("months", from_="2027-01", count=6, accounts=account["id"])
    for one, other in pairwise(months["months"]):
        assert one["closing"] == other["opening"]
    for at, month in enumerate(months["months"]):
        first = date.fromisoformat(f"{month['month']}-01")
        last = (first + timedelta(days=31)).replace(day=1) - timedelta(days=1)
        figures = pages.get("figures", from_=first, to=last, accounts=account["id"])
        for name in ("opening", "in", "out", "net", "closing"):
            assert figures[name] == month[name]
        assert figures["lowest"] == month["lowest"]
        assert sum(row["cells"][at]["amount"] for row in months["rows"]) == month["net"]
        assert months["money_in"]["amounts"][at] + months["money_out"]["amounts"][at] == months["net"]["amounts"][at]
    assert months["put_in"] == list(top_ups(pages, account, {month["month"]: 0 for month in months["months"]}).values())
    if account["kind"] != "savings":
        left = pages.get("ahead/left", accounts=account["id"])["month"]
        assert left["left"] == months["net"]["amounts"][2]


def top_ups(pages: Pages, account: Json, months: dict[str, int]) -> dict[str, int]:
    """By month, the least that keeps an account at its floor, put in as late as possible: day by day from today on."""
    put = 0
    if account["loan"] or account["card"]:
        return months
    last = date.fromisoformat(f"{max(months)}-28") + timedelta(days=4)
    for day in pages.get("calendar-days", from_=TODAY, to=last - timedelta(days=last.day), accounts=account["id"])[
        "days"
    ]:
        if day["closing"] is not None and (short := account["floor"] - day["closing"] - put) > 0:
            put += short
            months[day["date"][:7]] += short
    return months


def assert_due(pages: Pages, document: Json) -> None:
    """What is due in Settle is what the forecast expects, amount by amount; a part goes to another account.

    Of a card, Settle goes by what is recorded, the forecast by what is still to be bought today too.
    """
    parted = {flow["id"] for flow in document["flows"] if any("account" in split for split in flow["splits"])}
    events = {
        (event["flow"], event["nominal"], event["account"]): abs(event["amount"])
        for event in pages.get("forecast", until=UNTIL)["events"]
        if event["status"] != "settled" and event["source"] != "card_payment"
    }  # fmt: skip
    for line in pages.get("settle")["due"]:
        amount = events.get((line["flow"], line["nominal"], line["account"]))
        if line["flow"] not in parted and amount is not None:
            assert amount == line["amount"]


def assert_worth(pages: Pages, document: Json) -> None:
    """Owned less owed is what the kinds come to, and today what the accounts hold."""
    if any(account["currency"] != document["currency"] for account in document["accounts"]) and not document["rates"]:
        return
    worth = pages.get("net-worth", from_=TODAY, to=UNTIL)
    by_kind = [sum(column) for column in zip(*(kind["balances"] for kind in worth["kinds"]), strict=True)]
    assert by_kind == worth["together"] == [a - b for a, b in zip(worth["owned"], worth["owed"], strict=True)]
    assert worth["days"][0] == str(TODAY)


def test_a_rhythm_may_be_said_where_a_rule_is_and_is_kept_as_one(demo: TestClient) -> None:
    asked = {"rules": ["FREQ=MONTHLY;BYMONTHDAY=5,-1", "FREQ=MONTHLY;BYSETPOS=1;BYDAY=MO,TU"], "start": "2027-03-05"}
    rhythm, other = demo.post("/api/tools/rhythms", json=asked).json()["rhythms"]
    assert (rhythm["unit"], rhythm["month_days"], other) == ("MONTHLY", [5, -1], None)
    quarterly = {**rhythm, "every": 3}
    told = demo.post("/api/tools/occurrences", json={"rules": [quarterly], "start": "2027-03-05"}).json()
    assert told["next"][:2] == ["2027-03-05", "2027-03-31"]
    value = {"name": "Water", "kind": "bill", "amount": 4000, "from_account": "joint", "rules": [quarterly],
             "start": "2027-03-05"}  # fmt: skip
    change = {"op": "add", "kind": "flow", "id": "rain-barrel", "value": value}
    assert demo.post("/api/forecast/preview", json={"until": "2027-12-31", "changes": [change]}).status_code == 200
    assert demo.post("/api/changes", json={"changes": [change]}).status_code == 200
    row = next(row for row in demo.get("/api/flows").json()["flows"] if row["flow"]["id"] == "rain-barrel")
    assert row["flow"]["rules"] == ["FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=5,-1"]
    assert row["rhythms_now"] == [quarterly]
    kept = {"id": "w", "name": "Wet", "changes": [{**change, "id": "well"}]}
    assert demo.post("/api/what-ifs", json=kept).status_code == 200, "kept for later"
    (what_if,) = [each for each in demo.get("/api/plan").json()["what_ifs"] if each["name"] == "Wet"]
    assert what_if["changes"][0]["value"]["rules"] == row["flow"]["rules"]
    wrong = {**change, "id": "none", "value": {**value, "rules": [{"unit": "HOURLY"}]}}
    refused = demo.post("/api/changes", json={"changes": [wrong]})
    assert refused.status_code == 422
    assert refused.json()["detail"][0]["msg"] == "This rhythm cannot be read: choose another."
