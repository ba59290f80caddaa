"""What a request may bring: counted while it comes in, and refused where it is too much, not after it has all come."""

from __future__ import annotations

from starlette.datastructures import Headers
from starlette.exceptions import HTTPException
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from zevlo.files.limits import CAMERAS_SIZE_LIMIT
from zevlo.files.sandbox import too_large
from zevlo.text import answers as say

MOST_ELSEWHERE = 16 * 1024**2
"""Bytes of a request that brings no model: ten thousand parts left out of a shot are a tenth of it."""
_AROUND_A_FILE = 64 * 1024


class Bodies:
    """Stops reading a request's body where it is larger than it may be."""

    def __init__(self, app: ASGIApp, upload_limit: int) -> None:
        self._app, self._upload_limit = app, upload_limit

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        path = scope["path"].rstrip("/") if scope["method"] == "POST" else ""
        brings_a_model = path == "/api/projects"
        limit = MOST_ELSEWHERE
        if brings_a_model:
            limit = self._upload_limit + _AROUND_A_FILE
        elif path.endswith("/cameras"):
            limit = CAMERAS_SIZE_LIMIT
        length = Headers(scope=scope).get("content-length", "")
        size = int(length) if length.isdecimal() else None
        if size is not None and size > limit:
            words = self._words(brings_a_model, size, limit)
            await JSONResponse({"detail": words}, 413, headers={"connection": "close"})(scope, receive, send)
            return
        came = 0

        async def counted() -> Message:
            nonlocal came
            message = await receive()
            came += len(message.get("body", b""))
            if came > limit:
                raise HTTPException(413, self._words(brings_a_model, None, limit))
            return message

        await self._app(scope, counted, send)

    def _words(self, brings_a_model: bool, size: int | None, limit: int) -> str:
        if brings_a_model:
            return too_large(size, self._upload_limit)
        return say.a_request_may_be_up_to_mb(limit // 1024**2)
