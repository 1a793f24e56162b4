"""From a keystroke in a slip to the redrawn preview, in the real browser on the demo household.

.venv/bin/python benchmarks/browser.py
"""

import subprocess
import sys

from playwright.sync_api import Page, sync_playwright

FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
KEYSTROKES = 60

# Resolves with the milliseconds from the input's change until the copper line is drawn anew and painted.
MEASURE = """
([text]) => new Promise((resolve) => {
  const copper = () => document.querySelector("[data-testid=copper]");
  const input = document.activeElement;
  const before = copper()?.getAttribute("d");
  const begin = performance.now();
  const look = () => {
    if (copper() && copper().getAttribute("d") !== before)
      requestAnimationFrame(() => resolve(performance.now() - begin));
    else requestAnimationFrame(look);
  };
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(input, text);
  input.dispatchEvent(new Event("input", { bubbles: true }));
  look();
})
"""


def percentile(times: list[float], share: float) -> float:
    return sorted(times)[min(len(times) - 1, int(share * len(times)))]


def keystrokes(page: Page, address: str) -> list[float]:
    page.goto(f"{address}/ahead?slip=flow:mortgage")
    page.wait_for_load_state("networkidle")
    page.get_by_label("Amount (USD)").focus()
    return [page.evaluate(MEASURE, [f"{2000 + 13 * number}.00"]) for number in range(KEYSTROKES)]


def main() -> None:
    words = [sys.executable, "-m", "next_penny.cli", "demo", "--port", "0"]
    with subprocess.Popen(words, stdout=subprocess.PIPE, text=True) as server, sync_playwright() as playwright:
        assert server.stdout is not None
        address = server.stdout.readline().split()[-1]
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        times = keystrokes(page, address)[5:]
        print(
            f"keystroke to redrawn preview, {len(times)} times: median {percentile(times, 0.5):.0f} ms, "
            f"95th percentile {percentile(times, 0.95):.0f} ms (wanted under 150 ms)"
        )
        browser.close()
        server.terminate()


if __name__ == "__main__":
    main()
