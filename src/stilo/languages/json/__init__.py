"""JSON (RFC 8259), with comments."""

from stilo.languages.json.faults import fault
from stilo.support import Support

SUPPORT = Support(fault=fault)
