"""What a stored document leaves out as a default may be named in a patch all the same."""

from __future__ import annotations

import pytest

from inkthread.core.document import parse_document
from inkthread.core.document.complete import complete
from inkthread.storage.patches import PatchError, apply_with_inverse
from tests.conftest import HarnessBuilder


def patched(builder: HarnessBuilder, *operations: dict):
    changed, inverse = apply_with_inverse(builder.plain, complete(builder.plain, list(operations)))
    parse_document(changed)
    back, _ = apply_with_inverse(changed, inverse)
    assert back == builder.plain, "and back again"
    return changed


@pytest.mark.parametrize(
    ("op", "path", "value"),
    [
        ("add", "/circuits/loads/M1/modes/run", {"order": 1, "percent": 50.0}),
        ("add", "/route/branches/R2/stretches/s", {"order": 1, "zone": "z", "from_mm": 0.0, "to_mm": 9.0}),
        ("replace", "/circuits/loads/M1/duty_percent", 50.0),
        ("replace", "/circuits/devices/M1/fitted", "flying leads"),
        ("replace", "/circuits/circuits/C1/threading", "star"),
        ("add", "/wire/fixed/C1", {"order": 1, "reason": "spool", "gauge": "18 AWG"}),
        ("replace", "/brief/supply_least_v", 11.0),
    ],
)
def test_defaults_are_made_before_they_are_changed(pump, op, path, value):
    pump.set("circuits/modes", {"run": {"order": 1, "name": "run"}})
    pump.set("brief/zones/z", {"order": 1, "name": "z", "ambient_c": 50.0})
    for part in ("modes", "duty_percent"):
        pump.plain["circuits"]["loads"]["M1"].pop(part, None)
    changed = patched(pump, {"op": op, "path": path, "value": value})
    node = changed
    for part in path.split("/")[1:]:
        node = node[part]
    assert node == value


def test_an_entry_put_in_by_the_same_patch_is_completed_too(pump):
    own = {"order": 1, "name": "own", "insulation": "PVC", "temperature_c": 80.0, "source": "label"}
    size = {
        "order": 1, "gauge": "18 AWG", "area_mm2": 0.96, "od_mm": 1.9, "conductor_mm": 1.2,
        "resistance_mohm_per_m": 20.9,
    }  # fmt: skip
    pump.plain["wire"].pop("own_families", None)
    changed = patched(
        pump,
        {"op": "add", "path": "/wire/own_families/SHOP", "value": own},
        {"op": "add", "path": "/wire/own_families/SHOP/sizes/a", "value": size},
    )
    assert changed["wire"]["own_families"]["SHOP"]["sizes"] == {"a": size}


@pytest.mark.parametrize(
    ("op", "path"),
    [
        ("replace", "/circuits/loads/GONE/current_a"),
        ("add", "/circuits/loads/GONE/modes/run"),
        ("replace", "/circuits/nothing"),
        ("add", "/nowhere/at/all"),
        ("remove", "/circuits/loads/M1/nothing"),
    ],
)
def test_what_was_never_there_is_not_made_up(pump, op, path):
    operations = complete(pump.plain, [{"op": op, "path": path, "value": 1.0}])
    assert [o["path"] for o in operations] == [path]
    with pytest.raises(PatchError):
        apply_with_inverse(pump.plain, operations)
