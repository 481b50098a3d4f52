"""What Yattle remembers between runs: recent files, the theme, the window's place, where devices hang. Never part of a
job."""

from __future__ import annotations

import contextlib
import json
from dataclasses import asdict, dataclass, replace
from pathlib import Path

from yattle.files import write_whole

_MOST_RECENT = 8
THEMES = ("desktop", "light", "dark")


@dataclass(frozen=True)
class Settings:
    """What the program remembers of a person, not of a job.

    ``recent``: paths, the newest first
    ``theme``: one of ``THEMES``
    ``folder``, ``instrument``: the addresses of devices
    ``toured``: the first look round is done
    ``place``: where the window was, left, top, width, height in px; ``large``: it filled the screen
    ``folded``: what of the window was folded away, by name
    """

    recent: tuple[str, ...] = ()
    theme: str = "desktop"
    folder: str = "stand-in"
    instrument: str = "stand-in"
    toured: bool = False
    place: tuple[int, int, int, int] | None = None
    large: bool = False
    folded: tuple[str, ...] = ()

    def with_recent(self, path: Path) -> Settings:
        rest = tuple(old for old in self.recent if old != str(path))
        return replace(self, recent=(str(path), *rest)[:_MOST_RECENT])


def settings_path() -> Path:
    from platformdirs import user_config_path

    return user_config_path("yattle") / "settings.json"


def load_settings() -> Settings:
    """What was kept, or the defaults when there is nothing readable."""
    try:
        kept = json.loads(settings_path().read_text(encoding="utf-8"))
        recent = tuple(str(path) for path in kept["recent"])[:_MOST_RECENT]
        return Settings(recent, kept["theme"] if kept["theme"] in THEMES else "desktop",
                        str(kept.get("folder", "stand-in")), str(kept.get("instrument", "stand-in")),
                        bool(kept.get("toured", False)), _place(kept.get("place")), bool(kept.get("large", False)),
                        tuple(str(name) for name in kept.get("folded", ())))
    except (OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError):
        return Settings()


def _place(kept: object) -> tuple[int, int, int, int] | None:
    """Four whole numbers, or nothing."""
    if not isinstance(kept, list) or len(kept) != 4 or not all(type(one) is int for one in kept):
        return None
    left, top, wide, high = kept
    return (left, top, wide, high) if wide > 0 and high > 0 else None


def keep_settings(settings: Settings) -> None:
    """Keep recent files and theme; where devices hang is kept by :func:`keep_address` alone."""
    kept = load_settings()
    _write(replace(settings, folder=kept.folder, instrument=kept.instrument))


def keep_address(folder: str | None = None, instrument: str | None = None) -> None:
    """Keep where a device hangs."""
    kept = load_settings()
    _write(replace(kept, folder=folder or kept.folder, instrument=instrument or kept.instrument))


def _write(settings: Settings) -> None:
    """A folder that cannot be written to is no reason to disturb anyone."""
    path = settings_path()
    with contextlib.suppress(OSError):
        path.parent.mkdir(parents=True, exist_ok=True)
        write_whole(path, json.dumps(asdict(settings), indent=1) + "\n")
