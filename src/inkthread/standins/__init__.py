"""Simulated devices and services that ship with it: what is spoken to over a wire can be tried here."""
