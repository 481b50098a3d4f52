"""Write the JSON Schemas of all formats: formats.py FOLDER."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from yattle.schemas import schemas


def main(folder: Path) -> None:
    for name, schema in schemas().items():
        path = folder / f"{name}.json"
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(json.dumps(schema, indent=1, sort_keys=True) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
