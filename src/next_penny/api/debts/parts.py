"""The parts of a loan's payment."""

from pydantic import BaseModel

from next_penny.core.loans.standing import Parts


class PartsModel(BaseModel):
    principal: int
    interest: int
    escrow: int
    insurance: int
    fee: int


def parts_model(parts: Parts) -> PartsModel:
    return PartsModel(**parts._asdict())
