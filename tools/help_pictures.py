"""The guide's pictures, made from the demo data: python tools/help_pictures.py src/yattle/help/pictures"""

from __future__ import annotations

import sys
from pathlib import Path

from PyQt6.QtCore import Qt
from screenshots import close, shown_view

from yattle.ui.app import make_app

PICTURES = {"survey": "survey-light", "trim": "trim-light", "brake": "brake-light", "coil": "coil-light",
            "fit": "fit-built", "log": "log-light"}
"""The guide's name for a picture, and the view it is of."""
_WIDE = 540  # px in the guide


def main(folder: Path) -> None:
    app = make_app()
    folder.mkdir(parents=True, exist_ok=True)
    for name, of in PICTURES.items():
        window = shown_view(of, (1180, 740), "light")
        small = window.grab().toImage().scaledToWidth(_WIDE, Qt.TransformationMode.SmoothTransformation)
        small.convertToFormat(small.Format.Format_RGB32).save(str(folder / f"{name}.png"))
        close(window)
        app.processEvents()


if __name__ == "__main__":
    main(Path(sys.argv[1]))
