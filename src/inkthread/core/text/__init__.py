"""A harness as text: typed lines under the headings of the rooms, read and written."""

from inkthread.core.text.read import LineMade, LineProblem, TextRead, read_text
from inkthread.core.text.write import write_text

__all__ = ["LineMade", "LineProblem", "TextRead", "read_text", "write_text"]
