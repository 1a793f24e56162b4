"""The optional password: proved with scrypt, kept up by a cookie for a chosen time, wrong tries slowed down."""

import contextlib
import hashlib
import hmac
import secrets
import sqlite3
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Annotated, Literal

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, Field

from next_penny.api.http.errors import Refusal, Refused, refused
from next_penny.formats.documents.fields import Document
from next_penny.store.file.faults import FileFault
from next_penny.store.sql.password import Door
from next_penny.store.store import Store

COOKIE = "next_penny_session"
# RFC 7914's recommendation for logging in: about a tenth of a second and 32 MB.
_COST, _BLOCK, _PARALLEL, _MEMORY = 2**15, 8, 1, 64 * 2**20
_SHORTEST = 8
# So many wrong tries cost nothing but their time; each after them doubles the wait, up to a minute.
_FREE_TRIES, _LONGEST_WAIT = 3, 60.0
# So many proofs at once; others wait so long. So many places are remembered.
_AT_ONCE, _LONGEST_QUEUE, _MOST_PLACES = 2, 5.0, 1_000

router = APIRouter(prefix="/api", tags=["door"])
Minutes = Literal[60, 480, 1440, 43200]


def lock(password: str, minutes: int) -> Door:
    """What is kept of a new password."""
    salt = secrets.token_bytes(16)
    return Door(salt, _proof(password, salt), minutes)


def opens(door: Door, password: str) -> bool:
    """Whether it is the password."""
    return hmac.compare_digest(door.hash, _proof(password, door.salt))


def problem_of(password: str) -> str | None:
    """What is wrong with a password that somebody chose."""
    if len(password) < _SHORTEST:
        return f"Choose at least {_SHORTEST} characters: a few words are easy to remember."
    return None


def _proof(password: str, salt: bytes) -> bytes:
    content = password.encode("utf-8", "surrogatepass")
    return hashlib.scrypt(content, salt=salt, n=_COST, r=_BLOCK, p=_PARALLEL, maxmem=_MEMORY)


@dataclass
class _Tries:
    """How often the password was tried wrongly from one place, and until when no try is taken from there."""

    wrong: int = 0
    closed_until: float = 0.0
    trying: threading.Lock = field(default_factory=threading.Lock)


@dataclass
class Doorkeeper:
    """Who is inside. Sessions are forgotten when the app ends, and when the password becomes another."""

    store: Store
    clock: Callable[[], float] = time.monotonic
    _lock: threading.Lock = field(default_factory=threading.Lock)
    _trying: threading.Semaphore = field(default_factory=lambda: threading.Semaphore(_AT_ONCE))
    _door: Door | None = None
    _inside: dict[str, tuple[float, bytes]] = field(default_factory=dict)
    _tries: dict[str, _Tries] = field(default_factory=dict)

    @property
    def door(self) -> Door | None:
        """The password as the file has it, or had it while it could be read."""
        with contextlib.suppress(FileFault, sqlite3.Error):
            self._door = self.store.door()
        return self._door

    def lets_in(self, token: str | None) -> bool:
        """Whether a request with this cookie may go on."""
        door = self.door
        if door is None:
            return True
        with self._lock:
            until, proof = self._inside.get(token or "", (0.0, b""))
        return until > self.clock() and hmac.compare_digest(proof, door.hash)

    def try_password(self, password: str, who: str) -> tuple[str, int] | None:
        """A token, and for how many seconds it holds; None where there is no password. Raises Refused.

        who: from where it is tried; wrong tries from there close the door to nobody else.
        """
        door = self.door
        if door is None:
            return None
        tries = self._tries_of(who)
        if not tries.trying.acquire(blocking=False):
            # One try at a time, and nobody waits in line: that would keep everything else waiting too.
            raise _too_many(1)
        try:
            wait = tries.closed_until - self.clock()
            if wait > 0:
                raise _too_many(int(wait) + 1)
            if not self._opens(door, password):
                tries.wrong += 1
                late = tries.wrong - _FREE_TRIES
                tries.closed_until = self.clock() + (min(_LONGEST_WAIT, 2.0**late) if late > 0 else 0.0)
                raise refused(("body", "password"), "This is not the password.", "wrong")
            tries.wrong = 0
            return self._let_in(door)
        finally:
            tries.trying.release()

    def _opens(self, door: Door, password: str) -> bool:
        """A few proofs at once, whoever asks: each takes memory and time."""
        if not self._trying.acquire(timeout=_LONGEST_QUEUE):
            raise _too_many(1)
        try:
            return opens(door, password)
        finally:
            self._trying.release()

    def _tries_of(self, who: str) -> "_Tries":
        with self._lock:
            while len(self._tries) >= _MOST_PLACES:
                self._tries.pop(next(iter(self._tries)))
            return self._tries.setdefault(who, _Tries())

    def change(self, current: str, new: str | None, minutes: int, who: str) -> tuple[str, int] | None:
        """Set, change or remove the password; who does it stays inside. Raises Refused."""
        if self.door is not None:
            try:
                self.try_password(current, who)
            except Refused as error:
                refusals = [refusal.model_copy(update={"loc": ["body", "current"]}) for refusal in error.refusals]
                raise Refused(refusals, error.status) from error
        if new is None:
            self.store.set_door(None)
            return None
        problem = problem_of(new)
        if problem is not None:
            raise refused(("body", "new"), problem, "too_short")
        door = lock(new, minutes)
        self.store.set_door(door)
        with self._lock:
            self._inside.clear()
        return self._let_in(door)

    def let_out(self, token: str | None) -> None:
        """End a session."""
        with self._lock:
            self._inside.pop(token or "", None)

    def _let_in(self, door: Door) -> tuple[str, int]:
        now, token = self.clock(), secrets.token_urlsafe(32)
        with self._lock:
            self._inside = {one_token: visit for one_token, visit in self._inside.items() if visit[0] > now}
            self._inside[token] = (now + door.minutes * 60, door.hash)
        return token, door.minutes * 60


def _too_many(seconds: int) -> Refused:
    wait = "a second" if seconds == 1 else f"{seconds} seconds"
    message = f"Too many wrong tries: wait {wait}, then try again."
    return Refused([Refusal(loc=["body", "password"], msg=message, type="too_many")], 429)


class DoorAnswer(BaseModel):
    """Whether there is a password, whether one is inside, and for how many minutes one stays."""

    has_password: bool
    is_inside: bool
    minutes: int | None


class LoginRequest(Document):
    password: Annotated[str, Field(max_length=1000)]


class PasswordRequest(Document):
    """`current` is needed where there is a password; without `new` it is removed."""

    current: Annotated[str, Field(max_length=1000)] = ""
    new: Annotated[str, Field(max_length=1000)] | None = None
    minutes: Minutes = 480


def _keeper(request: Request) -> Doorkeeper:
    keeper: Doorkeeper = request.app.state.doorkeeper
    return keeper


@router.get("/door")
def read_door(request: Request) -> DoorAnswer:
    """Whether a password is asked for here; this is answered to everybody."""
    keeper = _keeper(request)
    door = keeper.door
    is_inside = keeper.lets_in(request.cookies.get(COOKIE))
    return DoorAnswer(has_password=door is not None, is_inside=is_inside, minutes=door.minutes if door else None)


@router.post("/login")
def log_in(body: LoginRequest, request: Request, response: Response) -> DoorAnswer:
    """Go in with the password; a cookie keeps one inside for the chosen time."""
    _keep_inside(response, _keeper(request).try_password(body.password, _place(request)))
    return _inside(request)


@router.post("/logout")
def log_out(request: Request, response: Response) -> DoorAnswer:
    """Go out."""
    keeper = _keeper(request)
    keeper.let_out(request.cookies.get(COOKIE))
    response.delete_cookie(COOKIE, httponly=True, samesite="strict")
    return DoorAnswer(has_password=keeper.door is not None, is_inside=keeper.door is None, minutes=None)


@router.put("/password")
def set_password(body: PasswordRequest, request: Request, response: Response) -> DoorAnswer:
    """Set, change or remove the password. All others have to go in anew."""
    _keep_inside(response, _keeper(request).change(body.current, body.new, body.minutes, _place(request)))
    return _inside(request)


def _place(request: Request) -> str:
    """Where a try comes from: a session that is inside, else an address."""
    token = request.cookies.get(COOKIE)
    if token is not None and _keeper(request).lets_in(token):
        return f"session {token}"
    return f"address {request.client.host if request.client is not None else ''}"


def _inside(request: Request) -> DoorAnswer:
    door = _keeper(request).door
    return DoorAnswer(has_password=door is not None, is_inside=True, minutes=door.minutes if door else None)


def _keep_inside(response: Response, visit: tuple[str, int] | None) -> None:
    if visit is not None:
        token, seconds = visit
        response.set_cookie(COOKIE, token, max_age=seconds, httponly=True, samesite="strict")
