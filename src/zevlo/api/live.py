"""The live socket: drafts and gestures in, sheets out. The newest question wins; older ones are dropped."""

from __future__ import annotations

import asyncio
import contextlib
import json
import logging
import uuid
from collections import OrderedDict
from collections.abc import Awaitable, Callable

import anyio
from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import TypeAdapter, ValidationError
from sqlalchemy.exc import InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeout

from zevlo.api.desk import Desk, desk_of
from zevlo.api.live_messages import (
    AskScout,
    AskShot,
    AskWhatIf,
    BeyondAnswer,
    LiveQuestion,
    LiveTrouble,
    News,
    OpenProject,
    Ping,
    Pong,
    Progress,
    ScoutAnswer,
    ShotAnswer,
    WhatIfAnswer,
)
from zevlo.api.messages import Message
from zevlo.api.plain_words import away_words
from zevlo.api.sets import SetState, standing
from zevlo.core.camera.from_shot import Framing
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.scout import Scout, View, anchored, first_scout, followed, scout_camera, scout_from, scout_view
from zevlo.core.framing.solve import section_beyond, solve, takes_long
from zevlo.core.framing.what_if import what_if
from zevlo.core.light.site import Lights
from zevlo.core.plain_words import in_words
from zevlo.core.refused import Refused
from zevlo.core.scene.model.placing import Placing
from zevlo.core.scene.places.levels import NO_CONTEXT, SetContext
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot, Stand
from zevlo.core.stand.pose import compass_point, view_matrix
from zevlo.store.changes import Missing
from zevlo.store.database import transaction
from zevlo.store.projects import lights_of, project, where_of
from zevlo.text import answers as say

log = logging.getLogger("zevlo.api")
router = APIRouter()
_questions: TypeAdapter[LiveQuestion] = TypeAdapter(LiveQuestion)


MOST_WAITING = 200
"""Messages that wait for a desk that does not read; of each kind only the newest waits, news by what they are about."""
DEAF_AFTER_S = 20.0
LOAD_AGAIN_S = 1.0


class Deaf(RuntimeError):
    """A desk that has not taken a message for too long."""


class Outbox:
    """What is to be sent to one desk: the newest of each kind, so that one that reads slowly holds nobody up."""

    def __init__(self) -> None:
        self._waiting: OrderedDict[str, str] = OrderedDict()
        self._came = asyncio.Event()

    def put(self, key: str, text: str) -> None:
        """Send a message when the desk takes it; one of the same ``key`` that still waits is not sent any more."""
        self._waiting.pop(key, None)
        self._waiting[key] = text
        while len(self._waiting) > MOST_WAITING:
            self._waiting.popitem(last=False)
        self._came.set()

    async def deliver(self, socket: WebSocket) -> None:
        """Send what waits, in order. Raises :class:`Deaf`."""
        while True:
            await self._came.wait()
            self._came.clear()
            while self._waiting:
                _, text = self._waiting.popitem(last=False)
                try:
                    await asyncio.wait_for(socket.send_text(text), DEAF_AFTER_S)
                except TimeoutError:
                    raise Deaf from None


class LiveDesk:
    """One socket: what is open on it, and the newest question of each kind."""

    def __init__(self, desk: Desk, socket: WebSocket) -> None:
        self._desk, self._socket = desk, socket
        self._working: WorkingSet | None = None
        self._lights: Lights | None = None
        self._stands: SetState | None = None
        self._where = NO_CONTEXT
        self._waiting: dict[str, AskShot | AskWhatIf | AskScout] = {}
        self._came = asyncio.Event()
        self._resting: tuple[WorkingSet, Stand] | None = None
        self._rested = asyncio.Event()
        self._outbox = Outbox()
        self._opening: asyncio.Task[None] | None = None
        self._settled = asyncio.Event()
        self._settled.set()

    def send(self, message: Message, key: str = "") -> None:
        """Put a message in the desk's outbox."""
        self._outbox.put(key or message.__class__.__name__, message.model_dump_json(by_alias=True))

    async def deliver(self) -> None:
        """Send what is in the outbox for as long as the desk takes it."""
        await self._outbox.deliver(self._socket)

    async def listen(self) -> None:
        """Take questions in; only the newest of a kind waits. Ends when the desk is gone."""
        while True:
            came = await self._socket.receive()
            if came["type"] == "websocket.disconnect":
                return
            text = came.get("text")
            if text is None:
                self.send(LiveTrouble(seq=None, detail=say.ONLY_TEXT_IS_UNDERSTOOD), "binary")
                continue
            try:
                question = _questions.validate_json(text)
            except ValidationError as error:
                seq = _seq_of(text)
                self.send(LiveTrouble(seq=seq, detail=in_words(error)), f"trouble {seq}")
                continue
            if isinstance(question, Ping):
                self.send(Pong(seq=question.seq))
            elif isinstance(question, OpenProject):
                if self._opening is not None:
                    self._opening.cancel()
                self._settled.clear()
                self._opening = asyncio.create_task(self._open(question.project))
            else:
                self._waiting[question.kind] = question
                self._came.set()

    async def _open(self, key: uuid.UUID) -> None:
        """Have a project's set at hand; while the database is away, as soon as it is back."""
        opened = False
        while True:
            try:
                loaded = await asyncio.to_thread(self._loaded, key)
                # Only here: one that was given up for a newer one goes on in its thread, and ends after that.
                self._stands, self._lights, self._where, self._working = loaded
                self._settled.set()
                return
            except Missing as gone:
                self.send(LiveTrouble(seq=None, detail=str(gone)), "gone")
                self._settled.set()
                return
            except (OperationalError, InterfaceError, PoolTimeout) as error:
                if not opened:
                    self.send(LiveTrouble(seq=None, detail=away_words(error)), "away")
                opened = True
                self._settled.set()
                await asyncio.sleep(LOAD_AGAIN_S)
            except Exception:
                log.exception("the set of project %s could not be opened", key)
                self.send(LiveTrouble(seq=None, detail=say.THE_SET_COULD_NOT_BE_OPENED), "open")
                self._settled.set()
                return

    def close(self) -> None:
        """Let go of what is under way."""
        if self._opening is not None:
            self._opening.cancel()

    def _loaded(self, key: uuid.UUID) -> tuple[SetState, Lights, SetContext, WorkingSet]:
        with transaction(self._desk.engine) as session:
            found = project(session, key)
        stands = standing(found)
        return stands, lights_of(found), where_of(found), self._desk.shelf.ready(stands)

    async def answer(self) -> None:
        """Answer what waits, newest first served, one at a time."""
        while True:
            await self._came.wait()
            self._came.clear()
            # What is asked after a project was opened is asked of its set.
            await self._settled.wait()
            while self._waiting:
                question = self._waiting.pop(next(iter(self._waiting)))
                if isinstance(question, AskShot) and self._takes_long(question):
                    # Worked out beside everything else, the first time it is asked for.
                    answer = await asyncio.to_thread(self._answered, question)
                else:
                    answer = self._answered(question)
                self.send(answer, f"trouble {question.seq}" if isinstance(answer, LiveTrouble) else question.kind)
                if isinstance(answer, ShotAnswer) and isinstance(question, AskShot):
                    self._rest(answer.shot, question.beyond)
                await asyncio.sleep(0)

    def _takes_long(self, question: AskShot) -> bool:
        """Whether it asks for the light in the set, or for its uprights or a set without parts, not known yet."""
        lit = question.gesture is not None and question.gesture.needs_light
        if lit or self._working is None:
            return lit
        return takes_long(Framing(question.shot, self._working))

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
                    self._outbox.put("beyond", text)

    def _answered(self, question: AskShot | AskWhatIf | AskScout) -> Message:
        try:
            if isinstance(question, AskWhatIf):
                return self._what_if(question)
            return self._shot(question) if isinstance(question, AskShot) else self._scout(question)
        except ValidationError as error:
            return LiveTrouble(seq=question.seq, detail=in_words(error))
        except ValueError as error:
            return LiveTrouble(seq=question.seq, detail=str(error))
        except Exception:
            # A fault of ours: told once, and the next question is answered as ever.
            log.exception("a live question could not be answered")
            return LiveTrouble(seq=question.seq, detail=say.THIS_COULD_NOT_BE_WORKED)

    def _shot(self, question: AskShot) -> ShotAnswer:
        shot, refused = question.shot, None
        if question.gesture is not None and self._working is not None:
            try:
                lit = None
                if question.gesture.needs_light and self._stands is not None and self._lights is not None:
                    lit = self._desk.shelf.lit(self._stands, self._lights.of(shot.light), shot)
                shot = apply_gesture(shot, question.gesture, self._working, lit, self._where)
            except Refused as reason:
                refused, shot = str(reason), reason.nearest or shot
        sheet = solve(shot, self._working, self._where)
        # Both were checked when they were made.
        return ShotAnswer.model_construct(kind="shot", seq=question.seq, shot=shot, sheet=sheet, refused=refused)

    def _what_if(self, question: AskWhatIf) -> WhatIfAnswer:
        working = self._working
        try:
            if working is None or question.gesture.needs_light:
                raise Refused(say.THAT_IS_NOT_TOLD)
            after = apply_gesture(question.shot, question.gesture, working, where=self._where)
        except Refused as reason:
            return WhatIfAnswer(seq=question.seq, outline=[], words=str(reason))
        found = what_if(question.shot, after)
        outline = [(x, y) for x, y in found.outline.tolist()]
        return WhatIfAnswer(seq=question.seq, outline=outline, words=found.words)

    def _began(self, question: AskScout) -> Scout:
        if question.scout is not None:
            return question.scout
        if question.shot is not None:
            return scout_from(question.shot)
        return Scout() if self._working is None else first_scout(self._working.body)

    def _scout(self, question: AskScout) -> ScoutAnswer:
        scout = self._began(question)
        width, height, frame = scout_view(scout, question.ratio, question.back)
        if question.anchor and self._working is not None:
            scout = scout.model_copy(update={"stand": anchored(scout.stand, self._working)})
        if question.gesture is not None:
            placing = Placing() if self._stands is None else self._stands.arrangement.placing
            stand = followed(scout.stand, question.gesture, View(self._working, placing, width, height))
            scout = scout.model_copy(update={"stand": stand})
        camera = scout_camera(scout, question.ratio, question.back)
        pose, projection = camera.pose, camera.matrix()
        assert projection is not None, "the scout view looks through a plain lens"
        floor = None if self._working is None else self._working.floor_under(pose.position)
        heading = self._where.heading(pose.heading_deg)
        return ScoutAnswer(
            seq=question.seq,
            scout=scout,
            view=view_matrix(pose).ravel().tolist(),
            projection=projection.ravel().tolist(),
            heading_deg=heading,
            compass=compass_point(heading),
            frame=frame,
            above_floor_m=None if floor is None else float(pose.position[2]) - floor,
        )


def _beyond(working: WorkingSet, stand: Stand) -> str:
    return BeyondAnswer(stand=stand, lines=section_beyond(stand, working)).model_dump_json()


def _seq_of(text: str) -> int | None:
    """The number of a question that could not be understood, so that whoever asked knows which it was."""
    with contextlib.suppress(ValueError, RecursionError):
        message = json.loads(text)
        seq = message.get("seq") if isinstance(message, dict) else None
        return seq if isinstance(seq, int) and not isinstance(seq, bool) else None
    return None


@router.websocket("/api/live")
async def live(socket: WebSocket) -> None:
    """One desk's live socket."""
    await socket.accept()
    desk = LiveDesk(desk_of(socket), socket)
    hub: set[LiveDesk] = socket.app.state.hub
    hub.add(desk)
    async with anyio.create_task_group() as group:

        async def until_over(work: Callable[[], Awaitable[None]]) -> None:
            """One of the socket's works; when it is over, all are."""
            try:
                await work()
            except Deaf:
                log.warning("a desk did not take its messages for %.0f s and was let go", DEAF_AFTER_S)
                with contextlib.suppress(Exception):
                    await asyncio.wait_for(socket.close(1008, say.NOTHING_WAS_READ_FOR_TOO), 1.0)
            except (WebSocketDisconnect, RuntimeError):
                pass  # the desk went away in the middle of a message
            except Exception:
                log.exception("a live socket ended")
            group.cancel_scope.cancel()

        try:
            for work in (desk.listen, desk.deliver, desk.answer, desk.draw_beyond):
                group.start_soon(until_over, work)
            await anyio.sleep_forever()
        finally:
            hub.discard(desk)
            desk.close()


def spread_news(hub: set[LiveDesk], note: str) -> None:
    """Tell every open desk what changed; none waits for another."""
    message = json.loads(note)
    about, what = message["about"], message["what"]
    progress = None
    if what == "progress":
        progress = Progress(**{name: message[name] for name in Progress.model_fields})
    news = News(about=about, what=what, progress=progress, by=message.get("by"))
    for desk in list(hub):
        desk.send(news, f"news {about} {what} {message.get('print', '')} {message.get('by', '')}")
