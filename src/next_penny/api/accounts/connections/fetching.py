"""Asking a service over HTTP, with patience that ends: every way in which it can fail as a sentence."""

import http.client
import time
from ipaddress import ip_address
from urllib.parse import SplitResult, urlsplit

from next_penny.core.problems import NextPennyError
from next_penny.formats.bank_files.texts import MOST_BYTES

PATIENCE_SECONDS = 10.0
_CHUNK = 65_536
_NO_ADDRESS = "This is no web address: write it whole, with https:// before it."


class CannotAsk(NextPennyError):
    """A service that gave no answer that can be used: the sentence says why, and what to do."""


def fetch(address: str, body: bytes | None = None, patience: float = PATIENCE_SECONDS) -> bytes:
    """What a service answers to a question (GET), or to a body (POST, as OFX). Raises CannotAsk.

    It waits no longer than `patience` seconds in all, and reads no more than a bank's file may be.
    """
    parts = _checked(address)
    secured = parts.scheme == "https"
    connecting = (http.client.HTTPSConnection if secured else http.client.HTTPConnection)(
        parts.hostname or "", parts.port, timeout=patience
    )
    ends = time.monotonic() + patience
    path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
    headers = {"Accept": "application/x-ofx, text/csv"} | ({"Content-Type": "application/x-ofx"} if body else {})
    try:
        connecting.request("POST" if body is not None else "GET", path, body, headers)
        answer = connecting.getresponse()
        content = b""
        while len(content) <= MOST_BYTES and (piece := answer.read1(_CHUNK)):
            content += piece
            if time.monotonic() > ends:
                raise TimeoutError
    except TimeoutError as error:
        raise CannotAsk(
            f"It took longer than {patience:g} seconds to answer. Nothing came; try again later."
        ) from error
    except ConnectionRefusedError as error:
        raise CannotAsk(f"Nobody answers at {parts.netloc}. Is the address right, and is the service there?") from error
    except (OSError, http.client.HTTPException, ValueError) as error:
        raise CannotAsk(
            f"{parts.netloc} cannot be reached. Is this computer connected, and the address right?"
        ) from error
    finally:
        connecting.close()
    if answer.status >= 500:
        raise CannotAsk(f"It is out of service just now ({answer.status}). Nothing came; try again later.")
    if answer.status != 200:
        raise CannotAsk(f"It does not answer such questions at that address ({answer.status}). Is the address right?")
    if len(content) > MOST_BYTES:
        raise CannotAsk(f"It answered with more than {MOST_BYTES // 2**20} MB, which is not read.")
    return content


def _checked(address: str) -> SplitResult:
    """An address that may be asked: over the network only where nobody can read along."""
    try:
        parts = urlsplit(address)
        host, _ = parts.hostname, parts.port
    except ValueError:
        raise CannotAsk(_NO_ADDRESS) from None
    if parts.scheme not in ("http", "https") or not host or parts.username is not None or not address.isascii():
        raise CannotAsk(_NO_ADDRESS)
    if parts.scheme == "http" and not _is_here(host):
        raise CannotAsk("Beyond this computer a service is asked over https:// alone: others could read along.")
    return parts


def _is_here(host: str) -> bool:
    try:
        return ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"
