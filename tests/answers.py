"""What the app answers, as tests read it."""

from typing import Any

Json = dict[str, Any]


def done(answer: Any) -> Json:
    """The answer to a request that is carried out."""
    assert answer.status_code == 200, answer.text
    found: Json = answer.json()
    return found


def refused(answer: Any) -> tuple[list[Any], str]:
    """Where a request is wrong, and in which sentence."""
    assert answer.status_code == 422, answer.text
    problem = answer.json()["detail"][0]
    return problem["loc"], problem["msg"]


def plan_alone(document: dict[str, Any]) -> dict[str, Any]:
    """A plan document without what it remembers of what was expected, which undo leaves alone."""
    return {name: value for name, value in document.items() if name not in ("expected", "expected_until")}
