"""A machine elsewhere fetches each set once, and keeps no more of them than it may."""

import os
import uuid

import pytest
from sqlalchemy import text

from zevlo.lab.sets import SetsOnDisk
from zevlo.store.blobs import put_blob
from zevlo.store.database import transaction


def put(engine, size=1000):
    with transaction(engine) as session:
        data = uuid.uuid4().bytes * (size // 16)
        return put_blob(session, data, "application/x-npz"), data


def read(engine, cache, name):
    with transaction(engine) as session, cache.opened(session, name) as file:
        return file.read()


def forget(engine, name):
    with transaction(engine) as session:
        for table in ("blob_chunk", "blob"):
            session.execute(text(f"delete from {table} where sha256 = :name"), {"name": name})


def test_a_set_is_fetched_once_and_again_where_it_is_harmed(engine, tmp_path):
    cache = SetsOnDisk(tmp_path / "sets")
    name, data = put(engine)
    assert read(engine, cache, name) == data
    harmed = cache.folder / name
    harmed.write_bytes(data[:-1] + b"?")
    assert read(engine, cache, name) == data
    forget(engine, name)
    assert read(engine, cache, name) == data, "it is not asked of the database again"
    harmed.write_bytes(b"?")
    with pytest.raises(KeyError):
        read(engine, cache, name)
    assert [path.name for path in cache.folder.iterdir()] == [name], "nothing half written stays"


def test_those_used_longest_ago_go_first(engine, tmp_path):
    cache = SetsOnDisk(tmp_path / "sets", most_bytes=2500)
    first, second, third = (put(engine)[0] for _ in range(3))
    for n, name in enumerate((first, second)):
        read(engine, cache, name)
        os.utime(cache.folder / name, (n, n))
    read(engine, cache, first)
    read(engine, cache, third)
    assert {path.name for path in cache.folder.iterdir()} == {first, third}
    large, data = put(engine, 8000)
    assert read(engine, cache, large) == data
    assert {path.name for path in cache.folder.iterdir()} == {large}
