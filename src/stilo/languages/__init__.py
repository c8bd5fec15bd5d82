"""The languages that Stilo knows, each in a folder: its sheet, its samples, and its own code as SUPPORT."""
