"""Months, calendar, remedies, what-ifs and can-we-afford-it, as a household meets them."""

import csv
import re
from collections.abc import Callable
from decimal import Decimal
from pathlib import Path

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
    expect(bar).to_contain_text("What if: Move $86.35 from Cash tin on Thu Apr 1.")
    expect(page.get_by_text("Joint checking stays above its floor")).to_be_visible()
    expect(page.get_by_test_id("reading")).to_contain_text("$250.00 on Thu Apr 1, $0.00 above the floor")
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


def cell(page: Page, row: str, month: str) -> Locator:
    return page.get_by_role("grid", name="Months").get_by_role("gridcell", name=re.compile(f"^{row}, {month}:"))


def test_a_cell_is_changed_from_here_on_and_the_months_follow(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    before = months(page, demo)
    page.goto(f"{demo}/ahead/months")
    grid = page.get_by_role("grid", name="Months")
    expect(grid.get_by_role("columnheader", name=re.compile("Apr 2027"))).to_contain_text("$86.35 short")
    check_axe()
    cell(page, "Two phones", "May 2027").click()
    page.keyboard.press("Enter")
    amount = page.get_by_label("Two phones, 2027-05, amount")
    amount.fill("dear")
    amount.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Write an amount")
    amount.press("Escape")
    expect(cell(page, "Two phones", "May 2027")).to_be_focused()
    page.keyboard.press("ArrowRight")
    expect(cell(page, "Two phones", "Jun 2027")).to_be_focused()
    page.keyboard.press("1")
    page.keyboard.type("00")
    expect(page.get_by_label("Two phones, 2027-06, amount")).to_have_value("100")
    page.get_by_role("button", name="From here on").click()
    expect(cell(page, "Two phones", "Jul 2027")).to_have_text("−100.00")
    after = months(page, demo)
    assert [before[month] - after[month] for month in ("2027-05", "2027-06", "2027-08")] == [0, 22_00, 66_00]
    # A month that has nothing is written in like the others.
    expect(cell(page, "Water and drains", "Jul 2027")).to_have_text("")
    cell(page, "Water and drains", "Jul 2027").click()
    page.keyboard.press("Enter")
    page.get_by_label("Water and drains, 2027-07, amount").fill("20")
    page.get_by_role("button", name="Just this once").click()
    expect(cell(page, "Water and drains", "Jul 2027")).to_have_text("−20.00")
    expect(cell(page, "Water and drains", "Aug 2027")).to_have_text("")
    page.set_viewport_size({"width": 390, "height": 844})
    expect(grid.get_by_role("rowheader", name="Two phones")).to_be_in_viewport()


def test_rows_of_months_stand_in_an_order_of_ones_own(page: Page, demo: str) -> None:
    def names() -> list[str]:
        heads = page.get_by_role("grid", name="Months").get_by_role("rowheader")
        expect(heads.filter(has_text="Internet")).to_be_visible()
        texts = heads.all_inner_texts()
        at = texts.index("Internet")
        return texts[at - 1 : at + 2]

    page.goto(f"{demo}/ahead/months")
    before, phones = names()[0], "Two phones"
    assert names()[1:] == ["Internet", phones]
    cell(page, phones, "May 2027").click()
    page.keyboard.press("Alt+ArrowUp")
    expect(cell(page, phones, "May 2027")).to_be_focused()
    assert names()[-1] != phones
    page.reload()
    assert names()[0] == phones
    heads = page.get_by_role("grid", name="Months").get_by_role("rowheader")
    heads.filter(has_text="Internet").drag_to(heads.filter(has_text=phones))
    expect(heads.filter(has_text=phones)).to_be_visible()
    assert names() == [before, "Internet", phones]
    # No row leaves its group.
    cell(page, "Wren's pay, Harrow Kiln", "May 2027").click()
    for _ in range(9):
        page.keyboard.press("Alt+ArrowDown")
    expect(heads.nth(1)).not_to_have_text("Internet")
    assert names() == [before, "Internet", phones]


def test_blocks_of_months_are_copied_pasted_and_filled_along(page: Page, demo: str) -> None:
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.goto(f"{demo}/ahead/months")
    cell(page, "Internet", "Apr 2027").click()
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Control+c")
    assert page.evaluate("navigator.clipboard.readText()") == "−64.90\t−64.90\n−78.00\t−78.00"
    page.evaluate("navigator.clipboard.writeText('70\\t71\\n80\\t81')")
    page.keyboard.press("Control+v")
    expect(cell(page, "Two phones", "May 2027")).to_have_text("−81.00")
    expect(cell(page, "Internet", "Apr 2027")).to_have_text("−70.00")
    # Another shape, or what is no number, changes nothing.
    page.evaluate("navigator.clipboard.writeText('1\\t2\\t3')")
    page.keyboard.press("Control+v")
    expect(
        page.get_by_text("1 row of 3 cells were copied, 2 rows of 2 cells are chosen. Nothing was changed.").first
    ).to_be_visible()
    cell(page, "Internet", "Apr 2027").click()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    page.get_by_role("button", name="Fill along the row").click()
    expect(cell(page, "Internet", "Jul 2027")).to_have_text("−70.00")
    expect(cell(page, "Internet", "Aug 2027")).to_have_text("−64.90")
    # Two payments in a month are changed together, to the cent.
    cell(page, "Wren's pay, Harrow Kiln", "May 2027").dblclick()
    page.get_by_label("Wren's pay, Harrow Kiln, 2027-05, amount").fill("4000.01")
    page.keyboard.press("Enter")
    expect(cell(page, "Wren's pay, Harrow Kiln", "May 2027")).to_have_text("4,000.01")
    for _ in range(3):
        page.keyboard.press("Control+z")
    expect(cell(page, "Internet", "Apr 2027")).to_have_text("−64.90")


def test_days_are_filtered_unfolded_and_walked_and_an_item_moved(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/ahead?span=10y")
    run = page.get_by_role("region", name="Run of days")
    expect(page.get_by_test_id("band")).to_have_attribute("d", re.compile("M.+Z"))
    page.get_by_role("slider").focus()
    for _ in range(12):
        page.keyboard.press("+")
    expect(page.get_by_test_id("band")).to_have_count(0)
    page.get_by_role("button", name="All of it again").click()
    expect(page.get_by_test_id("band")).to_have_count(1)
    page.goto(f"{demo}/ahead")
    held = run.get_by_role("button", name=re.compile("Groceries, held back until Wed Mar 31"))
    expect(held).to_contain_text("−880.00")
    held.click()
    expect(run.get_by_role("button", name=re.compile(r"Groceries −29\.3")).first).to_be_visible()
    held.click()
    run.get_by_label("Kind shown").click()
    page.get_by_role("option", name="Income").click()
    expect(run.get_by_role("button", name=re.compile("Mortgage"))).to_have_count(0)
    # What leaves as a table is what is shown.
    with page.expect_download() as kept:
        run.get_by_role("button", name="As a table").click()
    lines = list(csv.reader(Path(kept.value.path()).read_text("utf-8-sig").splitlines()))
    assert lines[0][:4] == ["day", "what", "account", "amount"]
    assert len(lines) > 3
    assert all(Decimal(line[3]) > 0 for line in lines[1:])
    run.get_by_role("button", name="Show all").click()
    run.get_by_role("button", name="To the next low point").click()
    run.get_by_role("button", name="To the next low point").click()
    expect(run.get_by_role("button", name=re.compile("^Thu Apr 1"))).to_be_in_viewport()
    check_axe()
    # The roof is paid a day later by keys, and back again by undo.
    line = run.get_by_role("button", name=re.compile("Boathouse roof"))
    line.focus()
    page.keyboard.press("Alt+ArrowDown")
    expect(page.get_by_text("Boathouse roof, our share moved just this once.").first).to_be_visible()
    expect(run.get_by_role("button", name=re.compile("Tue Mar 30"))).to_have_count(1)
    page.keyboard.press("Control+z")
    expect(run.get_by_role("button", name=re.compile("Tue Mar 30"))).to_have_count(0)
    page.goto(f"{demo}/ahead?from=abc&until=2027-99-01&accounts=joint,nobody")
    expect(run.get_by_role("button", name=re.compile("Mortgage")).first).to_be_visible()


def test_what_ifs_begin_from_a_few_figures_and_stand_side_by_side(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    for kept in ("less-away", "gran-more"):
        page.request.delete(f"{demo}/api/what-ifs/{kept}")
    page.goto(f"{demo}/ahead/what-ifs")
    # An empty place shows what it would show: the plan, alone so far.
    expect(page.get_by_role("table", name="Side by side").get_by_role("columnheader")).to_have_count(1)
    page.get_by_label("by per cent").fill("4")
    page.get_by_role("region", name="A new what-if").get_by_role("button", name="Look at it").click()
    expect(page.get_by_text("Choose a group.")).to_be_visible()
    page.get_by_label("Everything in").click()
    page.get_by_role("option", name="Home").click()
    page.get_by_role("region", name="A new what-if").get_by_role("button", name="Look at it").click()
    bar = page.get_by_role("region", name="What-if", exact=True)
    expect(bar).to_contain_text("Home up 4 % from April 1, 2027")
    bar.get_by_role("button", name="Leave it").click()
    page.get_by_role("radio", name="An income stops for a while").click()
    page.get_by_label("Income").click()
    page.get_by_role("option", name="Wren's pay, Harrow Kiln").click()
    page.get_by_role("region", name="A new what-if").get_by_role("button", name="Look at it").click()
    bar.get_by_role("button", name="Leave it").click()
    table = page.get_by_role("table", name="Side by side")
    ids = [each["id"] for each in page.request.get(f"{demo}/api/what-ifs").json()["what_ifs"]]
    told = page.request.get(f"{demo}/api/side-by-side?what_ifs={','.join(ids)}&years=2").json()
    for way in told["ways"]:
        expect(table).to_contain_text(f"{way['year_ends'][0]['balance'] / 100:,.2f}".replace("-", "−"))
    expect(page.get_by_test_id("way")).to_have_count(3)
    check_axe()
    kept = page.get_by_role("region", name="What-ifs that are kept")
    kept.get_by_role("button", name="Another name").first.click()
    page.get_by_label("Another name").fill("A dear house")
    page.keyboard.press("Enter")
    expect(table).to_contain_text("A dear house")
    kept.get_by_role("button", name="Throw away").first.click()
    expect(page.get_by_test_id("way")).to_have_count(2)
    page.set_viewport_size({"width": 390, "height": 844})
    expect(kept.get_by_role("listitem")).to_have_count(1)


def test_the_years_bills_and_what_all_is_worth(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/ahead/year")
    bills = page.get_by_role("table", name="Bills of 2027")
    told = page.request.get(f"{demo}/api/year-list?year=2027").json()
    expect(bills.get_by_role("row", name=re.compile("Together"))).to_contain_text(f"{told['total'] / 100:,.2f}")
    expect(
        bills.get_by_role("row", name=re.compile("Flute lessons")).get_by_role("button", name="$42.00 past due")
    ).to_be_visible()
    check_axe()
    bills.get_by_role("button", name=re.compile("^Flute lessons.*past due")).click()
    page.get_by_role("button", name=re.compile(r"^Settle \$42\.00")).click()
    expect(bills.get_by_role("row", name=re.compile("Flute lessons")).get_by_text("past due")).to_have_count(0)
    expect(bills.get_by_role("row", name=re.compile("Flute lessons"))).to_contain_text("42.00 settled")
    page.set_viewport_size({"width": 390, "height": 844})
    expect(page.get_by_text("Still owed on debts")).to_be_visible()
    page.goto(f"{demo}/print/year?year=2027")
    expect(page.get_by_role("heading", name="Bills of 2027, The Thornquills of Sandry Quay")).to_be_visible()
    pdf = page.pdf(prefer_css_page_size=True)
    assert len(re.findall(rb"/Type\s*/Page\b", pdf)) == 1
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(f"{demo}/ahead/worth")
    worth = page.request.get(f"{demo}/api/net-worth?from=2027-03-01&to=2027-03-01").json()["together"][0]
    expect(page.get_by_role("figure")).to_contain_text(f"${worth / 100:,.2f} today: ")
    check_axe()


def test_a_bill_is_dragged_in_the_calendar_and_a_holiday_asked_for(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/ahead/calendar?month=2027-05")
    expect(page.locator("[data-day='2027-05-31']")).to_contain_text("Memorial Day")
    page.goto(f"{demo}/ahead/calendar?month=2027-04")
    expect(page.locator("[data-day='2027-04-01']")).to_have_attribute("data-depth", "floor")
    check_axe()
    bill = page.locator("[data-day='2027-04-14']").get_by_role("button", name=re.compile("Electricity"))
    page.set_viewport_size({"width": 1280, "height": 1000})
    drag(page, bill, page.locator("[data-day='2027-04-20']"))
    page.get_by_role("button", name="From here on").click()
    expect(
        page.locator("[data-day='2027-04-20']").get_by_role("button", name=re.compile("Electricity"))
    ).to_be_visible()
    rules = next(each for each in page.request.get(f"{demo}/api/plan").json()["flows"] if each["id"] == "electricity")
    assert rules["revisions"][-1]["rules"] == ["FREQ=MONTHLY;BYMONTHDAY=20"]
    page.locator("[data-day='2027-04-20']").get_by_role("button", name=re.compile("Electricity")).click()
    expect(page.get_by_role("complementary").or_(page.get_by_role("dialog")).first).to_be_visible()
    page.goto(f"{demo}/ahead")
    page.get_by_role("button", name="Can we afford it?").click()
    asking = page.get_by_role("region", name="Can we afford it")
    asking.get_by_label("Amount (USD)").fill("600")
    expect(asking).to_contain_text("Not then: on Wed Mar 3")
    expect(asking).to_contain_text("From Fri Apr 2 on it would hold")
    asking.get_by_role("button", name="Look at it as a what-if from Fri Apr 2").click()
    expect(page.get_by_role("region", name="What-if", exact=True)).to_contain_text("$600.00 once")
    page.get_by_role("button", name="Throw away").click()
    expect(page.get_by_role("region", name="What-if", exact=True)).to_have_count(0)


def test_picked_days_have_their_figures(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/ahead?from=2027-03-10&until=2027-04-05")
    page.get_by_text("Figures for Wed Mar 10 to Mon Apr 5").click()
    table = page.get_by_role("table", name="Figures for these days")
    told = page.request.get(f"{demo}/api/figures?from=2027-03-10&to=2027-04-05&accounts=joint").json()
    for name in ("opening", "closing", "average"):
        expect(table).to_contain_text(f"${told[name] / 100:,.2f}")
    expect(table.get_by_role("row", name=re.compile("Days below the floor 1"))).to_be_visible()
    check_axe()
    page.goto(f"{demo}/ahead?from=2027-03-10&until=2027-04-05&accounts=joint,tin")
    page.get_by_text("Figures for Wed Mar 10 to Mon Apr 5").click()
    page.get_by_role("radio", name="Joint checking").click()
    expect(table).to_contain_text(f"${told['opening'] / 100:,.2f}")
    page.get_by_role("radio", name="Together").click()
    both = page.request.get(f"{demo}/api/figures?from=2027-03-10&to=2027-04-05&accounts=joint,tin").json()
    expect(table).to_contain_text(f"${both['opening'] / 100:,.2f}")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{demo}/ahead?span=1y")
    page.get_by_role("button", name="All 3 low stretches").click()
    low = page.get_by_role("table", name="Low stretches")
    expect(low.get_by_role("row", name=re.compile("Thu Apr 1 floor"))).to_contain_text("Mortgage $2,184.55")
    assert low.evaluate("table => table.scrollWidth <= document.documentElement.clientWidth")
    check_axe()
