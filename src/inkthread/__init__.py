"""Ink Thread: works out wire harnesses from what their builder states, and says why."""

__version__ = "0.1.0"
