"""Print the OpenAPI document, from which the interface's client is generated: `python -m next_penny.api.openapi`."""

import json
from contextlib import closing
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory

from next_penny.api.app import create_app
from next_penny.store.store import Store

if __name__ == "__main__":
    with TemporaryDirectory() as nowhere, closing(Store(Path(nowhere) / "household")) as store:
        app = create_app(store, date.today)
        print(json.dumps(app.openapi(), indent=1))
