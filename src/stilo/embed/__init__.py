"""Documents that hold texts of other languages: their segments are laid out, all else stays."""
