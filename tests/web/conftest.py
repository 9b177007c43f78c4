"""An application on two small harnesses, and its client."""

from __future__ import annotations

import pytest

from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from inkthread.web import create_app
from tests.conftest import shelve_small
from tests.program import client_of


@pytest.fixture
def client(tmp_path):
    path = tmp_path / "api.db"
    engine = open_database(path)
    shelve_small(Shelf(engine))
    engine.dispose()
    app = create_app(path)
    yield client_of(app)
    app.extensions["workshop"].shelf.engine.dispose()
