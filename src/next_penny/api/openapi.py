"""Print the OpenAPI document, from which the interface's client is generated: `python -m next_penny.api.openapi`."""

import json
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory

from next_penny.api.app import create_app
from next_penny.store.store import Store

if __name__ == "__main__":
    with TemporaryDirectory() as nowhere:
        app = create_app(Store(Path(nowhere) / "household"), date.today)
        print(json.dumps(app.openapi(), indent=1))
