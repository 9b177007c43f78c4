"""A record behaves as the dataclass that is written out whole: equal, hashed, told and copied alike."""

from __future__ import annotations

from dataclasses import dataclass, field, fields, is_dataclass, replace

import pytest

from inkthread.core.record import altered, record


@record
class Clamp:
    """A record of several fields."""

    bore_mm: float
    name: str = ""
    places: tuple[str, ...] = ()
    price: float = field(default=0.0, compare=False)


@record
class Only:
    """A record of one field."""

    mm: float


@record
class Nothing:
    """A record of none."""


@dataclass(slots=True, unsafe_hash=True)
class Whole:
    """The same as the first, written out by the standard library."""

    bore_mm: float
    name: str = ""
    places: tuple[str, ...] = ()
    price: float = field(default=0.0, compare=False)


SETS = [(6.0,), (6.0, "a"), (8.0, "a"), (6.0, "a", ("x", "y")), (6.0, "a", ("x", "y"), 2.0), (6, "a")]


def test_it_is_equal_and_hashed_as_one_that_is_written_out():
    for one in SETS:
        for other in SETS:
            assert (Clamp(*one) == Clamp(*other)) == (Whole(*one) == Whole(*other)), (one, other)
            if Clamp(*one) == Clamp(*other):
                assert hash(Clamp(*one)) == hash(Clamp(*other))
        assert repr(Clamp(*one)) == repr(Whole(*one)).replace("Whole", "Clamp")


def test_what_is_not_compared_tells_no_two_apart():
    assert Clamp(6.0, price=1.0) == Clamp(6.0, price=2.0)
    assert len({Clamp(6.0, price=1.0), Clamp(6.0, price=2.0)}) == 1


def test_records_of_other_kinds_are_never_equal():
    assert Only(6.0) != Clamp(6.0)
    assert Only(6.0) != 6.0
    assert Only(6.0) == Only(6.0)
    assert Only(6.0) != Only(7.0)
    assert len({Only(6.0), Only(6.0), Only(7.0)}) == 2


def test_one_without_fields_is_like_any_other_of_its_kind():
    assert Nothing() == Nothing()
    assert hash(Nothing()) == hash(Nothing())
    assert repr(Nothing()) == "Nothing()"


def test_it_is_a_dataclass_with_slots():
    assert is_dataclass(Clamp)
    assert [f.name for f in fields(Clamp)] == ["bore_mm", "name", "places", "price"]
    assert replace(Clamp(6.0, "a"), name="b") == Clamp(6.0, "b")
    with pytest.raises(AttributeError):
        Clamp(6.0).width_mm = 1.0


def test_a_way_of_its_own_to_be_told_stays():
    @record
    class Told:
        mm: float

        def __repr__(self) -> str:
            return f"{self.mm:g} mm"

    assert repr(Told(2.0)) == "2 mm"
    assert Told(2.0) == Told(2.0)


@pytest.mark.parametrize(
    ("of", "parts"),
    [
        (Clamp(6.0, "P", ("a",), 2.0), {"name": "Q"}),
        (Clamp(6.0, "P", ("a",), 2.0), {"price": 3.0, "bore_mm": 8.0}),
        (Clamp(6.0), {}),
        (Only(3.0), {"mm": 4.0}),
        (Nothing(), {}),
    ],
)
def test_a_record_altered_is_as_replaced(of, parts):
    was = repr(of)
    other = altered(of, **parts)
    assert type(other) is type(of)
    assert other is not of
    assert [getattr(other, f.name) for f in fields(of)] == [
        getattr(replace(of, **parts), f.name) for f in fields(of)
    ]
    assert repr(of) == was


def test_a_part_that_there_is_not_is_not_altered():
    with pytest.raises(KeyError, match="bore_in"):
        altered(Clamp(6.0), bore_in=1.0)
