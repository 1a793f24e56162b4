"""Reconciling: what is finished is even, follows the one before it, and stays as it is until it is opened (RULES, §16)."""

from datetime import date, timedelta
from itertools import pairwise
from typing import Any

from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from answers import Json, done, plan_alone, refused
from effort import examples
from next_penny.api.app import create_app
from stores import new_store

TODAY = date(2027, 3, 1)
_FIRST = date(2027, 1, 1)
_CLIENT = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")
_EMPTY = {
    "format": "next-penny-plan", "version": 1, "currency": "USD",
    "accounts": [{"id": id, "name": id.upper(), "kind": "checking", "opening": {"date": "2027-01-01", "balance": 1000}}
                 for id in "ab"],
    "categories": [{"id": "c", "name": "C", "kind": "expense"}, {"id": "d", "name": "D", "kind": "expense"}],
}  # fmt: skip
DAYS = st.integers(0, 59).map(lambda days: (_FIRST + timedelta(days=days)).isoformat())


def on(entry: Json, account: str) -> int:
    return sum(leg["amount"] for leg in entry["legs"] if leg.get("account") == account)


def entry_value(day: str, amount: int, other: Json, payee: str = "P") -> Json:
    return {"date": day, "payee": payee, "legs": [{"account": "a", "amount": amount}, {**other, "amount": -amount}]}


def change(op: str, id: str, value: Json | None = None) -> Any:
    request = {"op": op, "kind": "entry", "id": id, **({"value": value} if value is not None else {})}
    return _CLIENT.post("/api/changes", json={"changes": [request]})


def check_all(plan: Json) -> None:
    """Whatever was done, what a plan holds of statements is as RULES has it."""
    held = {each["id"]: each for each in plan["entries"]}
    for account in "ab":
        own = sorted((each for each in plan["statements"] if each["account"] == account), key=lambda each: each["to"])
        ticked = [id for each in own for id in each["entries"]]
        assert len(ticked) == len(set(ticked))
        for each in own:
            assert all(held[id]["date"] <= each["to"] for id in each["entries"])
            assert all(any(leg.get("account") == account for leg in held[id]["legs"]) for id in each["entries"])
        finished = [each for each in own if each["finished"]]
        for each in finished:
            assert each["opening"] + sum(on(held[id], account) for id in each["entries"]) == each["closing"]
        for one, other in pairwise(finished):
            assert one["closing"] == other["opening"]


def locked_by(plan: Json, id: str) -> list[str]:
    return [each["account"] for each in plan["statements"] if each["finished"] and id in each["entries"]]


class Life:
    """A household that records and reconciles in any order, held against the rules after each step."""

    def __init__(self, data: st.DataObject) -> None:
        self.data, self.made = data, 0
        entries = [{"id": f"e{-each}", **entry_value(self.draw(DAYS), 10 + each, self.other())} for each in range(4)]
        self.plan = done(_CLIENT.put("/api/plan", json={**_EMPTY, "entries": entries}))

    def draw(self, strategy: Any) -> Any:
        return self.data.draw(strategy)

    def step(self) -> None:
        ways = [self.record, self.change, self.change, self.begin, self.begin, self.begin, self.tick,
                self.tick, self.tick, self.finish, self.finish, self.reopen, self.delete, self.undo]  # fmt: skip
        before = plan_alone(self.plan)
        response = self.draw(st.sampled_from(ways))()
        self.plan = done(_CLIENT.get("/api/plan"))
        check_all(self.plan)
        if response is not None and response.status_code != 200:
            assert response.status_code == 422
            assert plan_alone(self.plan) == before

    def other(self) -> Json:
        return self.draw(st.sampled_from([{"category": "c"}, {"account": "b"}]))

    def record(self) -> Any:
        self.made += 1
        value = entry_value(self.draw(DAYS), self.draw(st.integers(-50, 50)), self.other())
        return change("add", f"e{self.made}", value)

    def change(self) -> Any:
        if not self.plan["entries"]:
            return None
        ticked = {id for each in self.plan["statements"] for id in each["entries"]}
        likely = [each for each in self.plan["entries"] if each["id"] in ticked] or self.plan["entries"]
        held = self.draw(st.sampled_from(likely if self.draw(st.booleans()) else self.plan["entries"]))
        locked = locked_by(self.plan, held["id"])
        how = self.draw(st.sampled_from(["day", "amount", "payee", "remove", "other side"]))
        if how == "remove":
            response = change("remove", held["id"])
            assert (response.status_code == 422) == bool(locked)
            return response
        day, amount, other, payee = held["date"], on(held, "a"), {**held["legs"][1]}, held["payee"]
        del other["amount"]
        new = {
            "day": (self.draw(DAYS), amount, other, payee), "amount": (day, self.draw(st.integers(-50, 50)), other, payee),
            "payee": (day, amount, other, "Q"), "other side": (day, amount, {"category": "d"}, payee),
        }[how]  # fmt: skip
        value = entry_value(*new)
        response = change("update", held["id"], value)
        if held.get("flow") is None:
            touches = value["date"] != day or any(on(value, account) != on(held, account) for account in locked)
            assert (response.status_code == 422) == bool(locked and touches), response.text
        if response.status_code == 422:
            assert "finished statement" in refused(response)[1]
        return response

    def begin(self) -> Any:
        account = self.draw(st.sampled_from("ab"))
        body: Json = {"account": account, "from": "2027-01-01", "to": self.draw(DAYS)}
        finished = [each for each in self.plan["statements"] if each["account"] == account and each["finished"]]
        newest = max(finished, key=lambda each: each["to"], default=None)
        body["opening"] = self.draw(st.sampled_from([newest["closing"] if newest else 1000, 7]))
        body["closing"] = body["opening"] + self.draw(st.integers(-60, 60))
        on_others = {id for each in self.plan["statements"] if each["account"] == account for id in each["entries"]}
        body["entries"] = [each["id"] for each in self.plan["entries"]
                           if each["date"] <= body["to"] and each["id"] not in on_others
                           and any(leg.get("account") == account for leg in each["legs"])]  # fmt: skip
        response = _CLIENT.post("/api/statements", json=body)
        taken = any((each["account"], each["to"]) == (account, body["to"]) for each in self.plan["statements"])
        follows = newest is None or (body["to"] > newest["to"] and body["opening"] == newest["closing"])
        assert (response.status_code == 200) == (follows and not taken), response.text
        return response

    def one(self) -> Json | None:
        return self.draw(st.sampled_from(self.plan["statements"])) if self.plan["statements"] else None

    def tick(self) -> Any:
        statement = next((each for each in self.plan["statements"] if not each["finished"]), None) or self.one()
        likely = [each["id"] for each in self.plan["entries"] if statement and on(each, statement["account"])]
        if statement is None or not likely:
            return None
        ids = self.draw(st.lists(st.sampled_from(likely), max_size=4, unique=True))
        is_on = self.draw(st.booleans())
        response = _CLIENT.post(f"/api/statements/{statement['id']}/tick", json={"entries": ids, "on": is_on})
        if response.status_code == 200:
            after = next(each for each in done(_CLIENT.get("/api/plan"))["statements"] if each["id"] == statement["id"])
            was = set(statement["entries"])
            assert set(after["entries"]) == (was | set(ids) if is_on else was - set(ids))
        return response

    def finish(self) -> Any:
        statement, adjust = self.one(), self.draw(st.sampled_from([True, True, False]))
        if statement is None:
            return None
        held = {each["id"]: each for each in self.plan["entries"]}
        account = statement["account"]
        missing = (
            statement["closing"] - statement["opening"] - sum(on(held[id], account) for id in statement["entries"])
        )
        before = [each for each in self.plan["statements"] if each["account"] == account and each["finished"]]
        newest = max(before, key=lambda each: each["to"], default=None)
        follows = newest is None or (newest["to"] < statement["to"] and newest["closing"] == statement["opening"])
        response = _CLIENT.post(f"/api/statements/{statement['id']}/finish", json={"adjust": adjust})
        may = not statement["finished"] and follows and (adjust or missing == 0)
        assert (response.status_code == 200) == may, response.text
        if may:
            assert len(done(_CLIENT.get("/api/plan"))["entries"]) - len(held) == (1 if missing else 0)
        return response

    def reopen(self) -> Any:
        statement = self.one()
        if statement is None:
            return None
        done_ones = [each["to"] for each in self.plan["statements"]
                     if each["account"] == statement["account"] and each["finished"]]  # fmt: skip
        response = _CLIENT.post(f"/api/statements/{statement['id']}/open")
        assert (response.status_code == 200) == bool(statement["finished"] and statement["to"] == max(done_ones))
        return response

    def delete(self) -> Any:
        statement = self.one()
        if statement is None:
            return None
        response = _CLIENT.delete(f"/api/statements/{statement['id']}")
        assert (response.status_code == 200) == (not statement["finished"])
        return response

    def undo(self) -> None:
        before = plan_alone(self.plan)
        _CLIENT.post("/api/undo")
        check_all(done(_CLIENT.get("/api/plan")))
        _CLIENT.post("/api/redo")
        assert plan_alone(done(_CLIENT.get("/api/plan"))) == before


@settings(max_examples=examples(40), deadline=None)
@given(st.data())
def test_finished_statements_stay_even_whatever_a_household_does(data: st.DataObject) -> None:
    life = Life(data)
    for _ in range(data.draw(st.sampled_from([30, 20, 10]))):
        life.step()
    assert done(_CLIENT.put("/api/plan", json=life.plan)) is not None
    assert plan_alone(done(_CLIENT.get("/api/plan"))) == plan_alone(life.plan)


def begin(client: TestClient, **values: Any) -> Any:
    body = {"account": "joint", "from": "2027-01-01", "to": "2027-01-31", "closing": 0, **values}
    return client.post("/api/statements", json=body)


def test_a_statement_is_proposed_ticked_finished_and_opened_in_the_demo(demo: TestClient) -> None:
    document = done(demo.get("/api/plan"))
    lease = {"id": "lease", "name": "Garden lease", "kind": "bill", "amount": 1200, "from_account": "joint",
             "start": "2027-01-05", "rules": ["FREQ=MONTHLY"], "always_happens": True}  # fmt: skip
    done(demo.put("/api/plan", json={**document, "flows": [*document["flows"], lease]}))
    next_one = done(demo.get("/api/accounts/joint/next-statement"))
    assert (next_one["from"], next_one["to"], next_one["follows"]) == ("2027-02-01", "2027-02-28", None)
    january = done(demo.get("/api/register?account=joint&until=2027-01-31"))["rows"]
    opening = january[0]["balance"] - sum(row["amount"] for row in january if row["date"] >= "2027-01-01")
    made = done(begin(demo, opening=opening, closing=january[0]["balance"]))
    page = done(demo.get(f"/api/statements/{made['id']}"))
    assert page["statement"]["missing"] == january[0]["balance"] - opening
    # What is only assumed is recorded by being ticked, in the same step.
    lines = [line["id"] for line in page["lines"]]
    assert any(line["is_assumed"] for line in page["lines"])
    done(demo.post(f"/api/statements/{made['id']}/tick", json={"entries": lines[:-1]}))
    words = refused(demo.post(f"/api/statements/{made['id']}/finish", json={}))[1]
    assert "is missing still" in words
    done(demo.post(f"/api/statements/{made['id']}/tick", json={"entries": lines[-1:]}))
    assert done(demo.get("/api/statements?account=joint"))[0]["is_even"]
    done(demo.post(f"/api/statements/{made['id']}/finish", json={}))
    rows = done(demo.get("/api/register?account=joint&from=2027-01-01&until=2027-01-31"))["rows"]
    assert {row["stands"] for row in rows} == {"locked"}
    assert not any(row["is_assumed"] for row in rows)
    # The next one opens with what this one closed with; another is refused with both numbers.
    follows = done(demo.get("/api/accounts/joint/next-statement"))
    assert (follows["from"], follows["opening"]) == ("2027-02-01", january[0]["balance"])
    words = refused(begin(demo, **{"from": "2027-02-01", "to": "2027-02-28", "opening": 123}))[1]
    assert "$1.23" in words
    assert f"{january[0]['balance'] / 100:,.2f}" in words
    february = done(begin(demo, **{"from": "2027-02-01", "to": "2027-02-28"}))
    twice = demo.post(f"/api/statements/{february['id']}/tick", json={"entries": [rows[0]["id"]]})
    assert "ticked already" in refused(twice)[1]
    done(demo.post(f"/api/statements/{february['id']}/finish", json={"adjust": True}))
    assert "to February 28, 2027" in refused(demo.post(f"/api/statements/{made['id']}/open"))[1]
    done(demo.post(f"/api/statements/{february['id']}/open"))
    done(demo.post(f"/api/statements/{made['id']}/open"))


def test_statements_that_no_bank_sent_are_refused_at_their_field(demo: TestClient) -> None:
    for values, field, says in (
        ({"to": "2026-12-31"}, "to", "turn them round"), ({"to": "2027-03-02"}, "to", "today or before"),
        ({"from": "2020-01-01"}, "from", "begins here on"), ({"account": "nobody"}, "account", "There is no account"),
        ({"finished": "2027-02-01"}, "finished", "once it is even"), ({"entries": ["nobody"]}, "entries", "no such entry"),
    ):  # fmt: skip
        loc, words = refused(begin(demo, **values))
        assert field in loc
        assert says in words
    assert refused(demo.get("/api/statements/nobody"))[1].startswith("There is no such statement")
    document = done(demo.get("/api/plan"))
    entry = next(each for each in document["entries"] if on(each, "joint"))
    wrong = {"id": "s", "account": "joint", "from": "2027-01-01", "to": "2027-01-31", "opening": 0, "closing": 1}
    for values, says in (
        ({"finished": "2027-02-01"}, "do not come to its closing"), ({"entries": ["nobody"]}, "no such entry"),
        ({"entries": [entry["id"], entry["id"]], "to": "2027-02-28"}, "ticked already"),
    ):  # fmt: skip
        assert says in refused(demo.put("/api/plan", json={**document, "statements": [{**wrong, **values}]}))[1]


def test_checks_have_numbers_that_go_on_and_are_found(demo: TestClient) -> None:
    def spend(id: str, number: str) -> Any:
        value = {"date": "2027-02-20", "account": "joint", "amount": 1234, "payee": "Well digger", "number": number,
                 "parts": [{"category": done(demo.get("/api/entries/choices"))["categories"][0]["id"]}]}  # fmt: skip
        return demo.post("/api/changes", json={"changes": [{"op": "spent", "kind": "entry", "id": id, "value": value}]})

    for number, following in (("0099", "0100"), ("A-9b", "A-10b"), ("x", "")):
        done(spend(f"check {number}", number))
        assert done(demo.get("/api/entries/choices"))["next_numbers"]["joint"] == following
    assert [each["id"] for each in done(demo.get("/api/entries/find?text=0099"))["entries"]] == ["check 0099"]
    found = done(demo.get("/api/register?account=joint&search=0099"))["rows"]
    assert [(row["id"], row["number"]) for row in found] == [("check 0099", "0099")]
    assert done(demo.get("/api/entries/check 0099"))["said"]["number"] == "0099"
    assert '"number":"0099"' in demo.get("/api/plan").text.replace(" ", "")
    assert refused(spend("long", "9" * 41))
