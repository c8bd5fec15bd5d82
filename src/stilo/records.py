"""Dataclasses that are made quickly: for a hundred of the standard ones, each start took a fifth longer.

The standard decorator writes up to six methods of each class as text, which is then compiled. Here it writes
`__init__` alone, and the others are shared. That no field is set is seen by the type checker, not at run time; so what
a caller of the library gets is made by the standard one.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from functools import partial
from operator import attrgetter
from reprlib import recursive_repr
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from dataclasses import dataclass as dataclass
else:
    def dataclass(
        cls: type | None = None, /, *, frozen: bool = False, repr: bool = True, **options: bool
    ) -> Any:
        """Make a dataclass, as the decorator of the same name does."""
        if cls is None:
            return partial(dataclass, frozen=frozen, repr=repr, **options)
        own = set(vars(cls))
        made = dataclasses.dataclass(cls, repr=False, eq=False, **options)
        values = _values(made)

        def __eq__(self: Any, other: Any) -> bool:
            if other.__class__ is not self.__class__:
                return NotImplemented
            return values(self) == values(other)

        def __hash__(self: Any) -> int:
            return hash(values(self))

        methods = {"__eq__": __eq__, "__hash__": __hash__ if frozen else None}
        if repr:
            methods["__repr__"] = _repr
        for name, method in methods.items():
            if name not in own:
                setattr(made, name, method)
        return made


def _values(made: Any) -> Callable[[Any], object]:
    """What gives the fields of an object that say whether it is the same as another one."""
    names = [field.name for field in dataclasses.fields(made) if field.compare]
    return attrgetter(*names) if names else lambda _: ()


@recursive_repr()
def _repr(self: Any) -> str:
    shown = [field.name for field in dataclasses.fields(self) if field.repr]
    said = ", ".join(f"{name}={getattr(self, name)!r}" for name in shown)
    return f"{type(self).__qualname__}({said})"
