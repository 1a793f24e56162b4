"""The demo's day, which can be moved on, and how well its bank is: only where the demo was started."""

from fastapi import APIRouter, Request

from next_penny.api.accounts.connections.asking import Asking
from next_penny.api.accounts.connections.models import DemoAnswer, DemoBankRequest, DemoDayRequest
from next_penny.api.http.errors import Refusal, Refused
from next_penny.api.http.session import Home
from next_penny.standins.running import StandIns
from next_penny.standins.server import PASSWORD, USER

router = APIRouter(prefix="/api/demo", tags=["demo"])


def _stand_ins(request: Request) -> StandIns:
    stand_ins: StandIns | None = request.app.state.stand_ins
    if stand_ins is None:
        raise Refused([Refusal(loc=["path"], msg="This is not the demo.", type="unknown_id")], 404)
    return stand_ins


@router.get("")
def read_demo(request: Request, home: Home) -> DemoAnswer:
    """What there is to try; nothing where a household's own file is served."""
    stand_ins: StandIns | None = request.app.state.stand_ins
    if stand_ins is None:
        return DemoAnswer(is_demo=False, today=home.today)
    return DemoAnswer(
        is_demo=True, today=home.today, bank=stand_ins.bank_address, user=USER, password=PASSWORD,
        mailbox=str(stand_ins.mailbox_folder), rates=stand_ins.rates_address, mood=stand_ins.server.mood,
    )  # fmt: skip


@router.post("/day")
def move_day_on(request: Request, body: DemoDayRequest) -> DemoAnswer:
    """Let days pass in the demo; who is asked once a day is asked."""
    _stand_ins(request).move_on(body.days)
    asking: Asking = request.app.state.asking
    asking.ask_daily()
    with asking.session() as session:
        return read_demo(request, session)


@router.put("/bank")
def change_bank(request: Request, body: DemoBankRequest, home: Home) -> DemoAnswer:
    """Let the bank to try be well, down, slow, or out of its mind."""
    _stand_ins(request).server.mood = body.mood
    return read_demo(request, home)
