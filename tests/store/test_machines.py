"""Machines of the lab: there while they are heard of, there again after they were cut off."""

import uuid
from datetime import timedelta

from sqlalchemy import text

from zevlo.store import machines
from zevlo.store.database import transaction


def ago(session, key, time):
    session.execute(
        text("update machine set seen = now() - cast(:time as interval) where id = :key"), {"time": time, "key": key}
    )


def test_a_machine_is_there_while_it_is_heard_of_and_again_after_it_was_cut_off(engine):
    one, other = uuid.uuid4(), uuid.uuid4()
    with transaction(engine) as session:
        machines.heard_of(session, one, "north", {"cores": 2}, rays_per_s=5.0e5)
        machines.heard_of(session, other, "south", {"cores": 8}, rays_per_s=2.0e6, doing="Final of “Pot”")
        machines.heard_of(session, one, "north", {"cores": 2})
        assert [(each.name, each.rays_per_s) for each in machines.there(session) if each.id in (one, other)] == [
            ("north", 5.0e5),
            ("south", 2.0e6),
        ]
        assert machines.speed_of_all(session) >= 2.5e6
        ago(session, other, "20 seconds")
    with transaction(engine) as session:
        assert other not in {each.id for each in machines.there(session)}
        ago(session, other, str(machines.KNOWN_FOR + timedelta(hours=1)))
        machines.heard_of(session, one, "north", {"cores": 2})
    with transaction(engine) as session:
        machines.heard_of(session, other, "south", {"cores": 8})
        (again,) = (each for each in machines.there(session) if each.id == other)
        assert (again.name, again.rays_per_s) == ("south", 0.0), "it was forgotten, and is known again"
        machines.leave(session, one)
        machines.leave(session, other)
    with transaction(engine) as session:
        assert not {one, other} & {each.id for each in machines.there(session)}


def test_how_fast_a_machine_was_is_known_when_it_comes_again(engine):
    first, second, name = uuid.uuid4(), uuid.uuid4(), f"east {uuid.uuid4()}"
    with transaction(engine) as session:
        assert machines.joins(session, name) == 0.0
        machines.heard_of(session, first, name, {"cores": 2}, rays_per_s=4.0e5)
        machines.leave(session, first)
    with transaction(engine) as session:
        assert machines.joins(session, name) == 4.0e5
        machines.heard_of(session, second, name, {"cores": 2}, rays_per_s=6.0e5)
        machines.heard_of(session, uuid.uuid4(), name, {"cores": 2}, rays_per_s=0.0)
        assert machines.joins(session, name) == 6.0e5, "the newest that was measured"
        assert machines.joins(session, f"not {name}") == 0.0
