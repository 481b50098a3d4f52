"""One open job: its values before and after, what is selected, what is worked out of it, its journal."""

from yattle.session.selection import Selection
from yattle.session.session import Session

__all__ = ["Selection", "Session"]
