"""Parts of the builder's own: taken whole or refused with row and field; searched like any other."""

from __future__ import annotations

import copy
import json
import time
from dataclasses import replace

import pytest

from inkthread.core.catalogue.own import (
    COLUMNS,
    OwnParts,
    PartsError,
    copy_family,
    parts_to_csv,
    parts_to_plain,
    read_parts,
    with_own,
)
from inkthread.core.catalogue.search import find_parts, need_in_words, part_rows, read_need
from inkthread.core.document import DocumentError
from inkthread.core.quantity import QuantityError
from tests.core.scenarios import pump


def own_family(catalogue, code="MINE15") -> dict:
    family = copy_family(catalogue, "SS15", code, "Mine")
    plain = parts_to_plain(OwnParts(connectors={code: family}))
    return copy.deepcopy(plain)


def refused(catalogue, plain, held=None) -> dict[str, str]:
    with pytest.raises(PartsError) as caught:
        read_parts(catalogue, json.dumps(plain), held)
    assert all(p.message for p in caught.value.problems)
    assert all(p.remedy for p in caught.value.problems)
    return {p.path: p.message for p in caught.value.problems}


def test_a_copied_family_goes_out_and_comes_back_the_same(catalogue):
    plain = own_family(catalogue)
    own = read_parts(catalogue, json.dumps(plain))
    assert parts_to_plain(own) == plain
    stocked = with_own(catalogue, own, "x")
    assert stocked.connectors["MINE15"].contacts == catalogue.connectors["SS15"].contacts
    assert stocked.version != catalogue.version
    # It may be given anew, and changed, once it is held; a shipped one may not.
    plain["connectors"][0]["contacts"][0]["price"] = 9.0
    again = read_parts(stocked, json.dumps(plain), own)
    assert again.connectors["MINE15"].contacts[0].price == 9.0
    shipped = own_family(catalogue, "SS15")
    assert "ships" in refused(catalogue, shipped)["/connectors/0/code"]


SPOILED = {
    "two ways at one place": (
        lambda f: f["housings"][1]["face"]["cavities"].update({"2": [-2.6, 0.0]}),
        "/connectors/0/housings/1/face/cavities/2",
    ),
    "duplicate housings": (
        lambda f: f["housings"][1].update(ways=1),
        "/connectors/0/housings/0/ways",
    ),
    "geometry of other ways": (
        lambda f: f["housings"][2]["face"]["cavities"].pop("3"),
        "/connectors/0/housings/2/face/cavities",
    ),
    "a way outside the face": (
        lambda f: f["housings"][0]["face"]["cavities"].update({"1": [30.0, 0.0]}),
        "/connectors/0/housings/0/face/cavities/1",
    ),
    "a contact that takes no wire": (
        lambda f: f["contacts"][0].update(conductor_min_mm2=300, conductor_max_mm2=310),
        "/connectors/0/contacts/0/conductor_min_mm2",
    ),
    "a window upside down": (
        lambda f: f["contacts"][0].update(insulation_min_mm=5.0),
        "/connectors/0/contacts/0/insulation_min_mm",
    ),
    "seal windows that overlap": (
        lambda f: f["seals"][0].update(od_min_mm=1.5, od_max_mm=2.0),
        "/connectors/0/seals/0/od_min_mm",
    ),
    "nests that overlap": (
        lambda f: f["contacts"][0]["tools"].append(
            {**f["contacts"][0]["tools"][0], "nest": "other", "area_min_mm2": 0.4}
        ),
        "/connectors/0/contacts/0/tools/1/area_min_mm2",
    ),
    "a price below zero": (
        lambda f: f["contacts"][2].update(price=-1),
        "/connectors/0/contacts/2/price",
    ),
    "a role on no way": (
        lambda f: f["housings"][0].update(roles={"9": "ground"}),
        "/connectors/0/housings/0/roles/9",
    ),
    "sealed without plugs": (lambda f: f.update(plug=None), "/connectors/0/plug"),
    "an unknown field": (lambda f: f.update(colour="red"), "/connectors/0/colour"),
    "not a number": (lambda f: f.update(temperature_c="hot"), "/connectors/0/temperature_c"),
    "a code with a space": (lambda f: f.update(code="MY ONE"), "/connectors/0/code"),
    "an unknown pull table": (lambda f: f["contacts"][0].update(pull="XYZ"), "/connectors/0/contacts/0/pull"),
}


@pytest.mark.parametrize("what", SPOILED)
def test_a_bad_family_is_refused_by_its_field(catalogue, what):
    spoil, path = SPOILED[what]
    plain = own_family(catalogue)
    spoil(plain["connectors"][0])
    assert path in refused(catalogue, plain)


def test_one_bad_part_keeps_the_good_ones_out_too(catalogue):
    plain = own_family(catalogue)
    plain["tools"] = [{"code": "MY-TOOL", "description": "mine", "kind": "crimper", "price": -3}]
    assert list(refused(catalogue, plain)) == ["/tools/0/price"]


@pytest.mark.parametrize(
    ("text", "path"),
    [
        ("{", ""),
        ("[]", "/format"),
        ('{"format": "inkthread-parts", "format_number": 7}', "/format_number"),
        ('{"format": "inkthread-parts", "format_number": 2, "wheels": []}', "/wheels"),
        ('{"format": "inkthread-parts", "format_number": 2, "tools": {}}', "/tools"),
        ('{"format": "inkthread-parts", "format_number": NaN}', ""),
        ('{"format": "inkthread-parts", "format_number": 2, "tools": [], "tools": []}', "/tools"),
    ],
)
def test_a_file_that_is_none_is_refused(catalogue, text, path):
    with pytest.raises(PartsError) as caught:
        read_parts(catalogue, text)
    assert caught.value.problems[0].path == path


def test_a_way_that_is_there_twice_is_refused(catalogue):
    text = json.dumps(own_family(catalogue)).replace('"2": [-2.6, 0.0]', '"1": [-2.6, 0.0]', 1)
    text = text.replace('"cavities": {"1": [-2.6, 0.0], "2":', '"cavities": {"1": [-2.6, 0.0], "1":', 1)
    with pytest.raises(PartsError, match="'1' is there twice"):
        read_parts(catalogue, text)


ROW = "contact,MINE15,MY-S,socket of mine,socket,0.3,0.65,1.1,2,5,7.5,T-OB-S,22-20,0.3,0.25"


def csv_of(*rows: str, header: str = ",".join(COLUMNS)) -> str:
    return "\n".join([header, *rows]) + "\n"


def test_contacts_seals_and_tools_come_in_and_go_out_as_a_table(catalogue):
    own = read_parts(catalogue, json.dumps(own_family(catalogue)))
    stocked = with_own(catalogue, own, "x")
    table = csv_of(ROW, "tool,,MY-CRIMP,mine,,,,,,,,,22-20,0,30")
    taken = read_parts(stocked, table, own)
    assert taken.connectors["MINE15"].contacts[-1].code == "MY-S"
    assert len(taken.connectors["MINE15"].contacts) == len(own.connectors["MINE15"].contacts) + 1
    assert taken.tools["MY-CRIMP"].price == 30
    out = parts_to_csv(taken.connectors.values(), taken.tools.values())
    assert ROW in out.splitlines()
    # What the table does not say of a contact that is held stays as it was.
    back = read_parts(with_own(catalogue, taken, "y"), out, taken)
    assert back.tools == taken.tools
    assert back.connectors["MINE15"].contacts == taken.connectors["MINE15"].contacts


@pytest.mark.parametrize(
    ("table", "path"),
    [
        (csv_of(ROW, header="code,price"), "row 1"),
        (csv_of(ROW, header=",".join(reversed(COLUMNS))), "row 1"),
        (csv_of(), "row 2"),
        (csv_of(ROW + ",1"), "row 2"),
        (csv_of(ROW.replace("0.25", "-0.25")), "row 2, price"),
        (csv_of(ROW.replace(",0.3,0.65", ",abc,0.65")), "row 2, conductor_min_mm2"),
        (csv_of(ROW.replace("contact,", "gasket,", 1)), "row 2, kind"),
        (csv_of(ROW.replace(",socket,", ",female,")), "row 2, gender"),
        (csv_of(ROW.replace("MINE15", "SS15")), "row 2, family"),
        (csv_of(ROW.replace("MINE15", "NOPE")), "row 2, family"),
        (csv_of(ROW.replace("MY-S", "")), "row 2, code"),
    ],
)
def test_a_bad_table_is_refused_by_row_and_field(catalogue, table, path):
    own = read_parts(catalogue, json.dumps(own_family(catalogue)))
    with pytest.raises(PartsError) as caught:
        read_parts(with_own(catalogue, own, "x"), table, own)
    assert caught.value.problems[0].path == path


def test_a_need_is_understood_as_typed(catalogue):
    need = read_need(catalogue, "sealed, 3 ways, 18 AWG thin wall, 125 °C, owned tools only")
    assert (need.kind, need.sealed, need.ways, need.owned_only) == ("connector", True, 3, True)
    assert (need.wire, need.temperature_c, need.words) == ("J1128-TXL 18 AWG", 125, ())
    assert read_need(catalogue, "IP69K 60 V 20 A").protection == "IP69K"
    assert read_need(catalogue, "0.75mm2 thin wall").wire == "ISO6722-THIN 0.75 mm²"
    assert read_need(catalogue, "257 F").temperature_c == pytest.approx(125)
    assert read_need(catalogue, "coax bayonet").words == ("coax", "bayonet")
    assert need_in_words(need)[:3] == ("connector", "sealed", "3 ways")
    with pytest.raises(QuantityError, match="not made in 40 AWG"):
        read_need(catalogue, "40 AWG thin wall")


def test_what_answers_a_need_holds_it_and_what_does_not_says_why(catalogue):
    need = read_need(catalogue, "sealed, 3 ways, 18 AWG thin wall, 125 C")
    found = find_parts(catalogue, need)
    assert found.count == len(found.rows) > 1
    size = catalogue.wires["J1128-TXL"].size("18 AWG")
    for row in found.rows:
        family = catalogue.connectors[row.family]
        assert family.sealed
        assert row.ways == 3
        assert family.temperature_c >= 125
        assert any(c.conductor_min_mm2 <= size.area_mm2 <= c.conductor_max_mm2 for c in family.contacts)
    why = {r.code: reason for r, reason in find_parts(catalogue, need, limit=500).rejected}
    assert why["SS15/2"] == "has 2 ways, not 3"
    assert "mm²" in why["SN06/3"]
    assert "not sealed" in why["LN21/3"]
    assert found.count + found.rejected_count == sum(r.kind == "connector" for r in part_rows(catalogue))


def test_owned_tools_decide_where_asked(catalogue):
    need = read_need(catalogue, "sealed 2 ways 16 AWG thin wall owned tools only")
    assert find_parts(catalogue, need).count == 0
    with_small = find_parts(catalogue, need, {"T-OB-S"})
    assert {r.family for r in with_small.rows} == {"SS15"}
    assert find_parts(catalogue, need, set(catalogue.tools)).count > with_small.count


def test_five_thousand_parts_are_searched_at_once(catalogue):
    many = {
        f"{code}-{n}": replace(family, code=f"{code}-{n}")
        for n in range(7)
        for code, family in catalogue.connectors.items()
    }
    wide = replace(catalogue, connectors=many)
    assert len(part_rows(wide)) >= 4_000
    need = read_need(wide, "sealed, 3 ways, 18 AWG thin wall, 125 C")
    started = time.perf_counter()
    assert find_parts(wide, need).count == 7 * find_parts(catalogue, need).count
    # 50 ms is the promise, which the bench measures; here a slow and busy machine is let off.
    assert time.perf_counter() - started < 2


def test_what_has_gone_from_a_family_is_said_and_the_rest_evaluated():
    whole = pump().evaluate()
    builder = pump()
    builder.set("ends/pinout/M1.+/contact", "OLD-CONTACT").set("ends/pinout/M1.-/cavity", "Z")
    builder.gone = True
    e = builder.evaluate()
    said = [f.what for f in e.findings if f.code == "part-gone"]
    assert any("contact OLD-CONTACT" in what for what in said)
    assert any("SR16 with a way Z" in what for what in said)
    assert e.wire.wires.keys() == whole.wire.wires.keys()
    assert {c.cavity for c in e.ends.connectors["M1"].cavities} >= {"1", "Z"}
    builder.gone = False
    with pytest.raises(DocumentError):
        builder.evaluate()


def test_a_file_of_the_first_format_number_is_read(catalogue):
    plain = own_family(catalogue)
    earlier = {
        **plain,
        "format_number": 1,
        "connectors": [
            {"plug" if k == "cavity_plug" else k: v for k, v in f.items()} for f in plain["connectors"]
        ],
    }
    assert parts_to_plain(read_parts(catalogue, json.dumps(earlier))) == plain
    with pytest.raises(PartsError):
        read_parts(catalogue, json.dumps({**earlier, "format_number": 2}))
