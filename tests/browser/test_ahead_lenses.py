"""Months, calendar, remedies, what-ifs and can-we-afford-it, as a household meets them."""

import re
from collections.abc import Callable

from playwright.sync_api import Locator, Page, expect


def drag(page: Page, what: Locator, to: Locator) -> None:
    """Drag by hand, as a mouse moves."""
    begin, end = what.bounding_box(), to.bounding_box()
    assert begin is not None
    assert end is not None
    page.mouse.move(begin["x"] + 20, begin["y"] + 8)
    page.mouse.down()
    page.mouse.move(begin["x"] + 30, begin["y"] + 18, steps=3)
    page.mouse.move(end["x"] + 60, end["y"] + 60, steps=6)
    page.mouse.up()


def months(page: Page, address: str, **more: str) -> dict[str, int]:
    query = "&".join(f"{name}={value}" for name, value in more.items())
    found = page.request.get(f"{address}/api/months?from=2027-03&count=12&{query}").json()
    return {month["month"]: month["closing"] for month in found["months"]}


def test_the_short_month_is_found_and_its_remedy_tried_and_adopted(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/ahead")
    page.get_by_role("button", name="What could be done").click()
    remedies = page.get_by_role("region", name="What could be done")
    line = remedies.get_by_role("listitem").filter(has_text="Move $86.35 from Cash tin")
    check_axe()
    line.get_by_role("button", name="Try it").click()
    bar = page.get_by_role("region", name="What-if", exact=True)
    expect(bar).to_contain_text("What if: Move $86.35 from Cash tin on Thu 1 Apr.")
    expect(page.get_by_text("Joint checking stays above its floor")).to_be_visible()
    expect(page.get_by_test_id("reading")).to_contain_text("$86.35 below the floor")
    # An edit goes into the what-if, and the plan stays.
    page.goto(f"{page.url}&slip=flow:gran")
    page.get_by_label("Amount (USD)").fill("380")
    page.get_by_role("button", name="Save").click()
    expect(bar).to_contain_text("2 changes")
    flows = {each["id"]: each["amount"] for each in page.request.get(f"{demo}/api/plan").json()["flows"]}
    assert flows["gran"] == 390_00
    check_axe()
    bar.get_by_role("button", name="Adopt it").click()
    expect(bar).to_have_count(0)
    expect(page.get_by_text("Joint checking stays above its floor")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("falls $86.35 below its floor")).to_be_visible()


def test_a_cell_is_changed_from_here_on_and_the_months_follow(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    before = months(page, demo)
    page.goto(f"{demo}/ahead/months")
    grid = page.get_by_role("table", name="Months")
    expect(grid.get_by_role("columnheader", name=re.compile("Apr 2027"))).to_contain_text("$86.35 short")
    check_axe()
    grid.get_by_role("button", name="Two phones, 2027-05, −78.00: change").click()
    amount = page.get_by_label("Two phones, 2027-05, amount")
    amount.fill("dear")
    amount.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Write an amount")
    amount.press("Escape")
    expect(grid.get_by_role("button", name="Two phones, 2027-05, −78.00: change")).to_be_focused()
    page.keyboard.press("ArrowRight")
    expect(grid.get_by_role("button", name="Two phones, 2027-06, −78.00: change")).to_be_focused()
    page.keyboard.press("Enter")
    page.get_by_label("Two phones, 2027-06, amount").fill("100")
    page.get_by_role("button", name="From here on").click()
    expect(grid.get_by_role("button", name="Two phones, 2027-07, −100.00: change")).to_be_visible()
    after = months(page, demo)
    assert [before[month] - after[month] for month in ("2027-05", "2027-06", "2027-08")] == [0, 22_00, 66_00]
    page.set_viewport_size({"width": 390, "height": 844})
    expect(grid.get_by_role("rowheader", name="Two phones")).to_be_in_viewport()


def test_a_bill_is_dragged_in_the_calendar_and_a_holiday_asked_for(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/ahead/calendar?month=2027-04")
    expect(page.locator("[data-day='2027-04-01']")).to_have_attribute("data-depth", "floor")
    check_axe()
    bill = page.locator("[data-day='2027-04-14']").get_by_role("button", name=re.compile("Electricity"))
    page.set_viewport_size({"width": 1280, "height": 1000})
    drag(page, bill, page.locator("[data-day='2027-04-20']"))
    expect(
        page.locator("[data-day='2027-04-20']").get_by_role("button", name=re.compile("Electricity"))
    ).to_be_visible()
    page.locator("[data-day='2027-04-20']").get_by_role("button", name=re.compile("Electricity")).click()
    expect(page.get_by_role("complementary").or_(page.get_by_role("dialog")).first).to_be_visible()
    page.goto(f"{demo}/ahead")
    page.get_by_text("Can we afford it?").click()
    asking = page.get_by_role("region", name="Can we afford it")
    asking.get_by_label("Amount (USD)").fill("600")
    expect(asking).to_contain_text("Not then: on Wed 3 Mar")
    expect(asking).to_contain_text("From Fri 2 Apr on it would hold")
    asking.get_by_role("button", name="Look at it as a what-if from Fri 2 Apr").click()
    expect(page.get_by_role("region", name="What-if", exact=True)).to_contain_text("$600.00 once")
    page.get_by_role("button", name="Throw away").click()
    expect(page.get_by_role("region", name="What-if", exact=True)).to_have_count(0)


def test_picked_days_have_their_figures(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/ahead?from=2027-03-10&until=2027-04-05")
    page.get_by_text("Figures for Wed 10 Mar to Mon 5 Apr").click()
    table = page.get_by_role("table", name="Figures for these days")
    told = page.request.get(f"{demo}/api/figures?from=2027-03-10&to=2027-04-05&accounts=joint").json()
    for name in ("opening", "closing", "average"):
        expect(table).to_contain_text(f"${told[name] / 100:,.2f}")
    expect(table.get_by_role("row", name=re.compile("Days below the floor 1"))).to_be_visible()
    check_axe()
