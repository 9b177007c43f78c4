"""Readers and writers of open formats."""

from inkthread.exchange.tables import TABLES, csv_text, xlsx_bytes

__all__ = ["TABLES", "csv_text", "xlsx_bytes"]
