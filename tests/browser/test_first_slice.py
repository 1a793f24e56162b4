"""A household sets itself up by clicking and typing, and what it sees is what the core says."""

import re
import shutil
from collections.abc import Callable
from pathlib import Path

from hands import choose
from playwright.sync_api import Page, expect

Served = Callable[..., str]


def shown_events(page: Page, count: int) -> list[tuple[str, str]]:
    """The names and balances in the run of days, once it shows that many."""
    rows = page.get_by_role("region", name="Run of days").get_by_role("listitem")
    expect(rows).to_have_count(count)
    return [
        (spans[1].strip(), spans[5].strip())
        for spans in (row.locator("button > span").all_inner_texts() for row in rows.all())
    ]


def find_or_do(page: Page, words: str) -> None:
    page.keyboard.press("/")
    box = page.get_by_role("combobox", name="Find or do")
    box.fill(words)
    expect(page.get_by_role("option", selected=True)).to_contain_text(re.compile(words, re.IGNORECASE))
    box.press("Enter")


def test_an_empty_household_is_set_up_and_kept(
    page: Page, served: Served, tmp_path: Path, check_axe: Callable[[], None]
) -> None:
    file = str(tmp_path / "home.sqlite3")
    address = served("serve", "--file", file)
    page.goto(address)
    expect(page.get_by_role("heading", name="Will it last until payday?")).to_be_visible()
    check_axe()

    page.get_by_role("button", name="Add your first account").click()
    page.get_by_label("Name").fill("Everyday")
    page.get_by_label("Balance today").fill("640.129")
    expect(page.get_by_text("USD has 2 decimals")).to_be_visible()
    page.get_by_label("Balance today").fill("640.12")
    page.get_by_label("Floor").fill("200")
    page.get_by_label("Cushion").fill("150")
    expect(page.get_by_text("The cushion ($150.00) is below the floor ($200.00)")).to_be_visible()
    page.get_by_label("Cushion").fill("300")
    # The tideline draws itself before anything is saved.
    expect(page.get_by_test_id("effect")).to_contain_text("$640.12 today")
    check_axe()
    page.keyboard.press("Control+Enter")

    page.get_by_role("button", name="Add a payday").click()
    page.get_by_label("Name").fill("Pay")
    page.get_by_label("Amount (USD)").fill("1,480.50")
    choose(page, "When", "every 2 weeks")
    page.get_by_label("First on").fill("2027-03-05")
    dates = page.get_by_test_id("next-dates")
    expect(dates).to_contain_text("every 2 weeks on Friday.")
    expect(dates.get_by_role("listitem")).to_have_text(
        ["Fri Mar 5", "Fri Mar 19", "Fri Apr 2", "Fri Apr 16", "Fri Apr 30", "Fri May 14"]
    )
    page.get_by_role("button", name="Add to the plan").click()

    page.get_by_role("button", name="Add a bill").click()
    page.get_by_label("Name").fill("Rent")
    page.get_by_label("Amount (USD)").fill("1150")
    choose(page, "When", "another rhythm")
    days = page.get_by_label("Days of the month", exact=True)
    days.get_by_text("last day").click()
    expect(dates).to_contain_text("on the last day of every month.")
    page.get_by_label("Starting").fill("2027-03-10")
    choose(page, "Ending", "on a date")
    page.get_by_label("Last date").fill("2027-03-05")
    expect(page.get_by_text("It ends before it starts").first).to_be_visible()
    page.get_by_role("button", name="Add to the plan").click()
    expect(page.get_by_role("button", name="Add to the plan")).to_be_visible()
    page.get_by_label("Last date").fill("2027-12-31")
    page.get_by_role("button", name="Add to the plan").click()
    expect(page.get_by_role("complementary")).to_have_count(0)

    expect(page.get_by_text("free until Pay on Fri Mar 5")).to_be_visible()
    expected = page.request.get(f"{address}/api/forecast?until=2027-04-12").json()["events"]
    assert [name for name, _ in shown_events(page, len(expected))] == [event["name"] for event in expected]
    assert [text for _, text in shown_events(page, len(expected))] == [
        f"{event['balance'] / 100:,.2f}" for event in expected
    ]
    check_axe()

    page.reload()
    expect(page.get_by_text("free until Pay on Fri Mar 5")).to_be_visible()
    assert [name for name, _ in shown_events(page, len(expected))] == [event["name"] for event in expected]
    # Undo takes the rent back and redo brings it again; a restart of the app keeps both possible.
    address = served("serve", "--file", file)
    page.goto(address)
    expect(page.get_by_text("Rent", exact=True).first).to_be_visible()
    page.locator("body").press("Control+z")
    expect(page.get_by_text("Undone: added “Rent”").first).to_be_visible()
    expect(page.get_by_role("heading", name="Will it last until payday?")).to_be_visible()
    page.locator("body").press("Control+Shift+z")
    expect(page.get_by_text("Rent", exact=True).first).to_be_visible()


def test_a_slip_shows_what_it_does_before_it_is_saved(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(f"{demo}/flows")
    page.get_by_role("button", name="For Gran's helper", exact=True).click()
    check_axe()
    expect(page).to_have_url(re.compile("slip=flow"))
    page.get_by_label("Amount (USD)").fill("490")
    effect = page.get_by_test_id("effect")
    expect(effect).to_contain_text("Joint checking")
    expect(effect).to_contain_text("$86.35 short")
    expect(effect).to_contain_text("$186.35 short")
    expect(page.get_by_test_id("copper")).to_be_attached()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("copper")).not_to_be_attached()
    expect(page.get_by_role("complementary")).to_have_count(0)
    page.get_by_role("button", name="For Gran's helper", exact=True).click()
    page.get_by_role("button", name="Delete").click()
    expect(page.get_by_text("what has happened is kept")).to_be_visible()
    # What has a past is ended in place of being deleted.
    page.get_by_role("button", name="End it today").click()
    expect(page.get_by_role("complementary")).to_have_count(0)
    flows = page.request.get(f"{demo}/api/plan").json()["flows"]
    assert next(each["until"] for each in flows if each["id"] == "gran") == "2027-03-01"


def test_every_line_says_why_and_a_stretch_can_be_picked(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead?span=3m")
    page.get_by_role("button", name=re.compile("Solar loan")).first.click()
    expect(page.get_by_text("Payment 18 of 120 of “Solar loan”: interest $48.64, principal $105.50.")).to_be_visible()
    tideline = page.get_by_role("slider", name=re.compile("Tideline"))
    tideline.focus()
    for key in ("PageDown", "ArrowRight", "Shift+PageDown"):
        tideline.press(key)
    expect(page.get_by_test_id("reading")).to_contain_text("Tue Mar 16")
    expect(page.get_by_role("button", name="Tue Mar 9 to Tue Mar 16")).to_be_visible()
    expect(page.get_by_role("region", name="Run of days").get_by_role("listitem").first).to_contain_text("Mar 9")
    tideline.press("Escape")
    box = tideline.bounding_box()
    assert box
    page.mouse.move(box["x"] + 500, box["y"] + 50)
    page.mouse.down()
    page.mouse.move(box["x"] + 700, box["y"] + 50, steps=4)
    page.mouse.up()
    expect(page).to_have_url(re.compile(r"from=2027-.*until=2027-"))


def test_keys_lead_everywhere(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.goto(demo)
    expect(page.get_by_role("region", name="Run of days")).to_be_visible()
    page.keyboard.press("6")
    expect(page.get_by_role("heading", name="Accounts")).to_be_visible()
    check_axe()
    page.keyboard.press("3")
    expect(page.get_by_role("heading", name="Flows")).to_be_visible()
    find_or_do(page, "mooring")
    expect(page.get_by_role("heading", name="Mooring, the Periwinkle")).to_be_visible()
    page.get_by_label("Payee").fill("The harbour")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("Changed “Mooring, the Periwinkle”").first).to_be_visible()
    expect(page.get_by_role("complementary")).to_have_count(0)
    find_or_do(page, "use dark")
    expect(page.locator("html")).to_have_attribute("data-theme", "dark")
    expect(page.get_by_role("dialog")).to_have_count(0)
    check_axe()


def test_however_many_lines_are_due_a_phones_tabs_stay_on_one_line(
    page: Page, served: Served, demo_file: Path, tmp_path: Path
) -> None:
    file = shutil.copy(demo_file, tmp_path / "later.sqlite3")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{served('serve', '--file', str(file), '--today', '2027-06-15')}/flows")
    places = page.get_by_role("navigation", name="Places")
    expect(places.get_by_role("link", name=re.compile(r"Settle ?\d\d+ due"))).to_be_visible()
    boxes = places.evaluate(
        "nav => [...nav.querySelectorAll('a > span, a > span > span:not(.sr-only)')].map(part => part.getClientRects().length)"
    )
    assert len(boxes) == 7
    assert set(boxes) == {1}


def test_on_a_phone_everything_is_within_reach(page: Page, demo: str, check_axe: Callable[[], None]) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    for place in ("ahead", "flows", "accounts"):
        page.goto(f"{demo}/{place}")
        expect(page.get_by_role("navigation", name="Places")).to_be_in_viewport()
        expect(page.get_by_role("slider")).to_be_visible()
        expect(page.get_by_role("heading", level=1)).to_be_attached()
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
        check_axe()
    page.get_by_role("button", name="Cash tin").click()
    page.get_by_label("Name").fill("Biscuit tin")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("button", name="Biscuit tin")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Cash tin")).to_be_visible()
