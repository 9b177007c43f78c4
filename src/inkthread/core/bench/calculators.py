"""The bench's calculators: each reads typed fields and answers with figures and a sentence."""

from __future__ import annotations

from collections.abc import Mapping

from inkthread.core.bench import coverings, electrics, ends
from inkthread.core.bench.fields import (
    BenchAnswer,
    BenchField,
    Calculator,
    Inputs,
)
from inkthread.core.catalogue import Catalogue

_FAMILY = BenchField("family", "Wire type", "family", "AS22759/32", required=True)
_GAUGE = BenchField("gauge", "Gauge", "gauge", "12 AWG", required=True)
_AMBIENT = BenchField("ambient", "Air around it", "temperature", "25 C", least=-80, most=350, default="25 C")
_AMPS = BenchField("amps", "Current", "current", "7.5 A", required=True, most=10_000)
_LENGTH = BenchField("length", "Length, one way", "length", "3 m", required=True, least=0.1, most=10_000_000)
_VOLTS = BenchField("volts", "Working voltage", "voltage", "13.2 V", required=True, least=0.1, most=1000)
_PRACTICE = BenchField("practice", "Practice", "practice", "motorsport", default="motorsport")


_ODS = BenchField(
    "od", "Wires over all", "counted lengths", "1.27mm x12, 2.1mm x3", required=True, least=0.05, most=200
)
_BUNDLE = BenchField("bundle", "Bundle", "length", "7.2 mm", required=True, least=0.1, most=500)
_SPAN = BenchField("length", "Length", "length", "420 mm", required=True, least=1, most=1e8)

CALCULATORS: dict[str, Calculator] = {
    c.name: c
    for c in (
        Calculator(
            "wire",
            "Wire",
            "Which gauge for one wire?",
            (
                _PRACTICE,
                BenchField("family", "Wire type", "family", help="the practice's own when absent"),
                _AMPS,
                _LENGTH,
                _VOLTS,
                BenchField("ambient", "Air around it", "temperature", "60 C", least=-80, most=350),
                BenchField(
                    "service",
                    "Service",
                    "choice",
                    choices=("continuous", "intermittent"),
                    default="continuous",
                ),
                BenchField("return", "Return", "choice", choices=("wired", "structure"), default="wired"),
                BenchField("drop_limit", "Drop allowed", "text", "3 % or 0.5 V"),
            ),
            electrics.wire,
        ),
        Calculator(
            "drop",
            "Drop",
            "How many volts does it lose?",
            (
                _FAMILY,
                _GAUGE,
                _LENGTH,
                _AMPS,
                _VOLTS,
                BenchField(
                    "conductor_temp",
                    "Conductor at",
                    "temperature",
                    "80 C",
                    least=-80,
                    most=400,
                    help="its working temperature when absent",
                ),
                _AMBIENT,
                BenchField("return", "Return", "choice", choices=("wired", "structure"), default="wired"),
                BenchField(
                    "structure_resistance", "Structure's resistance", "resistance", "2 mohm", default="0"
                ),
            ),
            electrics.drop,
        ),
        Calculator(
            "ampacity",
            "Ampacity",
            "How much may it carry?",
            (
                _FAMILY,
                _GAUGE,
                _AMBIENT,
                BenchField(
                    "conductor_temp",
                    "Conductor to",
                    "temperature",
                    "150 C",
                    least=-80,
                    most=400,
                    help="the insulation's rating when absent",
                ),
                BenchField("bundle", "Wires in the bundle", "count", "12", least=1, most=2000, default="1"),
                BenchField("loaded", "Share of them loaded", "share", "0.2", least=0, most=1, default="1"),
                BenchField("altitude", "Altitude", "length", "20000 ft", most=20_000_000, default="0 ft"),
                BenchField("method", "Method", "method", default="heat-balance"),
                BenchField(
                    "insulation_rating",
                    "Insulation rated (marine)",
                    "temperature",
                    "105 C",
                    least=0,
                    most=400,
                ),
                BenchField(
                    "engine_space",
                    "Engine space (marine)",
                    "choice",
                    choices=("outside", "inside"),
                    default="outside",
                ),
                BenchField(
                    "marine_bundling",
                    "Marine bundling below 50 V",
                    "flag",
                    help="house rule: the factors are for circuits above 50 V",
                ),
            ),
            electrics.ampacity_by_methods,
        ),
        Calculator(
            "fuse",
            "Fuse",
            "Which fuse, and does it protect the wire?",
            (
                _PRACTICE,
                _AMPS,
                BenchField("kind", "Kind", "choice", choices=("fuse", "breaker"), default="fuse"),
                BenchField("rating", "Rating", "current", "10 A", help="the smallest that does when absent"),
                BenchField("share", "Share of its rating", "percent", "80 %", most=100),
                BenchField("family", "Wire type", "family", "AS22759/32"),
                BenchField("gauge", "Gauge", "gauge", "18 AWG"),
                _AMBIENT,
                BenchField("fault", "Fault current", "current", "800 A", most=100_000),
                BenchField("inrush", "Inrush", "current", "40 A", most=100_000),
                BenchField("inrush_time", "Inrush lasts", "time", "30 ms", most=3600),
            ),
            electrics.fuse,
        ),
        Calculator(
            "bus",
            "Bus",
            "Is the data bus short enough?",
            (
                BenchField("standard", "Standard", "bus", "ISO11898-1M", required=True),
                BenchField("length", "Length, end to end", "length", "12 m", required=True, most=20_000_000),
                BenchField("stubs", "Stubs", "lengths", "0.2 m, 150 mm"),
                BenchField("nodes", "Nodes", "count", "6", least=2, most=1000),
            ),
            electrics.bus,
        ),
        Calculator(
            "short-time",
            "Short time",
            "How hot does it get for a while?",
            (
                _FAMILY,
                _GAUGE,
                _AMPS,
                BenchField("seconds", "For", "time", "10 s", required=True, least=0.001, most=36_000),
                BenchField("repeats", "Times", "count", "3", least=1, most=100, default="1"),
                BenchField("pause", "Rest between", "time", "20 s", most=36_000, default="0"),
                _AMBIENT,
                BenchField("rest", "Carries at rest", "current", "2 A", default="0"),
                BenchField("start", "From", "temperature", "40 C", least=-80, most=400),
            ),
            electrics.short_time,
        ),
        Calculator(
            "fit",
            "Fit",
            "Does this wire go into that connector?",
            (
                BenchField("wire", "Wire", "text", "AS22759/32 18 AWG", required=True),
                BenchField(
                    "connector", "Connector", "text", "SR16", required=True, help="family or part code"
                ),
                BenchField(
                    "gender",
                    "Contacts",
                    "choice",
                    choices=("socket", "pin"),
                    help="the shell's own when absent",
                ),
                BenchField("stud", "Stud", "text", "M6", help="for ring terminals"),
            ),
            ends.fit,
            puts=False,
        ),
        Calculator(
            "splice",
            "Splice",
            "Which splice joins these wires?",
            (
                BenchField("in", "Wires on one side", "wires", "0.75mm2x2", required=True),
                BenchField("out", "Wires on the other", "wires", "1.0mm2", required=True),
                BenchField(
                    "kind", "Kind", "choice", choices=("overlap", "butt", "sleeve"), default="overlap"
                ),
                BenchField("dry", "In a dry place", "flag"),
            ),
            ends.splice,
            puts=False,
        ),
        Calculator(
            "kit",
            "Kit",
            "Does a kit fill its housings?",
            (
                BenchField(
                    "housings", "Housings", "text", "20x4", required=True, help="how many of how many ways"
                ),
                BenchField("contacts", "Contacts of one gender", "count", "62", required=True, most=100_000),
                BenchField("one_spare_in", "One spare in", "count", "18", least=1, most=1000),
            ),
            ends.kit,
            puts=False,
        ),
        Calculator(
            "lead",
            "Lead",
            "How long is it cut?",
            (
                BenchField(
                    "finished", "Finished length", "length", "11 3/8 in", required=True, least=0.1, most=1e8
                ),
                BenchField(
                    "allowance",
                    "Each end takes",
                    "length",
                    "5/8 in",
                    required=True,
                    help="strip, fold-back, depth in the contact, trim",
                ),
                BenchField(
                    "other_allowance", "Other end takes", "length", "0 in", help="as the first when absent"
                ),
                BenchField("surplus", "Left long", "length", "150 mm", default="0"),
                BenchField("step", "Rounded up to", "length", "5 mm", default="0"),
            ),
            coverings.lead,
            puts=False,
        ),
        Calculator(
            "cut",
            "Spools",
            "Which piece comes off which spool?",
            (
                BenchField(
                    "spool", "Spools and remnants", "counted lengths", "10 m, 4.2 m", required=True, most=1e8
                ),
                BenchField(
                    "piece", "Pieces", "counted lengths", "1.2 m x5, 0.8 m x7", required=True, most=1e8
                ),
                BenchField(
                    "keep",
                    "A remnant is kept from",
                    "length",
                    "300 mm",
                    default="300 mm",
                    most=1e7,
                ),
            ),
            coverings.cut,
            puts=False,
        ),
        Calculator(
            "bundle",
            "Bundle",
            "How thick do these wires lie?",
            (
                _ODS,
                BenchField(
                    "loose_factor", "Hands lay it looser by", "share", "1.08", least=1, most=2, default="1.08"
                ),
            ),
            coverings.bundle,
            puts=False,
        ),
        Calculator(
            "lay",
            "Lay",
            "How do these wires lie in rings?",
            (
                _ODS,
                BenchField(
                    "lay_factor",
                    "A turn, in diameters",
                    "share",
                    "12",
                    least=4,
                    most=1000,
                    default="12",
                    help="length of one turn over the diameter of its ring",
                ),
            ),
            coverings.lay,
            puts=False,
        ),
        Calculator(
            "sleeve",
            "Sleeve",
            "Which sleeve, and how long is it cut?",
            (
                _BUNDLE,
                _SPAN,
                BenchField("kind", "Kind", "choice", choices=coverings.SLEEVE_KINDS, default="braid"),
                BenchField(
                    "over", "Goes over", "length", "14 mm", most=1000, help="the connector, if it is on"
                ),
                BenchField("gap", "Left bare at each end", "length", "35 mm", most=10_000),
                BenchField("solid", "Solid cores", "flag", help="one size more (common practice)"),
            ),
            coverings.sleeve,
            puts=False,
        ),
        Calculator(
            "tape",
            "Tape",
            "How much tape does it take?",
            (
                _BUNDLE,
                _SPAN,
                BenchField("width", "Tape is wide", "length", "19 mm", required=True, least=1, most=500),
                BenchField(
                    "overlap",
                    "Each turn covers the last by",
                    "percent",
                    "50 %",
                    most=90,
                    default="50 %",
                ),
                BenchField("gap", "Wound open, a gap of", "length", "9 mm", most=1000),
                BenchField("end_turns", "Square turns at the ends", "count", "2", most=20, default="2"),
            ),
            coverings.tape,
            puts=False,
        ),
        Calculator(
            "shrink",
            "Shrink",
            "Which shrink tube passes and closes?",
            (
                BenchField("over", "Passes", "length", "9.5 mm", required=True, least=0.1, most=1000),
                BenchField("onto", "Closes on", "length", "4.2 mm", required=True, least=0.1, most=1000),
                BenchField(
                    "ratio",
                    "Ratio",
                    "choice",
                    choices=("any", "2:1", "3:1", "4:1", "2.5:1 to 5.4:1"),
                    default="any",
                ),
                BenchField("lining", "Lining", "choice", choices=("any", "lined", "plain"), default="any"),
                BenchField("length", "Long, once shrunk", "length", "40 mm", least=1, most=10_000),
            ),
            coverings.shrink,
            puts=False,
        ),
        Calculator(
            "label",
            "Label",
            "Which label sleeve, how long?",
            (
                BenchField("od", "Wire or bundle", "length", "1.9 mm", required=True, least=0.1, most=200),
                BenchField("text", "Text", "text", "C12 F1-3", required=True),
                BenchField("over", "Goes over", "length", "4 mm", most=500, help="the contact, if it is on"),
                BenchField("height", "Letters", "length", "2.5 mm", least=0.5, most=50),
                BenchField("length", "Length of the wire", "length", "120 mm", least=1, most=1e8),
            ),
            coverings.label,
            puts=False,
        ),
        Calculator(
            "convert",
            "AWG and mm²",
            "What is that in the other system?",
            (BenchField("text", "Any measure", "text", "18 AWG", required=True),),
            electrics.convert_gauge,
        ),
    )
}


def calculate(catalogue: Catalogue, name: str, given: Mapping[str, str]) -> BenchAnswer:
    """Run a calculator on typed fields. Raises QuantityError naming the field, KeyError for no such one."""
    calculator = CALCULATORS[name]
    return calculator.run(Inputs(catalogue, calculator.fields, given))
