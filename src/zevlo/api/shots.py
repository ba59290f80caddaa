"""Shots: new, changed, kept, back to kept, locked, ordered, copied, deleted; their takes."""

from __future__ import annotations

import uuid
from urllib.parse import quote

from fastapi import APIRouter
from sqlalchemy.orm import Session

from zevlo.api.desk import (
    Desk,
    InTransaction,
    PlacingProject,
    PlacingShot,
    PlacingTake,
    TheDesk,
    WritingProject,
    WritingShot,
    WritingTake,
)
from zevlo.api.messages import Seen, ShortOut
from zevlo.api.print_views import prints_out
from zevlo.api.project_messages import ProjectOut
from zevlo.api.section_views import marks_of
from zevlo.api.sets import mark_of, standing
from zevlo.api.shot_messages import (
    Another,
    CardChange,
    CopiedOut,
    CopyChange,
    CopyOut,
    FromScout,
    FromStand,
    LockChange,
    MoveChange,
    NewShot,
    OrderChange,
    Pair,
    PairOut,
    ShotChange,
    ShotOut,
    SuggestionOut,
    SuggestionsOut,
    TakeCard,
    TakeName,
    WrittenOut,
)
from zevlo.api.shot_views import around, shots_out
from zevlo.api.views import project_out, undo_now
from zevlo.core.camera.blur_map import BlurLabel, blur_labels
from zevlo.core.camera.drawn import CapSheet
from zevlo.core.camera.from_shot import Framing
from zevlo.core.constraints.settling import apply_edit
from zevlo.core.framing.differences import copied, differences
from zevlo.core.framing.lens_line import lens_line
from zevlo.core.framing.new_shot import new_shot_at, new_shot_from_scout, new_shot_in_plan
from zevlo.core.framing.solve import cap_sheet, solve, takes_long
from zevlo.core.framing.suggested_stands import Suggestion, suggested_stands
from zevlo.core.instruments.exposure.gestures import metered
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.patch import differs_from, patched
from zevlo.store import projects, shot_list, shot_names, shot_rows, shots, takes
from zevlo.store.changes import Clash, Missing, was_made
from zevlo.store.database import transaction
from zevlo.store.tables import Project, ShotRow
from zevlo.text import answers as say

router = APIRouter(prefix="/api")
LOOKED_FROM = {"position", "aim"}


def _out(session: Session, row: ShotRow) -> ShotOut:
    owner = projects.project(session, row.project_id)
    return shots_out(session, shot_rows.written_now(session, row.id), around(session, owner))[0]


@router.post("/projects/{key}/shots", status_code=201)
def new_shot(key: uuid.UUID, new: NewShot, desk: TheDesk, session: PlacingProject) -> ShotOut:
    """A new shot from the scout view, from stand and aim in plan, or at a suggested stand; exposed for what it sees."""
    owner = projects.project(session, key)
    if (made_before := shots.made_before(session, key, new.id)) is not None:
        return _out(session, made_before)
    after = None if new.after is None else shot_rows.shot_row(session, new.after)
    start = Shot()
    if after is not None:
        # What a roll of film keeps from frame to frame: the back, the guides, how blur is judged.
        last = shot_rows.settings_of(after)
        start = start.model_copy(update={"back": last.back, "guides": last.guides})
    working, habits = desk.shelf.working(standing(owner)), projects.habits_of(owner)
    if isinstance(new.how, FromScout):
        made = new_shot_from_scout(start, working, new.how.scout)
    elif isinstance(new.how, FromStand):
        made = new_shot_at(start, working, new.how.stand, habits)
    else:
        made = new_shot_in_plan(start, working, new.how.stand, new.how.aim, owner.plan_height, habits)
    made = metered(Framing(made), desk.shelf.lit(standing(owner), projects.lights_of(owner).of(made.light)))
    words, placed = say.NEW_SHOT_NAME, desk.placed(owner)
    return _out(session, shots.add_shot(session, key, made, after, words, placed, named_by_hand=False, key=new.id))


@router.get("/shots/{key}/cap")
def cap(key: uuid.UUID, desk: TheDesk) -> CapSheet | None:
    """The faces a shot's cutting plane closes the set with; none where it does not open it."""
    with transaction(desk.engine) as session:
        row = shot_rows.shot_row(session, key)
        shot, stands = shot_rows.settings_of(row), standing(projects.project(session, row.project_id))
    return cap_sheet(Framing(shot, desk.shelf.working(stands)))


@router.get("/shots/{key}/softness")
def softness(key: uuid.UUID, desk: TheDesk) -> list[BlurLabel]:
    """Where lines of equal blur in a shot's picture are told by a number; none where everything is sharp."""
    with transaction(desk.engine) as session:
        row = shot_rows.shot_row(session, key)
        shot, stands = shot_rows.settings_of(row), standing(projects.project(session, row.project_id))
    return blur_labels(Framing(shot, desk.shelf.working(stands).whole))


@router.patch("/shots/{key}")
def change_shot(key: uuid.UUID, change: ShotChange, desk: TheDesk, session: PlacingShot) -> WrittenOut:
    """Other settings, or what a gesture makes of them."""
    row = shot_rows.shot_row(session, key)
    owner = projects.project(session, row.project_id)
    if was_made(session, str(owner.id), change.id):
        return _written_out(session, desk, owner, row)
    before = shot_rows.settings_of(row)
    shot, seen, short = before, change.version, None
    if change.patch is not None:
        shot = apply_edit(before, patched(before, change.patch))
        if change.seen is not None and change.gesture is None:
            others = set(differs_from(before, change.seen)) & set(differs_from(before, change.patch))
            if others:
                raise Clash(say.was_changed_elsewhere_meanwhile(", ".join(sorted(others))))
            seen = row.version
    if change.gesture is not None:
        shot, short = desk.followed(owner, shot, change.gesture)
    written = shots.change_shot(session, key, seen, shot, change.label, desk.placed(owner), change.id)
    return _written_out(session, desk, owner, written, before, short)


def _written_out(
    session: Session,
    desk: Desk,
    owner: Project,
    row: ShotRow,
    before: Shot | None = None,
    short: ShortOut | None = None,
) -> WrittenOut:
    """``before``: the shot as it was, where that is known."""
    out, working = _out(session, row), desk.shelf.working(standing(owner))
    # Nobody else waits for this project until rays know a large set.
    later = takes_long(Framing(out.shot, working))
    stays = before is not None and before.stand == out.shot.stand
    return WrittenOut.model_construct(
        **vars(out),
        sheet=None if later else solve(out.shot, working, projects.where_of(owner)),
        short=short,
        prints=prints_out(session, owner, shot=row.id),
        section=None if stays else marks_of(session, owner, row),
        history=undo_now(session, owner),
    )


@router.post("/shots/{key}/lock")
def lock_shot(key: uuid.UUID, change: LockChange, session: WritingShot) -> ShotOut:
    """Lock or unlock a shot."""
    return _out(session, shots.lock_shot(session, key, change.version, change.locked))


@router.post("/shots/{key}/card")
def card_shot(key: uuid.UUID, change: CardChange, desk: TheDesk, session: WritingShot) -> ShotOut:
    """Own labels, the marker's colour, or the name by what the shot shows again."""
    if change.name_itself:
        owner = projects.project(session, shot_rows.shot_row(session, key).project_id)
        return _out(session, shot_names.name_itself(session, key, change.version, desk.placed(owner)))
    return _out(session, shots.card_shot(session, key, change.version, change.labels, change.colour))


@router.post("/shots/{key}/keep")
def keep_shot(key: uuid.UUID, seen: Seen, session: WritingShot) -> ShotOut:
    """Keep the framing as the next take."""
    return _out(session, takes.keep_shot(session, key, seen.version))


@router.post("/shots/{key}/back-to-kept")
def back_to_kept(key: uuid.UUID, seen: Seen, desk: TheDesk, session: PlacingShot) -> ShotOut:
    """Put the last kept framing back."""
    owner = projects.project(session, shot_rows.shot_row(session, key).project_id)
    return _out(session, takes.back_to_kept(session, key, seen.version, desk.placed(owner)))


@router.get("/shots/{key}/takes")
def takes_of_shot(key: uuid.UUID, session: InTransaction) -> list[TakeCard]:
    """All takes of a shot, the newest first, each beside the shot as it is now."""
    row = shot_rows.shot_row(session, key)
    shared = around(session, projects.project(session, row.project_id))
    now = shot_rows.settings_of(row)
    cards = []
    for take in reversed(takes.takes_of(session, {key})[key]):
        shot = shot_rows.settings_of(take)
        cards.append(
            TakeCard(
                id=take.id,
                number=take.number,
                name=take.name,
                kept=take.id == row.kept_take,
                thumbnail=f"/api/takes/{take.id}/thumbnail.png?of={shared.thumbnail(shot)}",
                line=lens_line(shot, shared.ruler),
                differs=[one.words for one in differences(shot, now, shared.parts.called)],
            )
        )
    return cards


@router.post("/takes/{key}/back")
def back_to_take(key: uuid.UUID, desk: TheDesk, session: PlacingTake) -> ShotOut:
    """Put a kept framing back; it is the kept one from then on."""
    owner = projects.project(session, takes.take_shot(session, key).project_id)
    return _out(session, takes.back_to_take(session, key, desk.placed(owner)))


@router.patch("/takes/{key}", status_code=204)
def name_take(key: uuid.UUID, change: TakeName, session: WritingTake) -> None:
    """Name a take; an empty name takes it away."""
    takes.name_take(session, key, change.name.strip())


@router.post("/shots/{key}/duplicate", status_code=201)
def duplicate_shot(key: uuid.UUID, desk: TheDesk, session: PlacingShot, change: Another | None = None) -> ShotOut:
    """A second shot behind the first, the same or with one thing changed."""
    row = shot_rows.shot_row(session, key)
    owner = projects.project(session, row.project_id)
    wanted = None if change is None else change.id
    if (made_before := shots.made_before(session, row.project_id, wanted)) is not None:
        return _out(session, made_before)
    before = shot_rows.settings_of(row)
    shot = before
    if change is not None and change.patch is not None:
        shot = apply_edit(before, patched(before, change.patch))
    if change is not None and change.gesture is not None:
        shot = desk.apply(owner, shot, change.gesture)
    words, placed = say.DUPLICATE_AS_NAME, desk.placed(owner)
    made = shots.add_shot(session, row.project_id, shot, row, words, placed, row, row.named_by_hand, wanted)
    return _out(session, made)


@router.post("/shots/{key}/pair", status_code=201)
def pair_of_shots(key: uuid.UUID, wanted: Pair, desk: TheDesk, session: PlacingShot) -> PairOut:
    """Two shots behind this one, sharp in front and at the back, in one change."""
    row = shot_rows.shot_row(session, key)
    owner = projects.project(session, row.project_id)
    if (first := shots.made_before(session, row.project_id, wanted.id)) is not None:
        both = shots.pair_again(session, first)
    else:
        made = desk.pair(owner, shot_rows.settings_of(row), wanted.focus)
        both = shots.add_pair(session, row, made, desk.placed(owner), wanted.id)
    front, back = (_out(session, one) for one in both)
    return PairOut(front=front, back=back)


@router.post("/shots/{key}/move")
def move_shot(key: uuid.UUID, change: MoveChange, session: WritingShot) -> ShotOut:
    """Another place in the shot list."""
    return _out(session, shot_list.move_shot(session, key, change.version, change.after))


@router.post("/projects/{key}/order")
def order_shots(key: uuid.UUID, change: OrderChange, session: WritingProject) -> ProjectOut:
    """The shot list ordered by name, by level and room, by lens or by label."""
    owner = projects.project(session, key)
    shared = around(session, owner)
    listed = shots_out(session, shot_rows.written_of(session, key), shared)
    floors = {level.name: level.floor_m for level in shared.where.places.levels}
    keys = {
        "name": lambda one: one.shot.name.casefold(),
        "room": lambda one: (floors.get(one.level or "", -1e9), (one.room or "").casefold()),
        "lens": lambda one: one.shot.lens.focal_length_mm,
        "label": lambda one: (not one.labels, [label.casefold() for label in one.labels]),
    }
    ordered = sorted(listed, key=keys[change.by])
    shot_list.order_shots(session, key, [one.id for one in ordered], say.order_the_shots_by(change.by))
    return project_out(session, owner)


@router.post("/projects/{key}/copy")
def copy_settings(key: uuid.UUID, change: CopyChange, desk: TheDesk, session: PlacingProject) -> CopyOut:
    """Copy groups of settings to other shots; or only tell what that would change, and where it cannot be done."""
    owner = projects.project(session, key)
    working = desk.shelf.working(standing(owner))
    source, called = (
        shot_rows.settings_of(shot_rows.shot_row(session, change.source)),
        around(session, owner).parts.called,
    )
    outcomes, changed = [], {}
    for target in change.targets:
        row = shot_rows.shot_row(session, target)
        if row.project_id != key:
            raise Missing(say.THAT_SHOT_BELONGS_TO_ANOTHER)
        before = shot_rows.settings_of(row)
        refused, words = None, []
        try:
            after = apply_edit(before, copied(source, before, change.groups, working))
            words = [one.words for one in differences(before, after, called)]
            if row.locked:
                refused = say.IT_IS_LOCKED
            elif words:
                changed[target] = after
        except Refused as reason:
            refused = str(reason)
        outcomes.append(CopiedOut(shot=target, name=before.name, changes=words, refused=refused))
    if not change.only_try and changed:
        label = say.copy_from(", ".join(change.groups).replace("_", " "), source.name)[:120]
        shots.write_many(session, key, changed, label, desk.placed(owner))
    return CopyOut(shots=outcomes, written=not change.only_try and bool(changed))


@router.get("/projects/{key}/suggestions")
def suggestions(key: uuid.UUID, room: int, desk: TheDesk, session: InTransaction) -> SuggestionsOut:
    """Stands worth a look in a room, each with its picture."""
    owner = projects.project(session, key)
    # Its address is another one when what it shows is: the browser keeps pictures for ever.
    seen = mark_of(owner)
    found = [
        SuggestionOut(
            what=one.what,
            words=one.words,
            stand=one.stand,
            picture=f"/api/projects/{key}/look.png?stand={quote(one.stand.model_dump_json(include=LOOKED_FROM))}&of={seen}",
        )
        for one in _suggested(owner, room, desk)
    ]
    return SuggestionsOut(found=found)


def _suggested(owner: Project, number: int, desk: Desk) -> list[Suggestion]:
    places = projects.places_of(owner)
    if not 0 <= number < len(places.rooms):
        raise Missing(say.THERE_IS_NO_SUCH_ROOM)
    room = places.rooms[number]
    level = next(level for level in places.levels if level.name == room.level)
    return suggested_stands(
        room, level, desk.shelf.working(standing(owner)), projects.habits_of(owner), projects.site_of(owner).north_deg
    )


@router.delete("/shots/{key}", status_code=204)
def delete_shot(key: uuid.UUID, session: WritingShot) -> None:
    """Delete a shot; undoable."""
    shots.delete_shot(session, key)
