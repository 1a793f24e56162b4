"""What is kept and proposed: receipts, corrections in place, flows from entries, from here on, setting aside."""

import re
from collections.abc import Callable
from pathlib import Path

from hands import choose
from playwright.sync_api import Locator, Page, expect

PDF = b"%PDF-1.4\n1 0 obj\n<<>>\nendobj\ntrailer\n<<>>\n%%EOF\n"


def saved(page: Page, button: str = "Save") -> None:
    page.get_by_role("button", name=button, exact=True).click()
    expect(page.get_by_role("complementary")).to_have_count(0)


def register(page: Page, demo: str, query: str) -> Locator:
    page.goto(f"{demo}/accounts/joint?{query}")
    entries = page.get_by_role("region", name="Entries").get_by_role("listitem")
    expect(entries.first).to_be_visible()
    return entries


def test_an_entry_is_corrected_in_its_place_tagged_and_has_its_receipt(
    page: Page, demo: str, tmp_path: Path, check_axe: Callable[[], None]
) -> None:
    entries = register(page, demo, "q=tollgate&since=2027-01-01&to=2027-01-31")
    expect(entries.first).to_contain_text("Jan")
    entries.first.get_by_role("button", name="Correct Tollgate Larder here").click()
    form = page.get_by_role("form", name="Correct the entry")
    expect(form.get_by_label("Payee")).to_be_focused()
    form.get_by_label("Payee").fill("Tollgate Larder, Friday")
    form.get_by_label("Amount").fill("61.234")
    form.get_by_label("Amount").press("Enter")
    expect(form.get_by_role("alert")).to_contain_text("USD has 2 decimals")
    check_axe()
    form.get_by_label("Amount").fill("61.23")
    form.get_by_label("Amount").press("Enter")
    expect(entries.first).to_contain_text("Tollgate Larder, Friday")
    expect(entries.first).to_contain_text("−61.23")

    entries.first.get_by_role("button", name=re.compile("Tollgate Larder, Friday")).first.click()
    page.get_by_label("Tags", exact=True).fill("child care, school")
    wrong = tmp_path / "receipt.pdf"
    wrong.write_bytes(b"not a receipt")
    page.get_by_label("Receipt file").set_input_files(wrong)
    expect(page.get_by_text("A receipt is a PDF, PNG or JPEG file")).to_be_visible()
    wrong.write_bytes(PDF)
    page.get_by_label("Receipt file").set_input_files(wrong)
    expect(page.get_by_title("Receipt receipt.pdf")).to_be_visible()
    saved(page)
    expect(entries.first.get_by_label("has a receipt")).to_be_visible()
    expect(entries.first).to_contain_text("school")


def test_repeated_entries_become_a_flow_unasked_or_chosen(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/flows")
    seen = page.get_by_role("region", name="Seen repeating")
    expect(seen).to_contain_text("6 times, every 2 weeks on Wednesday")
    seen.get_by_role("button", name="Make it a flow").click()
    expect(page.get_by_label("Name")).to_have_value("Bramble & Burr, dog walks")
    expect(page.get_by_label("Amount (USD)")).to_have_value("24.00")
    check_axe()
    saved(page, "Add to the plan")
    expect(seen).to_have_count(0)
    expect(page.get_by_role("table", name="Bills")).to_contain_text("Bramble & Burr, dog walks")

    entries = register(page, demo, "q=drowsy")
    for place in range(2):
        entries.nth(place).get_by_role("checkbox").check()
    page.get_by_role("button", name="Make a flow of these 2").click()
    expect(page.get_by_text("Seen 2 times")).to_be_visible()
    expect(page.get_by_label("Payee", exact=True)).to_have_value("The Drowsy Heron")
    saved(page, "Add to the plan")


def test_a_bill_moves_to_another_account_from_here_on(page: Page, demo: str) -> None:
    page.goto(f"{demo}/flows?slip=flow:phones")
    choose(page, "Paid from", "Rainy-day savings")
    expect(page.get_by_role("group", name="The change counts")).to_contain_text("From here on")
    page.get_by_label("From", exact=True).fill("2027-04-01")
    saved(page)
    found = page.request.get(f"{demo}/api/forecast?until=2027-05-01").json()["events"]
    told = [(event["date"], event["account"]) for event in found if event["flow"] == "phones"]
    assert told == [("2027-03-09", "joint"), ("2027-04-09", "rainy-day")]
    # A dearer price on the same day joins it.
    page.goto(f"{demo}/flows?slip=flow:phones")
    page.get_by_label("Amount (USD)").fill("81")
    page.get_by_label("From", exact=True).fill("2027-04-01")
    saved(page)
    flow = next(each for each in page.request.get(f"{demo}/api/plan").json()["flows"] if each["id"] == "phones")
    assert flow["revisions"] == [{"from": "2027-04-01", "amount": 8100, "rules": None, "from_account": "rainy-day"}]


def test_hours_are_entered_per_payday_and_estimates_follow(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead?span=3m")
    page.get_by_role("button", name=re.compile("Odell's hours")).first.click()
    page.get_by_role("button", name="Change just this once").click()
    page.get_by_label("Hours worked").fill("30")
    saved(page, "Just this once")
    # 30 x 21.50 x 0.799
    expect(page.get_by_role("button", name=re.compile("Odell's hours")).first).to_contain_text("515.36")
    page.goto(f"{demo}/flows?slip=flow:electricity")
    choose(page, "Expect", "the average of the last 3 settled")
    page.get_by_label("It always happens (direct debit): assumed until confirmed").check()
    saved(page)
    flow = next(each for each in page.request.get(f"{demo}/api/plan").json()["flows"] if each["id"] == "electricity")
    assert (flow["follows"], flow["always_happens"]) == (3, True)
    page.goto(f"{demo}/settle")
    expect(page.get_by_role("region", name="Assumed: it always happens")).to_contain_text("Internet")
    page.get_by_role("group", name=re.compile("Internet")).get_by_role("button", name="Confirm").click()
    expect(page.get_by_role("region", name="Assumed: it always happens")).to_have_count(0)


def test_money_is_set_aside_for_a_bill_and_from_each_paycheck(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/flows")
    page.get_by_role("button", name="Car insurance", exact=True).click()
    page.get_by_role("button", name="Set its money aside month by month…").click()
    expect(page.get_by_text("$596.00 is there for Car insurance on")).to_be_visible()
    expect(page.get_by_test_id("effect")).to_contain_text("Joint checking")
    check_axe()
    saved(page, "Add to the plan")
    goals = page.get_by_role("region", name="Set aside")
    expect(goals).to_contain_text("$0.00 of $596.00")

    page.get_by_role("button", name="Set money aside", exact=True).click()
    page.get_by_label("What for").fill("New sail")
    page.get_by_label("How much (USD)").fill("100")
    page.get_by_label("There by").fill("2027-03-02")
    # What is said at the field moves what is below it.
    expect(page.get_by_text("No transfer comes before then")).to_be_visible()
    page.get_by_role("radio", name="with each paycheck").click()
    expect(page.get_by_text("No paycheck comes before then")).to_be_visible()
    page.get_by_label("There by").fill("2027-04-17")
    expect(page.get_by_text("$25.00, 4 times")).to_be_visible()
    saved(page, "Add to the plan")
    expect(goals).to_contain_text("New sail")


def test_a_category_gets_an_icon_and_is_retired(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/accounts?slip=category:reading")
    page.get_by_role("radio", name="film", exact=True).click()
    page.get_by_label("Retired: kept for what was, not offered any more").check()
    check_axe()
    saved(page)
    category = next(c for c in page.request.get(f"{demo}/api/plan").json()["categories"] if c["id"] == "reading")
    assert (category["icon"], category["retired"]) == ("film", True)
    page.goto(f"{demo}/ahead?slip=entry:new")
    page.get_by_label("Category", exact=True).click()
    expect(page.get_by_role("option", name="Groceries")).to_be_visible()
    expect(page.get_by_role("option", name="Films and reading")).to_have_count(0)
