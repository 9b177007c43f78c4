"""The design document: what the builder decided or measured, and nothing else."""

from inkthread.core.document.load import (
    document_json_schema,
    dump_document,
    parse_document,
    parse_document_text,
)
from inkthread.core.document.problems import DocumentError, Problem
from inkthread.core.document.types import Document

__all__ = [
    "Document",
    "DocumentError",
    "Problem",
    "document_json_schema",
    "dump_document",
    "parse_document",
    "parse_document_text",
]
