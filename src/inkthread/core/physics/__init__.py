"""Equations: conductors, air, heat. No words of the harness trade here."""
