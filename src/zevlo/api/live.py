"""The live socket: drafts and gestures in, sheets out. The newest question wins; older ones are dropped."""

from __future__ import annotations

import asyncio
import contextlib
import logging
import uuid

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import TypeAdapter, ValidationError

from zevlo.api.desk import Desk, desk_of
from zevlo.api.live_messages import (
    AskScout,
    AskShot,
    BeyondAnswer,
    LiveQuestion,
    LiveTrouble,
    News,
    OpenProject,
    Ping,
    Pong,
    ScoutAnswer,
    ShotAnswer,
)
from zevlo.api.messages import Message
from zevlo.api.plain_words import in_words
from zevlo.api.sets import Standing, standing
from zevlo.core.follow import follow
from zevlo.core.gestures import Refused
from zevlo.core.light.setup import LightSetup
from zevlo.core.optics.lens import projection_matrix
from zevlo.core.scene.levels import NOWHERE
from zevlo.core.scene.working import WorkingSet
from zevlo.core.scout import SCOUT_NEAR_M, anchored, looked_at, move_view, scout_view, scout_window
from zevlo.core.shot import Shot, Stand
from zevlo.core.solve import section_beyond, solve
from zevlo.core.stand.pose import compass_point, resolve, view_matrix
from zevlo.store.changes import Missing
from zevlo.store.database import transaction
from zevlo.store.projects import light_of, project, where_of

log = logging.getLogger("zevlo.api")
router = APIRouter()
_questions: TypeAdapter[LiveQuestion] = TypeAdapter(LiveQuestion)


class LiveDesk:
    """One socket: what is open on it, and the newest question of each kind."""

    def __init__(self, desk: Desk, socket: WebSocket) -> None:
        self._desk, self._socket = desk, socket
        self._working: WorkingSet | None = None
        self._light: LightSetup | None = None
        self._stands: Standing | None = None
        self._where = NOWHERE
        self._waiting: dict[str, AskShot | AskScout] = {}
        self._came = asyncio.Event()
        self._resting: tuple[WorkingSet, Stand] | None = None
        self._rested = asyncio.Event()
        self._sending = asyncio.Lock()

    async def send(self, message: Message) -> None:
        await self._send(message.model_dump_json(by_alias=True))

    async def _send(self, text: str) -> None:
        async with self._sending:
            await self._socket.send_text(text)

    async def listen(self) -> None:
        """Take questions in; only the newest of a kind waits."""
        while True:
            text = await self._socket.receive_text()
            try:
                question = _questions.validate_json(text)
            except ValidationError as error:
                await self.send(LiveTrouble(seq=None, detail=in_words(error)))
                continue
            if isinstance(question, Ping):
                await self.send(Pong(seq=question.seq))
            elif isinstance(question, OpenProject):
                await self._open(question.project)
            else:
                self._waiting[question.kind] = question
                self._came.set()

    async def _open(self, key: uuid.UUID) -> None:
        try:
            await asyncio.to_thread(self._load, key)
        except Missing as gone:
            await self.send(LiveTrouble(seq=None, detail=str(gone)))

    def _load(self, key: uuid.UUID) -> None:
        with transaction(self._desk.engine) as session:
            found = project(session, key)
        stands = standing(found)
        working = self._desk.shelf.ready(stands)
        self._stands, self._light, self._where = stands, light_of(found), where_of(found)
        self._working = working

    async def answer(self) -> None:
        """Answer what waits, newest first served, one at a time."""
        while True:
            await self._came.wait()
            self._came.clear()
            while self._waiting:
                question = self._waiting.pop(next(iter(self._waiting)))
                answer = self._answered(question)
                await self.send(answer)
                if isinstance(answer, ShotAnswer) and isinstance(question, AskShot):
                    self._rest(answer.shot, question.beyond)
                await asyncio.sleep(0)

    def _rest(self, shot: Shot, beyond: bool) -> None:
        """Note whose thin lines are wanted; those of another stand or set are not wanted any more."""
        now = None if self._working is None else (self._working, shot.stand)
        if self._resting != now:
            self._resting = None
        if beyond and now is not None:
            self._resting = now
            self._rested.set()

    async def draw_beyond(self) -> None:
        """Work out the thin lines where a shot rests, beside everything else; the newest stand only."""
        while True:
            await self._rested.wait()
            self._rested.clear()
            wanted = self._resting
            if wanted is not None:
                try:
                    text = await asyncio.to_thread(_beyond, *wanted)
                except Exception:
                    log.exception("the section's thin lines could not be drawn")
                    continue
                if self._resting == wanted:
                    await self._send(text)

    def _answered(self, question: AskShot | AskScout) -> Message:
        try:
            return self._shot(question) if isinstance(question, AskShot) else self._scout(question)
        except ValidationError as error:
            return LiveTrouble(seq=question.seq, detail=in_words(error))
        except ValueError as error:
            return LiveTrouble(seq=question.seq, detail=str(error))
        except Exception:
            # A fault of ours: told once, and the next question is answered as ever.
            log.exception("a live question could not be answered")
            return LiveTrouble(seq=question.seq, detail="This could not be worked out. The shot stays as it was.")

    def _shot(self, question: AskShot) -> ShotAnswer:
        shot, refused = question.shot, None
        if question.gesture is not None and self._working is not None:
            try:
                lit = None
                if question.gesture.kind == "meter" and self._stands is not None and self._light is not None:
                    lit = self._desk.shelf.lit(self._stands, self._light, shot.left_out)
                shot = follow(shot, question.gesture, self._working, lit, self._where)
            except Refused as reason:
                refused = str(reason)
        sheet = solve(shot, self._working, self._where)
        # Both were checked when they were made.
        return ShotAnswer.model_construct(kind="shot", seq=question.seq, shot=shot, sheet=sheet, refused=refused)

    def _scout(self, question: AskScout) -> ScoutAnswer:
        scout = question.scout
        width, height, frame = scout_view(scout, question.ratio, question.back)
        if question.anchor and self._working is not None:
            scout = scout.model_copy(update={"stand": anchored(scout.stand, self._working)})
        if question.gesture is not None and question.gesture.kind == "look_at":
            if self._working is not None:
                there = looked_at(scout.stand, question.gesture.at, question.gesture.size_m, self._working)
                scout = scout.model_copy(update={"stand": there})
        elif question.gesture is not None:
            scout = scout.model_copy(update={"stand": move_view(scout.stand, question.gesture, width, height)})
        pose = resolve(scout.stand)
        window = scout_window(scout, question.ratio, question.back)
        floor = None if self._working is None else self._working.floor_under(pose.position)
        heading = self._where.heading(pose.heading_deg)
        return ScoutAnswer(
            seq=question.seq,
            scout=scout,
            view=view_matrix(pose).ravel().tolist(),
            projection=projection_matrix(window, SCOUT_NEAR_M, None).ravel().tolist(),
            heading_deg=heading,
            compass=compass_point(heading),
            frame=frame,
            above_floor_m=None if floor is None else float(pose.position[2]) - floor,
        )


def _beyond(working: WorkingSet, stand: Stand) -> str:
    return BeyondAnswer(stand=stand, lines=section_beyond(stand, working)).model_dump_json()


@router.websocket("/api/live")
async def live(socket: WebSocket) -> None:
    """One desk's live socket."""
    await socket.accept()
    desk = LiveDesk(desk_of(socket), socket)
    hub: set[LiveDesk] = socket.app.state.hub
    hub.add(desk)
    working = [asyncio.create_task(desk.answer()), asyncio.create_task(desk.draw_beyond())]
    try:
        await desk.listen()
    except WebSocketDisconnect:
        pass
    finally:
        hub.discard(desk)
        for task in working:
            task.cancel()
        await asyncio.gather(*working, return_exceptions=True)


async def spread_news(hub: set[LiveDesk], about: str) -> None:
    """Tell every open desk that something changed."""
    for desk in list(hub):
        with contextlib.suppress(Exception):
            await desk.send(News(about=about))
