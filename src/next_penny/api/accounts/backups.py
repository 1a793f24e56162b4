"""The household's file and its backups: made, listed, looked at, brought back; and what to do when the file is gone."""

import datetime
import os
import tempfile
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Request, Response
from fastapi import Path as InPath
from fastapi.responses import FileResponse
from pydantic import BaseModel
from starlette.background import BackgroundTask
from starlette.concurrency import run_in_threadpool

from next_penny.api.accounts.plan import DifferenceModel, difference_model
from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.http.errors import refused
from next_penny.api.http.session import Home, Session
from next_penny.core.review.differences import differences
from next_penny.store.backups.kept import Backup, BackupKind
from next_penny.store.backups.preview import Held, look, read_all
from next_penny.store.backups.restoring import copy_from_elsewhere, current_copy
from next_penny.store.file.faults import BackupError

router = APIRouter(prefix="/api", tags=["file"])
_SQLITE = "application/vnd.sqlite3"
_LARGEST_BACKUP = 2 * 2**30
Name = Annotated[str, InPath(max_length=100)]


class BackupModel(BaseModel):
    """A backup: when it was made (local time), why, and its size in bytes."""

    name: str
    made: datetime.datetime
    kind: BackupKind
    size: int


class FileAnswer(BaseModel):
    """Where the household's file is, its size in bytes, and what is wrong with that, if anything is.

    `is_lost`: it is not the file that was opened any more (`is_gone`: nothing is there). `notices`: what is worth
    saying of how it was found at the start.
    """

    path: str
    size: int
    fault: str | None
    is_lost: bool
    is_gone: bool
    notices: list[str]


class BackupsAnswer(BaseModel):
    """Every backup, the newest first, and the folder they are in; `passed_over`: names there that none of ours has."""

    folder: str
    backups: list[BackupModel]
    passed_over: list[str]
    file: FileAnswer


class ThereAnswer(BaseModel):
    """What lies at the file's place now: is it this household, and what it has other than what is open.

    `problem` says why it cannot be opened, if it cannot.
    """

    household: str
    is_same_household: bool
    differences: list[DifferenceModel]
    problem: str | None


class PutBackAnswer(BaseModel):
    """The file as it is now, and where what lay there was moved, if anything did."""

    file: FileAnswer
    moved_to: str | None


class HeldAccount(BaseModel):
    name: str
    currency: str
    balance: int


class HeldAnswer(BaseModel):
    """What a backup holds, seen from today."""

    backup: BackupModel
    household: str
    last_date: datetime.date | None
    last_payee: str | None
    entries: int
    flows: int
    accounts: list[HeldAccount]


@router.get("/file")
def read_file(home: Home) -> FileAnswer:
    path = home.store.path
    fault, file = home.store.fault(), home.store.file
    is_gone = not path.exists()
    return FileAnswer(
        path=str(path),
        size=0 if is_gone else path.stat().st_size,
        fault=fault,
        is_lost=file.lost is not None,
        is_gone=is_gone,
        notices=file.notices,
    )


@router.delete("/file/notices")
def forget_notices(home: Home) -> FileAnswer:
    """What was said of how the file was found at the start is read."""
    home.store.file.notices.clear()
    return read_file(home)


@router.post("/file/accept")
def accept_file(home: Home) -> FileAnswer:
    """What was told as damaged is right as it is: another program was meant to change it."""
    home.store.file.mended()
    return read_file(home)


@router.get("/file/there")
def look_at_what_is_there(home: Home) -> ThereAnswer:
    """What lies at the file's place now, when that is not the file that was opened any more."""
    there_answer = ThereAnswer(household="", is_same_household=False, differences=[], problem=None)
    if home.store.file.lost is None:
        return there_answer
    try:
        with copy_from_elsewhere(home.store.path) as copy:
            plan, recorded, lineage = read_all(copy)
    except BackupError as error:
        return there_answer.model_copy(update={"problem": str(error)})
    return ThereAnswer(
        household=plan.household.name,
        is_same_household=lineage == home.reading.lineage(),
        differences=[
            difference_model(difference)
            for difference in differences(home.reading.moment.plan, home.reading.entries(), plan, recorded)
        ],
        problem=None,
    )


@router.get("/backups")
def read_backups(home: Home) -> BackupsAnswer:
    backups = home.store.backups
    return BackupsAnswer(
        folder=str(backups.folder),
        backups=[_model(backup) for backup in backups.all()],
        passed_over=backups.passed_over(),
        file=read_file(home),
    )


@router.post("/backups")
def back_up(home: Home) -> BackupModel:
    """Make a backup of what is open, beside the file; also when that was moved away or replaced."""
    return _model(home.store.back_up("asked" if home.store.fault() is None else "kept"))


@router.post(
    "/backups/bring",
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
async def bring_backup(request: Request, home: Home) -> BackupModel:
    """Put a backup from elsewhere beside the others; the body is the file. It is looked at, nothing is restored."""
    with tempfile.TemporaryDirectory(prefix="next-penny-bring-") as folder:
        file, size = Path(folder) / "backup.sqlite3", 0
        with file.open("wb") as out:
            async for chunk in request.stream():
                size += len(chunk)
                if size > _LARGEST_BACKUP:
                    raise refused(("body",), "This is larger than any backup: at most 2 GB.", "too_long")
                out.write(chunk)
        return _model(await run_in_threadpool(_take, home, file))


@router.get("/backups/download", response_class=FileResponse)
def download_now(home: Home) -> Response:
    """The household as it is now, as one file."""
    handle, name = tempfile.mkstemp(prefix="next-penny-", suffix=".sqlite3")
    os.close(handle)
    home.store.back_up_to(Path(name))
    filename = f"next-penny-{home.today:%Y%m%d}.sqlite3"
    return FileResponse(name, media_type=_SQLITE, filename=filename, background=BackgroundTask(os.unlink, name))


@router.get("/backups/{name}")
def look_at_backup(name: Name, home: Home) -> HeldAnswer:
    """What a backup holds: its last entry, accounts and their balances today."""
    backup, path = _kept(home, name)
    with current_copy(path) as copy:
        return _held(backup, look(copy, home.today))


@router.get("/backups/{name}/file", response_class=FileResponse)
def download_backup(name: Name, home: Home) -> Response:
    _, path = _kept(home, name)
    return FileResponse(path, media_type=_SQLITE, filename=name)


@router.post("/backups/{name}/restore")
def restore_backup(name: Name, home: Home) -> ChangeAnswer:
    """Let all be as a backup has it, as one undoable step; what is replaced is kept as a backup itself."""
    backup, path = _kept(home, name)
    label = f"Restored the backup of {backup.made:%Y-%m-%d %H:%M}"
    with current_copy(path) as copy:
        return done_answer(home.store.restore(home.today, copy, label))


@router.post("/file/reopen")
def reopen_file(home: Home) -> FileAnswer:
    """Let go of what is open, and open the file that is there now."""
    home.store.reopen()
    return read_file(home)


@router.post("/file/put-back")
def put_file_back(home: Home) -> PutBackAnswer:
    """Write what was open to its place again; what lies there is moved aside, byte for byte."""
    moved_to = home.store.put_back()
    return PutBackAnswer(file=read_file(home), moved_to=moved_to.name if moved_to is not None else None)


def _take(home: Session, file: Path) -> Backup:
    with copy_from_elsewhere(file) as copy:
        return home.store.backups.take(copy, "brought")


def _kept(home: Session, name: str) -> tuple[Backup, Path]:
    path, backup = home.store.backups.file(name), home.store.backups.one(name)
    if path is None or backup is None:
        raise refused(("path", "name"), "There is no such backup: it may have been thrown away already.", "unknown_id")
    return backup, path


def _model(backup: Backup) -> BackupModel:
    return BackupModel(name=backup.name, made=backup.made, kind=backup.kind, size=backup.size)


def _held(backup: Backup, holding: Held) -> HeldAnswer:
    return HeldAnswer(
        backup=_model(backup),
        household=holding.household,
        last_date=holding.last.date if holding.last else None,
        last_payee=holding.last.payee if holding.last else None,
        entries=holding.entries,
        flows=holding.flows,
        accounts=[
            HeldAccount(name=account.name, currency=account.currency, balance=account.balance)
            for account in holding.accounts
        ],
    )
