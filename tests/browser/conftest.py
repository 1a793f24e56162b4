"""The real interface in headless Chromium, served by the real command."""

import re
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from forking import Started, Starter
from playwright.sync_api import BrowserContext, Page, expect

TODAY = "2027-03-01"
AXE = Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js"

# Machines stall; what waits so long in vain fails anyway.
expect.set_options(timeout=30_000)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, object]:
    quiet = "--disable-background-networking --disable-component-update --disable-sync --disable-quic --no-first-run"
    return {"executable_path": "/usr/bin/chromium", "args": ["--no-sandbox", "--disable-gpu", *quiet.split()]}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, object]:
    return {"viewport": {"width": 1280, "height": 800}, "locale": "en-US", "reduced_motion": "reduce"}


@pytest.fixture(scope="session")
def starter() -> Iterator[Starter]:
    """What starts the command, loaded once."""
    starter = Starter()
    yield starter
    starter.stop()


@pytest.fixture
def served(starter: Starter) -> Iterator[Callable[..., str]]:
    """Start the command on a free port; gives the address. Everything started is stopped at the end."""
    running: list[Started] = []

    def start(command: str, *options: str) -> str:
        running.append(starter.start(command, "--port", "0", "--today", TODAY, *options))
        return running[-1].address

    yield start
    for each in running:
        each.stop()


@pytest.fixture(scope="session")
def demo_file(starter: Starter, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo household's file, at rest."""
    file = tmp_path_factory.mktemp("demo") / "demo.sqlite3"
    starter.start("demo", "--file", str(file), "--port", "0", "--today", TODAY).stop()
    return file


@pytest.fixture
def demo(served: Callable[..., str], demo_file: Path, tmp_path: Path) -> str:
    """The demo household, served from a file of its own."""
    return served("serve", "--file", str(shutil.copy(demo_file, tmp_path / "demo.sqlite3")))


@pytest.fixture
def page(context: BrowserContext, served: Callable[..., str], request: pytest.FixtureRequest) -> Iterator[Page]:
    """A page, closed before what serves it, on which nothing may go wrong unseen: errors and refused resources fail the test."""
    page = context.new_page()
    wrong: list[str] = []
    page.on("pageerror", lambda error: wrong.append(str(error)))
    page.on("console", lambda message: wrong.append(message.text) if is_fault(message.type, message.text) else None)
    yield page
    page.close()
    # Where a file is found to be another, whatever asks meanwhile is told so.
    told = r"status of 503" if request.node.get_closest_marker("file_fault") else r"(?!)"
    assert [each for each in wrong if not re.search(told, each)] == []


def is_fault(kind: str, text: str) -> bool:
    # What is refused is answered with 422, and without a password with 401, and an app that a test cuts off does not
    # answer: the browser logs it, the page shows it.
    expected = r"status of (401|422)|ERR_INTERNET_DISCONNECTED|ERR_FAILED|dynamically imported module"
    return kind in ("error", "warning") and not re.search(expected, text)


@pytest.fixture
def check_axe(page: Page) -> Callable[[], None]:
    """Axe finds nothing on the page as it is, and of the screen nothing but its parts can be scrolled away."""

    def check() -> None:
        assert page.evaluate(
            "() => document.documentElement.matches('.on-paper') || document.scrollingElement.scrollHeight <= innerHeight"
        )
        if not page.evaluate("() => 'axe' in window"):
            page.evaluate(AXE.read_text())
        found = page.evaluate("axe.run({resultTypes: ['violations']})")
        problems = [
            (each["id"], [(node["html"][:90], node["failureSummary"][-160:]) for node in each["nodes"]])
            for each in found["violations"]
        ]
        assert problems == []

    return check
