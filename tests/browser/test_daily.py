"""The daily five minutes: settling by keyboard, entries by phone, allowances, and taking all of it back."""

import re
from collections.abc import Callable

from hands import choose, fill
from playwright.sync_api import Page, expect


def due_rows(page: Page) -> list[str]:
    return [str(row.get_attribute("aria-label")) for row in page.locator("[data-due]").all()]


def test_a_week_is_settled_by_keyboard_alone(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    before = page.request.get(f"{demo}/api/plan").json()
    page.goto(demo)
    expect(page.get_by_role("region", name="Run of days")).to_be_visible()
    page.keyboard.press("2")
    expect(page.get_by_role("heading", name="Settle", exact=True)).to_be_visible()
    expect(page.locator("[data-due]").first).to_contain_text("Flute lessons")
    check_axe()
    count = len(due_rows(page))

    # Settle as expected, settle a part, leave out, put off: each with its key.
    page.locator("[data-due]").first.focus()
    page.keyboard.press("Enter")
    expect(page.locator("[data-due]")).to_have_count(count - 1)
    expect(page.locator("[data-due]").first).to_be_focused()
    # A direct debit that was assumed is confirmed the same way.
    page.keyboard.press("Enter")
    expect(page.locator("[data-due]")).to_have_count(count - 2)
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("group", name=re.compile("Mortgage"))).to_be_focused()
    page.keyboard.press("ArrowUp")
    fuel = next(line for line in page.request.get(f"{demo}/api/settle").json()["due"] if line["flow"] == "fuel")
    page.keyboard.press("a")
    expect(page.get_by_label("Amount", exact=True)).to_be_focused()
    page.keyboard.type("2,184.555")
    expect(page.get_by_text("USD has 2 decimals")).to_be_visible()
    page.keyboard.press("Control+a")
    page.keyboard.type("20")
    page.get_by_role("button", name="A part: the rest stays due").press("Enter")
    rest = fuel["amount"] - 2000
    expect(page.get_by_role("group", name=re.compile(rf"Fuel, \${rest / 100:.2f}"))).to_be_visible()
    insurance = page.get_by_role("group", name=re.compile("Car insurance"))
    insurance.focus()
    page.keyboard.press("p")
    page.get_by_label("To", exact=True).fill("2027-03-19")
    page.get_by_label("To", exact=True).press("Enter")
    expect(insurance).to_have_count(0)
    health = page.get_by_role("group", name=re.compile("Health plan share"))
    health.focus()
    # A row is gone at once, and saved a moment later.
    with page.expect_response(lambda answer: answer.url.endswith("/api/settle") and answer.request.method == "POST"):
        page.keyboard.press("l")
    expect(health).to_have_count(0)
    expect(page.get_by_role("region", name="Settled today")).to_contain_text("Flute lessons")

    forecast = page.request.get(f"{demo}/api/forecast?until=2027-03-25&accounts=joint").json()["events"]
    told = {(event["name"], event["amount"], event["status"]) for event in forecast}
    assert ("Fuel", -rest, "expected") in told
    assert ("Car insurance", -59600, "expected") in told
    assert not any(name == "Health plan share" for name, _, _ in told)

    # From here on: the flute costs more; what was expected before stays.
    page.keyboard.press("3")
    page.get_by_role("button", name="Flute lessons", exact=True).click()
    page.get_by_label("Amount (USD)").fill("48")
    expect(page.get_by_role("group", name="The change counts")).to_contain_text("From here on")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("complementary")).to_have_count(0)
    flute = next(flow for flow in page.request.get(f"{demo}/api/plan").json()["flows"] if flow["id"] == "flute")
    assert (flute["amount"], flute["revisions"]) == (4200, [{"from": "2027-03-01", "amount": 4800, "rules": None}])

    for _ in range(6):
        with page.expect_response(re.compile("/api/undo")):
            page.get_by_role("button", name="Undo").click()
    assert page.request.get(f"{demo}/api/plan").json() == before


def test_an_unplanned_expense_by_phone(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{demo}/ahead")
    allowance = page.get_by_role("region", name="Allowances").get_by_role("button", name=re.compile("Out and about"))
    expect(allowance).to_contain_text("left")
    left = allowance.inner_text()
    page.get_by_role("button", name="Record, find or do").click()
    page.get_by_role("option", name="Record an expense or income").click()
    page.get_by_label("Amount (USD)").fill("23.40")
    # The payee brings its category back.
    page.get_by_label("Payee").fill("The Drowsy Heron")
    expect(page.get_by_label("Category", exact=True)).to_contain_text("Outings and treats")
    check_axe()
    page.get_by_role("button", name="Record it").click()
    expect(allowance).not_to_contain_text(re.search(r"\$[\d.,]+ left", left)[0])  # type: ignore[index]
    page.get_by_role("button", name="Undo").click()
    expect(allowance).to_have_text(re.compile(re.escape(re.search(r"\$[\d.,]+ left", left)[0])))  # type: ignore[index]


def test_a_register_is_searched_corrected_and_split(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/accounts")
    page.get_by_role("link", name="Register of Joint checking").click()
    entries = page.get_by_role("region", name="Entries").get_by_role("listitem")
    expect(entries.first).to_be_visible()
    check_axe()
    page.get_by_label("Search payee, category, tags and notes").fill("tollgate")
    expect(page).to_have_url(re.compile("q=tollgate"))
    expect(entries.first).to_contain_text("Tollgate Larder")
    page.reload()
    expect(entries.first).to_contain_text("Tollgate Larder")
    entries.first.get_by_role("button").first.click()
    page.get_by_label("Amount (USD)").fill("60")
    page.get_by_role("button", name="Split it").click()
    page.get_by_label("Category 1").click()
    page.get_by_role("option", name="Juniper's things").click()
    page.get_by_label("Amount 1").fill("12.50")
    expect(page.get_by_text("47.50", exact=True)).to_be_visible()
    check_axe()
    page.get_by_role("button", name="Save").click()
    expect(entries.first).to_contain_text("Juniper's things, Groceries")
    expect(entries.first).to_contain_text("−60.00")


def test_an_allowance_shows_what_it_does_before_it_is_saved(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    page.goto(f"{demo}/flows")
    page.get_by_role("button", name="Add an allowance").click()
    effect = page.get_by_test_id("effect")
    before = effect.bounding_box()
    page.get_by_label("Name").fill("Books")
    page.get_by_label("Limit (USD)").fill("90")
    expect(effect).to_contain_text("Joint checking")
    # What is above it has not moved under the hand.
    assert effect.bounding_box() == before
    expect(page.get_by_text("the category “Books” is made for it")).to_be_visible()
    page.get_by_role("button", name="Groceries", exact=True).click()
    page.get_by_role("button", name="Add to the plan").click()
    expect(page.get_by_text("is in the allowance “Groceries” already").first).to_be_visible()
    page.get_by_role("button", name="Groceries", exact=True).click()
    page.get_by_role("button", name="Films and reading", exact=True).click()
    expect(page.get_by_test_id("effect")).to_contain_text("Joint checking")
    check_axe()
    page.get_by_role("button", name="Add to the plan").click()
    expect(page.get_by_role("region", name="Allowances")).to_contain_text("Books")


def test_one_occurrence_is_changed_just_this_once(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead?span=3m")
    page.get_by_role("button", name=re.compile("Two phones")).first.click()
    page.get_by_role("button", name="Change just this once").click()
    page.get_by_label("Amount (USD)").fill("99.95")
    page.get_by_role("button", name="Just this once", exact=True).click()
    line = page.get_by_role("button", name=re.compile("Two phones"))
    expect(line.first).to_contain_text("−99.95")
    page.get_by_text(re.compile(r"\$99.95 just this once")).wait_for()


def test_a_part_is_paid_and_an_expense_recorded_by_keys_alone(page: Page, demo: str) -> None:
    page.goto(f"{demo}/settle")
    row = page.get_by_role("group", name=re.compile("^Flute lessons, ")).first
    row.press("Shift+A")
    form = page.get_by_role("form", name="Settle Flute lessons otherwise")
    form.get_by_label("Amount", exact=True).fill("10")
    form.get_by_label("Amount", exact=True).press("Shift+Enter")
    expect(form).to_have_count(0)
    expect(row).to_contain_text("32.00")
    page.keyboard.press("e")
    slip = page.get_by_role("complementary", name="New entry")
    slip.get_by_label("Amount (USD)").press_sequentially("4.50")
    expect(slip.get_by_label("Amount (USD)")).to_have_value("4.50")
    page.keyboard.press("Control+Enter")
    expect(slip).to_have_count(0)
    entries = page.request.get(f"{demo}/api/plan").json()["entries"]
    assert sorted(each["legs"][0]["amount"] for each in entries[-2:]) == [-10_00, -4_50]


def test_the_focus_is_never_lost_when_what_had_it_goes(page: Page, demo: str) -> None:
    page.goto(f"{demo}/settle")
    for opener in ("Otherwise…", "Put off"):
        page.get_by_role("button", name=opener).first.press("Enter")
        expect(page.locator("#page form input").first).to_be_focused()
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name=opener).first).to_be_focused()
    backs = page.locator("[data-take-back]")
    count = backs.count()
    backs.first.press("Enter")
    expect(backs).to_have_count(count - 1)
    expect(page.locator("#page :focus")).to_have_count(1)
    page.goto(f"{demo}/accounts/joint")
    pen = page.get_by_role("button", name="Correct Sandry Ferries here").first
    for last in ("Escape", "Enter"):
        pen.press("Enter")
        page.get_by_role("form", name="Correct the entry").get_by_label("Payee").press(last)
        expect(pen).to_be_focused()
    # A flow that is deleted, a what-if that is named or not after all: where one was, or beside it.
    page.goto(f"{demo}/flows?slip=flow:new")
    fill(page, "Name", "Just now")
    fill(page, "Amount (USD)", "5")
    page.keyboard.press("Control+Enter")
    just_now = page.get_by_role("main").get_by_role("button", name=re.compile("^Just now"))
    just_now.press("Enter")
    page.get_by_role("button", name="Delete").press("Enter")
    expect(just_now).to_have_count(0)
    expect(page.locator("#page :focus")).to_have_count(1)
    chooser = page.get_by_role("combobox", name="What is looked at")
    for key in ("Escape", "Enter"):
        chooser.press("Enter")
        page.get_by_role("option", name="A new what-if…").click()
        page.get_by_label("Name of the what-if").fill("Dearer")
        page.keyboard.press(key)
        expect(chooser).to_be_focused()
    expect(chooser).to_contain_text("What if: Dearer")
    page.goto(f"{demo}/ahead")
    question = page.get_by_role("button", name="Can we afford it?")
    question.press("Enter")
    page.get_by_role("region", name="Can we afford it").get_by_label("Amount (USD)").press("Escape")
    expect(question).to_be_focused()
    expect(question).to_have_attribute("aria-expanded", "false")


def test_money_moved_that_comes_to_a_payment_is_asked_whether_it_is_that(
    page: Page, demo: str, check_axe: Callable[[], None]
) -> None:
    def loan() -> dict[str, int]:
        return next(each for each in page.request.get(f"{demo}/api/debts").json()["loans"] if each["id"] == "house")

    left, owed = loan()["payments_left"], loan()["owed"]
    due = 2_184_55
    for pays, is_payment in (("An extra, all of it off what is owed", False), ("The payment due", True)):
        page.goto(f"{demo}/accounts?slip=entry:new")
        page.get_by_role("radio", name="Moved").click()
        fill(page, "Amount (USD)", "2184.55")
        choose(page, "To", "Mortgage, 4 Quay Row")
        # Without an answer it is not saved.
        page.keyboard.press("Control+Enter")
        question = page.get_by_role("group", name="This is").last
        expect(page.get_by_role("alert")).to_contain_text("Not saved yet. This is: Say which it is.")
        expect(question.get_by_role("radio").first).to_be_focused()
        check_axe()
        question.get_by_role("radio", name=re.compile(f"^{pays}")).click()
        page.keyboard.press("Control+Enter")
        expect(page.locator("[data-slip]")).to_have_count(0)
        if is_payment:
            assert loan()["payments_left"] == left - 1
            assert 0 < owed - loan()["owed"] < due
        else:
            assert owed - loan()["owed"] == due
        page.request.post(f"{demo}/api/undo")
        assert (loan()["payments_left"], loan()["owed"]) == (left, owed)
