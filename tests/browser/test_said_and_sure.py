"""How sure it is, and said in a sentence, in the browser."""

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect


def say(page: Page, text: str) -> None:
    expect(page.get_by_test_id("today")).to_be_visible()
    page.keyboard.press("/")
    page.get_by_placeholder(re.compile("Find something")).fill(text)


def test_the_band_comes_after_the_line_and_stays_off_when_it_is_pressed_off(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/ahead")
    expect(page.get_by_test_id("band")).to_be_visible()
    expect(page.get_by_test_id("if it goes badly")).to_contain_text("if it goes badly")
    page.get_by_role("button", name="How sure is it?").press("Enter")
    sure = page.get_by_role("region", name="How sure it is")
    expect(sure).to_contain_text(re.compile(r"\d in \d+ that it breaks the floor until"))
    rows = sure.get_by_role("table", name="What makes it uncertain").get_by_role("row")
    expect(rows.nth(1)).to_contain_text("Odell's hours")
    expect(rows.nth(2)).to_contain_text("Fuel")
    # What is said here is what the tideline and the app say.
    told = page.request.get(f"{demo}/api/chance?account=joint&until=2027-04-12").json()
    expect(sure).to_contain_text(f"{told['below_says']} that it breaks the floor")
    expect(page.get_by_role("region", name="Tideline")).to_contain_text(f"{told['months'][1]['says']} below the floor")
    check_axe()
    page.get_by_role("button", name="How sure it is", exact=True).click()
    expect(page.get_by_test_id("band")).to_have_count(0)
    page.reload()
    expect(page.get_by_role("button", name="How sure it is", exact=True)).to_have_attribute("aria-pressed", "false")
    expect(page.get_by_test_id("band")).to_have_count(0)


def test_a_household_without_history_sees_what_is_missing(
    page: Page, served: Callable[..., str], tmp_path: Path
) -> None:
    empty = served("serve", "--file", str(tmp_path / "new.sqlite3"))
    account = {"name": "Purse", "kind": "checking", "currency": "USD",
               "opening": {"date": "2027-03-01", "balance": 90_00}}  # fmt: skip
    bill = {"name": "Wood", "kind": "bill", "amount": 20_00, "from_account": "purse", "estimate": True,
            "rules": ["FREQ=MONTHLY;BYMONTHDAY=9"]}  # fmt: skip
    changes = [{"op": "add", "kind": "account", "id": "purse", "value": account},
               {"op": "add", "kind": "flow", "id": "wood", "value": bill}]  # fmt: skip
    assert page.request.post(f"{empty}/api/changes", data={"changes": changes}).ok
    page.goto(f"{empty}/ahead")
    page.get_by_role("button", name="How sure is it?").press("Enter")
    sure = page.get_by_role("region", name="How sure it is")
    expect(sure).to_contain_text("Wood, never settled so far")
    expect(sure).to_contain_text("known in about 3 months")
    expect(page.get_by_test_id("band")).to_have_count(0)


def test_a_sentence_is_done_by_enter_and_undone(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/ahead")
    before = page.request.get(f"{demo}/api/plan").json()
    say(page, "dentist 180 on the 14th")
    reading = page.get_by_role("option", name="Plan the bill “Dentist”: $180.00 on Sun Mar 14, from Joint checking")
    expect(reading).to_have_attribute("aria-selected", "true")
    expect(page.get_by_test_id("effect").first).to_contain_text("$266.35 short")
    check_axe()
    page.keyboard.press("Enter")
    expect(page.get_by_role("status").filter(has_text="Undo takes it back")).to_be_visible()
    expect(page.get_by_role("region", name="Tideline")).to_contain_text("$266.35 below the floor")
    undo = page.get_by_role("button", name="Undo", exact=True).first
    # One that cannot be done is told: nothing happens unsaid.
    page.context.set_offline(True)
    undo.click()
    expect(page.get_by_role("status").filter(has_text="The app does not answer")).to_be_visible()
    page.context.set_offline(False)
    undo.click()
    expect(page.get_by_role("region", name="Tideline")).to_contain_text("$86.35 below the floor")
    after = page.request.get(f"{demo}/api/plan").json()
    assert after["flows"] == before["flows"]


def test_what_is_missing_is_reached_by_tab_and_the_slip_has_all_of_it(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead")
    say(page, "supper 23.40 yesterday by wharf")
    expect(page.get_by_label("Category", exact=True)).to_be_visible()
    page.keyboard.press("Tab")
    # A list that is closed takes what begins so.
    page.keyboard.type("outi")
    expect(page.get_by_role("option", name="from Wharf card, in Outings and treats")).to_be_visible()
    page.get_by_role("button", name="Open the slip").click()
    slip = page.locator("[data-slip]")
    expect(slip.get_by_label("Amount (USD)")).to_have_value("23.40")
    expect(slip.get_by_label("Payee")).to_have_value("Supper")
    expect(slip.get_by_label("Category", exact=True)).to_contain_text("Outings and treats")
    slip.get_by_role("button", name="Record it").click()
    expect(slip).to_have_count(0)
    newest = page.request.get(f"{demo}/api/plan").json()["entries"][-1]
    assert newest["legs"] == [{"account": "wharf", "amount": -23_40}, {"category": "outings", "amount": 23_40}]
    assert newest["date"] == "2027-02-28"


def test_what_a_sentence_would_be_refused_for_stands_beside_it_and_a_date_left_out_has_a_slip(
    page: Page, demo: str
) -> None:
    page.goto(f"{demo}/ahead")
    say(page, "no phones in may")
    expect(page.get_by_test_id("effect").first).to_contain_text("Lowest until")
    page.get_by_role("button", name="Open the slip").click()
    slip = page.locator("[data-slip]")
    expect(slip.get_by_role("checkbox", name=re.compile("out"))).to_be_checked()
    page.keyboard.press("Escape")
    say(page, "moved 20 from joint to joint today")
    expect(page.get_by_role("region", name="What was said").get_by_role("alert")).to_contain_text("it goes to")


def test_a_what_if_a_question_and_what_is_not_understood(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead")
    say(page, "can we afford 900 on june 3")
    expect(page.get_by_text("Not then:")).to_be_visible()
    expect(page.get_by_text("How likely the floor breaks:")).to_be_visible()
    box = page.get_by_placeholder(re.compile("Find something"))
    box.fill("fuel is 60 zumba from now on")
    expect(page.get_by_text("“zumba” is not understood, and left out.")).to_be_visible()
    box.fill("what if fuel goes up 5%")
    expect(page.get_by_role("option", name="“Fuel” is $53.77 from Mon Mar 1 on ($51.21 until then)")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("what_if="))


def test_of_more_than_is_owed_the_second_thing_it_may_be_is_taken_by_keyboard_and_undone(page: Page, demo: str) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{demo}/ahead")
    before = page.request.get(f"{demo}/api/plan").json()
    say(page, "got 500 back from quillon")
    readings = page.get_by_role("option", name="$500.00 back from Mr. Quillon")
    expect(readings).to_have_count(3)
    page.keyboard.press("ArrowDown")
    expect(readings.nth(1)).to_have_attribute("aria-selected", "true")
    expect(readings.nth(1)).to_contain_text("$300.00 of it is a gift")
    expect(page.get_by_test_id("effect").filter(has_text="Lent to Mr. Quillon")).to_contain_text("$0.00")
    page.keyboard.press("Enter")
    expect(page.get_by_role("status").filter(has_text="Undo takes it back")).to_be_visible()
    entry = page.request.get(f"{demo}/api/plan").json()["entries"][-1]
    legs = {leg.get("account") or leg["category"]: leg["amount"] for leg in entry["legs"]}
    assert legs == {"tin": 500_00, "quillon": -200_00, "gifts-received": -300_00}
    # The category that it needed goes with it.
    page.get_by_role("button", name="Undo", exact=True).first.click()
    expect(page.get_by_role("button", name="Redo", exact=True).first).to_be_enabled()
    after = page.request.get(f"{demo}/api/plan").json()
    assert (after["entries"], after["categories"]) == (before["entries"], before["categories"])
