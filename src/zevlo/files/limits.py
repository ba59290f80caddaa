"""What a file may ask of its reader, and what of a machine."""

from __future__ import annotations

DEFAULT_SIZE_LIMIT = 512 * 1024**2
"""Bytes of a file that comes in."""
TIME_LIMIT_S = 600
MEMORY_LIMIT = 8 * 1024**3
MOST_WRITTEN = 6 * 1024**3
"""Bytes a reader may write: what it unpacks, and what it makes of it."""
MOST_CAMERAS = 2_000
"""Cameras of a file that are taken in at a time."""
CAMERAS_SIZE_LIMIT = 256 * 1024**2
"""Bytes of a file of cameras: the set they look at may be in it."""
CAMERAS_TIME_LIMIT_S = 120
CAMERAS_MEMORY_LIMIT = 3 * 1024**3
MOST_WRITTEN_CAMERAS = 256 * 1024**2
MOST_TABLE_UNPACKED = 128 * 1024**2
"""Bytes a table of cameras unpacks to."""
MOST_TRIANGLES = 20_000_000
MOST_POINTS = 3 * MOST_TRIANGLES
MOST_PARTS = 400_000
MOST_PICTURE_PX = 16384 * 16384
"""Pixels of one texture that is read at all."""
MOST_PICTURE_SIDE_PX = 8192
ALL_PICTURES_PX = 64_000_000
"""Pixels all textures of a set keep together: a print holds 6 bytes for each, a desk's graphics card 4."""
LARGEST_EXTENT_M = 100_000.0
MOST_ARCHIVE_FILES = 5_000
MOST_UNPACKED = 2 * 1024**3
MOST_RATIO = 200
"""A file in an archive that grows more than this on unpacking is taken for a bomb."""
