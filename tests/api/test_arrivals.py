"""Models on their way in: two at a time, the others in line; given up where whoever sent them is gone."""

import asyncio
import threading

import pytest
from tests.api.asking import in_a_loop, until

from zevlo.api.arrivals import AT_ONCE, Arrivals, Coming


class Request:
    def __init__(self):
        self.gone = False

    async def is_disconnected(self):
        return self.gone


def test_two_are_read_at_once_and_the_others_say_that_they_wait():
    async def day():
        arrivals, free = Arrivals(), threading.Event()
        at_work, most = set(), []
        lock = threading.Lock()

        def work(n):
            def read():
                with lock:
                    at_work.add(n)
                    most.append(len(at_work))
                free.wait(10)
                with lock:
                    at_work.discard(n)
                return n

            return read

        comings = [Coming() for _ in range(5)]
        reading = [asyncio.create_task(arrivals.read(Request(), coming, work(n))) for n, coming in enumerate(comings)]
        await until(
            lambda: (
                len(at_work) == AT_ONCE
                and "wait before" not in comings[2].doing
                and "before this one" in comings[2].doing
            )
        )
        assert [coming.doing for coming in comings[:2]] == ["looking at the file"] * 2
        assert comings[2].doing == "waiting in line: 2 models are being read before this one"
        assert comings[4].doing == "waiting in line: 2 models are being read, and 2 more wait before this one"
        free.set()
        assert await asyncio.gather(*reading) == [0, 1, 2, 3, 4]
        assert max(most) == AT_ONCE
        arrivals.close()

    in_a_loop(day())


@pytest.mark.parametrize("waiting", [False, True])
def test_a_reading_is_given_up_where_nobody_waits_for_it(waiting):
    async def day():
        arrivals, request, coming, free = Arrivals(), Request(), Coming(), threading.Event()
        before = [Coming() for _ in range(AT_ONCE * waiting)]
        others = [asyncio.create_task(arrivals.read(Request(), one, lambda: free.wait(10))) for one in before]
        await until(lambda: all(one.doing.startswith("looking at") for one in before))

        def work():
            assert coming.stop.wait(10)
            return "given up"

        reading = asyncio.create_task(arrivals.read(request, coming, work))
        await until(lambda: coming.doing.startswith("waiting in line" if waiting else "looking at"))
        assert not coming.stop.is_set()
        request.gone = True
        await until(coming.stop.is_set)
        free.set()
        assert await reading == "given up"
        await asyncio.gather(*others)
        arrivals.close()

    in_a_loop(day())
