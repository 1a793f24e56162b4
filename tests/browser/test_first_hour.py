"""Nothing typed is lost, nothing needed is hidden: drafts, two windows, the guide, three taps, help, other notations."""

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from hands import choose, fill
from playwright.sync_api import Page, expect

Served = Callable[..., str]
Json = dict[str, Any]


def test_a_draft_survives_escape_another_place_and_a_reload(page: Page, demo: str) -> None:
    page.goto(f"{demo}/flows?slip=flow:gran")
    amount = page.get_by_label("Amount (USD)")
    amount.fill("431.07")
    page.keyboard.press("Escape")
    expect(page.get_by_role("complementary")).to_have_count(0)
    page.keyboard.press("4")
    page.goto(f"{demo}/flows?slip=flow:gran")
    expect(amount).to_have_value("390.00")
    page.reload()
    page.get_by_role("button", name="Take it up again").click()
    expect(amount).to_have_value("431.07")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("complementary")).to_have_count(0)
    page.goto(f"{demo}/flows?slip=flow:gran")
    expect(amount).to_have_value("431.07")
    expect(page.get_by_role("button", name="Take it up again")).to_have_count(0)
    # Thrown away is gone for good.
    amount.fill("1")
    page.reload()
    page.get_by_role("button", name="Throw it away").click()
    page.reload()
    expect(amount).to_have_value("431.07")
    expect(page.get_by_role("button", name="Throw it away")).to_have_count(0)


def test_two_windows_agree_and_a_slip_says_that_its_subject_was_changed(page: Page, demo: str) -> None:
    other = page.context.new_page()
    page.goto(f"{demo}/flows?slip=flow:gran")
    expect(page.get_by_label("Amount (USD)")).to_have_value("390.00")
    other.goto(f"{demo}/ahead")
    expect(other.get_by_test_id("reading")).to_contain_text("$163.65")
    change = {"op": "update", "kind": "flow", "id": "gran", "value": {"amount": 290_00}}
    page.request.post(f"{demo}/api/changes", data={"changes": [change]})
    expect(other.get_by_test_id("reading")).to_contain_text("$263.65")
    expect(page.get_by_text("This was changed meanwhile.")).to_be_visible()
    page.get_by_role("button", name="Show it as it is now").click()
    expect(page.get_by_label("Amount (USD)")).to_have_value("290.00")
    other.close()


def test_what_a_window_changes_itself_is_read_afresh_once(page: Page, demo: str) -> None:
    with page.expect_response(f"{demo}/api/accounts"):
        page.goto(f"{demo}/settle")
    read: list[str] = []
    page.on("request", lambda request: read.append(request.url.removeprefix(demo)))
    page.locator("li", has_text="Fuel").get_by_role("button", name="Settle").click()
    expect(page.get_by_text("Settled “Fuel”").first).to_be_visible()
    # Looked twice whether anybody else changed anything: nobody did.
    for _ in range(2):
        page.wait_for_event("response", lambda response: "/api/change-number" in response.url)
    assert read.count("/api/accounts") == 1
    # Somebody else did: all is read again.
    page.request.post(f"{demo}/api/undo")
    expect(page.locator("li", has_text="Fuel").get_by_role("button", name="Settle")).to_be_visible()
    assert read.count("/api/accounts") == 2


def test_an_empty_household_reaches_its_first_allowance_by_the_guide(
    page: Page, served: Callable[..., str], tmp_path: object, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{served('serve', '--file', f'{tmp_path}/new.sqlite3')}/ahead")
    guide = page.get_by_role("region", name="Getting started")
    guide.get_by_role("button", name="Add your first account").click()
    page.get_by_label("Name").fill("Checking")
    page.get_by_label("Balance today").fill("800+200.50")
    page.get_by_role("button", name="Add the account").click()
    expect(page.get_by_test_id("reading")).to_contain_text("$1,000.50")
    expect(guide.get_by_role("button", name="Add a payday")).to_be_focused()
    # The other ways to look ahead are there from the first account on; a plan can be begun in the months.
    page.get_by_role("link", name="Months").click()
    expect(page.get_by_role("grid", name="Months")).to_contain_text("1,000.50")
    page.get_by_role("button", name="Add a row").click()
    page.get_by_role("button", name="A bill", exact=True).click()
    page.get_by_label("Name", exact=True).fill("Piano")
    page.get_by_label("Amount (USD)").fill("0")
    page.get_by_role("button", name="Add to the plan").click()
    expect(page.get_by_role("rowheader", name="Piano")).to_be_visible()
    page.go_back()
    page.goto(f"{page.url.split('/ahead')[0]}/ahead")
    guide.get_by_role("button", name="Add another bill").click()
    for name in ("Rent", "Water"):
        page.get_by_label("Name").fill(name)
        page.get_by_label("Amount (USD)").fill("300")
        page.get_by_role("button", name="And another").click()
        expect(page.get_by_label("Name")).to_have_value("")
    page.keyboard.press("Escape")
    # Or one a line, by key alone.
    line = guide.get_by_label("Or one a line")
    line.fill("Phone 40")
    line.press("Enter")
    expect(guide.get_by_text("Say on which day it is due")).to_be_visible()
    # The next one is begun before the first is there.
    for text in ("Choir 12 Friday", "Phone 40 15th"):
        line.fill(text)
        line.press("Enter")
    expect(guide.get_by_text("Added Phone: $40.00 on the 15th of every month from Checking")).to_be_visible()
    bills = page.request.get(f"{page.url.split('/ahead')[0]}/api/plan").json()["flows"]
    assert {"Choir", "Phone"} <= {each["name"] for each in bills}
    expect(line).to_have_value("")
    expect(line).to_be_focused()
    guide.get_by_role("button", name="Add an allowance").click()
    page.get_by_label("Name", exact=True).fill("Groceries")
    page.get_by_label("Limit (USD)").fill("400")
    page.get_by_label("Name of the new category").fill("Food")
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_role("button", name="Food")).to_have_attribute("aria-pressed", "true")
    check_axe()
    page.get_by_role("button", name="Add to the plan").click()
    expect(guide.get_by_role("button", name="Add another allowance")).to_be_visible()
    assert page.request.get(f"{page.url.split('/ahead')[0]}/api/plan").json()["allowances"][0]["limit"] == 400_00
    guide.get_by_role("button", name="That is all of it").click()
    expect(guide).to_have_count(0)
    page.keyboard.press("/")
    page.get_by_placeholder(re.compile("Find something")).fill("guide")
    page.keyboard.press("Enter")
    expect(guide).to_be_visible()


def test_an_expense_is_recorded_in_three_taps_on_a_phone(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{demo}/ahead")
    page.get_by_role("button", name="Record, find or do").click()
    page.get_by_role("option", name="Record an expense or income").click()
    slip = page.get_by_role("dialog", name="New entry")
    expect(slip.get_by_label("Category", exact=True)).not_to_have_text("Choose a category")
    slip.get_by_label("Amount (USD)").fill("4.20")
    check_axe()
    # The page behind is out of reach.
    expect(page.locator("#page")).to_have_attribute("inert", "")
    slip.get_by_role("button", name="Record it").click()
    expect(slip).to_have_count(0)
    newest = page.request.get(f"{demo}/api/plan").json()["entries"][-1]
    assert newest["legs"][0]["amount"] == -4_20


@pytest.mark.parametrize(
    ("typed", "becomes", "shown"),
    [("1.234,50", 1_234_50, "1.234,50"), ("12,5+80", 92_50, "92,50"), ("12.50", None, "Is 12,50 meant?")],
)
def test_amounts_are_read_and_written_as_the_household_writes_them(
    page: Page, demo: str, typed: str, becomes: int | None, shown: str
) -> None:
    change = {"op": "update", "kind": "household", "id": "household",
              "value": {"notation": "1.234,56", "date_order": "day_first"}}  # fmt: skip
    page.request.post(f"{demo}/api/changes", data={"changes": [change]})
    page.goto(f"{demo}/flows?slip=flow:gran")
    expect(page.get_by_test_id("reading")).to_contain_text("$163,65 on Thu 1 Apr")
    page.get_by_label("Amount (USD)").fill(typed)
    page.get_by_role("button", name="Save").click()
    if becomes is None:
        expect(page.get_by_role("alert")).to_contain_text(f"Amount (USD): {shown}")
        return
    expect(page.get_by_role("complementary")).to_have_count(0)
    flows = page.request.get(f"{demo}/api/plan").json()["flows"]
    gran = next(each for each in flows if each["id"] == "gran")
    assert gran["revisions"][-1]["amount"] == becomes
    page.goto(f"{demo}/flows?slip=flow:gran")
    expect(page.get_by_label("Amount (USD)")).to_have_value(shown)


def test_a_household_of_another_currency_and_notation_begins_without_a_wrong_turn(
    page: Page, served: Served, tmp_path: Path
) -> None:
    address = served("serve", "--file", str(tmp_path / "home.sqlite3"))
    change = {"op": "update", "kind": "household", "id": "household", "value": {"notation": "1.234,56"}}
    assert page.request.post(f"{address}/api/changes", data={"changes": [change]}).ok

    def plan() -> Json:
        found: Json = page.request.get(f"{address}/api/plan").json()
        return found

    def add(**fields: str) -> None:
        for label, text in fields.items():
            page.get_by_label(label.replace("_", " "), exact=True).fill(text)
        page.get_by_role("button", name="Add the account").click()
        expect(page.get_by_role("complementary")).to_have_count(0)

    # The first account's currency becomes the household's.
    page.goto(f"{address}/accounts?slip=account:new:checking")
    add(Name="Giro", Balance_today="1.250,50", Currency="eur")
    assert (plan()["currency"], plan()["accounts"][0]["opening"]["balance"]) == ("EUR", 1_250_50)
    # Its own presets and rates with a comma are read.
    page.goto(f"{address}/debts?slip=account:new:credit_card")
    page.get_by_label("Rate 1, % a year").fill("22,9")
    add(Name="Fen card", Owed_today="200", Limit="1.500", The_cycle_closes_on_day="12")
    card = plan()["accounts"][1]["card"]
    assert (card["rates"][0]["annual_rate"], card["minimum"]["floor"], card["limit"]) == ("22.9", 25_00, 1_500_00)
    page.goto(f"{address}/debts/try")
    expect(page.get_by_label("Borrowed (EUR)")).to_have_value("20.000,00")
    page.get_by_label("Rate, % a year", exact=True).fill("2,5")
    expect(page.get_by_role("region", name="Schedule")).to_be_visible()
    expect(page.locator("[aria-invalid=true]")).to_have_count(0)


def test_help_and_the_tax_year_are_a_key_away_and_entries_are_found(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/ahead")
    expect(page.get_by_test_id("today")).to_contain_text("$3,922.83 on Joint checking")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Help")).to_contain_text("Everything is in one file on this computer")
    check_axe()
    page.keyboard.press("Escape")
    page.keyboard.press("5")
    page.get_by_role("link", name="What was tagged for the tax return").click()
    expect(page.get_by_role("heading", name="The tax year")).to_be_visible()
    expect(page.get_by_role("table", name="child care")).to_contain_text("$1,140.00")
    check_axe()
    page.keyboard.press("/")
    box = page.get_by_placeholder(re.compile("Find something"))
    box.fill("gro")
    expect(page.get_by_role("option").first).to_contain_text("Groceries")
    box.fill("Little Lanterns")
    page.get_by_role("option", name=re.compile("Little Lanterns")).first.click()
    expect(page.get_by_role("complementary", name="Little Lanterns")).to_be_visible()


def test_dates_of_its_own_have_amounts_and_what_is_planned_otherwise_is_taken_back(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/flows?slip=flow:new:bill")
    page.get_by_label("Name", exact=True).fill("School fees")
    page.get_by_label("Amount (USD)", exact=True).fill("120")
    choose(page, "When", "on dates of its own")
    page.get_by_role("button", name="From a table…").click()
    table = page.get_by_label("A date on each line, and its amount after it")
    table.fill("3/20/2027\t140.50\nSat Apr 3, 2027 99\n2027-05-01\nnonsense 12")
    page.get_by_role("button", name="Read these").click()
    expect(page.get_by_text("There is no date that can be read in “nonsense 12”.")).to_be_visible()
    expect(page.get_by_label("Dates, date 2")).to_have_value("2027-04-03")
    page.get_by_label("Dates, amount 2 (USD)").fill("99.10")
    page.get_by_role("button", name="Add to the plan").click()
    expect(page.get_by_role("button", name="School fees")).to_be_visible()
    plan = page.request.get(f"{demo}/api/plan").json()
    fees = next(flow for flow in plan["flows"] if flow["name"] == "School fees")
    assert fees["dates"] == ["2027-03-20", "2027-04-03", "2027-05-01"]
    assert {each["nominal"]: each["amount"] for each in fees["changes"]} == {
        "2027-03-20": 140_50, "2027-04-03": 99_10,
    }  # fmt: skip
    changes = [
        {"op": "revise", "kind": "flow", "id": "gran", "from": "2027-09-01", "value": {"amount": 420_00}},
        {"op": "once", "kind": "flow", "id": "gran", "nominal": "2027-04-28", "value": {"left_out": True}},
    ]
    assert page.request.post(f"{demo}/api/changes", data={"changes": changes}).ok
    page.goto(f"{demo}/flows?slip=flow:gran")
    page.get_by_role("button", name="Take back: Wed Apr 28: left out").click()
    page.get_by_role("button", name="Take back: From Wed Sep 1: $420.00").click()
    check_axe()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("complementary")).to_have_count(0)
    gran = next(flow for flow in page.request.get(f"{demo}/api/plan").json()["flows"] if flow["id"] == "gran")
    assert (gran["changes"], gran["revisions"]) == ([], [])


def test_by_keys_alone_something_is_left_out_in_settle_and_taken_back(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead")
    page.get_by_role("link", name="Flows").focus()
    page.keyboard.press("/")
    page.get_by_placeholder("Find something").wait_for()
    page.keyboard.press("Escape")
    expect(page.get_by_role("link", name="Flows")).to_be_focused()
    page.keyboard.press("2")
    first = page.get_by_role("group", name=re.compile("^Flute lessons"))
    expect(first).to_be_visible()
    page.keyboard.press("ArrowDown")
    expect(first).to_be_focused()
    page.keyboard.press("l")
    expect(first).to_have_count(0)
    back = page.get_by_role("button", name="Take back Flute lessons, Tue Feb 9")
    expect(back).to_be_visible()
    page.keyboard.press("t")
    expect(back).to_be_focused()
    page.keyboard.press("Enter")
    expect(first).to_be_visible()


def test_whoever_plans_before_there_is_an_account_begins_with_it(
    page: Page, served: Callable[..., str], tmp_path: Path, check_axe: Callable[[], None]
) -> None:
    address = served("serve", "--file", str(tmp_path / "new.sqlite3"))
    page.goto(f"{address}/flows")
    page.get_by_role("button", name="Add a bill").click()
    expect(page.get_by_role("heading", name="New account")).to_be_visible()
    expect(page.get_by_text("begin with the one that you pay from")).to_be_visible()
    check_axe()
    fill(page, "Name", "Purse")
    fill(page, "Balance today", "100")
    page.keyboard.press("Control+Enter")
    expect(page.locator("[data-slip]")).to_have_count(0)
    page.get_by_role("button", name="Add a bill").click()
    expect(page.get_by_role("heading", name="New bill")).to_be_visible()
    expect(page.get_by_label("Paid from")).to_contain_text("Purse")


def test_bills_are_written_line_by_line_from_the_first_on(
    page: Page, served: Callable[..., str], tmp_path: Path
) -> None:
    address = served("serve", "--file", str(tmp_path / "new.sqlite3"))
    page.goto(f"{address}/ahead?slip=account:new")
    fill(page, "Name", "Checking")
    fill(page, "Balance today", "1,840.20")
    page.keyboard.press("Control+Enter")
    guide = page.get_by_role("region", name="Getting started")
    line = guide.get_by_label("Or one a line")
    line.focus()
    # By keys alone: the first bill does not lead away from the line, nor does a key of the next one act on the page.
    for name, text in (("Rent", "1150 1st"), ("Choir", "12 Friday"), ("Insurance", "89 3rd")):
        page.keyboard.type(f"{name} {text}")
        page.keyboard.press("Enter")
        expect(guide.get_by_text(f"Added {name}")).to_be_visible()
        expect(line).to_be_focused()
    expect(page.locator("[data-slip]")).to_have_count(0)
    assert len(page.request.get(f"{address}/api/plan").json()["flows"]) == 3
