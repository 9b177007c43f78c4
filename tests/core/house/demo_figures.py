"""Figures of the demo harnesses as lines of text, kept so that a change of any digit is seen.

``python -m tests.core.house.demo_figures`` writes them anew, where figures are meant to change.
"""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.evaluate import evaluate
from inkthread.demo import DEMOS, demo_document

FOLDER = Path(__file__).parent / "figures"


def digits(figure: float | None) -> str:
    """A figure to its tenth digit: processors differ in the sixteenth."""
    return "none" if figure is None else f"{figure:.10g}"


def lines_of(name: str) -> list[str]:
    """Every wire, load, fuse, branch, piece and line of the bill of a demo, with all digits."""
    e = evaluate(parse_document(demo_document(name)), shipped_catalogue())
    lines = [f"tally {' '.join(f'{k}={v}' for k, v in asdict(e.tally).items())}"]
    for w in e.wire.wires.values():
        limits = " ".join(map(digits, w.limits))
        lines.append(
            f"wire {w.key} {w.family} {w.gauge} {w.colour} {digits(w.carries_a)} A {digits(w.loss_v)} V "
            f"{digits(w.temperature_c)} deg C, {w.governs}: {limits}"
        )
    for d in e.wire.loops.values():
        lines.append(
            f"load {d.load} {digits(d.drop_v)} of {digits(d.limit_v)} V, {digits(d.drawn_a)} A, "
            f"least {digits(d.least_gets_v)} V"
        )
    for key, fuse in e.circuits.fuses.items():
        lines.append(f"fuse {key} {digits(fuse.load_a)} of {digits(fuse.rating_a)} A {fuse.code}")
    for branch, bundle in e.dress.bundles.items():
        seen = e.route.branches[branch]
        lines.append(
            f"branch {branch} {digits(bundle.tight_mm)} {digits(bundle.loose_mm)} mm "
            f"{digits(seen.hottest_c)} deg C"
        )
    for connector in e.ends.connectors.values():
        held = " ".join(f"{c.cavity}={c.contact}/{c.seal or c.cavity_plug}" for c in connector.cavities)
        lines.append(f"connector {connector.id} {connector.housing} {held}")
    for piece in e.cut.cuts:
        lines.append(
            f"cut {piece.wire} {digits(piece.finished_mm)} {digits(piece.cut_mm)} mm "
            f"{digits(piece.mass_g)} g {piece.cable}"
        )
    for line in e.parts.lines:
        lines.append(
            f"bill {line.code} {line.colour} {digits(line.quantity)} {line.unit} "
            f"{digits(line.mass_g)} g {digits(line.cost)}"
        )
    lines += [f"finding {f.severity} {f.code} {f.places[0].id} {f.what}" for f in e.findings]
    return lines


def kept(name: str) -> Path:
    """Where the lines of a demo are kept."""
    return FOLDER / f"{name}.txt"


def main() -> None:
    """Write them anew."""
    for name in DEMOS:
        kept(name).write_text("\n".join(lines_of(name)) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
