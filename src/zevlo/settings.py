"""Where Zevlo keeps its things and how it listens; from the environment, with defaults for one desk."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path

from zevlo.files.limits import DEFAULT_SIZE_LIMIT

ROOT = Path(__file__).resolve().parents[2]


@dataclass(frozen=True)
class Settings:
    database_url: str
    host: str
    port: int
    upload_limit: int
    desk: Path


def read_settings() -> Settings:
    """Settings from ZEVLO_* variables. Raises KeyError where no database is named."""
    return Settings(
        database_url=os.environ["ZEVLO_DATABASE_URL"],
        host=os.environ.get("ZEVLO_HOST", "127.0.0.1"),
        port=int(os.environ.get("ZEVLO_PORT", "8420")),
        upload_limit=int(os.environ.get("ZEVLO_UPLOAD_LIMIT_MB", DEFAULT_SIZE_LIMIT // 1024**2)) * 1024**2,
        desk=Path(os.environ.get("ZEVLO_DESK", ROOT / "desk" / "dist")),
    )
