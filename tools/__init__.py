"""Commands of this repository: measuring, checking, drawing, writing what is published."""
