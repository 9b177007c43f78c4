"""Build: what the hands do, and how long it takes."""

from inkthread.core.build.times import TimeLine, standard_times

__all__ = ["TimeLine", "standard_times"]
