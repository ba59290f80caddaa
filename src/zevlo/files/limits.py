"""What a file may ask of its reader, and what of a machine."""

from __future__ import annotations

MOST_TRIANGLES = 20_000_000
MOST_POINTS = 3 * MOST_TRIANGLES
MOST_PARTS = 400_000
MOST_TEXTURE_PX = 16384 * 16384
LARGEST_EXTENT_M = 100_000.0
MOST_ARCHIVE_FILES = 5_000
MOST_UNPACKED = 2 * 1024**3
MOST_RATIO = 200
"""A file in an archive that grows more than this on unpacking is taken for a bomb."""
