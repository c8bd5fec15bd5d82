"""Write what in docs/ comes from the code and the sheets: python docs/generate.py"""

from pathlib import Path

from stilo.reference import reference

if __name__ == "__main__":
    Path(__file__).with_name("reference.md").write_text(reference(), encoding="utf-8")
