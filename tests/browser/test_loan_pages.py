"""Debts in the browser: adding loans, alternatives, adopting, why a number is what it is, and what leaves on paper."""

import re
from collections.abc import Callable

from hands import choose, fill
from playwright.sync_api import Page, expect


def saved(page: Page, button: str) -> None:
    page.get_by_role("button", name=button, exact=True).click()
    expect(page.locator("[data-slip]")).to_have_count(0)


def test_a_loan_begun_long_ago_is_taken_as_paid_until_now(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/debts?slip=loan:new")
    page.get_by_label("Name", exact=True).fill("Cottage")
    page.get_by_label("Borrowed (USD)").fill("180000")
    page.get_by_label("Rate, % a year").fill("4.75")
    page.get_by_label("Number of payments").fill("360")
    page.get_by_label("Paid out on").fill("2021-09-15")
    page.get_by_label("First payment").fill("2021-11-01")
    expect(page.get_by_label("It was paid as agreed until now: $163,541.48 owed")).to_be_checked()
    expect(page.get_by_label("Nothing was paid yet")).not_to_be_checked()
    check_axe()
    saved(page, "Add the loan")
    loans = page.request.get(f"{demo}/api/debts").json()["loans"]
    told = next(loan for loan in loans if loan["name"] == "Cottage")
    assert (told["owed"], told["payments_left"], told["interest_left"]) == (163_541_48, 296, 114_389_81)
    page.goto(f"{demo}/debts/{told['id']}")
    expect(page.get_by_role("heading", name="Cottage")).to_be_visible()
    events = page.request.get(f"{demo}/api/forecast?until=2027-03-01").json()["events"]
    assert not [each for each in events if each["flow"] == f"{told['id']}-payment" and each["status"] == "past_due"]


def test_a_mortgage_joined_mid_life_and_a_solar_loan_are_added_compared_and_adopted(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(demo)
    expect(page.get_by_role("region", name="Run of days")).to_be_visible()
    page.keyboard.press("4")
    expect(page.get_by_role("heading", name="Debts", exact=True)).to_be_visible()
    check_axe()

    # A mortgage taken over mid-life: what is owed today, the next payment on the 3rd.
    page.get_by_role("button", name="Add a loan").click()
    fill(page, "Name", "The cottage")
    fill(page, "Borrowed (USD)", "200,000")
    fill(page, "Rate, % a year", "6.5")
    fill(page, "Number of payments", "0")
    expect(page.get_by_text("A loan has at least one payment")).to_be_visible()
    fill(page, "Number of payments", "360")
    fill(page, "Paid out on", "2020-01-15")
    fill(page, "First payment", "2020-03-03")
    page.get_by_label("We know what is owed, and what was borrowed").check()
    fill(page, "Owed (USD)", "187,400.12")
    expect(page.get_by_test_id("effect")).to_contain_text("Out of debt:")
    expect(page.get_by_test_id("effect")).to_contain_text("Feb 2050")
    check_axe()
    saved(page, "Add the loan")
    loans = page.get_by_role("table", name="Loans")
    expect(loans).to_contain_text("$187,400.12")
    expect(loans).to_contain_text("6% of $200,000.00")

    # Another of which nobody remembers what was borrowed: what is owed stands in its place.
    page.get_by_role("button", name="Add a loan").click()
    fill(page, "Name", "The van")
    page.get_by_label("It is under way: we know what is owed").check()
    expect(page.get_by_label("Borrowed (USD)")).to_have_count(0)
    fill(page, "Owed (USD)", "6,0o0")
    expect(page.locator("[aria-invalid=true]")).to_have_count(1)
    fill(page, "Owed (USD)", "6,000")
    fill(page, "Rate, % a year", "6.5")
    fill(page, "Payments left", "24")
    fill(page, "Last payment", "2027-02-15")
    fill(page, "Next payment", "2027-03-15")
    check_axe()
    saved(page, "Add the loan")
    van = next(each for each in page.request.get(f"{demo}/api/debts").json()["loans"] if each["name"] == "The van")
    assert (van["owed"], van["payments_left"], van["paid_off"]) == (6_000_00, 24, "2029-02-15")

    # A solar loan with a rate change ahead.
    page.get_by_role("button", name="Add a loan").click()
    fill(page, "Name", "Panels on the shed")
    fill(page, "Borrowed (USD)", "9,000")
    fill(page, "Rate, % a year", "4.5")
    fill(page, "Number of payments", "96")
    expect(page.get_by_test_id("effect")).to_be_visible()  # what stands below it moves no more
    page.get_by_text("Extras, rate changes, escrow, fees and more").press("Enter")
    page.get_by_role("button", name="Another rate from a day on").click()
    page.get_by_label("The rate changes, from, 1").fill("2028-03-01")
    page.get_by_label("Rate, %, 1").fill("6.9")
    saved(page, "Add the loan")
    expect(loans).to_contain_text("Panels on the shed")

    # Four variants of the mortgage, side by side.
    loans.get_by_role("link", name="The cottage").click()
    expect(page.get_by_role("heading", name="The cottage")).to_be_visible()
    table = page.get_by_role("region", name="Alternatives side by side")
    fill(page, "Extra, variant 1", "250")
    expect(table.get_by_role("row", name=re.compile("^Paid off"))).to_contain_text("Feb 2050")
    expect(page.get_by_test_id("alternative")).to_be_attached()
    # The answer and its picture stay in sight where the extra is dragged; what was typed is in the address.
    answer = page.get_by_test_id("loan-answer")
    page.get_by_label("Balloon at the end, variant 1").scroll_into_view_if_needed()
    expect(answer).to_be_in_viewport()
    expect(answer).to_contain_text(re.compile(r"Variant 1: paid off May 2043 .as it is Feb 2050., .*interest saved"))
    fill(page, "A sum once, variant 1", "5,000")
    expect(page).to_have_url(re.compile("5%2C000"))
    page.reload()
    expect(page.get_by_label("A sum once, variant 1")).to_have_value("5,000")
    expect(answer).not_to_contain_text("May 2043")
    fill(page, "A sum once, variant 1", "")
    # What cannot be read, or is refused, is said at its field, and nothing is told or adopted without it.
    fill(page, "Rate, % a year, variant 1", "5,1,1")
    expect(table.get_by_text("Write a rate such as 5.85.")).to_be_visible()
    expect(answer).to_have_text("Variant 1: a field below cannot be taken as it is.")
    expect(table.get_by_role("button", name="Adopt")).to_have_count(0)
    fill(page, "Rate, % a year, variant 1", "")
    fill(page, "Payments left, variant 1", "9000")
    expect(table.get_by_text("This must be 5200 or less.")).to_be_visible()
    fill(page, "Payments left, variant 1", "")
    expect(answer).to_contain_text("paid off May 2043")
    for _ in range(3):
        page.get_by_role("button", name="Add a variant").click()
    fill(page, "Rate, % a year, variant 2", "5.1")
    page.get_by_label("Refinance, variant 2").check()
    fill(page, "Cost of refinancing, variant 2", "3,500")
    fill(page, "Payments left, variant 3", "180")
    page.get_by_label("Paid, variant 4").click()
    page.get_by_role("option", name="half the monthly, every 2 weeks").click()
    expect(page.get_by_role("button", name="Add a variant")).to_have_count(0)
    expect(table.get_by_role("row", name=re.compile("^Breaks even"))).to_contain_text(re.compile(r"\w{3} 20\d\d"))
    expect(table.get_by_role("row", name=re.compile("^Payments left .*180")).first).to_be_visible()
    check_axe()

    # Laid over the plan it is drawn in copper; adopted, the payoff date and the forecast move.
    table.get_by_role("button", name="Show it over the plan").first.click()
    expect(page.get_by_test_id("copper")).to_be_attached()
    before = page.request.get(f"{demo}/api/forecast?until=2027-06-01&accounts=joint").json()["accounts"][0]["steps"]
    table.get_by_role("button", name="Adopt").first.click()
    expect(page.get_by_text("Adopted. Undo takes it back.").first).to_be_visible()
    expect(page.get_by_text(re.compile(r"paid off in \w{3} 204\d"))).to_be_visible()
    after = page.request.get(f"{demo}/api/forecast?until=2027-06-01&accounts=joint").json()["accounts"][0]["steps"]
    assert after[-1][1] == before[-1][1] - 3 * 250_00
    with page.expect_download() as download:
        page.get_by_role("link", name="Workbook").click()
    assert download.value.suggested_filename == "The-cottage.xlsx"
    with page.expect_response(re.compile("/api/undo")):
        page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text(re.compile("paid off in Feb 2050"))).to_be_visible()


def test_the_schedule_is_read_folded_and_asked_why(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/debts/house")
    schedule = page.get_by_role("region", name="Schedule")
    year = schedule.get_by_role("button", name=re.compile("^2027"))
    expect(year).to_have_attribute("aria-expanded", "true")
    schedule.get_by_role("button", name="Interest of payment 93, 1,104.25: why").click()
    expect(page.get_by_text("$235,573.28 × 5.625% ÷ 12 payments a year = $1,104.25.")).to_be_visible()
    page.keyboard.press("Escape")
    year.click()
    expect(schedule.get_by_role("button", name=re.compile("of payment 93,"))).to_have_count(0)
    page.get_by_label("Ends by").fill("2040-01-01")
    page.get_by_role("button", name="Work it out").first.click()
    expect(page.get_by_text(re.compile(r"\$\d+\.\d\d with every payment: it ends on"))).to_be_visible()
    page.get_by_label("Payment to borrow for").fill("1")
    page.get_by_role("button", name="Work it out").nth(1).click()
    expect(page.get_by_text("too small to borrow anything").or_(page.get_by_text("at this rate over"))).to_be_visible()
    check_axe()
    with page.context.expect_page() as paper:
        page.get_by_role("link", name="Print").click()
    expect(paper.value.get_by_role("heading", name="Mortgage, 4 Quay Row: amortization schedule")).to_be_visible()
    expect(paper.value.get_by_role("row")).to_have_count(289)
    paper.value.close()


def test_a_loan_is_tried_without_saving_by_phone_and_then_kept(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{demo}/debts")
    page.get_by_role("link", name="Try a loan").click()
    fill(page, "Borrowed (USD)", "12,000")
    fill(page, "Payment", "50")
    expect(page.get_by_text("The payment does not cover interest")).to_be_visible()
    fill(page, "Payment", "")
    # 12,000 at 6.5 % over 60 months.
    expect(page.get_by_text("$234.79 a payment")).to_be_visible()
    # The same over five years, and what another sum would take; every payment and the day it is paid out add up.
    choose(page, "Counted in", "years")
    fill(page, "Years", "5")
    schedule = page.get_by_role("region", name="Schedule")
    schedule.get_by_role("button", name="Open all years").click()
    schedule.get_by_role("button", name="Fold all years").click()
    expect(schedule.get_by_text("In all, 60")).to_be_visible()
    expect(schedule.locator("[data-row='0']")).to_contain_text("12,000.00")
    page.get_by_label("Borrowed, variant 1").fill("6,000")
    expect(page.get_by_role("row", name="Principal and interest")).to_contain_text("$117.40")
    check_axe()
    assert len(page.request.get(f"{demo}/api/debts").json()["loans"]) == 3
    page.get_by_role("button", name="Put it into the household…").click()
    fill(page, "Name", "A van")
    expect(page.get_by_role("dialog").get_by_label("Years", exact=True)).to_have_value("5")
    saved(page, "Add the loan")
    assert "A van" in [loan["name"] for loan in page.request.get(f"{demo}/api/debts").json()["loans"]]


def test_what_was_paid_before_the_loan_was_kept_here_stands_in_its_year(page: Page, demo: str) -> None:
    page.goto(f"{demo}/debts?slip=loan:house")
    slip = page.get_by_role("complementary", name="Mortgage, 4 Quay Row")
    slip.get_by_role("button", name="A year before it was kept here").click()
    for field, typed in (("year", "2025"), ("interest paid", "13,412.55"), ("property tax paid", "2100")):
        slip.get_by_label(f"Year before 1, {field}").fill(typed)
    slip.get_by_role("button", name="Save").click()
    expect(slip).to_have_count(0)
    page.goto(f"{demo}/debts/years?year=2025")
    year = page.get_by_role("region", name="Mortgage, 4 Quay Row")
    expect(year).to_contain_text("of it $13,412.55 before it was kept here")
    expect(year).to_contain_text("$2,100.00 property tax")
