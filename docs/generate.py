"""Write what in docs/ comes from the code and the sheets: python docs/generate.py"""

import json
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))

from densities import page as densities
from public_names import page as public_names
from stilo.reference import reference, settings_page
from stilo.registry import language_names
from stilo.style.schema import schema

PAGES = {
    "density.md": densities,
    "python.md": public_names,
    "reference.md": reference,
    "stilo.schema.json": lambda: json.dumps(schema(), indent=2) + "\n",
    **{f"settings-{n}.md": (lambda n=n: settings_page(n)) for n in language_names()},
}

if __name__ == "__main__":
    for name, page in PAGES.items():
        Path(__file__).with_name(name).write_text(page(), encoding="utf-8")
