"""The shop's own kinds of device: kept from a device, known by typed lines, taken out and put back."""

from __future__ import annotations

import pytest

from inkthread.core.circuits.kinds import kind_from_device
from inkthread.core.document.draft import LineError
from inkthread.storage import NotInShop, Shop
from inkthread.storage.database import open_database
from inkthread.web import create_app
from tests.conftest import HarnessBuilder
from tests.program import client_of


@pytest.fixture
def shop(tmp_path):
    engine = open_database(tmp_path / "shop.db")
    yield Shop(engine)
    engine.dispose()


def horn() -> HarnessBuilder:
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M9 compressor 6 A > B1")
    builder.set("circuits/devices/M9/pins/t", {"order": 9, "role": "signal", "name": "tell-tale"})
    builder.set("circuits/loads/M9/peak_a", 18.0).set("circuits/loads/M9/peak_s", 0.4)
    return builder.set("circuits/loads/M9/kind", "resistive")


def test_a_kind_has_what_the_device_has(shop):
    builder = horn()
    kind_id, data = kind_from_device(builder.plain, builder.catalogue, "M9", "twin horn", "hooter, air horn")
    shop.keep_kind(kind_id, data)
    (kept,) = shop.kinds().values()
    assert kept["words"] == ["twin horn", "hooter", "air horn"]
    assert [p["id"] for p in kept["pins"]][-1] == "t"
    assert (kept["peak_times"], kept["peak_s"], kept["load_kind"]) == (3.0, 0.4, "resistive")


@pytest.mark.parametrize(
    ("device", "label", "words", "says"),
    [
        ("Z9", "horn", "", "no device"),
        ("M9", "", "", "Name the kind"),
        ("M9", "x" * 61, "", "Name the kind"),
        ("M9", "horn", ",".join("abcdefghijklmnop"), "more than a kind needs"),
    ],
)
def test_what_cannot_be_kept_says_why(device, label, words, says):
    builder = horn()
    with pytest.raises(LineError, match=says):
        kind_from_device(builder.plain, builder.catalogue, device, label, words)


def test_taken_out_and_put_back(shop):
    shop.keep_kind("own-a", {"label": "a"})
    shop.remove_kind("own-a")
    assert shop.kinds() == {}
    with pytest.raises(NotInShop):
        shop.remove_kind("own-a")
    shop.restore_kind("own-a")
    assert set(shop.kinds()) == {"own-a"}
    with pytest.raises(NotInShop):
        shop.restore_kind("own-b")


def test_a_typed_line_knows_a_kept_kind_after_a_restart(tmp_path):
    plain = horn().plain
    for start in ("first", "second"):
        client = client_of(create_app(tmp_path / "d.db"))
        if start == "first":
            design = client.post("/api/designs", json={"document": plain}).get_json()["id"]
            asked = {"design_id": design, "device": "M9", "label": "twin horn", "words": "hooter"}
            reply = client.post("/api/shop/kinds", json=asked)
            assert reply.status_code == 200, reply.get_json()
        kinds = {k["id"]: k for k in client.get("/api/catalogue").get_json()["kinds"]}
        assert kinds["own-twin-horn"]["own"]
        assert len(kinds) > 30
    made = client.post(
        f"/api/designs/{design}/acts", json={"act": "feed", "text": "F1.out > M10 hooter 5 A > B1"}
    )
    devices = made.get_json()["document"]["circuits"]["devices"]
    assert devices["M10"]["kind"] == "own-twin-horn"
    assert set(devices["M10"]["pins"]) == set(devices["M9"]["pins"])
    assert client.delete("/api/shop/kinds/own-twin-horn").status_code == 200
    assert client.delete("/api/shop/kinds/own-twin-horn").status_code == 404
    assert client.post("/api/shop/kinds/own-twin-horn/restore").status_code == 200
