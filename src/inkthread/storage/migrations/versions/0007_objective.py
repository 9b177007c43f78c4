"""What gauges are chosen for is called the objective, in every harness and in what undoes its edits; what
blanks an unused way is a family's cavity plug."""

import zlib
from collections.abc import Callable
from typing import Any

import sqlalchemy as sa
from alembic import op
from pydantic_core import from_json, to_json

revision = "0007"
down_revision = "0006"


def _renamed(wire: Any, old: str, new: str) -> Any:
    if not isinstance(wire, dict):
        return wire
    return {new if k == old else k: v for k, v in wire.items()}


def _document(plain: Any, old: str, new: str, number: int) -> Any:
    if not isinstance(plain, dict) or plain.get("format") != "inkthread-design":
        return plain
    changed = {**plain, "format_number": number}
    if "wire" in plain:
        changed["wire"] = _renamed(plain["wire"], old, new)
    return changed


def _operation(operation: dict[str, Any], old: str, new: str, number: int) -> dict[str, Any]:
    changed = dict(operation)
    for at in ("path", "from"):
        if operation.get(at) == f"/wire/{old}":
            changed[at] = f"/wire/{new}"
    if "value" in operation:
        if operation["path"] == "/wire":
            changed["value"] = _renamed(operation["value"], old, new)
        elif operation["path"] == "/format_number":
            changed["value"] = number
        else:
            changed["value"] = _document(operation["value"], old, new, number)
    return changed


def _each(table: str, key: str, columns: tuple[str, ...], change: Callable[[Any], Any]) -> None:
    connection = op.get_bind()
    names = ", ".join((key, *columns))
    for row in connection.execute(sa.text(f"SELECT {names} FROM {table}")).all():
        values: dict[str, Any] = {}
        for column, kept in zip(columns, row[1:], strict=True):
            plain = from_json(zlib.decompress(kept) if isinstance(kept, bytes) else kept)
            newer = change(plain)
            if newer != plain:
                text = to_json(newer)
                values[column] = zlib.compress(text, 6) if isinstance(kept, bytes) else text.decode()
        if values:
            sets = ", ".join(f"{c} = :{c}" for c in values)
            connection.execute(
                sa.text(f"UPDATE {table} SET {sets} WHERE {key} = :key"), {**values, "key": row[0]}
            )


def _families(old: str, new: str) -> None:
    connection = op.get_bind()
    rows = connection.execute(sa.text("SELECT code, data FROM parts WHERE kind = 'connectors'")).all()
    for code, data in rows:
        family = from_json(data)
        if isinstance(family, dict) and old in family:
            renamed = to_json({new if k == old else k: v for k, v in family.items()}).decode()
            change_row = sa.text("UPDATE parts SET data = :data WHERE kind = 'connectors' AND code = :code")
            connection.execute(change_row, {"data": renamed, "code": code})


def _all(old: str, new: str, number: int) -> None:
    _each("designs", "id", ("document",), lambda plain: _document(plain, old, new, number))
    _each(
        "revisions",
        "id",
        ("operations", "inverse"),
        lambda operations: [_operation(operation, old, new, number) for operation in operations],
    )


def upgrade() -> None:
    _all("choice", "objective", 2)
    _families("plug", "cavity_plug")


def downgrade() -> None:
    _all("objective", "choice", 1)
    _families("cavity_plug", "plug")
