"""What happens to files: writing them safely."""

from stilo.run.files import write_atomically, write_result

__all__ = ["write_atomically", "write_result"]
