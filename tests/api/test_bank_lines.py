"""Lines from a bank, from outside: what each is held against RULES §18, counted by hand; taken in, undone, again."""

from datetime import date, timedelta
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from answers import plan_alone
from effort import examples
from next_penny import cli
from next_penny.api.app import create_app
from stores import new_store

TODAY = date(2027, 3, 1)
FIRST = date(2027, 2, 1)
Json = dict[str, Any]


def client_of(plan: Json) -> TestClient:
    client = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")
    answer = client.put("/api/plan", json={"format": "next-penny-plan", "version": 1, "currency": "USD", **plan})
    assert answer.status_code == 200, answer.text
    return client


def account(id: str, name: str, kind: str = "checking") -> Json:
    return {"id": id, "name": name, "kind": kind, "opening": {"date": "2027-01-01", "balance": 100_000}}


def entry(id: str, day: date, amount: int, payee: str = "", on: str = "chk") -> Json:
    legs = [{"account": on, "amount": amount}, {"category": "all", "amount": -amount}]
    return {"id": id, "date": str(day), "payee": payee, "legs": legs}


def bill(id: str, amount: int, days: list[date], **more: Any) -> Json:
    return {"id": id, "name": id, "kind": "bill", "amount": amount, "from_account": "chk", "category": "all",
            "dates": [str(day) for day in days], "known_since": None, **more}  # fmt: skip


PLAN: Json = {
    "accounts": [account("chk", "Checking"), account("sav", "Rainy Day", "savings")],
    "categories": [{"id": "all", "name": "All", "group": "", "kind": "expense"}],
}


def ofx(*lines: tuple[date, int, str, str], number: str = "12345678", closing: str = "") -> bytes:
    written = "".join(
        f"<STMTTRN><DTPOSTED>{day:%Y%m%d}<TRNAMT>{amount / 100:.2f}<FITID>{id}<NAME>{name}</STMTTRN>"
        for day, amount, id, name in lines
    )
    return (f"<OFX><STMTRS><CURDEF>USD<BANKACCTFROM><ACCTID>{number}</BANKACCTFROM><BANKTRANLIST>{written}"
            f"</BANKTRANLIST>{closing}</STMTRS></OFX>").encode()  # fmt: skip


def look(client: TestClient, content: bytes, **data: str) -> Json:
    answer = client.post("/api/import/look", files={"file": ("bank", content)}, data=data)
    assert answer.status_code == 200, answer.text
    found: Json = answer.json()
    return found


def take(client: TestClient, **body: Any) -> Json:
    answer = client.post("/api/import", json=body)
    assert answer.status_code == 200, answer.text
    found: Json = answer.json()
    return found


def told(found: Json) -> list[tuple[Any, ...]]:
    return [(line["is"], line["entry"] or line["flow"]) for line in found["statements"][0]["lines"]]


DAYS = st.integers(0, 24).map(lambda days: FIRST + timedelta(days=days))
SUMS = st.sampled_from([-1000, -1100, -1250, -1300])


@settings(max_examples=examples(60), deadline=None)
@given(st.lists(st.tuples(DAYS, SUMS), max_size=6), st.lists(st.tuples(DAYS, SUMS, st.booleans()), max_size=5),
       st.lists(st.tuples(DAYS, SUMS), min_size=1, max_size=7))  # fmt: skip
def test_each_line_is_what_pairs_by_days_make_it_and_nothing_is_doubled(
    recorded: list[tuple[date, int]], planned: list[tuple[date, int, bool]], lines: list[tuple[date, int]]
) -> None:
    entries = [entry(f"e{n}", day, amount) for n, (day, amount) in enumerate(recorded)]
    flows = [bill(f"f{n}", -amount, [day], estimate=about) for n, (day, amount, about) in enumerate(planned)]
    client = client_of({**PLAN, "entries": entries, "flows": flows})
    # The oracle: all pairs in the order of the rules, each of the two used once.
    pairs = []
    for at, (day, amount) in enumerate(lines):
        pairs += [(abs((day - on).days), 0, on, at, f"e{n}") for n, (on, sum_) in enumerate(recorded)
                  if sum_ == amount and abs((day - on).days) <= 5]  # fmt: skip
        pairs += [(abs((day - on).days), 1, on, at, f"f{n}") for n, (on, sum_, about) in enumerate(planned)
                  if abs((day - on).days) <= 7 and (sum_ == amount or (about and 4 * abs(amount - sum_) <= -sum_))]  # fmt: skip
    chosen: dict[int, str] = {}
    for _, _, _, at, name in sorted(pairs):
        if at not in chosen and name not in chosen.values():
            chosen[at] = name
    file = ofx(*((day, amount, f"id{n}", f"Payee {n}") for n, (day, amount) in enumerate(lines)))
    found = look(client, file, account="chk")
    names = [name for _, name in told(found)]
    # Which of several that are alike in all is left to the order of the file; what it comes to is not.
    key = {**{f"e{n}": each for n, each in enumerate(recorded)}, **{f"f{n}": each for n, each in enumerate(planned)}}
    assert [key.get(name or "") for name in names] == [key.get(chosen.get(at, "")) for at in range(len(lines))]
    before = plan_alone(client.get("/api/plan").json())
    done = take(client, look=found["look"])
    after = plan_alone(client.get("/api/plan").json())
    assert (done["taken"], done["matched"]) == (len(lines), sum((name or "")[:1] == "e" for name in names))
    assert [kind for kind, _ in told(look(client, file))] == ["known"] * len(lines)
    gained = sum(leg["amount"] for each in after["entries"] for leg in each["legs"] if leg.get("account") == "chk")
    had = sum(amount for _, amount in recorded)
    assert gained - had == sum(amount for at, (_, amount) in enumerate(lines) if (names[at] or "")[:1] != "e")
    client.post("/api/undo")
    assert plan_alone(client.get("/api/plan").json()) == before
    client.post("/api/redo")
    assert plan_alone(client.get("/api/plan").json()) == after


def test_a_month_is_taken_in_with_what_is_sure_and_the_rest_waits() -> None:
    plan = {**PLAN, "flows": [bill("Internet", 4000, [date(2027, 2, 12)], payee="Wirecast Ltd")],
            "entries": [entry("there", date(2027, 2, 20), 10_000, on="sav")]}  # fmt: skip
    client = client_of(plan)
    closing = "<LEDGERBAL><BALAMT>800.00<DTASOF>20270228</LEDGERBAL>"
    file = ofx((date(2027, 2, 14), -4500, "a", "WIRECAST LTD"), (date(2027, 2, 19), -10_000, "b", "to rainy day"),
               (date(2027, 2, 21), -700, "c", "Mill Lane"), (date(2026, 12, 1), -1, "d", "old"), closing=closing)  # fmt: skip
    assert look(client, file)["statements"][0]["account"] is None
    found = look(client, file, account="chk")
    assert [(line["is"], line["offered"]) for line in found["statements"][0]["lines"]] == [
        ("occurrence", True), ("transfer", False), ("new", False),
    ]  # fmt: skip
    assert "1 line before" in found["left_out"][0]["where"]
    rule = {"id": "r", "contains": "mill", "category": "all"}
    effect = client.post("/api/import/preview", json={"look": found["look"], "payee_rules": [rule]}).json()
    assert effect["categories"] == {"1-3": "all"}
    done = take(client, look=found["look"], payee_rules=[rule])
    assert {name: done[name] for name in ("taken", "matched", "settled", "known", "waiting")} == {
        "taken": 2, "matched": 0, "settled": 0, "known": 0, "waiting": 1,
    }  # fmt: skip
    plan = client.get("/api/plan").json()
    moved = next(each for each in plan["entries"] if each["id"] == "there")
    assert [leg["account"] for leg in moved["legs"]] == ["sav", "chk"]
    assert plan["readings"][0]["balance"] == 80_000
    assert client.get("/api/payee-rules").json()[0]["fits"] == 1
    # The plan goes out and in with all of it.
    assert client.put("/api/plan", json=plan).json() == plan
    # What waits is in no balance until somebody says what it is.
    (waits,) = client.get("/api/bank-lines/waiting").json()
    assert (waits["flow"], waits["shown"]["amount"]) == ("Internet", -4000)
    assert client.get("/api/accounts").json()["accounts"][0]["waiting"] == 1
    client.post("/api/bank-lines/waiting", json={"lines": [{"key": waits["key"]}]})
    settled = next(each for each in client.get("/api/plan").json()["entries"] if each["flow"] == "Internet")
    assert (settled["date"], settled["legs"][0]["amount"]) == ("2027-02-14", -4500)
    assert client.get("/api/bank-lines/waiting").json() == []
    # What is given out comes back known, whatever its day is now.
    out = client.get("/api/export/entries.ofx", params={"account": "chk"}).content
    assert {kind for kind, _ in told(look(client, out, account="chk"))} == {"known"}


def test_a_look_serves_once_and_not_after_the_plan_changed() -> None:
    client = client_of(PLAN)
    file = ofx((date(2027, 2, 3), -500, "a", "Shop"), (date(2027, 2, 3), -500, "b", "Shop"))
    found = look(client, file, account="chk")
    body = {"look": found["look"], "statements": [{"account": "chk", "lines": [
        {"key": "1-1", "take": True, "is": "new", "category": "all"}, {"key": "1-2", "take": False}]}]}  # fmt: skip
    client.post("/api/changes", json={"changes": [
        {"op": "add", "kind": "entry", "id": "e", "value": entry("e", date(2027, 2, 3), -500)}]})  # fmt: skip
    answer = client.post("/api/import", json=body)
    assert answer.status_code == 409
    again = answer.json()["look"]
    assert sorted(kind for kind, _ in told(again)) == ["entry", "new"]
    assert take(client, **{**body, "look": again["look"]})["taken"] == 1
    assert client.post("/api/import", json={**body, "look": again["look"]}).status_code == 404
    # The other line is asked about again; an account in another currency, a wrong key or category is refused.
    found = look(client, file)
    assert sorted(kind for kind, _ in told(found)) == ["entry", "known"]
    for lines, where in (([{"key": "9-9"}], "key"), ([{"key": "1-2", "is": "new", "category": "no"}], "category"),
                         ([{"key": "1-2", "is": "transfer", "account": "chk"}], "account"),
                         ([{"key": "1-2", "is": "entry", "entry": "no"}], "entry")):  # fmt: skip
        refused = client.post(
            "/api/import", json={"look": found["look"], "statements": [{"account": "chk", "lines": lines}]}
        )
        assert refused.status_code == 422
        assert refused.json()["detail"][0]["loc"] == ["body", "statements", 0, "lines", 0, where]


def test_a_table_that_was_read_in_another_currency_is_not_taken_in() -> None:
    yen = {**account("yen", "Abroad"), "currency": "JPY"}
    client = client_of({**PLAN, "accounts": [*PLAN["accounts"], yen],
                        "rates": [{"date": "2027-01-01", "from": "USD", "to": "JPY", "rate": "150"}]})  # fmt: skip
    content = b"Date,Payee,Amount\n2027-02-03,Shop,-500\n"
    found = look(client, content)
    refused = client.post("/api/import", json={"look": found["look"], "statements": [{"account": "yen"}]})
    assert (refused.status_code, refused.json()["detail"][0]["loc"][-1]) == (422, "account")
    found = look(client, content, account="yen")
    assert found["statements"][0]["lines"][0]["amount"] == -500
    assert take(client, look=found["look"])["taken"] == 1


def test_two_statements_of_one_file_make_one_move() -> None:
    client = client_of(PLAN)
    one = ofx((date(2027, 2, 3), -5000, "a", "to Rainy Day")).decode().replace("</OFX>", "")
    file = (one + ofx((date(2027, 2, 4), 5000, "b", "in"), number="777").decode().replace("<OFX>", "")).encode()
    found = look(client, file, accounts='{"0": "chk", "1": "sav"}')
    assert [line["partner"] for each in found["statements"] for line in each["lines"]] == ["2-1", "1-1"]
    take(client, look=found["look"])
    (moved,) = client.get("/api/plan").json()["entries"]
    assert (moved["date"], sorted(leg["amount"] for leg in moved["legs"])) == ("2027-02-03", [-5000, 5000])
    assert len(moved["bank_ids"]) == 2


def test_columns_that_a_person_named_are_remembered_for_the_next_file() -> None:
    client = client_of(PLAN)
    content = b"When,Value date,What,Sum\n2027-02-03,2027-02-09,Shop,-5.00\n"
    columns = '{"date": "Value date", "payee": "What", "amount": "Sum"}'
    found = look(client, content, account="chk", columns=columns)
    take(client, look=found["look"])
    again = look(client, content.replace(b"-5.00", b"-6.00"), account="chk")
    assert (again["columns"]["date"], again["statements"][0]["lines"][0]["date"]) == ("Value date", "2027-02-09")
    for wrong in ('{"date": "No"}', '{"what": 1}', "[]", '{"date": 0, "amount": true}'):
        answer = client.post("/api/import/look", files={"file": ("x", content)}, data={"columns": wrong})
        assert (answer.status_code, answer.json()["detail"][0]["loc"][1]) == (422, "columns")


def test_the_command_takes_a_file_in(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    store = new_store()
    client = TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1:8765")
    client.put("/api/plan", json={"format": "next-penny-plan", "version": 1, "currency": "USD", **PLAN})
    store.close()
    (tmp_path / "bank.ofx").write_bytes(ofx((date(2027, 2, 3), -500, "a", "Shop")))

    def run(*more: str) -> int:
        return cli.main(["import", str(tmp_path / "bank.ofx"), "--file", str(store.path), *more])

    assert run() == 2
    assert "--account" in capsys.readouterr().err
    assert run("--account", "chk", "--dry-run") == 0
    assert run("--account", "chk") == 0
    assert "1 lines" in capsys.readouterr().out
    assert run() == 0
    assert "1 known" in capsys.readouterr().out


@settings(max_examples=examples(40), deadline=None)
@given(st.lists(st.tuples(DAYS, st.integers(100, 5000), st.booleans()), min_size=1, max_size=4,
                unique_by=lambda move: move[1]), st.data())  # fmt: skip
def test_what_moves_between_two_accounts_is_one_entry_however_its_lines_come(
    moves: list[tuple[date, int, bool]], data: st.DataObject
) -> None:
    """Expected or recorded, in one file or in one after the other: each move is one entry, and both books are right."""
    flows, entries = [], []
    for number, (day, amount, is_recorded) in enumerate(moves):
        if is_recorded:
            legs = [{"account": "chk", "amount": -amount}, {"account": "sav", "amount": amount}]
            entries.append({"id": f"e{number}", "date": str(day), "payee": "", "legs": legs})
        else:
            flows.append({"id": f"f{number}", "name": f"Move {number}", "kind": "transfer", "amount": amount,
                          "from_account": "chk", "to_account": "sav", "dates": [str(day)], "known_since": None})  # fmt: skip
    client = client_of({**PLAN, "entries": entries, "flows": flows})
    late = [data.draw(st.integers(0, 3)) for _ in moves]
    files = [
        ofx(*((day + timedelta(days=days), sign * amount, f"{number}-{at}", "moved")
              for at, ((day, amount, _), days) in enumerate(zip(moves, late, strict=True))), number=number)
        for sign, number in ((-1, "11111111"), (1, "22222222"))
    ]  # fmt: skip
    both = files[0].replace(b"</OFX>", b"") + files[1].replace(b"<OFX>", b"")
    if data.draw(st.booleans()):
        found = look(client, both, accounts='{"0": "chk", "1": "sav"}')
        take(client, look=found["look"])
    else:
        for file, owner in zip(files, ("chk", "sav"), strict=True):
            take(client, look=look(client, file, account=owner)["look"])
    plan = client.get("/api/plan").json()
    assert len(plan["entries"]) == len(moves)
    for name, sign in (("chk", -1), ("sav", 1)):
        held = sum(leg["amount"] for each in plan["entries"] for leg in each["legs"] if leg.get("account") == name)
        assert held == sign * sum(amount for _, amount, _ in moves)
        assert all(any(tie["account"] == name for tie in each["bank_ids"]) for each in plan["entries"])
    again = look(client, both, accounts='{"0": "chk", "1": "sav"}')
    assert {line["is"] for each in again["statements"] for line in each["lines"]} == {"known"}


def test_a_rule_says_under_which_name_and_what_the_bank_wrote_stays() -> None:
    client = client_of(PLAN)
    rule = {"id": "r", "contains": "mill ln", "category": "all", "shown": "Mill Lane Bakery"}
    done = client.post(
        "/api/changes", json={"changes": [{"op": "add", "kind": "payee_rule", "id": "r", "value": rule}]}
    )
    assert done.status_code == 200, done.text
    file = ofx((date(2027, 2, 21), -700, "a", "POS 8841 MILL LN BKRY"), (date(2027, 2, 22), -800, "b", "Elsewhere"))
    found = look(client, file, account="chk")
    asked = {"look": found["look"]}
    assert client.post("/api/import/preview", json=asked).json()["names"] == {"1-1": "Mill Lane Bakery"}
    take(client, **asked)
    plan = client.get("/api/plan").json()
    told = {each["payee"]: each["notes"] for each in plan["entries"]}
    assert told == {"Mill Lane Bakery": "POS 8841 MILL LN BKRY", "Elsewhere": ""}
    assert client.put("/api/plan", json=plan).json() == plan
