"""Readers and writers of open formats."""

from inkthread.exchange.tables import CSV_KINDS, csv_text

__all__ = ["CSV_KINDS", "csv_text"]
