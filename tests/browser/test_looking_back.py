"""Looking back: a month against what was expected of it, which no later change rewrites."""

import re
from collections.abc import Callable

from hands import fill
from playwright.sync_api import Page, expect


def test_last_month_is_reviewed_corrected_on_the_spot_and_stays_as_it_was_expected(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/ahead")
    expect(page.get_by_role("region", name="Run of days")).to_be_visible()
    page.keyboard.press("5")
    expect(page.get_by_role("heading", name="March 2027")).to_be_visible()
    page.keyboard.press(",")
    expect(page.get_by_role("heading", name="February 2027")).to_be_visible()
    # A month that is over, in one sentence; its numbers are those of the table below it.
    sentence = page.get_by_text("In February 2027 you kept $1,465.11, 24.3\u00a0% of what came in; $108.43 more")
    expect(sentence).to_be_visible()
    where = page.get_by_role("region", name="Where it went")
    came = page.get_by_role("region", name="What came in")
    expect(where.get_by_text("$4,557.91")).to_be_visible()
    expect(came.get_by_text("$6,023.02")).to_be_visible()
    expect(page.get_by_role("region", name="Beside other days").get_by_text("$1,465.11")).to_be_visible()
    check_axe()

    # From a line to its entries, and from one of these to its correction.
    groceries = where.get_by_role("button", name="Groceries")
    groceries.press("Enter")
    expect(groceries).to_have_attribute("aria-expanded", "true")
    expect(where.get_by_text("$105.88")).to_be_visible()
    where.get_by_role("listitem").filter(has_text="$105.88").get_by_role("button").click()
    fill(page, "Amount (USD)", "115.88")
    page.keyboard.press("Control+Enter")
    expect(where.get_by_text("769.98", exact=True)).to_be_visible()
    expect(page.get_by_text("In February 2027 you kept $1,455.11")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(sentence).to_be_visible()

    about = where.get_by_role("button", name="Getting about")
    about.press("Enter")
    flows = where.get_by_role("list", name="Flows").get_by_role("listitem")
    expect(flows.filter(has_text="Fuel")).to_contain_text("119.44 expected$100.27")
    about.press("Enter")
    unlike = page.get_by_role("region", name="What was different").get_by_role("listitem")
    expect(unlike.filter(has_text="Flute lessons")).to_contain_text("past due; $42.00 was expected")
    page.get_by_role("button", name=re.compile(r"^All \d+ differences")).press("Enter")
    expect(unlike.filter(has_text="Electricity")).to_contain_text("$186.21, $7.21 more than estimated")

    # Fuel is expected to cost more from its beginning on: last month still says what was expected then, this one not.
    before = where.get_by_role("button", name="Getting about").locator("xpath=../..").inner_text()
    changes = [{"op": "update", "kind": "flow", "id": "fuel", "value": {"amount": 99_00}}]
    assert page.request.post(f"{demo}/api/changes", data={"changes": changes}).ok
    page.reload()
    expect(where.get_by_role("button", name="Getting about").locator("xpath=../..")).to_have_text(
        re.compile(re.escape(before.split("\n")[-1]))
    )
    expect(sentence).to_be_visible()
    page.keyboard.press(".")
    expect(page.get_by_role("heading", name="March 2027")).to_be_visible()
    expect(
        page.get_by_text(
            re.compile("In March 2027 nothing was earned or spent so far; .* is expected to be kept by its end")
        )
    ).to_be_visible()

    # What was off one way for a year is taken over into the plan with one press, and can be undone.
    fitting = page.get_by_role("region", name="What would fit better")
    expect(fitting).to_contain_text("12 times in a row less than $880.00 was used: $780.94 would have fitted.")
    fitting.get_by_role("button", name="$780.94 from Thu Apr 1 on").press("Enter")
    expect(page.get_by_text("Changed “Groceries”: $780.94 from April 1, 2027").first).to_be_visible()
    expect(fitting).not_to_contain_text("Groceries")
    page.keyboard.press("Control+z")
    expect(fitting).to_contain_text("Groceries")

    # Longer stretches, typed days, and back again; the address keeps them.
    page.get_by_role("radio", name="Year").click()
    expect(page.get_by_role("heading", name="2027", exact=True)).to_be_visible()
    page.get_by_label("From", exact=True).fill("2027-02-10")
    page.get_by_label("To", exact=True).fill("2027-02-20")
    expect(page.get_by_role("heading", name="February 10, 2027 to February 20, 2027")).to_be_visible()
    page.reload()
    expect(page.get_by_role("heading", name="February 10, 2027 to February 20, 2027")).to_be_visible()
    page.get_by_role("button", name="Back to the calendar").click()
    expect(page.get_by_role("heading", name="2027", exact=True)).to_be_visible()
    # Twelve months of categories: what happened over what was expected; a month's name leads to its review.
    page.get_by_role("link", name="Months of categories").click()
    months = page.get_by_role("table")
    row = months.get_by_role("row", name=re.compile("^Groceries, allowance"))
    expect(row).to_contain_text("759.98")
    expect(months.get_by_role("row", name=re.compile("^Spending together"))).to_contain_text("4,557.91")
    check_axe()
    months.get_by_role("button", name=re.compile("^759.98.*Groceries, allowance, February 2027")).press("Enter")
    expect(page.get_by_role("list", name="Payees")).to_contain_text("Tollgate Larder3 entries$292.03")
    months.get_by_role("link", name="Feb 27").click()
    expect(sentence).to_be_visible()
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.locator("#page").evaluate("page => page.scrollWidth <= page.clientWidth")
    check_axe()


def test_a_household_without_a_past_is_told_so(page: Page, served: Callable[..., str], tmp_path: object) -> None:
    address = served("serve", "--file", f"{tmp_path}/empty.sqlite3")
    page.goto(f"{address}/review")
    expect(page.get_by_text("In March 2027 nothing was earned or spent so far.")).to_be_visible()
    expect(page.get_by_role("region", name="Where it went")).to_have_count(0)


def test_what_moved_the_lowest_point_meanwhile_is_told_once_and_undone_back_to(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    news = page.get_by_role("region", name="Since you last looked")
    with page.expect_response(re.compile("history/since")):
        page.goto(f"{demo}/ahead")
    expect(page.get_by_role("region", name="Run of days")).to_be_visible()
    expect(news).to_have_count(0)
    page.goto("about:blank")
    account = page.request.get(f"{demo}/api/accounts").json()["accounts"][0]["account"]["id"]
    roof = {"kind": "bill", "name": "Roof", "amount": 13_100_00, "from_account": account, "dates": ["2027-04-12"]}
    for change in (
        {"op": "add", "kind": "flow", "id": "roof", "value": roof},
        {"op": "revise", "kind": "flow", "id": "fuel", "from": "2027-03-08", "value": {"amount": 60_00}},
    ):
        assert page.request.post(f"{demo}/api/changes", data={"changes": [change]}).ok
    page.goto(f"{demo}/ahead")
    expect(news).to_contain_text("$12,399.70 on March 3, 2027 (when you last looked)")
    check_axe()
    page.reload()
    expect(page.get_by_role("region", name="Run of days")).to_be_visible()
    expect(news).to_have_count(0)

    page.goto(f"{demo}/review/changes")
    newest, oldest = (
        page.get_by_role("main").get_by_role("listitem").filter(has_text=name) for name in ("Fuel", "Roof")
    )
    expect(newest).to_contain_text("Changed “Fuel”: $60.00 from March 8, 2027")
    expect(oldest).to_contain_text("before, $12,399.70 on Wed Mar 3")
    check_axe()
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.locator("#page").evaluate("page => page.scrollWidth <= page.clientWidth")
    oldest.get_by_role("button", name="Undo it and 1 later").press("Enter")
    expect(page.get_by_text("Undone: added “Roof”: $13,100.00, and 1 later change").first).to_be_visible()
    expect(newest).to_contain_text("undone")
    expect(oldest).to_contain_text("undone")


def test_a_goal_is_set_by_share_followed_and_told_once_it_is_missed(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/review/goals")
    main = page.get_by_role("main")
    put_by = main.get_by_role("listitem").filter(has_text="A tenth put by")
    expect(put_by).to_contain_text("March 2027: $0.00 of $641.02 saved so far; the forecast ends at $685.07.")
    check_axe()
    page.get_by_role("button", name="Share out the income").press("Enter")
    slip = page.locator("[data-slip]")
    fill(page, "A tenth put by", "ten")
    expect(slip.get_by_text("Write a rate such as 5.85.")).to_be_visible()
    for name, share in (("A tenth put by", "10.5"), ("Pay off", "30"), ("Live on", "70")):
        fill(page, name, share)
    expect(slip.get_by_text("110.5 percent of this month's income of $6,410.20: 10.5 percent more")).to_be_visible()
    fill(page, "Live on", "50")
    expect(slip.get_by_text("90.5 percent of this month's income of $6,410.20; 9.5 percent is left")).to_be_visible()
    check_axe()
    page.keyboard.press("Control+Enter")
    expect(put_by).to_contain_text("$0.00 of $673.07 saved so far; the forecast ends at $685.07.")
    expect(main.get_by_role("listitem")).to_have_count(5)

    # By a sum, in a category, from the phone; a zero too many is taken back where it was typed.
    page.set_viewport_size({"width": 390, "height": 844})
    page.get_by_role("button", name="Add a goal").click()
    fill(page, "Name", "Food")
    page.get_by_role("radio", name="spend no more than").click()
    fill(page, "Sum (USD)", "9000")
    page.get_by_role("button", name="Groceries").click()
    check_axe()
    page.get_by_role("button", name="Add the goal").click()
    food = main.get_by_role("listitem").filter(has_text="Food")
    expect(food).to_contain_text("on course")
    assert page.locator("#page").evaluate("page => page.scrollWidth <= page.clientWidth")
    food.get_by_role("button").click()
    fill(page, "Sum (USD)", "900")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(food).to_contain_text("March 2027: $0.00 of at most $900.00 spent so far; the forecast ends at $880.00.")

    # It was seen on course; groceries get dearer, and Ahead says so, until the goals were looked at again.
    page.goto("about:blank")
    dearer = [{"op": "update", "kind": "allowance", "id": "groceries", "value": {"limit": 950_00}}]
    assert page.request.post(f"{demo}/api/changes", data={"changes": dearer}).ok
    page.goto(f"{demo}/ahead")
    told = page.get_by_text("A goal is missed now:")
    expect(told).to_be_visible()
    expect(page.get_by_text("the forecast ends at $950.00, $50.00 too much.")).to_be_visible()
    page.get_by_role("link", name="See the goals").click()
    expect(food).to_contain_text("$50.00 off")
    page.go_back()
    expect(page.get_by_role("region", name="Run of days")).to_be_visible()
    expect(told).to_have_count(0)


def test_the_year_is_read_printed_and_carried_into_the_next(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/review")
    page.get_by_role("link", name="The end of the year").click()
    expect(page.get_by_role("heading", name="The year 2026")).to_be_visible()
    expect(page.get_by_text("In 2026 you kept $22,709.05 of $81,792.28.")).to_be_visible()
    worth = page.get_by_role("table", name="What we have and owe").get_by_role("row", name=re.compile("^Net worth"))
    expect(worth).to_contain_text("$104,555.97")
    expect(page.get_by_role("table", name="Tagged “child care”")).to_contain_text("$6,840.00")
    check_axe()
    page.keyboard.press(".")
    expect(page.get_by_text("In 2027 you kept $2,922.22 of $12,091.87 so far.")).to_be_visible()
    page.keyboard.press(",")
    following = page.get_by_role("region", name="Into the next year")
    following.get_by_role("button", name="$780.99 from Thu Apr 1 on").press("Enter")
    expect(page.get_by_text("Changed “Groceries”: $780.99 from April 1, 2027").first).to_be_visible()
    expect(following.get_by_text("Groceries")).to_have_count(0)
    following.get_by_role("listitem").filter(has_text="The Quay Courier").get_by_role(
        "button", name="Set aside for it"
    ).press("Enter")
    expect(page.locator("[data-slip]")).to_be_visible()
    page.keyboard.press("Escape")
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.locator("#page").evaluate("page => page.scrollWidth <= page.clientWidth")
    check_axe()
    page.goto(f"{demo}/print/year-end?year=2026")
    expect(page.get_by_role("heading", name="The year 2026, The Thornquills of Sandry Quay")).to_be_visible()
    expect(page.get_by_role("table", name="Goals")).to_contain_text("12 of 12 times")
    check_axe()


def test_an_entry_that_stands_twice_is_found_and_removed(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    for id in ("one", "two"):
        value = {"date": "2027-02-26", "payee": "The Quay Bakery", "legs": [
            {"account": "joint", "amount": -12_40}, {"category": "sundries", "amount": 12_40}]}  # fmt: skip
        add = [{"op": "add", "kind": "entry", "id": id, "value": value}]
        assert page.request.post(f"{demo}/api/changes", data={"changes": add}).ok
    page.goto(f"{demo}/review")
    look = page.get_by_role("region", name="Worth a look")
    twice = look.get_by_role(
        "button", name="The Quay Bakery, $12.40, stands on Fri Feb 26 and on Fri Feb 26.", exact=True
    )
    expect(twice).to_be_visible()
    check_axe()
    twice.press("Enter")
    page.get_by_role("button", name="Delete").click()
    expect(twice).to_have_count(0)
    # What is new is told until it was looked at.
    new = look.get_by_role("listitem").filter(has_text="The Quay Bakery is new")
    new.get_by_role("button", name=re.compile("^Looked at")).press("Enter")
    expect(new).to_have_count(0)
    page.get_by_role("button", name=re.compile("looked at", re.IGNORECASE)).first.click()
    expect(look).to_have_count(0)
    page.reload()
    expect(page.get_by_role("region", name="Beside other days")).to_be_visible()
    expect(look).to_have_count(0)
    page.goto(f"{demo}/review/subscriptions")
    expect(page.get_by_role("list", name="Price changes of Lantern Reels")).to_contain_text(
        "rose from $10.49 to $12.99"
    )
    expect(page.get_by_text("Paid 2 times since Fri Sep 12, 2025, last on Sat Sep 12, 2026.")).to_be_visible()
    check_axe()
