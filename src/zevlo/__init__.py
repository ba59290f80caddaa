"""Zevlo: place and frame physical shot cameras."""

__version__ = "0.1.0"
