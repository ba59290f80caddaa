"""Shots as cameras of other programs: what such a camera can say, and back."""
