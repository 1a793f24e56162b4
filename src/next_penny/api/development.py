"""The app for `make dev`: uvicorn starts it anew at each change, over the file that NEXT_PENNY_FILE names."""

import os
from datetime import date
from pathlib import Path

from fastapi import FastAPI

from next_penny.api.app import create_app
from next_penny.store.store import Store


def app() -> FastAPI:
    """The app over the developer's file."""
    return create_app(Store(Path(os.environ["NEXT_PENNY_FILE"])), date.today)
