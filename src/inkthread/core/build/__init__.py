"""Build: every step of hand work, what it waits for, the order, the cards, the time."""

from inkthread.core.build.board import Board, board_of
from inkthread.core.build.fitting import FittingStep, fitting_steps
from inkthread.core.build.fold import CannotFold, folded
from inkthread.core.build.operations import LOOKED_AT, SAMPLED, Operation, Rooms
from inkthread.core.build.order import Broken, BuildPlan, Card, plan_build
from inkthread.core.build.practised import find_unpractised
from inkthread.core.build.progress import again_after, minutes_left, taken_out
from inkthread.core.build.rescue import Help, help_at
from inkthread.core.build.reuse import find_reused
from inkthread.core.build.room import build_opening, build_room
from inkthread.core.build.steps import steps_of
from inkthread.core.build.times import (
    Learned,
    Session,
    Ticked,
    Timed,
    TimeLine,
    labour_cost,
    learned_minutes,
    sessions_of,
    standard_times,
)

__all__ = [
    "LOOKED_AT",
    "SAMPLED",
    "Board",
    "Broken",
    "BuildPlan",
    "CannotFold",
    "Card",
    "FittingStep",
    "Help",
    "Learned",
    "Operation",
    "Rooms",
    "Session",
    "Ticked",
    "TimeLine",
    "Timed",
    "again_after",
    "board_of",
    "build_opening",
    "build_room",
    "find_reused",
    "find_unpractised",
    "fitting_steps",
    "folded",
    "help_at",
    "labour_cost",
    "learned_minutes",
    "minutes_left",
    "plan_build",
    "sessions_of",
    "standard_times",
    "steps_of",
    "taken_out",
]
