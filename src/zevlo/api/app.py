"""The server: routers by resource, the live socket, the built desk."""

from __future__ import annotations

import asyncio
import contextlib
import logging
import re
from collections.abc import AsyncIterator
from typing import Any

import psycopg
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.openapi.utils import get_openapi
from fastapi.responses import HTMLResponse, JSONResponse
from fastapi.staticfiles import StaticFiles
from pydantic import TypeAdapter, ValidationError
from sqlalchemy import Engine
from sqlalchemy.exc import DataError, InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from starlette.middleware.gzip import GZipMiddleware

from zevlo import __version__
from zevlo.api import arrange, documents, exchange, live, orders, prints, projects, shots, solve, thumbnails
from zevlo.api.arrivals import Arrivals
from zevlo.api.bodies import Bodies
from zevlo.api.desk import Desk
from zevlo.api.guard import Guard, Names
from zevlo.api.live_messages import LiveAnswer, LiveQuestion
from zevlo.api.plain_words import away_words
from zevlo.api.sets import SetCache
from zevlo.api.waiting import Lines
from zevlo.core.exchange.camera_record import NoCamera
from zevlo.core.plain_words import error_lines, fit_to_send
from zevlo.core.refused import Refused
from zevlo.files.refusal import CannotRead
from zevlo.lab.history import NotOurs
from zevlo.settings import Settings
from zevlo.store.changes import Busy, Clash, Missing
from zevlo.store.cleaning import clean
from zevlo.store.database import NEWS_CHANNEL, engine_for, transaction
from zevlo.store.shot_rows import Locked
from zevlo.text import ENGLISH, LANGUAGE
from zevlo.text import answers as say

log = logging.getLogger("zevlo.api")
RETRY_AFTER_S = 2
PAGES = re.compile(r"|[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}(/[a-z]+(/[0-9a-z-]*)?)?/?")
"""Addresses of the desk: the first page, or a project, a room in it, a thing there."""
# Answers go out sixty times a second over loopback: compressing them would take longer than sending them.
SERVING: dict[str, Any] = {
    "log_level": "warning", "ws": "websockets-sansio", "ws_per_message_deflate": False, "timeout_graceful_shutdown": 2,
}  # fmt: skip
"""How uvicorn serves it, wherever."""
STATUS: dict[type[Exception], int] = {
    Missing: 404,
    Clash: 409,
    Locked: 423,
    Refused: 422,
    CannotRead: 422,
    NotOurs: 422,
    NoCamera: 422,
}


CLEAN_EVERY_S = 24 * 3600.0


async def _clean(engine: Engine) -> None:
    """Once a day what nobody can come back to any more is taken away; at every start it is done before."""
    while True:
        await asyncio.sleep(CLEAN_EVERY_S)
        with contextlib.suppress(OperationalError, InterfaceError, PoolTimeout):
            await asyncio.to_thread(_clean_now, engine)


def _clean_now(engine: Engine) -> None:
    with transaction(engine) as session:
        clean(session)


async def _listen(url: str, hub: set[live.LiveDesk]) -> None:
    """Pass the database's news on to the open desks; reconnects for ever."""
    while True:
        try:
            connection = await psycopg.AsyncConnection.connect(url, autocommit=True)
            async with connection:
                await connection.execute(f"listen {NEWS_CHANNEL}")
                async for note in connection.notifies():
                    live.spread_news(hub, note.payload)
        except psycopg.Error:
            log.warning("lost the database's news; trying again")
            await asyncio.sleep(1.0)


def create_app(settings: Settings) -> FastAPI:
    """The whole server on a migrated database."""
    engine = engine_for(settings.database_url)

    @contextlib.asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        listening = asyncio.create_task(_listen(settings.database_url, app.state.hub))
        cleaning = asyncio.create_task(_clean(engine))
        yield
        listening.cancel()
        cleaning.cancel()
        app.state.desk.arrivals.close()
        engine.dispose()

    app = FastAPI(title="Zevlo", version=__version__, lifespan=lifespan, docs_url=None, redoc_url=None)
    app.state.desk = Desk(settings, engine, SetCache(engine), Arrivals(), Lines())
    app.state.hub = set()
    for part in (projects, arrange, shots, thumbnails, prints, orders, documents, exchange, solve, live):
        app.include_router(part.router)
    for kind, status in STATUS.items():
        app.add_exception_handler(kind, _in_words(status))
    app.add_exception_handler(RequestValidationError, _invalid)
    app.add_exception_handler(ValidationError, _invalid)
    for kind in (OperationalError, InterfaceError, PoolTimeout):
        app.add_exception_handler(kind, _away)
    app.add_exception_handler(Busy, _busy)
    app.add_exception_handler(DataError, _not_kept)
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=4)
    app.add_middleware(Bodies, upload_limit=settings.upload_limit)
    app.add_middleware(Guard, names=Names(settings.names))
    app.openapi = lambda: openapi_of(app)  # type: ignore[method-assign]
    _serve_desk(app, settings)
    return app


def _in_words(status: int) -> Any:
    async def handler(_: Request, error: Exception) -> JSONResponse:
        return JSONResponse({"detail": fit_to_send(str(error))}, status_code=status)

    return handler


async def _invalid(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError | ValidationError)
    return JSONResponse({"detail": fit_to_send("; ".join(error_lines(error.errors())))}, status_code=422)


async def _away(_: Request, error: Exception) -> JSONResponse:
    """The database is gone for now, or its disk is full: nothing was written, and the same may be asked again."""
    log.warning("the database is away: %s", str(error).splitlines()[0])
    return JSONResponse({"detail": away_words(error)}, 503, headers={"Retry-After": str(RETRY_AFTER_S)})


async def _busy(_: Request, error: Exception) -> JSONResponse:
    return JSONResponse({"detail": str(error)}, 503, headers={"Retry-After": str(RETRY_AFTER_S)})


async def _not_kept(_: Request, error: Exception) -> JSONResponse:
    log.warning("the database refused what was sent: %s", str(error).splitlines()[0])
    return JSONResponse({"detail": say.SOMETHING_IN_WHAT_WAS_SENT}, 422)


def openapi_of(app: FastAPI) -> dict[str, Any]:
    """OpenAPI with the live socket's messages beside the requests, so that the desk's types come from one place."""
    document = get_openapi(title=app.title, version=app.version, routes=app.routes)
    schemas = document["components"]["schemas"]
    for name, kind, mode in (("LiveQuestion", LiveQuestion, "validation"), ("LiveAnswer", LiveAnswer, "serialization")):
        schema = TypeAdapter(kind).json_schema(ref_template="#/components/schemas/{model}", mode=mode)  # type: ignore[arg-type]
        for inner, definition in schema.pop("$defs", {}).items():
            schemas.setdefault(inner, definition)
        schemas[name] = schema
    return document


def _serve_desk(app: FastAPI, settings: Settings) -> None:
    assets = settings.desk / "assets"
    if assets.is_dir():
        app.mount("/assets", StaticFiles(directory=assets), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str, request: Request) -> HTMLResponse:
        if not PAGES.fullmatch(path):
            raise Missing(say.THERE_IS_NOTHING_AT_THIS_ADDRESS)
        index = settings.desk / "index.html"
        if not index.is_file():
            return HTMLResponse(say.DESK_NOT_BUILT, status_code=503)
        text = index.read_text().replace("__NONCE__", request.state.nonce)
        text = text.replace(f'lang="{ENGLISH}"', f'lang="{LANGUAGE}"', 1)
        return HTMLResponse(text, headers={"Cache-Control": "no-store"})
