"""Who may talk to the server: requests to this host, from its own pages; and what those pages may load."""

from __future__ import annotations

import ipaddress
import secrets
from collections.abc import Awaitable, Callable
from urllib.parse import urlsplit

from starlette.datastructures import Headers
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send


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


def _host_name(host: str) -> str:
    return (urlsplit(f"//{host}").hostname or "").lower()


def is_ours(host: str, allowed: str) -> bool:
    """Whether a Host header names this machine's loopback or the address the server was told to listen on."""
    name = _host_name(host)
    if name in ("localhost", allowed.lower()):
        return True
    try:
        address = ipaddress.ip_address(name)
    except ValueError:
        return False
    return address.is_loopback


class Guard:
    """Refuses foreign Host and Origin (so that no other page in the same browser can reach a project)."""

    def __init__(self, app: ASGIApp, host: str) -> None:
        self._app, self._host = app, host

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        host, origin = headers.get("host", ""), headers.get("origin")
        if not is_ours(host, self._host):
            await _refuse(scope, receive, send, f"This server answers to its own address only, not to “{host[:80]}”.")
            return
        if origin is not None and urlsplit(origin).netloc != host:
            await _refuse(scope, receive, send, "Requests from other pages are not answered.")
            return
        nonce = secrets.token_urlsafe(16)
        scope.setdefault("state", {})["nonce"] = nonce
        await self._app(scope, receive, _with_headers(send, nonce))


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


async def _refuse(scope: Scope, receive: Receive, send: Send, why: str) -> None:
    if scope["type"] == "websocket":
        await send({"type": "websocket.close", "code": 4403, "reason": why[:120]})
        return
    await JSONResponse({"detail": why}, status_code=403)(scope, receive, send)
