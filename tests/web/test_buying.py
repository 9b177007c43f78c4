"""Buying against the simulated supplier: quotes with their age, orders kept, trouble told; and the drawers."""

from __future__ import annotations

import base64
import csv
import io

import pytest
from openpyxl import Workbook

from inkthread.standins.supplier import COUNTERS, PartsSupplier, priced_parts, serve_supplier
from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from inkthread.web import create_app
from inkthread.web.supplying import SupplierTrouble
from tests.core.scenarios import pump

PRICES = priced_parts()
PATIENT_S, SHORT_S, LATE_S = 60.0, 0.2, 1.0
"""How long an answer is waited for: on a machine that is busy too, and where it is to be too late."""


@pytest.fixture
def supplier():
    supplier = PartsSupplier(PRICES)
    server, port = serve_supplier(supplier, 0)
    yield supplier, port
    server.shutdown()
    server.server_close()


@pytest.fixture
def shop(tmp_path, supplier):
    """A client with two pumps on its shelf, and the work beside it."""
    database = tmp_path / "buying.db"
    engine = open_database(database)
    shelf = Shelf(engine)
    shelf.create(pump().plain, "pump")
    shelf.create(pump().plain, "other")
    engine.dispose()
    app = create_app(database, supplier_port=supplier[1])
    supplying = app.extensions["workshop"].supplying
    supplying.line._patience_s = PATIENT_S
    yield app.test_client(), supplying
    app.extensions["workshop"].shelf.engine.dispose()


URL = "/api/designs/pump/orders"


def quoted(client, supplying):
    assert client.post("/api/designs/pump/quotes", json={}).status_code == 200
    supplying.wait()
    return client.get(URL).json


def test_without_a_quote_nobody_is_noted_and_all_is_estimated(shop):
    client, _ = shop
    plan = client.get(URL).json["plan"]
    assert plan["orders"] == []
    bill = client.get("/api/designs/pump").json["evaluation"]["parts"]["lines"]
    assert {u["code"] for u in plan["unoffered"]} == {x["code"] for x in bill if not x["included"]}
    assert plan["estimate"] == pytest.approx(sum(x["cost"] for x in bill), abs=0.05)


def test_quotes_are_dated_and_every_part_is_ordered_in_whole_packs(shop):
    client, supplying = shop
    reply = quoted(client, supplying)
    plan = reply["plan"]
    assert (reply["asking"], reply["says"]) == (False, "")
    assert plan["orders"]
    assert plan["proved"]
    for order in plan["orders"]:
        assert order["supplier"] in {c.name for c in COUNTERS}
        for line in order["lines"]:
            assert line["as_of"][:2] == "20"
            assert line["quantity"] >= line["need"] - 1e-9
            assert line["quantity"] / line["pack"] == pytest.approx(line["packs"])
    assert plan["total"] == pytest.approx(sum(o["total"] for o in plan["orders"]))


@pytest.mark.parametrize(
    ("fault", "says"),
    [
        ({"answers": "empty"}, "empty"),
        ({"answers": "malformed"}, "cannot be read"),
        ({"late_s": LATE_S}, "in time"),
    ],
)
def test_trouble_is_told_and_the_last_good_quote_stays(shop, supplier, fault, says):
    client, supplying = shop
    before = quoted(client, supplying)["plan"]
    for name, value in fault.items():
        setattr(supplier[0], name, value)
    supplying.line._patience_s = SHORT_S if "late_s" in fault else PATIENT_S
    after = quoted(client, supplying)
    assert says in after["says"]
    assert after["plan"] == before
    supplier[0].answers, supplier[0].late_s = "well", 0.0
    supplying.line._patience_s = PATIENT_S
    assert quoted(client, supplying)["says"] == ""


def test_an_answer_of_another_form_is_not_taken(shop, supplier):
    client, supplying = shop
    supplier[0].prices = {code: (-1.0, unit) for code, (_, unit) in PRICES.items()}
    assert "something else than prices" in quoted(client, supplying)["says"]
    assert client.get("/api/shop/suppliers").json["offers"] == []


def test_a_supplier_that_is_gone_is_named_by_its_port(shop):
    client, supplying = shop
    supplying.line.port = 1
    assert "port 1" in quoted(client, supplying)["says"]


def test_asking_never_keeps_the_screen_waiting(shop, supplier):
    client, supplying = shop
    supplier[0].late_s = LATE_S
    client.post("/api/designs/pump/quotes", json={})
    assert client.get(URL).json["asking"]
    supplying.wait()


def test_a_part_they_have_not_is_told_with_what_they_offer_instead(shop, supplier):
    client, supplying = shop
    contact = next(
        x
        for x in client.get("/api/designs/pump").json["evaluation"]["parts"]["lines"]
        if x["group"] == "contact"
    )
    supplier[0].lacks = {contact["code"]: "S15-S-B"}
    (missing,) = (u for u in quoted(client, supplying)["plan"]["unoffered"] if u["code"] == contact["code"])
    assert "offers S15-S-B instead" in missing["why"]


def test_it_can_be_told_to_misbehave_and_is_out_of_some_parts_by_itself(shop, supplier):
    client, supplying = shop
    bill = client.get("/api/designs/pump").json["evaluation"]["parts"]["lines"]
    fuse = next(x["code"] for x in bill if x["group"] == "fuse")
    supplying.line.ask("/behave", {"dearer": {fuse: 2}, "lacks": {fuse: "BF-20"}})
    assert supplier[0].dearer == {fuse: 2.0}
    (missing,) = (u for u in quoted(client, supplying)["plan"]["unoffered"] if u["code"] == fuse)
    assert "offers BF-20 instead" in missing["why"]
    with pytest.raises(SupplierTrouble, match="400"):
        supplying.line.ask("/behave", {"late": 3})
    alone = PartsSupplier(PRICES, sometimes_out=True)
    quotes = alone.quotes(list(PRICES))["quotes"]
    out = [q for q in quotes if q["instead"]]
    assert 0 < len(out) < len(quotes) / 10
    assert all(q["instead"] in PRICES and q["instead"] != q["code"] for q in out)


def write(client) -> dict:
    name = client.get(URL).json["plan"]["orders"][0]["supplier"]
    return client.post(URL, json={"supplier": name}).json["orders"][0]


def test_an_order_is_kept_as_it_was_written_as_csv_and_as_a_page(shop):
    client, supplying = shop
    quoted(client, supplying)
    order = write(client)
    assert order["state"] == "written"
    rows = list(csv.DictReader(io.StringIO(client.get(f"/api/orders/{order['id']}/csv").text)))
    assert len(rows) == order["lines"]
    plan = client.get(URL).json["plan"]["orders"][0]
    assert sum(float(r["cost"]) for r in rows) == pytest.approx(plan["parts_cost"], abs=0.01)
    page = client.get(f"/api/orders/{order['id']}/pdf")
    assert page.data.startswith(b"%PDF")
    assert page.mimetype == "application/pdf"
    client.post("/api/shop/prices", json={"code": rows[0]["code"], "price": "99"})
    assert client.get(URL).json["orders"][0]["total"] == order["total"]


def test_an_order_is_sent_once(shop, supplier):
    client, supplying = shop
    quoted(client, supplying)
    order = write(client)
    for _ in range(2):
        client.post(f"{URL}/{order['id']}/send", json={})
        supplying.wait()
        assert client.get(URL).json["orders"][0]["state"] == "sent"
    assert list(supplier[0].orders) == [f"pump-{order['id']}"]


def test_an_order_sent_while_prices_are_asked_for_waits_its_turn(shop, supplier):
    client, supplying = shop
    quoted(client, supplying)
    order = write(client)
    supplier[0].late_s = LATE_S
    client.post("/api/designs/pump/quotes", json={})
    client.post(f"{URL}/{order['id']}/send", json={})
    supplying.wait()
    assert client.get(URL).json["orders"][0]["state"] == "sent"


def test_an_order_torn_up_while_it_is_sent_leaves_the_rest_to_be_sent(shop, supplier):
    client, supplying = shop
    quoted(client, supplying)
    torn, kept = write(client), write(client)
    supplier[0].late_s = LATE_S
    for order in (torn, kept):
        client.post(f"{URL}/{order['id']}/send", json={})
    client.delete(f"{URL}/{torn['id']}", json={})
    supplying.wait()
    assert [o["state"] for o in client.get(URL).json["orders"]] == ["sent"]


def test_a_price_that_changed_since_the_quote_stops_the_order(shop, supplier):
    client, supplying = shop
    quoted(client, supplying)
    order = write(client)
    code = next(csv.DictReader(io.StringIO(client.get(f"/api/orders/{order['id']}/csv").text)))["code"]
    supplier[0].dearer = {code: 1.25}
    client.post(f"{URL}/{order['id']}/send", json={})
    supplying.wait()
    now = client.get(URL).json["orders"][0]
    assert now["state"] == "refused"
    assert code in now["says"]
    assert supplier[0].orders == {}


def test_an_order_of_which_nothing_is_known_is_asked_after_first(shop, supplier):
    client, supplying = shop
    quoted(client, supplying)
    order = write(client)
    supplier[0].late_s, supplying.line._patience_s = LATE_S, SHORT_S
    client.post(f"{URL}/{order['id']}/send", json={})
    supplying.wait()
    assert client.get(URL).json["orders"][0]["state"] == "not known"
    supplier[0].late_s, supplying.line._patience_s = 0.0, PATIENT_S
    taken = dict(supplier[0].orders)
    client.post(f"{URL}/{order['id']}/send", json={})
    supplying.wait()
    assert client.get(URL).json["orders"][0]["state"] == "sent"
    assert supplier[0].orders == taken or len(supplier[0].orders) == 1
    client.delete(f"{URL}/{order['id']}", json={})
    assert client.get(URL).json["orders"] == []


def test_offers_are_typed_too_and_a_supplier_is_taken_out_and_put_back(shop):
    client, _ = shop
    contact = next(
        x
        for x in client.get("/api/designs/pump").json["evaluation"]["parts"]["lines"]
        if x["group"] == "contact"
    )
    text = f"supplier bench shipping 2\n{contact['code']} from bench pack 10 at 0.20"
    assert client.post("/api/shop/suppliers", json={"text": text}).status_code == 200
    (order,) = client.get(URL).json["plan"]["orders"]
    need = contact["quantity"] + contact["spares"]
    assert order["lines"][0]["packs"] == -(-need // 10)
    assert order["total"] == pytest.approx(2 + 0.2 * 10 * order["lines"][0]["packs"])
    client.delete("/api/shop/suppliers?name=bench", json={})
    assert client.get(URL).json["plan"]["orders"] == []
    client.post("/api/shop/suppliers/restore?name=bench", json={})
    assert len(client.get(URL).json["plan"]["orders"]) == 1
    bad = client.post("/api/shop/suppliers", json={"text": "nonsense"})
    assert bad.status_code == 422
    assert "Line 1" in bad.json["detail"]


def test_who_was_taken_out_stays_out_when_prices_are_asked_for_again(shop):
    client, supplying = shop
    quoted(client, supplying)
    client.delete("/api/shop/suppliers?name=North counter", json={})
    plan = quoted(client, supplying)["plan"]
    assert {o["supplier"] for o in plan["orders"]} == {"South counter"}
    client.post("/api/shop/suppliers/restore?name=North counter", json={})
    assert "North counter" in {s["name"] for s in client.get("/api/shop/suppliers").json["suppliers"]}


def line_of(client, code, design="pump"):
    lines = client.get(f"/api/designs/{design}/stock").json["coverage"]["lines"]
    return next(x for x in lines if x["code"] == code)


def test_parts_set_aside_for_one_harness_are_not_free_for_another(shop):
    client, _ = shop
    lines = client.get("/api/designs/pump/stock").json["coverage"]["lines"]
    contact = next(x for x in lines if x["group"] == "contact")
    code, need = contact["code"], contact["needed"]
    client.post("/api/shop/stock", json={"text": f"{code} {need + 1:g} in drawer 3"})
    moved = client.post("/api/designs/pump/stock", json={"act": "set aside"}).json["moved"]
    assert moved == {code: need}
    assert line_of(client, code)["set_aside"] == need
    assert line_of(client, code)["to_buy"] == 0
    assert line_of(client, code)["place"] == "drawer 3"
    assert line_of(client, code, "other")["to_buy"] == need - 1
    assert line_of(client, code, "other")["others"] == need
    client.post("/api/designs/pump/stock", json={"act": "used", "entries": {code: 1}})
    assert line_of(client, code)["set_aside"] == need - 1
    assert line_of(client, code, "other")["to_buy"] == need - 1, "what was used is neither"
    client.post("/api/designs/pump/stock", json={"act": "let go"})
    assert line_of(client, code, "other")["to_buy"] == 0
    client.post("/api/designs/pump/stock", json={"act": "put back", "entries": {code: 1}})
    (entry,) = client.get("/api/shop/stock").json["entries"]
    assert entry["quantity"] == need + 1
    refused = client.post("/api/designs/pump/stock", json={"act": "used", "entries": {code: 999}})
    assert refused.status_code == 409
    assert "999" in refused.json["detail"]
    assert (
        client.post("/api/designs/pump/stock", json={"act": "used", "entries": {code: -1}}).status_code == 422
    )


def test_a_price_corrected_here_is_every_harnesses_price(shop):
    client, _ = shop
    lines = client.get("/api/designs/pump").json["evaluation"]["parts"]["lines"]
    fuse = next(x for x in lines if x["group"] == "fuse")
    reply = client.post("/api/shop/prices", json={"code": fuse["code"], "price": "3.5"})
    assert reply.json["prices"] == {fuse["code"]: 3.5}
    for design in ("pump", "other"):
        now = client.get(f"/api/designs/{design}").json["evaluation"]["parts"]["lines"]
        same = next(x for x in now if x["code"] == fuse["code"])
        assert same["cost"] == pytest.approx(3.5 * (same["quantity"] + same["spares"]))
    client.post("/api/shop/prices", json={"code": fuse["code"], "price": ""})
    now = client.get("/api/designs/pump").json["evaluation"]["parts"]["lines"]
    assert next(x for x in now if x["code"] == fuse["code"])["cost"] == fuse["cost"]
    assert client.post("/api/shop/prices", json={"code": fuse["code"], "price": "-1"}).status_code == 422
    assert client.post("/api/shop/prices", json={"code": fuse["code"], "price": "much"}).status_code == 422


def sheet(rows) -> str:
    book = Workbook()
    for row in rows:
        book.active.append(row)
    buffer = io.BytesIO()
    book.save(buffer)
    return base64.b64encode(buffer.getvalue()).decode()


def text(words: str) -> str:
    return base64.b64encode(words.encode()).decode()


def test_stock_prices_kits_and_offers_come_in_as_tables(shop):
    client, _ = shop

    def send(what, data):
        return client.post("/api/shop/files", json={"what": what, "data": data})

    assert (
        send(
            "stock",
            sheet([["Code", "Quantity", "Place"], ["SS15-P2", 10, "bin 2"], [None], ["SS15-P4", 3.0]]),
        ).json["taken"]
        == 2
    )
    assert {e["code"]: e["quantity"] for e in client.get("/api/shop/stock").json["entries"]} == {
        "SS15-P2": 10, "SS15-P4": 3,
    }  # fmt: skip
    assert send("prices", text("code;price\nSS15-P2;1,25\nSS15-P4;2")).json["taken"] == 2
    assert client.get("/api/shop/prices").json["prices"]["SS15-P2"] == 1.25
    kit = send("kits", text("kit,code,count,price,description\nMINE,SS15-P2,4,12,plugs\nMINE,S15-S-A,9,,"))
    assert kit.json["taken"] == 1
    held = client.get("/api/shop/kits").json
    assert held["own"] == ["MINE"]
    assert next(k for k in held["kits"] if k["code"] == "MINE")["contents"] == {"SS15-P2": 4, "S15-S-A": 9}
    assert (
        send("offers", text("supplier,code,pack,from,price\nA,SS15-P2,5,0,1.5\nA,SS15-P2,5,50,1.2")).json[
            "taken"
        ]
        == 1
    )
    (offer,) = client.get("/api/shop/suppliers").json["offers"]
    assert offer["breaks"] == [[0, 1.5], [50, 1.2]]
    client.delete("/api/shop/kits?code=MINE", json={})
    assert client.get("/api/shop/kits").json["own"] == []
    client.post("/api/shop/kits/restore?code=MINE", json={})
    assert client.get("/api/shop/kits").json["own"] == ["MINE"]


def test_stock_goes_out_as_the_table_that_comes_in(shop):
    client, _ = shop
    client.post("/api/shop/stock", json={"text": "SS15-P2 10 keep 4 in drawer 3\nAS22759/32 20 AWG RD 2.5 m"})
    before = client.get("/api/shop/stock").json["entries"]
    table = client.get("/api/shop/stock.csv")
    assert table.mimetype == "text/csv"
    for entry in before:
        client.delete(f"/api/shop/stock?id={entry['id'].replace('/', '%2F')}", json={})
    assert client.get("/api/shop/stock").json["entries"] == []
    assert client.post("/api/shop/files", json={"what": "stock", "data": text(table.text)}).status_code == 200
    after = client.get("/api/shop/stock").json["entries"]
    assert {(e["id"], e["quantity"], e["keep"], e["place"]) for e in after} == {
        (e["id"], e["quantity"], e["keep"], e["place"]) for e in before
    }


@pytest.mark.parametrize(
    ("what", "data", "says"),
    [
        ("stock", text("code,quantity\nNO-SUCH,3"), "Row 2: there is no part 'NO-SUCH'"),
        ("stock", text("code,quantity\nSS15-P2,3\nss15-p2,4"), "Row 3: SS15-P2 stands here twice"),
        ("stock", text("code,quantity\nSS15-P2,-3"), "Row 2"),
        ("stock", text("code,quantity\nSS15-P2,1.5"), "whole pieces"),
        ("stock", text("code\nSS15-P2"), "quantity is missing"),
        ("stock", text("code,code,quantity\nSS15-P2,x,2"), "Two columns"),
        ("stock", text("code,quantity\n"), "no row"),
        ("stock", text(" "), "empty"),
        ("stock", base64.b64encode(b"PK\x03\x04 not a book").decode(), "no workbook"),
        ("stock", base64.b64encode(b"\xff\xfe\xfa").decode(), "UTF-8"),
        ("stock", "***", "arrive whole"),
        ("prices", text("code,price\nSS15-P2,free"), "'free' under price is no number"),
        ("prices", text("code,price\nSS15-P2,1\nSS15-P2,2"), "twice"),
        ("kits", text("kit,code,count\nK,SS15-P2,0"), "count"),
        ("kits", text("kit,code,count\nK,SS15-P2,1\nK,SS15-P2,2"), "twice in K"),
        ("offers", text("supplier,code,price\n,SS15-P2,1"), "supplier is not named"),
        ("offers", text("supplier,code,price\nA,SS15-P2,1\nA,SS15-P2,2"), "two prices"),
    ],
)  # fmt: skip
def test_a_table_that_is_wrong_says_what_and_where_and_changes_nothing(shop, what, data, says):
    client, _ = shop
    reply = client.post("/api/shop/files", json={"what": what, "data": data})
    assert reply.status_code == 422
    assert says in reply.json["detail"]
    assert client.get("/api/shop/stock").json["entries"] == []
    assert client.get("/api/shop/prices").json["prices"] == {}


def test_the_cheapest_mix_of_kits_and_singles_for_a_harness(shop):
    client, _ = shop
    reply = client.get("/api/designs/pump/kits").json
    assert reply["mix"]["proved"]
    assert reply["mix"]["cost"] <= reply["mix"]["singles_only"]
    assert {k["code"] for k in reply["kits"]} == {"KIT-SR16"}
    (kit,) = reply["kits"]
    assert all(n > 0 for n in (*kit["covers"].values(), *kit["left"].values()))
