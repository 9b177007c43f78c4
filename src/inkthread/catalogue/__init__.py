"""The shipped parts, rules and wordings: data files, and the loader that hands them to the core."""

from __future__ import annotations

import hashlib
import json
from functools import cache
from importlib import resources
from importlib.resources.abc import Traversable
from typing import Any

from pydantic import TypeAdapter

from inkthread.core.catalogue import (
    AircraftRule,
    BusStandard,
    Catalogue,
    CheckText,
    ColourScheme,
    ConnectorFamily,
    Cover,
    Coverings,
    Critical,
    Densities,
    DeviceKind,
    FaultLimits,
    FuseHolder,
    FuseRating,
    Kit,
    LimitWords,
    MarineTable,
    Pattern,
    ProtectionCurve,
    PullTable,
    Rule,
    SpliceSize,
    Studs,
    Tool,
    Twists,
    WireFamily,
)
from inkthread.core.catalogue.fitting import Fitting
from inkthread.core.catalogue.glossary import Word
from inkthread.core.catalogue.operations import HandWorks
from inkthread.core.catalogue.proofs import Proofs
from inkthread.core.catalogue.rescue import Rescue


@cache
def shipped_catalogue() -> Catalogue:
    """The catalogue that ships with the program, read once."""
    return read_catalogue(resources.files(__name__))


@cache
def shipped_glossary() -> tuple[Word, ...]:
    """The words of the trade, in the order of the rooms, read once."""
    text = resources.files(__name__).joinpath("glossary.json").read_text(encoding="utf-8")
    return TypeAdapter(tuple[Word, ...]).validate_python(json.loads(text)["words"])


def read_catalogue(root: Traversable) -> Catalogue:
    """The catalogue of a folder of data files. Raises ValidationError for a figure that has no place."""
    digest = hashlib.sha256()

    def read(name: str) -> Any:
        text = root.joinpath(name).read_text(encoding="utf-8")
        digest.update(text.encode())
        return json.loads(text)

    def read_folder(name: str) -> list[Any]:
        names = sorted(p.name for p in root.joinpath(name).iterdir() if p.name.endswith(".json"))
        return [read(f"{name}/{file}") for file in names]

    wires = TypeAdapter(list[WireFamily]).validate_python(read_folder("wires"))
    connectors = TypeAdapter(list[ConnectorFamily]).validate_python(read_folder("connectors"))
    rules = read("rules.json")
    colours = read("colours.json")
    protection = read("fuses.json")
    ratings = TypeAdapter(tuple[FuseRating, ...])
    joints = read("splices.json")
    splices = TypeAdapter(tuple[SpliceSize, ...]).validate_python(joints["splices"])
    tools = TypeAdapter(list[Tool]).validate_python(read("tools.json")["tools"])
    checks = TypeAdapter(dict[str, CheckText]).validate_python(read("checks.json")["checks"])
    ampacity = read("ampacity.json")
    wordings = read("openings.json")
    insulation = read("insulation.json")
    densities = insulation.pop("densities")
    coverings = read("coverings.json")
    insulates_source = coverings["insulates"].pop("source")
    times = read("times.json")
    works = read("operations.json")
    works_source = works.pop("source")
    proofs = read("proofs.json")
    proofs_source = proofs.pop("source")
    fitting = read("fitting.json")
    fitting_source = fitting.pop("source")
    rescue = read("rescue.json")
    rescue_source = rescue.pop("source")
    kinds = TypeAdapter(dict[str, DeviceKind]).validate_python(read("kinds.json")["kinds"])
    return Catalogue(
        version=digest.hexdigest()[:10],
        wires={w.code: w for w in wires},
        connectors={c.code: c for c in connectors},
        fuses=ratings.validate_python(protection["fuses"]),
        fault_limits=TypeAdapter(FaultLimits).validate_python(insulation),
        densities=TypeAdapter(Densities).validate_python(densities),
        twists=TypeAdapter(Twists).validate_python(read("twists.json")),
        holders=TypeAdapter(tuple[FuseHolder, ...]).validate_python(protection["holders"]),
        breakers=ratings.validate_python(protection["breakers"]),
        curves=TypeAdapter(dict[str, ProtectionCurve]).validate_python(protection["curves"]),
        buses=TypeAdapter(dict[str, BusStandard]).validate_python(read("buses.json")["buses"]),
        splices=splices,
        rules=TypeAdapter(dict[str, Rule]).validate_python(rules["rules"]),
        preset_families=rules["families"],
        drop_table_v=tuple(tuple(row) for row in rules["drop_table_v"]["rows"]),
        colours=colours["hex"],
        colour_names=colours["names"],
        colour_schemes=TypeAdapter(dict[str, ColourScheme]).validate_python(colours["schemes"]),
        preset_schemes=colours["preset_schemes"],
        checks=checks,
        limit_words=TypeAdapter(dict[str, LimitWords]).validate_python(wordings["limits"]),
        openings=wordings["openings"],
        kinds=kinds,
        kits={k.code: k for k in TypeAdapter(list[Kit]).validate_python(read("kits.json")["kits"])},
        minutes=TypeAdapter(dict[str, float]).validate_python(times["minutes"]),
        hand_works=TypeAdapter(HandWorks).validate_python(works),
        proofs=TypeAdapter(Proofs).validate_python(proofs),
        fitting=TypeAdapter(Fitting).validate_python(fitting),
        rescue=TypeAdapter(Rescue).validate_python(rescue),
        patterns=TypeAdapter(dict[str, Pattern]).validate_python(read("patterns.json")["patterns"]),
        cautions={who: tuple(texts) for who, texts in rules["cautions"].items()},
        aircraft=TypeAdapter(AircraftRule).validate_python(ampacity["aircraft"]),
        marine=TypeAdapter(MarineTable).validate_python(ampacity["marine"]),
        switch_derating={k: tuple(v) for k, v in ampacity["switch_derating"]["factors"].items()},
        critical=TypeAdapter(Critical).validate_python(rules["critical"]),
        tools={t.code: t for t in tools},
        covers=TypeAdapter(tuple[Cover, ...]).validate_python(joints["covers"]),
        coverings=TypeAdapter(Coverings).validate_python(coverings),
        studs=TypeAdapter(Studs).validate_python(joints["studs"]),
        pull=TypeAdapter(dict[str, PullTable]).validate_python(read("pull.json")["tables"]),
        sources={
            "drop_table_v": rules["drop_table_v"]["source"],
            **colours["sources"],
            "minutes": times["source"],
            "hand_works": works_source,
            "proofs": proofs_source,
            "fitting": fitting_source,
            "rescue": rescue_source,
            "insulates": insulates_source,
        },
    )
