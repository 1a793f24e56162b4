"""What is typed stays what it is: no key of it acts on the page, no letter is lost, and no comma is guessed at."""

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect


def choose(page: Page, label: str, option: str) -> None:
    page.get_by_role("combobox", name=label).click()
    page.get_by_role("option", name=option).click()


def test_no_key_typed_in_a_slip_a_list_or_a_dialog_acts_on_the_page(page: Page, demo: str) -> None:
    page.goto(f"{demo}/flows?slip=flow:new:bill")
    slip = page.get_by_role("complementary", name="New bill")
    slip.get_by_label("Name").fill("Piano tuner")
    # On its buttons, and after a click on the paper itself.
    slip.get_by_role("radio", name="Bill").focus()
    page.keyboard.type("2027/6z")
    slip.get_by_role("heading", name="New bill").click()
    page.keyboard.type("31")
    expect(slip.get_by_label("Name")).to_have_value("Piano tuner")
    assert "/flows" in page.url
    page.get_by_role("combobox", name="Paid from").click()
    page.keyboard.type("4")
    expect(page.get_by_role("listbox")).to_be_visible()
    page.keyboard.press("Escape")
    expect(slip).to_be_visible()
    page.goto(f"{demo}/ahead")
    expect(page.get_by_test_id("reading")).to_be_visible()
    page.keyboard.press("/")
    page.get_by_placeholder("Find something").press("2")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    # Outside of these, the same keys lead to the places.
    page.keyboard.press("3")
    expect(page).to_have_url(re.compile("/flows"))


@pytest.mark.parametrize(
    ("typed", "said"),
    [("12,50", "Is 12.50 meant? A comma stands between thousands here, as in 1,250.00."),
     ("1,5", "Is 1.50 meant?"), ("1,25,0", "A comma stands between thousands here")],
)  # fmt: skip
def test_a_comma_that_groups_no_thousands_is_a_question_at_the_field(
    page: Page, demo: str, typed: str, said: str
) -> None:
    page.goto(f"{demo}/ahead?slip=entry:new:joint")
    amount = page.get_by_label("Amount (USD)")
    amount.fill(typed)
    page.get_by_label("Payee").fill("Baker")
    choose(page, "Category", "Groceries")
    page.get_by_role("button", name="Record it").click()
    expect(page.get_by_text(said).first).to_be_visible()
    amount.fill("1,250.00")
    page.get_by_role("button", name="Record it").click()
    expect(page.get_by_role("complementary")).to_have_count(0)
    entries = page.request.get(f"{demo}/api/plan").json()["entries"]
    assert [each["legs"][0]["amount"] for each in entries if each["payee"] == "Baker"] == [-1_250_00]


def test_what_is_searched_for_keeps_every_letter_however_fast_it_is_typed(page: Page, demo: str) -> None:
    page.goto(f"{demo}/accounts/joint")
    search = page.get_by_label("Search payee, category, tags and notes")
    expect(page.get_by_text("without the opening balance of")).to_be_visible()
    search.press_sequentially("quayside grocer")
    expect(search).to_have_value("quayside grocer")
    expect(page).to_have_url(re.compile("q=quayside"))
    expect(search).to_have_value("quayside grocer")
    expect(page.get_by_role("list").get_by_text("Quayside Grocer").first).to_be_visible()
    page.goto(f"{demo}/accounts/joint?q=ferries")
    expect(search).to_have_value("ferries")


def test_moving_money_to_another_currency_asks_what_arrives(page: Page, demo: str) -> None:
    account = {"op": "add", "kind": "account", "id": "abroad", "value": {
        "name": "Abroad", "kind": "cash", "currency": "EUR", "opening": {"date": "2027-01-01", "balance": 0}}}  # fmt: skip
    page.request.post(f"{demo}/api/changes", data={"changes": [account]})
    page.goto(f"{demo}/ahead?slip=entry:new:joint")
    page.get_by_label("Amount (USD)").fill("100")
    page.get_by_role("radio", name="Moved").click()
    choose(page, "To", "Abroad")
    page.get_by_role("button", name="Record it").click()
    expect(page.get_by_text("Say how much arrives in EUR").first).to_be_visible()
    page.get_by_label("Arrives (EUR)").fill("91.50")
    page.get_by_role("button", name="Record it").click()
    expect(page.get_by_role("complementary")).to_have_count(0)
    entries = page.request.get(f"{demo}/api/plan").json()["entries"]
    assert entries[-1]["legs"] == [{"account": "joint", "amount": -100_00}, {"account": "abroad", "amount": 91_50}]


def test_a_change_planned_for_later_stays_and_is_said(page: Page, demo: str) -> None:
    later = {"op": "revise", "kind": "flow", "id": "phones", "from": "2027-09-01", "value": {"amount": 95_00}}
    page.request.post(f"{demo}/api/changes", data={"changes": [later]})
    page.goto(f"{demo}/flows?slip=flow:phones")
    page.get_by_label("Amount (USD)").fill("81")
    expect(page.get_by_text("What is planned from September 1, 2027 stays as it is.")).to_be_visible()
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("complementary")).to_have_count(0)
    flow = next(each for each in page.request.get(f"{demo}/api/plan").json()["flows"] if each["id"] == "phones")
    assert [(each["from"], each["amount"]) for each in flow["revisions"]] == [
        ("2027-03-01", 81_00), ("2027-09-01", 95_00)]  # fmt: skip


def test_a_category_is_made_where_it_is_needed_and_none_is_taken_unasked(
    page: Page, served: Callable[..., str], tmp_path: Path
) -> None:
    page.goto(f"{served('serve', '--file', f'{tmp_path}/new.sqlite3')}/ahead?slip=account:new")
    page.get_by_label("Name").fill("Checking")
    page.get_by_label("Balance today").fill("900")
    page.get_by_role("button", name="Add the account").click()
    page.get_by_role("button", name="Add a bill").click()
    page.get_by_label("Name").fill("Rent")
    page.get_by_label("Amount (USD)").fill("600")
    # By keys alone: letters choose without opening, Tab leaves an open list for the next field.
    category = page.get_by_label("Category", exact=True)
    category.press("a")
    expect(page.get_by_label("Name of the new category")).to_be_focused()
    expect(page.get_by_role("button", name="Begin with the usual ones")).to_be_visible()
    page.get_by_role("button", name="I make my own").click()
    page.get_by_label("Name of the new category").fill("Home")
    page.get_by_role("button", name="Add it").click()
    expect(category).to_have_text("Home")
    page.get_by_role("button", name="Add to the plan").click()
    expect(page.get_by_role("complementary")).to_have_count(0)
    page.goto(page.url.split("/ahead")[0] + "/ahead?slip=entry:new")
    expect(category).to_have_text("Choose a category")
    category.press("Enter")
    page.get_by_role("listbox").press("Tab")
    expect(category).to_have_text("Home")
    expect(page.get_by_role("button", name="Split it")).to_be_focused()
    for payee, proposed in (("Baker", "Home"), ("Nobody yet", "Choose a category")):
        page.get_by_label("Payee").fill(payee)
        page.get_by_label("Amount (USD)").fill("3")
        expect(category).to_have_text(proposed)
        if payee == "Nobody yet":
            page.get_by_role("button", name="Home, as last time").click()
        page.get_by_role("button", name="Record it").click()
        expect(page.get_by_role("complementary")).to_have_count(0)
        page.goto(page.url.split("?")[0] + "?slip=entry:new")


def test_a_closed_list_takes_letters_and_leaves_other_keys_to_the_page(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead")
    kind = page.get_by_role("combobox", name="Kind shown")
    kind.focus()
    page.keyboard.press("t")
    expect(kind).to_contain_text("ransfers")
    page.keyboard.press("/")
    expect(page.get_by_placeholder(re.compile("Find something"))).to_be_focused()


def test_limits_are_typed_down_a_column(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/flows")
    page.get_by_role("button", name="Add several").click()
    slip = page.get_by_role("complementary", name="Limits for several")
    limits = slip.get_by_label(re.compile("^Limit for"))
    limits.nth(0).fill("4o")
    expect(limits.nth(0)).to_have_attribute("aria-invalid", "true")
    limits.nth(0).fill("40")
    limits.nth(0).press("Enter")
    expect(limits.nth(1)).to_be_focused()
    page.keyboard.type("600")
    slip.get_by_label(re.compile("^Every,")).nth(1).click()
    page.get_by_role("option", name="a year").click()
    expect(slip.get_by_text("$50.00 a month")).to_be_visible()
    check_axe()
    before = len(page.request.get(f"{demo}/api/plan").json()["allowances"])
    slip.get_by_role("button", name="Add 2 allowances").click()
    expect(slip).to_have_count(0)
    made = page.request.get(f"{demo}/api/plan").json()["allowances"][before:]
    assert [each["limit"] for each in made] == [40_00, 50_00]
