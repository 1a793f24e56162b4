"""Less common turns: several lines at once, entries in and between accounts, sorting, bookmarks, and a stopped app."""

import json
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

from hands import choose
from playwright.sync_api import Page, expect

Served = Callable[..., str]
Json = dict[str, Any]


def get(page: Page, address: str) -> Json:
    answer: Json = page.request.get(address).json()
    return answer


def slip_closes(page: Page) -> None:
    expect(page.get_by_role("complementary")).to_have_count(0)


def test_several_lines_are_settled_at_once_and_taken_back(page: Page, demo: str) -> None:
    page.goto(f"{demo}/settle")
    rows = page.locator("[data-due]")
    expect(rows.first).to_be_visible()
    count = rows.count()
    rows.nth(1).focus()
    page.keyboard.press("Space")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Space")
    page.get_by_role("button", name="Settle these 2 as expected").click()
    expect(rows).to_have_count(count - 2)
    today = page.get_by_role("region", name="Settled today")
    expect(today.get_by_role("listitem")).to_have_count(2)
    assert get(page, f"{demo}/api/history")["undo"] == "Settled “Internet” and 1 more"
    today.get_by_role("button", name="Take back Fuel").click()
    expect(rows).to_have_count(count - 1)
    expect(today.get_by_role("listitem")).to_have_count(1)
    page.get_by_role("group", name=re.compile("Flute")).focus()
    page.keyboard.press("o")
    expect(page.get_by_role("heading", name="Flute lessons", exact=True)).to_be_visible()


def test_coming_to_a_long_list_does_not_lay_out_each_line_by_itself(page: Page, demo: str) -> None:
    plan = get(page, f"{demo}/api/plan")
    much = [{"id": f"due{number}", "name": f"Bill {number}", "kind": "bill", "amount": 5000 + number,
             "dates": ["2027-03-01"], "from_account": "joint", "start": "2027-03-01"} for number in range(120)]  # fmt: skip
    assert page.request.put(f"{demo}/api/plan", data={**plan, "flows": [*plan["flows"], *much]}).ok
    page.goto(f"{demo}/settle")
    rows = page.locator("[data-due]")
    expect(rows.nth(120)).to_be_attached()
    browser = page.context.browser
    assert browser is not None
    browser.start_tracing(page=page, categories=["devtools.timeline"])
    rows.first.focus()
    page.keyboard.press("ArrowDown")
    expect(rows.nth(1)).to_be_focused()
    events = json.loads(browser.stop_tracing())["traceEvents"]
    assert sum(event["name"] == "Layout" for event in events) < 60
    # What goes takes the focus to what then stands there.
    page.keyboard.press("Enter")
    expect(rows.nth(1)).to_be_focused()


def test_settled_from_another_account(page: Page, demo: str) -> None:
    page.goto(f"{demo}/settle")
    row = page.locator("li", has=page.get_by_role("group", name=re.compile("Fuel")))
    row.get_by_role("button", name="Otherwise…").click()
    page.get_by_label("Amount", exact=True).fill("44.10")
    page.get_by_label("Day", exact=True).fill("2027-02-28")
    choose(page, "Account", "Cash tin")
    # The line leaves at once; it is recorded when the app has answered.
    with page.expect_response("**/api/settle"):
        page.get_by_label("Amount", exact=True).press("Enter")
    expect(page.get_by_role("group", name=re.compile("Fuel"))).to_have_count(0)
    top = get(page, f"{demo}/api/register?account=tin")["rows"][0]
    assert (top["date"], top["payee"], top["amount"]) == ("2027-02-28", "Fuel", -4410)


def test_money_received_and_moved_is_recorded(page: Page, demo: str) -> None:
    page.goto(f"{demo}/accounts/tin?slip=entry:new:tin")
    page.get_by_label("Amount (USD)").fill("12")
    page.get_by_role("radio", name="Received").click()
    choose(page, "Category", "Other income")
    page.get_by_label("Payee", exact=True).fill("Jumble sale")
    page.get_by_role("button", name="Record it").click()
    slip_closes(page)
    page.get_by_role("button", name="Record an entry").click()
    page.get_by_label("Amount (USD)").fill("30")
    page.get_by_role("radio", name="Moved").click()
    choose(page, "To", "Rainy-day savings")
    page.get_by_label("Notes", exact=True).fill("for the trip")
    page.get_by_role("button", name="Record it").click()
    slip_closes(page)
    rows = get(page, f"{demo}/api/register?account=tin")["rows"]
    assert [(row["amount"], row["other"]) for row in rows[:2]] == [(-3000, "Rainy-day savings"), (1200, "Other income")]
    page.get_by_label("Search payee, category, tags and notes").fill("for the trip")
    entries = page.get_by_role("region", name="Entries").get_by_role("listitem")
    expect(entries).to_have_count(1)
    entries.first.get_by_role("button").first.click()
    expect(page.get_by_role("radio", name="Moved")).to_be_checked()
    page.get_by_role("button", name="Delete").click()
    slip_closes(page)
    expect(page.get_by_text("Nothing is recorded here that matches.")).to_be_visible()


def test_an_entry_without_a_category_is_asked_for_one(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead?slip=entry:new")
    # What it is for is there already; money that came in was for something else.
    page.get_by_role("radio", name="Received").click()
    page.get_by_role("radio", name="Spent").click()
    page.get_by_role("button", name="Record it").click()
    expect(page.get_by_text("Write an amount such as 1,250.00.").first).to_be_visible()
    page.get_by_label("Amount (USD)").fill("5")
    page.get_by_role("button", name="Record it").click()
    expect(page.get_by_role("alert")).to_have_text("Not saved yet. For: Choose a category.")
    # Each press looks anew: the field that is wrong now is gone to and named, also while the other still is.
    page.get_by_label("Amount (USD)").fill("5.005")
    page.get_by_role("button", name="Record it").click()
    expect(page.get_by_label("Amount (USD)")).to_be_focused()
    expect(page.get_by_role("alert")).to_contain_text("Not saved yet. Amount (USD): ")
    page.get_by_label("Amount (USD)").fill("5")
    expect(page.get_by_role("alert")).to_have_count(0)
    choose(page, "Category", "Health")
    page.get_by_label("Day", exact=True).fill("2027-03-02")
    page.get_by_role("button", name="Record it").click()
    slip_closes(page)


def test_flows_are_sorted_and_narrowed(page: Page, demo: str) -> None:
    page.goto(f"{demo}/flows")
    bills = page.get_by_role("table", name="Bills")
    names = bills.locator("tbody tr td:first-child button")
    bills.get_by_role("button", name="Amount").click()
    expect(names.first).to_have_text("Property tax")
    expect(bills.get_by_role("columnheader", name="Amount")).to_have_attribute("aria-sort", "ascending")
    bills.get_by_role("button", name="Amount").click()
    expect(names.last).to_have_text("Property tax")
    bills.get_by_role("button", name="Name").click()
    assert names.all_inner_texts() == sorted(names.all_inner_texts(), key=str.lower)
    page.get_by_label("Show only matching flows").fill("oakhelm")
    expect(names).to_have_text(["Car insurance", "Health plan share", "Home insurance"])
    expect(page.get_by_role("region", name="Allowances")).to_have_count(0)


def test_views_can_be_bookmarked_and_left_by_the_back_button(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead?span=6m&accounts=rainy-day&from=2027-04-01&until=2027-05-15")
    expect(page.get_by_role("button", name="Thu Apr 1 to Sat May 15")).to_be_visible()
    lines = page.get_by_role("region", name="Run of days").get_by_role("listitem")
    expect(lines.first).to_contain_text("Apr 2")
    expect(page.get_by_role("button", name="Rainy-day savings", exact=True)).to_be_visible()
    page.keyboard.press("3")
    expect(page).to_have_url(re.compile("/flows.*span=6m"))
    page.get_by_role("button", name="Water and drains", exact=True).click()
    expect(page.get_by_role("complementary")).to_be_visible()
    page.go_back()
    slip_closes(page)
    page.go_back()
    expect(page.get_by_role("button", name="Thu Apr 1 to Sat May 15")).to_be_visible()
    page.get_by_role("button", name="Show all days again").click()
    expect(page).not_to_have_url(re.compile("until="))


def test_one_occurrence_is_left_out_and_planned_again(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead")
    line = page.get_by_role("button", name=re.compile("Car insurance"))
    line.click()
    page.get_by_role("button", name="Change just this once").click()
    page.get_by_label("Leave it out this time").check()
    expect(page.get_by_test_id("effect")).to_contain_text("Joint checking")
    page.get_by_role("button", name="Just this once", exact=True).click()
    slip_closes(page)
    expect(line).to_have_count(0)
    page.goto(f"{demo}/ahead?slip=once:car-insurance:2027-03-03~59600~2027-03-03")
    expect(page.get_by_label("Leave it out this time")).to_be_checked()
    page.get_by_role("button", name="As planned again").click()
    slip_closes(page)
    expect(line).to_be_visible()


def test_a_limit_changes_from_a_date_on(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead")
    page.get_by_role("region", name="Allowances").get_by_role("button", name=re.compile("Groceries")).click()
    page.get_by_label("Limit (USD)").fill("930")
    page.get_by_label("Limit from").fill("2027-04-01")
    page.get_by_role("button", name="Save").click()
    slip_closes(page)
    held = get(page, f"{demo}/api/plan")["allowances"][0]
    assert (held["limit"], held["revisions"]) == (88000, [{"from": "2027-04-01", "limit": 93000}])
    april = get(page, f"{demo}/api/forecast?until=2027-04-30")["events"]
    assert sum(event["amount"] for event in april if event["name"] == "Groceries") == -88000 - 93000


def test_what_is_gone_says_so(page: Page, demo: str) -> None:
    page.goto(f"{demo}/flows?slip=flow:nothing")
    expect(page.get_by_text("This flow is not in the plan any more.")).to_be_visible()
    page.goto(f"{demo}/accounts/joint?slip=entry:nothing")
    expect(page.get_by_text("There is no such entry: it may be deleted already.")).to_be_visible()
    page.goto(f"{demo}/accounts/nothing")
    expect(page.get_by_role("alert")).to_contain_text("There is no account “nothing”.")


def test_two_windows_see_the_same_household(page: Page, served: Served, tmp_path: Path) -> None:
    file = str(tmp_path / "home.sqlite3")
    one, other = served("serve", "--file", file), served("serve", "--file", file)
    page.goto(f"{one}/accounts?slip=account:new")
    page.get_by_label("Name", exact=True).fill("Shared")
    page.get_by_label("Balance today").fill("10")
    page.get_by_role("button", name="Add the account").click()
    slip_closes(page)
    assert [account["name"] for account in get(page, f"{other}/api/plan")["accounts"]] == ["Shared"]
    page.goto(f"{other}/accounts")
    expect(page.get_by_role("table", name="Accounts").get_by_role("button", name="Shared")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("table", name="Accounts").get_by_role("button", name="Shared")).to_have_count(0)
    assert get(page, f"{one}/api/plan")["accounts"] == []


def test_an_app_that_was_stopped_is_said_to_be_and_goes_on_when_it_is_back(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead")
    expect(page.get_by_role("region", name="Run of days")).to_be_visible()
    page.goto(f"{demo}/ahead?slip=flow:gran")
    page.get_by_label("Amount (USD)").fill("123.45")
    page.context.set_offline(True)
    said = page.get_by_role("alert").filter(has_text="The app is not running.")
    expect(said).to_be_visible()
    page.context.set_offline(False)
    expect(said).to_have_count(0)
    expect(page.get_by_label("Amount (USD)")).to_have_value("123.45")
    # A page whose figures were not read yet has nothing to show until then.
    page.context.set_offline(True)
    page.get_by_role("link", name="Debts").click()
    expect(said).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_role("heading", name="Debts", exact=True)).to_be_visible()


def test_where_the_network_beyond_the_house_goes_reading_and_saving_go_on(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead?slip=entry:new:joint")
    page.get_by_label("Amount (USD)").fill("4.50")
    page.get_by_label("Payee").fill("Baker")
    choose(page, "Category", "Groceries")
    # The browser says that the network has gone; what is on this computer still answers.
    page.evaluate("window.dispatchEvent(new Event('offline'))")
    page.get_by_role("button", name="Record it").click()
    expect(page.get_by_role("complementary")).to_have_count(0)
    page.get_by_role("link", name="Accounts").click()
    page.get_by_role("link", name="Register of Joint checking").first.click()
    expect(page.get_by_text("Baker").first).to_be_visible()


def test_what_is_said_of_the_days_ahead_is_of_today_and_later_and_of_no_debt(page: Page, demo: str) -> None:
    outlook = page.get_by_role("region", name="Outlook")
    page.goto(f"{demo}/ahead?accounts=heron,rainy-day")
    expect(outlook).to_contain_text("Heron card: $2,163.24 owed")
    expect(outlook).not_to_contain_text("Heron card stays above")
    expect(outlook).to_contain_text("Rainy-day savings stays above its floor until Mon Apr 12")
    page.goto(f"{demo}/ahead?accounts=rainy-day&from=2027-01-05&until=2027-02-10")
    expect(page.get_by_text("Figures for Tue Jan 5 to Wed Feb 10")).to_be_visible()
    expect(outlook).to_be_visible()
    expect(outlook).not_to_contain_text("stays above")
