"""Lens, back, movements, focus, exposure."""
