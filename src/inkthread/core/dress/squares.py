"""Square codes (ISO/IEC 18004) on labels: how large one has to be so that it is read."""

from __future__ import annotations

LEAST_MODULE_MM = 0.25
"""A square of a code no smaller than this is printed and read: two dots at 203 dots an inch (typical)."""
_AMPLE_MODULE_MM = 0.5
"""No square need be larger."""
QUIET_MODULES = 2
"""Left free all round a code on a label of its own (half of what ISO/IEC 18004 asks for, typical)."""
_DIGITS = (34, 63, 101, 149, 202, 255, 293, 365, 432, 513)
_LETTERS = (20, 38, 61, 90, 122, 154, 178, 221, 262, 311)
_BYTES = (14, 26, 42, 62, 84, 106, 122, 152, 180, 213)
"""What versions 1 to 10 hold at error correction level M (ISO/IEC 18004 table 7, from memory)."""
_PLAIN = frozenset("0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ $%*+-./:")


def modules_of(text: str) -> int | None:
    """Modules along one side of a code for a text, without its border; None where ten versions are too few.

    >>> modules_of("Larkspur A1"), modules_of("LARKSPUR A1 B2 C3 D4")
    (21, 21)
    """
    if text.isascii() and text.isdigit():
        holds, many = _DIGITS, len(text)
    elif set(text) <= _PLAIN:
        holds, many = _LETTERS, len(text)
    else:
        holds, many = _BYTES, len(text.encode())
    version = next((n for n, most in enumerate(holds, 1) if many <= most), None)
    return None if version is None else 17 + 4 * version


def square_side_mm(text: str, high_mm: float) -> float:
    """Side of a square code that fits a height, its quiet border with it; 0 where it could not be read."""
    modules = modules_of(text)
    if modules is None or high_mm / (modules + 2 * QUIET_MODULES) < LEAST_MODULE_MM:
        return 0.0
    return round(min(high_mm, (modules + 2 * QUIET_MODULES) * _AMPLE_MODULE_MM), 2)
