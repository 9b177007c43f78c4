"""Samples of wire as measured, against the data of their family."""

from __future__ import annotations

import numpy as np

from inkthread.core.catalogue import Catalogue
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Phrase, Place, phrase
from inkthread.core.measures import format_area
from inkthread.core.physics.conductor import COPPER_ALPHA_20C_PER_K
from inkthread.core.wire.families import labelled_families

SAMPLE_OHM_TOLERANCE = 1.10
"""A sample may measure this much above its family's figure before the wire is doubted (common practice)."""
SAMPLE_OD_TOLERANCE = 0.97
"""Of the least diameter over the insulation: thinner than this is doubted (common practice)."""


def find_in_samples(document: Document, catalogue: Catalogue, book: FindingBook) -> None:
    """Measured samples against what their label says."""
    labelled = labelled_families(document, catalogue)
    for sample_id, sample in document.wire.samples.items():
        family = labelled.get(sample.family)
        size = family.size(sample.gauge) if family is not None else None
        if size is None:
            continue
        what: list[Phrase] = []
        if sample.resistance_mohm_per_m is not None:
            at_20 = sample.resistance_mohm_per_m / (1 + COPPER_ALPHA_20C_PER_K * (sample.temperature_c - 20))
            ratio = at_20 / size.resistance_ohm_per_km
            if ratio > SAMPLE_OHM_TOLERANCE:
                what.append(
                    phrase(
                        "aluminium" if 1.45 < ratio < 1.8 else "resistance",
                        measures=f"{sample.resistance_mohm_per_m:g} mΩ/m",
                        above=f"{ratio * 100 - 100:.0f} %",
                        nominal=f"{size.resistance_ohm_per_km:.3g}",
                        area=format_area(size.area_mm2 / ratio),
                    )
                )
        if sample.od_mm is not None and sample.od_mm < size.od_min_mm * SAMPLE_OD_TOLERANCE:
            what.append(phrase("thin", over=f"{sample.od_mm:.2f} mm", least=f"{size.od_min_mm:.2f} mm"))
        if sample.strands is not None and sample.strand_mm is not None:
            copper_mm2 = sample.strands * np.pi / 4 * sample.strand_mm**2
            if copper_mm2 < size.area_mm2 / SAMPLE_OHM_TOLERANCE:
                what.append(
                    phrase(
                        "strands",
                        strands=f"{sample.strands} strands of {sample.strand_mm:g} mm",
                        copper=format_area(copper_mm2),
                        nominal=format_area(size.area_mm2),
                    )
                )
        unproven = (
            sample.supplier.strip()
            and not what
            and not any((sample.resistance_mohm_per_m, sample.od_mm, sample.strands and sample.strand_mm))
        )
        if unproven:
            book.add(
                "supplier-unproven",
                Place("wire", "sample", sample_id),
                sample=f"{sample.family} {sample.gauge}",
                supplier=sample.supplier.strip(),
                lot=phrase("lot", of=sample.lot.strip()) if sample.lot.strip() else "",
            )
        if what:
            book.add(
                "sample-thinner",
                Place("wire", "sample", sample_id),
                sample=f"{sample.family} {sample.gauge}",
                what=what,
            )
