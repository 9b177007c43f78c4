"""Square codes for labels (ISO/IEC 18004)."""

from __future__ import annotations

import io

from inkthread.core.dress.squares import QUIET_MODULES


def square_svg(text: str) -> str:
    """A code as SVG, dark on light, its quiet border with it."""
    import segno

    buffer = io.BytesIO()
    segno.make(text, error="m", micro=False).save(
        buffer, kind="svg", border=QUIET_MODULES, light="#fffdf6", xmldecl=False, omitsize=True
    )
    return buffer.getvalue().decode()
