"""Stilo in an editor: a language server by the Language Server Protocol 3.17.

`positions`, `documents` and `answers` know no protocol: texts, places and edits go in and out.
`server` says it in the words of the protocol, by pygls and lsprotocol.
"""
