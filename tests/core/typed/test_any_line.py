"""Whatever words are typed, in any order, at any act: understood, or refused in words."""

from __future__ import annotations

from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.catalogue import shipped_catalogue
from inkthread.core.acts import ACTS, act_operations
from inkthread.core.document import DocumentError, parse_document
from inkthread.core.document.draft import LineError
from inkthread.core.look import look_at
from inkthread.core.text import read_text
from inkthread.core.text.read import HEADINGS
from inkthread.storage.patches import apply_with_inverse
from tests.conftest import harness

CATALOGUE = shipped_catalogue()
CHASSIS = harness("chassis").plain
WORDS = """
M1 B1 F1 F1.out1 A1.O9 K1 J1 G1 battery fuse pump relay coil horn lamp (fan) (between) > > , ; 5 A 12 V
2x21 W peak for 3 s coil 0.2 contact -40 to 85 C wet fuel 1 m 300 mm +- 20 slack laid in place tail SR16
6 way at plug pins keyed B 1=M1.+ meets same as # " ' ( ) + ± = : . / \\ 0 1e9 99999999999 ½ é ☃ bulkhead
grommet J1/a1 M1./ .+ M1.+/ +12 ground chassis leads 20 AWG 10 ohm 50 Ah (new pin) (no end) separators
"""
POOL = WORDS.split()
LINES = st.lists(st.sampled_from(POOL), max_size=9).map(" ".join)
ABOUT = st.sampled_from(["", "M1", "A1", "zz", "devices/M1", "connectors/A1", "points/M1", "zones/x"])
STATEMENTS = [
    "",
    "pin ",
    "path ",
    "load ",
    "source ",
    "circuit ",
    "fix ",
    "pair ",
    "cable ",
    "rule ",
    "supply ",
]


@given(st.sampled_from(ACTS), LINES, ABOUT)
@settings(max_examples=300, deadline=None)
def test_an_act_is_refused_in_words_or_makes_a_sound_document(act, text, about):
    try:
        operations = act_operations(CHASSIS, CATALOGUE, act, text, about)
        parse_document(apply_with_inverse(CHASSIS, operations)[0])
    except (LineError, DocumentError):
        pass
    look_at(CHASSIS, CATALOGUE, act, text, about)


@given(st.sampled_from(HEADINGS), st.sampled_from(STATEMENTS), LINES)
@settings(max_examples=200, deadline=None)
def test_a_line_of_a_harness_as_text_never_breaks_the_reading(section, statement, text):
    read = read_text(f"[{section}]\n{statement}{text}", CATALOGUE)
    assert (read.document is None) == bool(read.problems)
    for problem in read.problems:
        assert problem.says
        assert 0 <= problem.start <= problem.end
