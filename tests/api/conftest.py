"""The demo household over HTTP, in a file of its own, on a pinned day."""

from collections.abc import Iterator
from datetime import date
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from next_penny.api.app import create_app
from next_penny.store.store import Store
from stores import demo_store


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    store = demo_store(tmp_path / "household.sqlite3")
    yield store
    store.close()


@pytest.fixture
def demo(store: Store) -> TestClient:
    return TestClient(create_app(store, lambda: date(2027, 3, 1)), base_url="http://127.0.0.1:8765")
