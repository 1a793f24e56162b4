"""Which parts of the app a request's address may be of.

Asking each of some sixty routers whether an address is theirs costs more than many an answer. Those whose addresses all
begin with other words need not be asked.
"""

from collections import defaultdict
from collections.abc import Sequence

from starlette.routing import BaseRoute, Match
from starlette.types import Receive, Scope, Send

# Addresses begin as `/api/settle` does; where a word of these is a parameter, a router is asked about every address.
_WORDS = 2


class ByAddress(BaseRoute):
    """Asks, of routers in order, those that have addresses with the request's first words, and takes the first.

    Together with the same routers after it in the app's list nothing is another answer than without it: what it finds
    is the first that they would have found, and what it does not find (an address in error) is left to them.
    """

    def __init__(self, routers: Sequence[tuple[BaseRoute, Sequence[str]]]) -> None:
        """`routers`: each with the addresses that it knows, such as `/api/accounts/{id}`."""
        beginnings = [{_beginning(address) for address in addresses} for _, addresses in routers]
        self._elsewhere = [
            router for (router, _), begins in zip(routers, beginnings, strict=True) if any("{" in one for one in begins)
        ]
        self._by_beginning: defaultdict[str, list[BaseRoute]] = defaultdict(list)
        for beginning in {one for begins in beginnings for one in begins if "{" not in one}:
            for (router, _), begins in zip(routers, beginnings, strict=True):
                if beginning in begins or router in self._elsewhere:
                    self._by_beginning[beginning].append(router)

    def matches(self, scope: Scope) -> tuple[Match, Scope]:
        """The first router that takes the request, to be handed on to."""
        if scope["type"] != "http":
            return Match.NONE, {}
        for router in self._by_beginning.get(_beginning(scope["path"]), self._elsewhere):
            match, child_scope = router.matches(scope)
            if match is Match.FULL:
                return match, {**child_scope, "found_router": router}
        return Match.NONE, {}

    async def handle(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Hand on to the router that was found."""
        await scope["found_router"].handle(scope, receive, send)


def _beginning(address: str) -> str:
    return "/".join(address.split("/", _WORDS + 1)[: _WORDS + 1])
