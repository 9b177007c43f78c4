"""What a harness is proved by: its tests with bands, what readings speak of, what explains them."""

from inkthread.core.prove.complaint import BadComplaint, Complaint, read_complaint
from inkthread.core.prove.hands import CONFIDENCE, Hand, Sample, hands_of, least_share
from inkthread.core.prove.harness import MeasuredHarness
from inkthread.core.prove.judge import FaultSaid, FaultSet, Judged, RowJudged, judge
from inkthread.core.prove.later import Cause, FailedLater, failed_later
from inkthread.core.prove.picked_up import PickedUp, picked_up
from inkthread.core.prove.plan import PlanRow, ProofPlan, ProvedBy, plan_tests
from inkthread.core.prove.powering import PowerSheet, PowerStep, first_power
from inkthread.core.prove.readings import BadReading, Reading, read_ohm, read_table, reading_of
from inkthread.core.prove.record import PieceRecord, find_in_record, find_in_signing, rows_by_id
from inkthread.core.prove.room import prove_opening, prove_room
from inkthread.core.prove.shorted import shorted_behind
from inkthread.core.prove.trainer import Exercise, Question, drill_of, exercise_of, probe
from inkthread.core.prove.upkeep import (
    LifeEntry,
    MatingsUsed,
    SpareToCarry,
    Upkeep,
    ZoneDue,
    upkeep_of,
)
from inkthread.core.prove.volts import VoltRow, VoltSheet, expected_volts

__all__ = [
    "CONFIDENCE",
    "BadComplaint",
    "BadReading",
    "Cause",
    "Complaint",
    "Exercise",
    "FailedLater",
    "FaultSaid",
    "FaultSet",
    "Hand",
    "Judged",
    "LifeEntry",
    "MatingsUsed",
    "MeasuredHarness",
    "PickedUp",
    "PieceRecord",
    "PlanRow",
    "PowerSheet",
    "PowerStep",
    "ProofPlan",
    "ProvedBy",
    "Question",
    "Reading",
    "RowJudged",
    "Sample",
    "SpareToCarry",
    "Upkeep",
    "VoltRow",
    "VoltSheet",
    "ZoneDue",
    "drill_of",
    "exercise_of",
    "expected_volts",
    "failed_later",
    "find_in_record",
    "find_in_signing",
    "first_power",
    "hands_of",
    "judge",
    "least_share",
    "picked_up",
    "plan_tests",
    "probe",
    "prove_opening",
    "prove_room",
    "read_complaint",
    "read_ohm",
    "read_table",
    "reading_of",
    "rows_by_id",
    "shorted_behind",
    "upkeep_of",
]
