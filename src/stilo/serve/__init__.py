"""Stilo in an editor: a language server by the Language Server Protocol 3.17.

`positions`, `documents` and `answers` know no protocol: texts, places and edits go in and out.
`replies` says it in the words of the protocol, and `server` when it is asked, by pygls and lsprotocol.
"""

#: What the server calls itself.
NAME = "stilo"
