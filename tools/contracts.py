"""Write the published contracts: the OpenAPI document and the JSON Schema of the design document."""

from __future__ import annotations

import json
import sys
import tempfile
from pathlib import Path

from inkthread.core.document import document_json_schema
from inkthread.web import create_app

DOCS = Path(__file__).parent.parent / "docs"


def contracts() -> dict[str, str]:
    """File name in docs/ to its text."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder) / "contract.db")
        openapi = app.api_doc
    return {
        "openapi.json": json.dumps(openapi, indent=1, ensure_ascii=False) + "\n",
        "design-document.schema.json": json.dumps(document_json_schema(), indent=1, ensure_ascii=False)
        + "\n",
    }


def main() -> int:
    """Write both files."""
    for name, text in contracts().items():
        (DOCS / name).write_text(text, encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
