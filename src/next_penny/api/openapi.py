"""Print the OpenAPI document, from which the interface's client is generated: `python -m next_penny.api.openapi`."""

import json
from datetime import date

from next_penny.api.app import create_app
from next_penny.store.store import Store

if __name__ == "__main__":
    print(json.dumps(create_app(Store(":memory:"), date.today).openapi(), indent=1))
