"""Who may talk to the server: requests to this host, from its own pages; and what those pages may load."""

from __future__ import annotations

import ipaddress
import logging
import re
import secrets
from collections.abc import Awaitable, Callable
from dataclasses import dataclass
from urllib.parse import unquote_to_bytes, urlsplit

from starlette.datastructures import Headers
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from zevlo.text import answers as say

log = logging.getLogger("zevlo.api")


def content_policy(nonce: str) -> str:
    """Everything self-hosted; styles by nonce; pictures also from memory, as textures are decoded there."""
    return "; ".join(
        [
            "default-src 'none'",
            "script-src 'self'",
            f"style-src 'self' 'nonce-{nonce}'",
            "img-src 'self' blob: data:",
            "font-src 'self'",
            "connect-src 'self' blob:",
            "worker-src 'self' blob:",
            "base-uri 'none'",
            "form-action 'none'",
            "frame-ancestors 'none'",
        ]
    )


_HOST = re.compile(r"(?:\[(?P<six>[0-9A-Fa-f:.]+)\]|(?P<name>[A-Za-z0-9._-]+))(?::(?P<port>[0-9]{1,5}))?")
"""Host and port of a request (RFC 9110, 7.2), with an address of IPv6 in brackets."""


@dataclass(frozen=True)
class Names:
    """What the server may be called by. ``own``: names and addresses in lower case, without port; loopback always is,
    from this machine itself."""

    own: frozenset[str] = frozenset()

    def allow(self, host: str, client: str | None) -> bool:
        """Whether a Host header names this server, for a request that comes from the address ``client``."""
        name = host_name(host)
        if name is None:
            return False
        if name in self.own:
            return True
        return (name == "localhost" or _loopback(name)) and (client is None or _loopback(client))


def host_name(host: str) -> str | None:
    """The name in a Host header, without its port; None where that is no name."""
    found = _HOST.fullmatch(host)
    return None if found is None or int(found["port"] or 0) > 65535 else (found["six"] or found["name"]).lower()


def _loopback(name: str) -> bool:
    try:
        return ipaddress.ip_address(name).is_loopback
    except ValueError:
        return False


def _origin_host(origin: str) -> str | None:
    try:
        return urlsplit(origin).netloc
    except ValueError:
        return None


class Guard:
    """Refuses foreign Host and Origin (so that no other page in the same browser can reach a project), and what no
    address may hold; answers for faults of ours. Every answer carries the headers."""

    def __init__(self, app: ASGIApp, names: Names) -> None:
        self._app, self._names = app, names

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        nonce = secrets.token_urlsafe(16)
        scope.setdefault("state", {})["nonce"] = nonce
        began = False

        async def sending(message: Message) -> None:
            nonlocal began
            began = True
            await _with_headers(send, nonce)(message)

        headers = Headers(scope=scope)
        host, origin = headers.get("host", ""), headers.get("origin")
        client = (scope.get("client") or (None,))[0]
        if not self._names.allow(host, client):
            words = say.this_server_answers_to_its_own(host[:80])
            await _refuse(scope, receive, sending, words, 403)
        elif origin is not None and _origin_host(origin) != host:
            await _refuse(scope, receive, sending, say.REQUESTS_FROM_OTHER_PAGES, 403)
        elif _unfit(scope):
            await _refuse(scope, receive, sending, say.THIS_ADDRESS_HOLDS_A_SIGN, 400)
        else:
            try:
                await self._app(scope, receive, sending)
            except Exception:
                if began or scope["type"] != "http":
                    raise
                log.exception("a request could not be answered: %s", scope["path"])
                words = say.THIS_COULD_NOT_BE_DONE
                await _refuse(scope, receive, sending, words, 500)


def _unfit(scope: Scope) -> bool:
    """Whether path or query holds a NUL, or bytes that are no text."""
    query = unquote_to_bytes(scope.get("query_string", b""))
    path = scope["path"]
    try:
        query.decode()
        path.encode()
    except UnicodeError:
        return True
    return b"\0" in query or "\0" in path or "\ufffd" in path


def _with_headers(send: Send, nonce: str) -> Callable[[Message], Awaitable[None]]:
    async def sending(message: Message) -> None:
        if message["type"] == "http.response.start":
            message["headers"] = [
                *message.get("headers", []),
                (b"content-security-policy", content_policy(nonce).encode()),
                (b"x-content-type-options", b"nosniff"),
                (b"referrer-policy", b"no-referrer"),
                (b"cross-origin-resource-policy", b"same-origin"),
            ]
        await send(message)

    return sending


async def _refuse(scope: Scope, receive: Receive, send: Send, why: str, status: int) -> None:
    if scope["type"] == "websocket":
        await send({"type": "websocket.close", "code": 4403, "reason": why[:120]})
        return
    await JSONResponse({"detail": why}, status_code=status)(scope, receive, send)
