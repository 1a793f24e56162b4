"""What answers an address is the same whether all routers are asked or only those that may know it."""

import itertools
import re

from fastapi.testclient import TestClient
from starlette.routing import Match

from next_penny.api.app import _routes

ODD = ("/", "", "/api", "/api/", "/api/settle/", "//api/settle", "/api//settle", "/api/settle/x", "/api/no", "/no/way",
       "/apis/settle", "/api/{id}", "/calendar/a.ics", "/calendar/a/b.ics", "/assets/a.js")  # fmt: skip


def test_only_routers_that_may_know_an_address_are_asked(demo: TestClient) -> None:
    by_address, *routers = _routes()
    documented = demo.get("/api/openapi.json").json()["paths"]
    assert len(documented) > 100
    addresses = [
        *ODD,
        *(re.sub("{.*?}", filler, path) for path in documented for filler in ("joint", "2027-03", "ä.b")),
    ]
    for path, method in itertools.product(addresses, ("GET", "HEAD", "POST", "PUT", "DELETE", "BREW")):
        scope = {"type": "http", "path": path, "method": method, "headers": [], "query_string": b"", "app": demo.app}
        first = next((router for router in routers if router.matches(dict(scope))[0] is Match.FULL), None)
        match, child_scope = by_address.matches(dict(scope))
        assert (match is Match.FULL, child_scope.get("found_router")) == (first is not None, first), (method, path)
    assert by_address.matches({"type": "websocket", "path": "/api/settle"})[0] is Match.NONE
