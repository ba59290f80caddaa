"""Proofs: scene and lens to a developed picture."""
