"""The book, read back: every section, its pages, what stands on them, in black and white."""

from __future__ import annotations

import io
import json
from datetime import date

import pypdf
import pytest

from inkthread.cli import main
from inkthread.core.measures import bare_length
from inkthread.demo import DEMOS, demo_document
from inkthread.exchange.book import SECTIONS, Book, book_pdf, sections_of
from inkthread.exchange.pages import Headed, Line, NoPaper, TableOf, latin, pages_pdf, paper_pt
from tests.conftest import HarnessBuilder

WORKED = {name: HarnessBuilder(plain=demo_document(name)).workings() for name in DEMOS}


def book(name: str) -> Book:
    return Book(WORKED[name], "revision 7", date(2026, 11, 29))


def read(pdf: bytes) -> list[str]:
    return [page.extract_text() for page in pypdf.PdfReader(io.BytesIO(pdf)).pages]


@pytest.mark.parametrize("name", DEMOS)
def test_every_page_says_harness_revision_and_which_of_how_many(name):
    heard: list[tuple[str, int, int]] = []
    pdf = book_pdf(book(name), progress=lambda *told: heard.append(told))
    pages = read(pdf)
    w = WORKED[name]
    for n, text in enumerate(pages, 1):
        assert latin(w.document.brief.name) in text
        assert "revision 7" in text
        assert f"page {n} of {len(pages)}" in text
    assert [done for _, done, _ in heard] == list(range(len(SECTIONS) + 1))
    listed = pages[0]
    outline = pypdf.PdfReader(io.BytesIO(pdf)).outline
    assert len(outline) == len(SECTIONS)
    reader = pypdf.PdfReader(io.BytesIO(pdf))
    for entry in outline[1:]:
        page = reader.get_destination_page_number(entry) + 1
        assert entry.title in listed
        assert entry.title in pages[page - 1]
        assert str(page) in listed
    for wire in w.wire.wires.values():
        assert any(latin(wire.label) in text for text in pages)


def test_it_is_in_the_harnesss_units_on_its_paper_with_its_money():
    builder = HarnessBuilder(plain=demo_document("mushroom"))
    for field, value in (
        ("units", "inch"),
        ("mass_unit", "oz"),
        ("temperature_unit", "F"),
        ("currency", "EUR"),
    ):
        builder.set(f"brief/{field}", value)
    builder.set("brief/paper", "Letter")
    w = builder.workings()
    pdf = book_pdf(Book(w, "revision 7", date(2026, 11, 29)))
    text = "\n".join(read(pdf))
    assert float(pypdf.PdfReader(io.BytesIO(pdf)).pages[0].mediabox.width) == 792
    for cut in w.cut.cuts:
        assert bare_length(cut.cut_mm, w.document.brief.measures) in text, cut.label
    for head in ("cut (in)", "mass (oz)", "cost (EUR)", "Conductors at 68 °F"):
        assert head in text, head
    assert "(mm)" not in text
    assert "°C" not in text


def test_it_is_printed_in_black():
    """No colour is set anywhere: every fill and stroke operator of the pages is grey, or black in RGB."""
    reader = pypdf.PdfReader(io.BytesIO(book_pdf(book("mushroom"))))
    for page in reader.pages:
        for operands, operator in pypdf.generic.ContentStream(page["/Contents"], reader).operations:
            if operator in (b"rg", b"RG"):
                assert len({float(x) for x in operands}) == 1
            assert operator not in (b"k", b"K", b"sc", b"scn", b"SC", b"SCN")


@pytest.mark.parametrize("section", SECTIONS)
def test_every_section_can_be_printed_by_itself(section):
    pages = read(book_pdf(book("dawdler"), [section]))
    assert pages
    assert f"page 1 of {len(pages)}" in pages[0]


@pytest.mark.parametrize(
    "room", ["brief", "circuits", "route", "wire", "ends", "cut", "dress", "parts", "build", "prove"]
)
def test_every_room_prints_what_it_has_with_its_names_whole(room):
    """Text is read back from the pages: a thing that the room is about stands there, letter by letter."""
    w = WORKED["larkspur"]
    text = " ".join(" ".join(read(book_pdf(book("larkspur"), sections_of(room)))).split())
    about = {
        "brief": [zone.name for zone in w.document.brief.zones.values()],
        "circuits": list(w.document.circuits.devices),
        "route": list(w.document.route.branches),
        "wire": [wire.label for wire in w.wire.wires.values()],
        "ends": list(w.ends.connectors),
        "cut": [cut.label for cut in w.evaluation.cut.cuts],
        "dress": [cover.code for cover in w.dress.covers if cover.code],
        "parts": [line.code for line in w.evaluation.parts.lines],
        "build": ["Shut the"],
        "prove": ["Back-probe sheet"],
    }[room]
    plain = text.replace(" ", "")
    assert about
    assert [name for name in about if latin(name).replace(" ", "") not in plain] == []


def test_a_room_that_is_none_is_named():
    with pytest.raises(NoPaper, match="no room 'lathe'"):
        sections_of("lathe")


def test_both_faces_are_mirrored_and_their_ways_stand_where_the_data_put_them():
    """Positions read back from the page: wire side and mating side have x of opposite sign."""
    w = WORKED["mushroom"]
    connector = next(
        c
        for c in w.ends.connectors.values()
        if c.used and c.ways > 2 and not w.catalogue.connectors[c.family].loose
    )
    faces = w.ends.faces[connector.face]
    one, two = list(faces.wire_side.cavities)[:2]
    (ax, _), (bx, _) = faces.wire_side.cavities[one], faces.wire_side.cavities[two]
    (cx, _), (dx, _) = faces.mating_side.cavities[one], faces.mating_side.cavities[two]
    assert bx - ax == pytest.approx(cx - dx)
    text = "\n".join(read(book_pdf(book("mushroom"), ["pinouts"])))
    assert "wire side" in text
    assert "mating side" in text
    assert "as large as life" in text


def test_a_table_of_many_rows_repeats_its_head_and_loses_none():
    rows = [["wire", "long"], *([f"W{n}", "words " * (n % 40)] for n in range(300))]
    pages = read(pages_pdf(Headed("a", "b", "c"), iter([TableOf(rows)])))
    assert len(pages) > 5
    assert all("wire" in page for page in pages)
    text = " ".join(pages)
    assert all(f"W{n}" in text for n in range(300))


def test_an_empty_harness_has_a_book_too():
    w = HarnessBuilder("vehicle").workings()
    assert len(read(book_pdf(Book(w, "revision 1", date(2026, 11, 29))))) == len(SECTIONS)


def test_letters_without_a_form_in_the_fonts_lose_their_accents_and_nothing_else():
    assert latin("10 Ω, 2 mm², 5 °C → Škoda") == "10 ohm, 2 mm², 5 °C > Škoda"
    assert latin("Brnění") == "Brnení"
    text = read(pages_pdf(Headed("x < y & z", "r", "d"), iter([Line("a < b & c **bold**")])))[0]
    assert "x < y & z" in text
    assert "a < b & c bold" in text


def test_a_paper_or_a_section_that_there_is_not_is_refused_by_name():
    with pytest.raises(NoPaper, match="A4, Letter"):
        paper_pt("A0")
    with pytest.raises(NoPaper, match="pinouts"):
        book_pdf(book("dawdler"), ["nothing"])
    assert paper_pt("Letter") == (792.0, 612.0)


def test_the_command_prints_it_and_says_how_far_it_is(tmp_path, capsys):
    file = tmp_path / "dawdler.json"
    file.write_text(json.dumps(demo_document("dawdler")))
    out = tmp_path / "book.pdf"
    assert main(["book", str(file), str(out), "--section", "cut", "--section", "tests"]) == 0
    said = capsys.readouterr()
    assert "0 of 2  Cut list" in said.err
    assert str(out) in said.out
    assert any("Test sheet" in page for page in read(out.read_bytes()))
    assert main(["book", str(file), str(out), "--paper", "A9"]) == 2
    assert "A4, Letter" in capsys.readouterr().err
