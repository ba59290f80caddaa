"""Whatever is asked, nothing is answered by a fault of the server: requests made up from the API's own description."""

import pytest
from fastapi.testclient import TestClient
from tests.api.asking import things
from tests.fuzz_http import fuzz

from zevlo.api.app import create_app

REQUESTS = 60


@pytest.mark.parametrize("seed", [1, 2])
def test_no_request_finds_a_fault(settings, seed):
    given = {"base_url": "http://127.0.0.1", "client": ("127.0.0.1", 50000), "raise_server_exceptions": False}
    with TestClient(create_app(settings), **given) as client:
        found = [one for one in fuzz(client, REQUESTS, seed, lambda: things(client)) if one.status >= 500]
    assert not found, found[0]
