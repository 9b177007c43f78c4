"""Write the published contracts: the OpenAPI document and the JSON Schema of the design document."""

from __future__ import annotations

import json
import sys
import tempfile
from pathlib import Path

from inkthread.core.document import document_json_schema
from inkthread.web import create_app
from inkthread.web.contract import whole_contract

ROOT = Path(__file__).parent.parent


def contracts() -> dict[str, str]:
    """Path of each file from the root to its text. The program serves the first as it stands."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder) / "contract.db", describe=True)
        openapi = whole_contract(app.api_doc)
    text = json.dumps(openapi, indent=1, ensure_ascii=False) + "\n"
    schema = json.dumps(document_json_schema(), indent=1, ensure_ascii=False) + "\n"
    return {
        "src/inkthread/web/openapi.json": text,
        "docs/design-document.schema.json": schema,
    }


def main() -> int:
    """Write them."""
    for name, text in contracts().items():
        (ROOT / name).write_text(text, encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
