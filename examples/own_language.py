"""A language of one's own: a sheet for the timetables of Skerry Line, which are JSON with rules of ours.

    python examples/own_language.py FILE
"""

import sys
from pathlib import Path

import stilo

SHEET = """
@language timetable {
  grammar: tree_sitter_json;
  files: "*.timetable";
  pairs: "{" "}" "[" "]";
}
@setting width { default: 60 }
@setting indent { default: 2 }
@role sailing { meaning: "one sailing"; wrap: row }

string, number, true, false, null { token: word }
document { role: file }
array { role: items }
object { role: entries }
array > object { role: sailing }
"," { role: comma; break: after }
":" { role: map-colon }
"{" { role: opening-brace; break: open }
"}" { role: closing-brace; break: close }
"[" { role: opening-bracket; break: open }
"]" { role: closing-bracket; break: close }
"""


def laid_out(text: str) -> str:
    """A timetable with each sailing on one line."""
    return stilo.reformat(text, stilo.define_language(SHEET), {"items.wrap": "stack"}).text


if __name__ == "__main__":
    print(laid_out(Path(sys.argv[1]).read_text()), end="")
