"""The work at the bench over the API: ticks, cards on benches, what is spoiled, what is noted."""

from __future__ import annotations

import io

import pytest
from PIL import Image


@pytest.fixture
def bench(client):
    """Posts about the work on Larkspur; status and reply."""

    def post(act: str, **body: object):
        reply = client.post(f"/api/designs/larkspur/work/{act}", json={"bench": "a", "who": "Ann", **body})
        return reply.status_code, reply.json

    return post


@pytest.fixture
def work(client):
    return client.get("/api/designs/larkspur/work").json


def state(client, number=1):
    return client.get(f"/api/designs/larkspur/work/state?number={number}").json


def an_end(work):
    """A card of one sealed end."""
    return next(
        c
        for c in work["cards"]
        if c["kind"] == "end" and any(s.startswith("thread-seal") for s in c["steps"])
    )


def test_steps_come_in_order_and_what_is_left_falls_by_their_minutes(client, work, bench):
    steps = {own["id"]: own for own in work["steps"]}
    at = {step: n for n, step in enumerate(steps)}
    assert all(at[before] < at[own["id"]] for own in work["steps"] for before in own["after"])
    assert [s for c in work["cards"] for s in c["steps"]] == list(steps)
    card = an_end(work)
    before = state(client)["minutes_left"]
    assert before == pytest.approx(work["minutes"], abs=0.1)
    status, after = bench("steps", steps=card["steps"])
    assert status == 200
    assert before - after["minutes_left"] == pytest.approx(
        sum(steps[s]["minutes"] for s in card["steps"]), abs=0.11
    )
    _, back = bench("steps", steps=card["steps"][:1], done=False)
    assert {d["step"] for d in back["done"]} == set(card["steps"][1:])


def test_a_step_is_done_at_one_bench_only(work, bench, client):
    step = an_end(work)["steps"][0]
    assert bench("steps", steps=[step])[0] == 200
    assert bench("steps", steps=[step])[0] == 200, "a tick sent twice by one bench is one tick"
    status, refused = bench("steps", steps=[step], bench="b", who="Bo")
    assert (status, refused["detail"]) == (409, "Ann has done it already.")
    assert [(d["who"], d["bench"]) for d in state(client)["done"]] == [("Ann", "a")]


def test_nothing_of_a_refused_lot_is_noted(work, bench, client):
    first, second = an_end(work)["steps"][:2]
    bench("steps", steps=[second])
    assert bench("steps", steps=[first, second], bench="b", who="Bo")[0] == 409
    assert [d["step"] for d in state(client)["done"]] == [second]


def test_a_card_lies_on_one_bench(work, bench):
    card = an_end(work)
    assert bench("take", card=card["id"])[0] == 200
    assert bench("take", card=card["id"], bench="b", who="Bo")[0] == 409
    status, refused = bench("steps", steps=card["steps"][:1], bench="b", who="Bo")
    assert (status, refused["detail"]) == (409, "Its card lies on Ann's bench.")
    assert bench("take", card="")[0] == 200
    status, taken = bench("take", card=card["id"], bench="b", who="Bo")
    assert (status, [t["who"] for t in taken["taken"]]) == (200, ["Bo"])


def test_a_piece_cut_here_is_cut_in_the_cut_list_and_goes_off_its_spool(work, bench, client):
    own = next(own for own in work["steps"] if own["id"].startswith("cut-wire"))
    key = own["id"].removeprefix("cut-wire ")
    cuts = client.get("/api/designs/larkspur").json["evaluation"]["cut"]["cuts"]
    cut = next(c for c in cuts if c["wire"] == key)
    # Planned while nothing was at hand: a spool that is noted since is used all the same.
    client.get("/api/designs/larkspur/cut-plan")
    _, bare = bench("steps", steps=[own["id"]])
    assert bare["says"] == "No spool is noted that it comes off."
    bench("steps", steps=[own["id"]], done=False)
    client.post("/api/shop/spools", json={"text": f"{cut['part']} {cut['colour']} 30 m in drawer 3"})

    def left_mm() -> float:
        return client.get("/api/shop/spools").json["spools"][0]["length_mm"]

    assert bench("steps", steps=[own["id"]])[0] == 200
    assert left_mm() == pytest.approx(30_000 - cut["cut_mm"])
    plan = client.get("/api/designs/larkspur/cut-plan").json["plan"]
    pieces = [p for part in plan["parts"] for s in part["spools"] for p in s["pieces"]]
    assert [p["piece"] for p in pieces if p["done"]] == [key]
    assert own["id"] in {d["step"] for d in state(client)["done"]}
    assert bench("steps", steps=[own["id"]])[0] == 409
    assert bench("steps", steps=[own["id"]], done=False)[0] == 200
    assert left_mm() == pytest.approx(30_000)


def test_a_spoiled_contact_goes_off_the_stock_and_its_end_is_made_again(work, bench, client):
    card = an_end(work)
    bench("steps", steps=card["steps"])
    crimp = next(s for s in card["steps"] if s.startswith("crimp"))
    part = next(own for own in work["steps"] if own["id"] == crimp)["parts"][0]
    assert client.post("/api/shop/stock", json={"text": f"{part} 7 in tin 4"}).status_code == 200
    status, after = bench("happened", step=crimp, kind="spoiled", note="bent")
    assert status == 200
    assert after["says"] == f"6 of {part} are left in tin 4."
    threads = {s for s in card["steps"] if s.startswith("thread")}
    assert {d["step"] for d in after["done"]} == threads, "label and seal stay on, the rest is done again"
    (note,) = after["happened"]
    assert (note["kind"], note["part"], note["note"], note["who"]) == ("spoiled", part, "bent", "Ann")
    gone = client.delete(f"/api/designs/larkspur/work/happened?number=1&id={note['id']}")
    assert gone.json["happened"] == []
    assert [e["quantity"] for e in client.get("/api/shop/stock").json["entries"]] == [7], (
        "and back in its tin"
    )
    assert client.delete(f"/api/designs/larkspur/work/happened?number=1&id={note['id']}").status_code == 404


def test_a_contact_taken_out_is_to_be_looked_at_before_it_goes_in_again(work, bench, client):
    card = next(
        c for c in work["cards"] if c["kind"] == "end" and any(s.startswith("insert") for s in c["steps"])
    )
    bench("steps", steps=card["steps"])
    put_in = next(s for s in card["steps"] if s.startswith("insert"))
    _, out = bench("happened", step=put_in, kind="taken out")
    assert put_in not in {d["step"] for d in out["done"]}
    assert out["findings"] == []
    _, again = bench("steps", steps=[put_in])
    assert [f["code"] for f in again["findings"]] == ["contact-reused"]
    _, sound = bench("happened", step=put_in, kind="looked at")
    assert sound["findings"] == []
    assert state(client)["findings"] == []


def test_a_setting_that_worked_is_proved_here(work, bench, client):
    crimp = next(s for s in an_end(work)["steps"] if s.startswith("crimp"))
    status, after = bench("happened", step=crimp, kind="setting")
    assert status == 200
    assert "proved here" in after["says"]
    own = next(o for o in work["steps"] if o["id"] == crimp)
    nests = client.get("/api/shop/tools").json["proven"]
    assert any(n["contact"] == own["parts"][0] and n["tool"] == own["tool"] for n in nests)


def test_what_is_otherwise_is_kept_in_figures(work, bench, client):
    crimp = next(s for s in an_end(work)["steps"] if s.startswith("crimp"))
    status, after = bench(
        "happened", step=crimp, kind="trimmed", differs="length", now="812 mm", note="by hand"
    )
    assert status == 200
    assert after["happened"][0]["note"] == "length is 812 mm; by hand"
    status, refused = bench("happened", step=crimp, kind="trimmed", differs="length", now="a bit")
    assert (status, refused["errors"][0]["path"]) == (422, "/now")
    _, after = bench("happened", step=crimp, kind="as built", differs="colour", now="GN")
    assert after["happened"][0]["note"] == "colour is GN"


def test_sessions_are_told_and_hand_work_is_priced_where_an_hour_costs(client, bench, work):
    step = an_end(work)["steps"][0]
    assert work["labour"] is None
    assert work["sessions"] == []
    bench("steps", steps=[step], done=True)
    (session,) = client.get("/api/designs/larkspur/work").json["sessions"]
    assert (session["who"], session["steps"], session["minutes"]) == ("Ann", 1, 0.0)


def test_a_note_names_what_worked_and_a_notch_is_kept_for_its_wire(work, bench, client):
    steps = {s["id"]: s for s in work["steps"]}
    strip = next(
        s for s in an_end(work)["steps"] if s.startswith("strip ") and "notch" in steps[s]["setting"]
    )
    refused = bench("happened", step=strip, kind="setting", note="notch 99")[1]["says"]
    assert "not as proved" in refused
    shipped = steps[strip]["setting"].split("notch ")[1].split(" ")[0]
    other = "20" if shipped != "20" else "18"
    says = bench("happened", step=strip, kind="setting", note=f"notch {other}, PTFE is hard")[1]["says"]
    assert f"notch {other}: proved here" in says
    again = {s["id"]: s for s in client.get("/api/designs/larkspur/work").json["steps"]}
    assert f"notch {other}" in again[strip]["setting"]
    crimp = next(s for s in an_end(work)["steps"] if s.startswith("crimp"))
    nests = bench("happened", step=crimp, kind="setting", note="depth 3")[1]["says"]
    assert ", 3: proved here" in nests
    assert "not as proved" in bench("happened", step=crimp, kind="setting", note="nest nonsense")[1]["says"]


@pytest.mark.parametrize(
    ("act", "body", "title"),
    [
        ("steps", {"steps": ["strip nothing"]}, "No such step"),
        ("steps", {"steps": ["strip nothing"], "number": 99}, "No such harness"),
        ("take", {"card": "end of all"}, "No such card"),
        ("happened", {"step": "strip nothing", "kind": "note"}, "No such step"),
        ("happened", {"step": "cut-wire C1:F0.in", "kind": "lost"}, "Request not understood"),
        ("steps", {"steps": []}, "Request not understood"),
    ],
)
def test_what_cannot_be_is_named_with_a_remedy(bench, client, act, body, title):
    before = state(client)
    status, refused = bench(act, **body)
    assert (status, refused["title"]) == (422, title)
    assert all(e["remedy"] for e in refused["errors"])
    assert state(client) == before


def test_the_board_is_looked_at_printed_and_plotted(client):
    at = "/api/designs/larkspur"
    assert client.get(f"{at}/board.svg").data.startswith(b"<svg")
    assert client.get(f"{at}/board.svg?small=true").data.startswith(b"<svg")
    pdf = client.get(f"{at}/board.pdf?paper=A3&measured=99.4")
    assert (pdf.mimetype, pdf.data[:5]) == ("application/pdf", b"%PDF-")
    assert b"LWPOLYLINE" in client.get(f"{at}/board.dxf").data
    refused = client.get(f"{at}/board.pdf?paper=A0")
    assert refused.status_code == 422
    assert "A4" in refused.json["detail"]
    assert client.get(f"{at}/board.pdf?measured=5").status_code == 422
    for kind in ("svg", "pdf", "dxf"):
        refused = client.get(f"{at}/board.{kind}?wide=250")
        assert (refused.status_code, refused.json["errors"][0]["path"]) == (422, "wide")


def test_a_photograph_of_a_crimp_stands_beside_the_pictures_of_its_contact(work, client):
    crimp = next(s for s in an_end(work)["steps"] if s.startswith("crimp"))
    at = "/api/designs/larkspur/work"
    told = client.get(f"{at}/help", query_string={"step": crimp}).json
    assert told["photos"] == []
    assert told["help"]["pictures"][0]["id"] == "right"
    picture = io.BytesIO()
    Image.new("RGB", (40, 30), "red").save(picture, "PNG")
    query = {"number": 1, "step": crimp, "note": "good one"}
    sent = client.post(f"{at}/photos", query_string=query, data=picture.getvalue(), content_type="image/png")
    assert sent.status_code == 200
    (photo,) = client.get(f"{at}/help", query_string={"step": crimp}).json["photos"]
    assert (photo["design"], photo["note"]) == ("larkspur", "good one")
    assert client.get(f"{at}/help?step=nothing").status_code == 422


def test_a_photograph_is_kept_with_its_step(work, client):
    from tests.exchange.test_photos import photo, with_place

    step = work["steps"][0]["id"]
    at = "/api/designs/larkspur/work/photos"

    def send(data: bytes, kind: str = "image/jpeg", of: str = step):
        return client.post(at, query_string={"step": of, "who": "Ann"}, data=data, content_type=kind)

    kept = send(with_place())
    assert kept.status_code == 200
    (noted,) = kept.json["happened"]
    assert (noted["kind"], noted["photo"], noted["who"]) == ("photograph", True, "Ann")
    picture = client.get(f"{at}/{noted['id']}")
    assert picture.mimetype == "image/jpeg"
    assert b"Exif" not in picture.data
    assert send(photo(form="PNG"), "image/png").status_code == 200
    assert send(b"no picture").status_code == 422
    assert send(photo(), of="strip nothing").status_code == 422
    assert send(photo(), "image/gif").status_code == 415
    assert client.get(f"{at}/999").status_code == 404
    assert len(state(client)["happened"]) == 2
    client.delete(f"/api/designs/larkspur/work/happened?number=1&id={noted['id']}")
    assert client.get(f"{at}/{noted['id']}").status_code == 404


def test_another_page_sends_no_photograph(client):
    reply = client.post(
        "/api/designs/larkspur/work/photos?step=x", data=b"x", content_type="image/jpeg",
        headers={"Origin": "http://elsewhere.example"},
    )  # fmt: skip
    assert reply.status_code == 403
