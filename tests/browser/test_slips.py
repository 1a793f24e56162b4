"""What slips can say: rhythms, dates, seasons, parts, settings; and what the page says when something is wrong."""

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from hands import choose
from playwright.sync_api import Page, Route, expect

Served = Callable[..., str]
Json = dict[str, Any]


def flow_of(page: Page, address: str, name: str) -> Json:
    flows = page.request.get(f"{address}/api/plan").json()["flows"]
    return next(flow for flow in flows if flow["name"] == name)


def save(page: Page) -> None:
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("complementary")).to_have_count(0)


def test_saving_again_before_a_refusal_has_come_is_not_passed_over(page: Page, demo: str) -> None:
    page.goto(f"{demo}/debts?slip=account:new:credit_card")
    page.get_by_label("Name", exact=True).fill("Fen card")
    page.get_by_label("Limit").fill("1500")
    page.get_by_label("The cycle closes on day").fill("32")
    page.get_by_label("Days from closing to due").fill("20")
    page.get_by_label("Owed today").fill("200")
    page.get_by_label("Rate 1, % a year").fill("0")
    on_the_way: list[Route] = []

    def hold(route: Route) -> None:
        on_the_way.append(route)

    page.route("**/api/changes", hold, times=1)
    with page.expect_request("**/api/changes"):
        page.keyboard.press("Control+Enter")
    page.get_by_label("The cycle closes on day").fill("12")
    page.keyboard.press("Control+Enter")
    on_the_way[0].continue_()
    expect(page.get_by_role("complementary")).to_have_count(0)
    expect(page.get_by_role("table", name="Cards and lines").get_by_role("link", name="Fen card")).to_be_visible()


def test_a_day_chosen_by_hand_takes_the_place_of_what_was_preset_in_any_order(page: Page, demo: str) -> None:
    page.goto(f"{demo}/flows?slip=flow:new:bill")
    dates = page.get_by_test_id("next-dates")
    for usual, reads in (
        ("every week", "every week on Monday."), ("every quarter", "every 3 months on the 5th."),
        ("every half year", "every 6 months on the 5th."), ("every month", "on the 5th of every month."),
    ):  # fmt: skip
        choose(page, "When", usual)
        page.get_by_label("First on").fill("2027-04-05")
        expect(dates).to_contain_text(reads)
    choose(page, "When", "another rhythm")
    page.get_by_label("Days of the month", exact=True).get_by_text("20", exact=True).click()
    expect(dates).to_contain_text("on the 20th of every month.")
    page.get_by_label("Starting").fill("2027-04-06")
    page.get_by_label("Days of the month", exact=True).get_by_text("7", exact=True).click()
    expect(dates).to_contain_text("on the 7th and 20th of every month.")
    page.get_by_label("On which days, typed").fill("28, last 3")
    expect(dates).to_contain_text("on the 3rd, 28th and last day of every month.")
    choose(page, "Days, weeks, months or years", "weeks")
    expect(dates).to_contain_text("every week on Tuesday.")
    page.get_by_label("Weekdays", exact=True).get_by_label("Friday").click()
    expect(dates).to_contain_text("every week on Friday.")

    # A start alone sets rule and day.
    page.goto(f"{demo}/flows?slip=flow:new:bill")
    page.get_by_role("button", name="Throw it away").click()
    choose(page, "When", "every year")
    page.get_by_label("First on").fill("2027-04-05")
    expect(dates).to_contain_text("every year on April 5.")
    expect(dates.get_by_role("listitem").first).to_have_text("Mon Apr 5")


def test_several_rules_dates_and_exceptions_make_one_flow(page: Page, demo: str) -> None:
    page.goto(f"{demo}/flows?slip=flow:new:bill")
    page.get_by_label("Name", exact=True).fill("Physio")
    page.get_by_label("Amount (USD)").fill("35")
    page.get_by_label("First on").fill("2027-03-01")
    choose(page, "When", "another rhythm")
    choose(page, "Which days of the month", "the first, second… weekday")
    choose(page, "Which one", "second")
    choose(page, "Weekday", "Tuesday")
    dates = page.get_by_test_id("next-dates")
    expect(dates).to_contain_text("on the second Tuesday of every month.")
    page.get_by_role("button", name="And also…").click()
    choose_last(page, "Days, weeks, months or years", "years")
    for month in ("Mar", "Jul"):
        page.get_by_label("Months", exact=True).get_by_text(month, exact=True).click()
    expect(dates).to_contain_text("every year on March 1 and July 1")
    page.get_by_role("button", name="And on one more date…").click()
    page.get_by_label("And on, date 1").fill("2027-03-24")
    page.get_by_role("button", name="But not on…").click()
    page.get_by_label("But not on, date 1").fill("2027-04-13")
    choose(page, "Ending", "after some times")
    page.get_by_label("How many times").fill("9")
    choose(page, "On a weekend or bank holiday", "move to the nearest business day")
    expect(dates.get_by_role("listitem")).to_have_text(
        ["Mon Mar 1", "Tue Mar 9", "Wed Mar 24", "Tue May 11", "Tue Jun 8", "Thu Jul 1"]
    )
    save(page)
    flow = flow_of(page, demo, "Physio")
    assert flow["rules"] == ["FREQ=MONTHLY;BYDAY=2TU", "FREQ=YEARLY;BYMONTH=3,7;BYMONTHDAY=1"]
    told = [flow[field] for field in ("dates", "except", "count", "until", "roll")]
    assert told == [["2027-03-24"], ["2027-04-13"], 9, None, "nearest"]


def choose_last(page: Page, label: str, option: str) -> None:
    page.get_by_label(label, exact=True).last.click()
    page.get_by_role("option", name=option, exact=True).click()


def test_seasons_growth_parts_and_reminders(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/flows?slip=flow:new:income")
    page.get_by_label("Name", exact=True).fill("Tutoring")
    page.get_by_label("Amount (USD)").fill("300")
    choose(page, "Category", "Other income")
    page.get_by_text("Payee, seasons, growth, parts and reminders").click()
    page.get_by_label("The amount varies: this is an estimate").check()
    page.get_by_label("Remind me, days ahead").fill("10")
    page.get_by_label("Grows by, % a year").fill("2.5")
    page.get_by_label("Jul", exact=True).fill("80.999")
    expect(page.get_by_text("USD has 2 decimals")).to_be_visible()
    page.get_by_label("Jul", exact=True).fill("80")
    page.get_by_role("button", name="A part goes elsewhere").click()
    page.get_by_label("Part 1, amount").fill("350")
    choose(page, "Part 1, where it goes", "to Rainy-day savings")
    expect(page.get_by_text("The parts are more than the whole amount").first).to_be_visible()
    page.get_by_label("Part 1, amount").fill("50")
    expect(page.get_by_test_id("effect")).to_contain_text("Lowest until")
    check_axe()
    save(page)
    flow = flow_of(page, demo, "Tutoring")
    assert flow["seasonal"] == {"7": 8000}
    assert flow["growth"]["percent"] == "2.5"
    assert flow["splits"] == [{"account": "rainy-day", "amount": 5000}]
    assert (flow["estimate"], flow["remind_days"], flow["category"]) == (True, 10, "other-income")
    # What a slip has opened and not touched, it leaves as it is.
    page.get_by_role("button", name="Tutoring", exact=True).click()
    page.get_by_label("Payee").fill("Somebody")
    save(page)
    assert flow_of(page, demo, "Tutoring") == {**flow, "payee": "Somebody"}


@pytest.mark.parametrize(
    "name", ["Electricity", "Lantern Reels", "Wren's pay, Harrow Kiln", "Boathouse roof, our share"]
)
def test_saving_an_untouched_field_changes_nothing_else(page: Page, demo: str, name: str) -> None:
    before = flow_of(page, demo, name)
    page.goto(f"{demo}/flows")
    page.get_by_role("button", name=name, exact=True).click()
    page.get_by_label("Notes").fill("seen")
    save(page)
    assert flow_of(page, demo, name) == {**before, "notes": "seen"}


def test_a_rule_that_the_picker_cannot_show_stays_a_sentence(page: Page, demo: str) -> None:
    rule = "FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1"
    value = {
        "name": "Odd",
        "kind": "bill",
        "amount": 5,
        "from_account": "joint",
        "rules": [rule],
        "start": "2027-03-01",
    }
    change = {"op": "add", "kind": "flow", "id": "odd", "value": value}
    page.request.post(f"{demo}/api/changes", data={"changes": [change]})
    page.goto(f"{demo}/flows?slip=flow:odd")
    expect(page.get_by_text("on the last weekday of every month. Choose another rhythm")).to_be_visible()
    page.get_by_label("Notes").fill("By hand")
    save(page)
    assert flow_of(page, demo, "Odd")["rules"] == [rule]


def test_a_kind_takes_its_accounts_along(page: Page, demo: str) -> None:
    page.goto(f"{demo}/flows?slip=flow:new:bill")
    expect(page.get_by_label("Paid from")).to_contain_text("Joint checking")
    page.get_by_role("radio", name="Transfer").click()
    expect(page.get_by_label("From", exact=True)).to_contain_text("Joint checking")
    expect(page.get_by_label("To", exact=True)).to_contain_text("Rainy-day savings")
    choose(page, "To", "Joint checking")
    page.get_by_label("Name", exact=True).fill("Loop")
    page.get_by_label("Amount (USD)").fill("5")
    expect(page.get_by_text("A transfer goes to another account")).to_be_visible()
    page.get_by_role("button", name="Add to the plan").click()
    expect(page.get_by_role("complementary")).to_be_visible()
    page.get_by_role("radio", name="Income").click()
    expect(page.get_by_label("Arrives on")).to_contain_text("Joint checking")


def test_the_tideline_shows_any_accounts_over_any_span(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/ahead")
    reading = page.get_by_test_id("reading")
    expect(reading).to_contain_text("Lowest ahead: $163.65 on Thu Apr 1, $86.35 below the floor.")
    choose(page, "How far ahead", "10 years")
    expect(page).to_have_url(re.compile("span=10y"))
    page.get_by_role("button", name="Joint checking", exact=True).click()
    page.get_by_role("checkbox", name=re.compile("Rainy-day savings")).click()
    expect(page.get_by_role("checkbox", name=re.compile("Rainy-day savings"))).to_be_checked()
    expect(page).to_have_url(re.compile("accounts=joint(%2C|,)rainy-day"))
    check_axe()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Joint checking + Rainy-day savings")).to_be_visible()
    expect(page.get_by_role("region", name="Run of days")).to_contain_text("Rainy-day savings")
    box = page.get_by_role("slider").bounding_box()
    assert box
    page.mouse.move(box["x"] + 40, box["y"] + 40)
    expect(reading).to_contain_text(re.compile(r"\w{3} \w{3} \d+, 202[56]: \$"))
    # Ten years of lines scroll, and only those in sight are in the page.
    lines = page.get_by_role("region", name="Run of days").get_by_role("listitem")
    assert lines.count() < 80
    page.locator("#page").evaluate("page => page.scrollTo(0, page.scrollHeight)")
    expect(page.get_by_text(re.compile(r"(Feb|Mar) \d+, 2037")).last).to_be_visible()


def test_the_household_is_named_and_its_past_due_ignored(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/accounts")
    page.get_by_role("button", name="Change these settings").click()
    page.get_by_label("Name", exact=True).fill("The Quay house")
    choose(page, "Bank holidays of", "Germany")
    choose(page, "What is past due and not settled", "is left out of the forecast")
    check_axe()
    save(page)
    expect(page.get_by_role("banner")).to_contain_text("The Quay house")
    plan = page.request.get(f"{demo}/api/plan").json()
    assert (plan["name"], plan["country"], plan["past_due"]) == ("The Quay house", "DE", "ignore")
    page.keyboard.press("1")
    expect(page.get_by_role("region", name="Run of days")).to_be_visible()
    expect(page.get_by_text("past due")).to_have_count(0)


def test_an_account_in_use_stays_and_an_unused_one_goes(page: Page, demo: str) -> None:
    page.goto(f"{demo}/accounts?slip=account:joint")
    page.get_by_role("button", name="Delete").click()
    expect(page.get_by_role("alert")).to_contain_text("This account is used by")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Add an account").click()
    page.get_by_label("Name", exact=True).fill("Trip")
    page.get_by_label("Balance today").fill("1500")
    page.get_by_label("Currency").fill("jpy")
    save(page)
    page.get_by_role("button", name="Trip", exact=True).click()
    page.get_by_label("Opening balance").fill("1500.5")
    expect(page.get_by_text("JPY has no decimals")).to_be_visible()
    page.get_by_label("Currency").fill("qqq")
    page.get_by_label("Opening balance").fill("1500")
    expect(page.get_by_text("“QQQ” is not a currency")).to_be_visible()
    page.get_by_role("button", name="Delete").click()
    expect(page.get_by_role("button", name="Trip", exact=True)).to_have_count(0)


def test_categories_are_renamed_and_merged(page: Page, demo: str) -> None:
    page.goto(f"{demo}/accounts")
    section = page.get_by_role("region", name="Categories")
    section.get_by_role("button", name="Outings and treats").click()
    page.get_by_label("Name", exact=True).fill("Treats")
    save(page)
    section.get_by_role("button", name="Treats").click()
    choose(page, "Merge into", "Films and reading")
    page.get_by_role("button", name="Merge").click()
    expect(section.get_by_role("button", name="Treats")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(section.get_by_role("button", name="Treats")).to_be_visible()


def test_an_empty_household_begins_with_common_categories(page: Page, served: Served, tmp_path: Path) -> None:
    address = served("serve", "--file", str(tmp_path / "home.sqlite3"))
    page.goto(f"{address}/settle")
    expect(page.get_by_text("All settled.")).to_be_visible()
    page.keyboard.press("6")
    page.get_by_role("button", name="Begin with the usual ones").click()
    expect(page.get_by_role("region", name="Categories")).to_contain_text("Groceries")
    page.keyboard.press("3")
    expect(page.get_by_text("No income yet: add the next payday.")).to_be_visible()
    page.goto(f"{address}/nowhere")
    page.get_by_role("link", name="Go to the days ahead").click()
    expect(page.get_by_role("heading", name="Will it last until payday?")).to_be_visible()


def test_the_app_can_be_installed_and_keeps_its_shell(page: Page, demo: str) -> None:
    page.goto(demo)
    manifest = page.request.get(f"{demo}/manifest.webmanifest").json()
    assert manifest["display"] == "standalone"
    for icon in manifest["icons"]:
        assert page.request.get(f"{demo}{icon['src']}").ok
    assert page.evaluate("navigator.serviceWorker.ready.then((ready) => ready.active.scriptURL)").endswith("/worker.js")
    # Nothing of the household is kept in the browser.
    page.reload()
    expect(page.get_by_role("region", name="Run of days")).to_be_visible()
    kept = page.evaluate(
        "caches.keys().then(async (names) => (await Promise.all(names.map(async (name) => (await (await caches.open(name)).keys()).map((each) => each.url)))).flat())"
    )
    assert kept
    assert not [url for url in kept if "/api/" in url]
