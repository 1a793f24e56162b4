"""Every page at the width of a phone and of a table: nothing is wider than the screen, cut off, in two, or jumps."""

import re

import pytest
from playwright.sync_api import Page, Route, expect

PAGES = """
/ahead /ahead/months /ahead/calendar /ahead/year /ahead/worth /ahead/what-ifs /settle /flows /debts /debts/try
/debts/way-out /debts/cards/heron /debts/cards/harbour /debts/whole /debts/years /debts/properties /debts/house
/debts/engine /debts/house/statement /debts/house/escrow /review /review/months /review/goals /review/year
/review/subscriptions /review/tags /accounts /accounts/joint /accounts/joint/statements /accounts/rainy-day/interest
/accounts/your/interest /accounts/your/lent /accounts/your/rates /accounts/your/entries /accounts/your/bank-files
/accounts/your/data
"""
SLIPS = """
entry:new:joint flow:new:bill flow:phones loan:new loan:house account:heron account:new:savings allowance:groceries
goal:new household:new limits:new once:phones:2027-03-15~0~2027-03-15 aside:new category:new
"""
PAPER = """
/print/loan?account=house /print/loan-years?year=2026 /print/way-out /print/debt-years /print/year?year=2027
/print/year-end?year=2026 /print/review-months /print/tax-year?year=2026
"""

# What is seen of each text: amounts over two lines, words that end in dots or at an edge that hides what is beyond.
LOOK = r"""() => {
  const found = [];
  for (const each of [document.documentElement, document.querySelector("#page")])
    if (each && each.scrollWidth > each.clientWidth + 1) found.push(`${each.scrollWidth} in ${each.clientWidth}`);
  const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  const range = document.createRange();
  while (texts.nextNode()) {
    const text = texts.currentNode, within = text.parentElement;
    if (!within.checkVisibility({ visibilityProperty: true, opacityProperty: true })) continue;
    for (const amount of text.data.matchAll(/[-+−]?[^\w\s.,;:()%/"“”‘’'–—·…+−-]?\d[\d.,]*\d/g)) {
      range.setStart(text, amount.index);
      range.setEnd(text, amount.index + amount[0].length);
      const lines = new Set([...range.getClientRects()].filter((box) => box.width > 0.5).map((box) => Math.round(box.top)));
      if (lines.size > 1) found.push(`${amount[0]} is broken`);
    }
    range.selectNodeContents(text);
    const box = range.getBoundingClientRect();
    if (box.width < 1 || box.height < 1) continue;
    for (let around = within; around !== document.body; around = around.parentElement) {
      const edge = around.getBoundingClientRect();
      if (!["hidden", "clip"].includes(getComputedStyle(around).overflowX) || edge.width < 2) continue;
      if (box.right > edge.right + 1 || box.left < edge.left - 1) found.push(`${text.data.trim()} is cut`);
    }
  }
  return found;
}"""

# What moves up or down by itself while a page arrives: who is about to press it presses something else.
JUMPS = """() => {
  window.jumps = [];
  const note = ({ node, previousRect: before, currentRect: now }) => {
    // Beside a slip that comes in, the page becomes narrower.
    if (location.search.includes("slip=") && !node?.parentElement?.closest("[data-slip]")) return;
    const by = now.height ? now.y - before.y : innerHeight;
    if (Math.abs(by) > 8) window.jumps.push(`${(node?.textContent ?? "").slice(0, 40)} jumps by ${Math.round(by)}`);
  };
  new PerformanceObserver((list) => {
    for (const shift of list.getEntries()) if (!shift.hadRecentInput) shift.sources.forEach(note);
  }).observe({ type: "layout-shift", buffered: true });
}"""


GROUPS = {
    "ahead to debts": PAGES.split()[:20],
    "review and accounts": PAGES.split()[20:],
    "slips": [f"/ahead?slip={slip}" for slip in SLIPS.split()],
    "paper": PAPER.split(),
}


@pytest.mark.parametrize("group", GROUPS)
@pytest.mark.parametrize(("width", "height"), [(390, 844), pytest.param(1280, 800, marks=pytest.mark.slow)])
def test_nothing_is_cut_or_broken_on_any_page(page: Page, demo: str, width: int, height: int, group: str) -> None:
    page.set_viewport_size({"width": width, "height": height})
    wrong: list[str] = []
    page.add_init_script(f"({JUMPS})()")
    for path in GROUPS[group]:
        page.goto(f"{demo}{path}")
        # Not before what it is about is there.
        expect(page.locator("h1, [data-slip] h2, [role=dialog] h2").first).to_be_visible()
        page.wait_for_load_state("networkidle")
        found = page.evaluate(LOOK) + page.evaluate("window.jumps")
        # In a week of the calendar names give way, so that amounts do not.
        if path == "/ahead/calendar":
            found = [each for each in found if not each.endswith("is cut")]
        wrong += [f"{path}: {each}" for each in found]
    assert wrong == [], "\n".join(wrong)


# What has been answered has been drawn by the frame after next.
DRAWN = "() => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)))"
# What may be answered last, and stands above what could be pressed meanwhile.
LATE = {
    "/accounts": "entries/choices|readings",
    "/ahead/calendar?month=2027-12": "bank-holidays",
    "/ahead/what-ifs": "side-by-side",
    "/ahead/months": "chance",
    "/debts/way-out": "payoff",
    "/flows": "set-aside|allowances",
    "/review/year?year=2026": "review/(year|tax-year)",
}
# So late, in milliseconds, that what does not wait for it has been drawn.
HOLD_BACK = """(late) => {
  const asked = window.fetch.bind(window);
  window.held = [];
  window.fetch = async (...what) => {
    const answer = await asked(...what), { pathname } = new URL(answer.url);
    if (new RegExp(`^/api/(${late})$`).test(pathname)) {
      window.held.push(new Promise((done) => setTimeout(done, 400)));
      await Promise.all(window.held);
    }
    return answer;
  };
}"""


@pytest.mark.parametrize("path", LATE)
def test_nothing_moves_when_an_answer_comes_late(page: Page, demo: str, path: str) -> None:
    page.set_viewport_size({"width": 1280, "height": 3000})
    for script, argument in ((JUMPS, ""), (HOLD_BACK, f'"{LATE[path]}"')):
        page.add_init_script(f"({script})({argument})")
    with page.expect_response(re.compile(f"/api/({LATE[path]})(\\?|$)")):
        page.goto(f"{demo}{path}")
    page.wait_for_load_state("networkidle")
    page.evaluate("() => Promise.all(window.held)")
    page.evaluate(DRAWN)
    assert page.evaluate("window.jumps") == []


def test_what_is_typed_stays_while_the_first_columns_are_awaited(page: Page, demo: str) -> None:
    page.goto(f"{demo}/ahead/what-ifs?beside=-")
    page.get_by_label("by per cent").fill("4")
    first = page.get_by_role("region", name="What-ifs that are kept").get_by_role("checkbox").first
    first.check()
    expect(page.get_by_role("table", name="Side by side")).to_be_visible()
    expect(page.get_by_label("by per cent")).to_have_value("4")
    expect(first).to_be_focused()


def test_entries_wait_for_what_stands_above_them(page: Page, demo: str) -> None:
    held, address = list[Route](), re.compile(r"/api/accounts(\?|$)")

    def hold(route: Route) -> None:
        held.append(route)

    page.route(address, hold)
    with page.expect_response(re.compile("/api/register")):
        page.goto(f"{demo}/accounts/joint")
    expect(page.get_by_role("button", name="Record an entry")).to_be_visible()
    page.evaluate(DRAWN)
    expect(page.get_by_role("region", name="Entries")).to_have_count(0, timeout=1)
    for route in held:
        route.continue_()
    page.unroute(address)
    expect(page.get_by_role("region", name="The bank says")).to_be_visible()
    expect(page.get_by_role("region", name="Entries")).to_be_visible()
