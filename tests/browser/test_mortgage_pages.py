"""Statement check, escrow and what was recorded whole, as a household meets them."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

# What the lender's statement says on the demo's first of March: the books without their three mistakes.
STATEMENT = {
    "Still owed": "235,577.40", "In escrow": "5,956.22", "Interest paid this year": "2,214.66",
    "Paid into escrow this year": "1,283.58", "Last payment: principal": "436.45",
    "Last payment: interest": "1,106.31", "Last payment: escrow": "641.79",
}  # fmt: skip


def test_the_demos_mistakes_are_found_and_corrected_and_the_check_agrees(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/debts")
    page.get_by_role("link", name="See what that does").click()
    row = page.get_by_role("row", name=re.compile("Spent in 2026"))
    expect(row).to_contain_text("$59,083.23")
    check_axe()
    page.get_by_role("link", name="Debts", exact=True).first.click()
    page.get_by_role("link", name="Mortgage, 4 Quay Row").click()
    page.get_by_role("link", name="Statement check").click()
    page.get_by_label("Still owed, on the statement").fill("235.577,40")
    expect(page.get_by_text("A comma stands between thousands here")).to_be_visible()
    for name, amount in STATEMENT.items():
        page.get_by_label(f"{name}, on the statement").fill(amount)
    expect(page.get_by_text("2 figures differ.")).to_be_visible()
    causes = page.get_by_role("region", name="What explains it")
    for told in ("November 2, 2026 ($2,184.55) was recorded whole", "split like the one before it",
                 "“Property tax” of December 10, 2026"):  # fmt: skip
        expect(causes).to_contain_text(told)
    check_axe()
    causes.get_by_role("button", name="Correct only this").last.click()
    expect(page.get_by_text("2 figures differ.")).to_be_visible()
    expect(causes).not_to_contain_text("Property tax")
    causes.get_by_role("button", name="Correct all of it").click()
    expect(page.get_by_text("It all agrees, to the cent.")).to_be_visible()

    # Kept, it confirms every payment so far; taken back, all is as it was.
    page.get_by_role("button", name="Keep this check").click()
    expect(page.get_by_text(re.compile("Confirmed by a statement until"))).to_be_visible()
    page.reload()
    expect(page.get_by_role("region", name="Checks that were kept")).to_contain_text("agrees")
    page.get_by_role("button", name="Show").click()
    expect(page.get_by_label("Still owed, on the statement")).to_have_value("235,577.40")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("region", name="Checks that were kept")).to_have_count(0)
    page.goto(f"{demo}/debts/whole")
    expect(page.get_by_text("No loan payment is recorded as one expense")).to_be_visible()


def test_escrow_is_analysed_and_its_deposit_changed_and_a_split_typed_over(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/debts/house")
    page.get_by_role("link", name="Escrow", exact=True).click()
    table = page.get_by_role("table", name="Twelve months of escrow")
    expect(table.get_by_role("row", name=re.compile("Jun 2027"))).to_contain_text("−2,086.49")
    page.get_by_text("Hold the lender’s letter against it").click()
    page.get_by_label("New deposit, in the letter").fill("470")
    expect(page.get_by_text("+$10.83")).to_be_visible()
    page.get_by_label("Cushion, in months of deposits").fill("3")
    expect(page.get_by_text("above the legal most")).to_be_visible()
    check_axe()
    page.get_by_role("button", name="The deposit changes").click()
    page.get_by_label("With each payment").fill("459.17")
    page.get_by_label("From", exact=True).fill("2027-04-01")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("form", name="The deposit changes")).to_have_count(0)
    rows = page.request.get(f"{demo}/api/debts/house").json()["rows"]
    assert [row["escrow"] for row in rows if row["due"] in ("2027-03-01", "2027-04-01")] == [641_79, 459_17]

    page.goto(f"{demo}/settle")
    line = page.get_by_role("group", name=re.compile("^Mortgage"))
    line.get_by_role("button", name="Otherwise…").click()
    page.get_by_label("Interest", exact=True).fill("1,100.00")
    page.get_by_label("Principal", exact=True).fill("1.00")
    form = page.get_by_role("form", name="Settle Mortgage otherwise")
    form.get_by_role("button", name="Settle").click()
    expect(page.get_by_role("alert")).to_contain_text("These parts come to")
    page.get_by_label("Principal", exact=True).fill("")
    form.get_by_role("button", name="Settle").click()
    expect(form).to_have_count(0)
    paid = page.request.get(f"{demo}/api/loans/house/statement-checks").json()["payments"][0]
    assert (paid["interest"], paid["principal"]) == (1_100_00, 2_184_55 - 1_100_00 - 641_79)


def test_interest_and_tax_of_a_year_and_a_property_read_on_the_screen_and_on_paper(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/debts/years?year=2026")
    mortgage = page.get_by_role("region", name="Mortgage, 4 Quay Row")
    expect(mortgage).to_contain_text("$6,763.29 to Tarn & Vale Lending, $5,581.92 to Stillwater Home Loans")
    mortgage.get_by_text("The 12 payments behind it").click()
    expect(mortgage.get_by_role("row")).to_have_count(13)
    check_axe()
    page.get_by_label("Year").click()
    page.get_by_role("option", name="2025").click()
    expect(page).to_have_url(re.compile("year=2025"))
    page.goto(f"{demo}/print/loan-years?year=2026")
    expect(page.get_by_role("heading", name="Interest and property tax, 2026")).to_be_visible()
    page.goto(f"{demo}/debts/properties")
    expect(page.get_by_role("region", name="4 Quay Row").get_by_role("row", name=re.compile("Property tax"))
           ).to_contain_text("−4,092.00")  # fmt: skip
    check_axe()
