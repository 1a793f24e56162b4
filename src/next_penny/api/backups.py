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

from next_penny.api.changes import HistoryAnswer, done_answer
from next_penny.api.errors import refused
from next_penny.api.household import Home, Visit
from next_penny.store.backups import Backup, BackupKind
from next_penny.store.looking import Held, look

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
    """Where the household's file is, its size in bytes, and what is wrong with that, if anything is."""

    path: str
    size: int
    fault: str | None
    is_gone: bool


class BackupsAnswer(BaseModel):
    """Every backup, the newest first, and the folder they are in."""

    folder: str
    backups: list[BackupModel]
    file: FileAnswer


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
    is_gone = not path.exists()
    size = 0 if is_gone else path.stat().st_size
    return FileAnswer(path=str(path), size=size, fault=home.store.fault(), is_gone=is_gone)


@router.get("/backups")
def read_backups(home: Home) -> BackupsAnswer:
    kept = home.store.backups
    return BackupsAnswer(folder=str(kept.folder), backups=[_model(each) for each in kept.all()], file=read_file(home))


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
        await run_in_threadpool(look, file, home.today)
        return _model(await run_in_threadpool(home.store.backups.bring, file))


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
    return _held(backup, look(path, home.today))


@router.get("/backups/{name}/file", response_class=FileResponse)
def download_backup(name: Name, home: Home) -> Response:
    _, path = _kept(home, name)
    return FileResponse(path, media_type=_SQLITE, filename=name)


@router.post("/backups/{name}/restore")
def restore_backup(name: Name, home: Home) -> HistoryAnswer:
    """Let all be as a backup has it, as one undoable step; what is replaced is kept as a backup itself."""
    backup, path = _kept(home, name)
    label = f"Restored the backup of {backup.made:%Y-%m-%d %H:%M}"
    return done_answer(home.store.restore(home.today, path, label))


@router.post("/file/reopen")
def reopen_file(home: Home) -> FileAnswer:
    """Let go of what is open, and open the file that is there now."""
    home.store.reopen()
    return read_file(home)


@router.post("/file/put-back")
def put_file_back(home: Home) -> FileAnswer:
    """Write what is open to its place again, where nothing is there any more."""
    home.store.put_back()
    return read_file(home)


def _kept(home: Visit, name: str) -> tuple[Backup, Path]:
    path = home.store.backups.file(name)
    backup = next((each for each in home.store.backups.all() if each.name == name), None)
    if path is None or backup is None:
        raise refused(("path", "name"), "There is no such backup: it may have been thrown away already.", "unknown_id")
    return backup, path


def _model(backup: Backup) -> BackupModel:
    return BackupModel(name=backup.name, made=backup.made, kind=backup.kind, size=backup.size)


def _held(backup: Backup, held: Held) -> HeldAnswer:
    return HeldAnswer(
        backup=_model(backup),
        household=held.household,
        last_date=held.last.date if held.last else None,
        last_payee=held.last.payee if held.last else None,
        entries=held.entries,
        flows=held.flows,
        accounts=[HeldAccount(name=each.name, currency=each.currency, balance=each.balance) for each in held.accounts],
    )
