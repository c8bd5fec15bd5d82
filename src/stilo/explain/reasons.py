"""Why a gap or a token is as it is: the setting that a person would change, or the rule that says so."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from stilo.layout.aligned import cell_declared
from stilo.layout.edits import TokenEdit
from stilo.layout.fit import Fitted
from stilo.layout.gaps import CLOSE, EMPTY, MID, NONE, OPEN
from stilo.layout.groups import Group
from stilo.layout.plan import Plan
from stilo.layout.render import Rendered
from stilo.sheet.cascade import Declared, Style
from stilo.sheet.properties import Value

if TYPE_CHECKING:
    from stilo.language import Language
    from stilo.style.given import Given

#: What of a sequence decides the break of one of its gaps, by the part of the gap.
_BY_PART = {OPEN: ("wrap", "open"), CLOSE: ("close", "wrap")}
#: The common setting that says how far lines stand in, by the kind of indent.
_STEPS = {"block": "indent", "continuation": "continuation", "none": "indent"}


@dataclass(frozen=True)
class Reason:
    """One thing that decided: a setting, or the rule of a sheet.

    property, value: what was declared. rule, place: the rule, and `sheet:line` where it stands.
    setting: the name of the setting that gave the value, if one did. origin: the place and the layer that
    gave the setting its value, if some layer did.
    """

    property: str
    value: Value
    rule: str
    place: str
    setting: str | None
    origin: str = ""

    def traced(self, origins: Mapping[str, Given]) -> Reason:
        """The same, with the origin of the setting's value."""
        given = origins.get(self.setting or "")
        if given is None:
            return self
        return replace(self, origin=f"{given.place} ({given.layer})")

    def short(self) -> str:
        """The setting with its value, or what the rule declares."""
        if self.setting:
            return f"{self.setting} = {self.value}"
        if self.place:
            return f"the rule {self.place} ({self.property}: {self.value})"
        return f"the rule for all tokens ({self.property}: {self.value})"

    def __str__(self) -> str:
        return f"{self.short()}, {self.origin or self.place}" if self.setting else self.short()


@dataclass(frozen=True)
class Reasons:
    """Finds the reasons in a layout: the one that a person would change first."""

    language: Language
    values: Mapping[str, Value]
    plan: Plan
    fitted: Fitted
    rendered: Rendered

    def of_setting(self, name: str) -> Reason:
        """A setting that holds everywhere; in a language without it, its value."""
        if name not in self.language.settings:
            return Reason(name, self.values[name], "", "", None)
        place = self.language.settings[name].place
        return Reason(name, self.values[name], "", f"{place.origin}:{place.line}", name)

    def of(self, declared: Declared, name: str) -> Reason:
        """A declaration. name: of its property, where no rule declares it."""
        source = declared.source
        if source is None:
            return Reason(name, declared.value, "", "", None)
        place = f"{source.place.origin}:{source.place.line}"
        return Reason(source.name, declared.value, source.rule, place, source.setting)

    def of_edit(self, edit: TokenEdit) -> Reason:
        """What asked for the edit of a token."""
        if isinstance(edit.reason, str):
            return self.of_setting(edit.reason)
        return self.of(edit.reason, "trailing")

    def of_gap(self, token: int) -> tuple[Reason, ...]:
        """What decided whether a line breaks before a token, or how many spaces stand there."""
        plan, gap = self.plan, self.plan.gap(token)
        if token in self.rendered.aligned:
            return (self.of(cell_declared(plan, token), "column"),)
        if token in plan.trailing:
            return (self.of_setting("comment-distance"),)
        if token in plan.lines:
            return (self._of_space(token) if gap.line else self.of(gap.broken, "between"),)
        if token not in self.fitted.breaks:
            return self._of_closed(token)
        group = plan.owners.get(token)
        if group is None:
            return (self.of(gap.broken, "break"),)
        return self._of_break(token, group)

    def _of_break(self, token: int, group: Group) -> tuple[Reason, ...]:
        """What breaks a gap of a sequence: how the sequence is opened, and why it is."""
        style = group.style
        if group.hanging:
            names: tuple[str, ...] = ("short", "hang")
        elif style["wrap"].value == "stack-always" and _setting(style["short"]):
            names = ("short", "wrap")
        else:
            part = group.parts[group.gaps.index(token)]
            names = _BY_PART.get(part, ("wrap",))
            if self.is_under_first(group):
                names = ("align", *names)
            if group.rows is not None or group.stacked:  # as its author has it
                names = ("authored", *names)
            elif part == MID and group.wrap == "flow" != style["wrap"].value:
                names = ("atoms", *names)
        found = [self.of(style[name], name) for name in names]
        found = [r for r in found if r.setting] + [r for r in found if not r.setting and r.place]
        broken = self.of(self.plan.gap(token).broken, "break")
        if broken.place and broken not in found:
            found.append(broken)
        if group.wrap != "stack-always" and not group.forced and not group.hard:
            found.append(self.of_setting("width"))
        return tuple(found)

    def is_under_first(self, group: Group) -> bool:
        """Whether the lines of an opened sequence stand under its first item since its author has them there."""
        is_opened = group.parts[0] == OPEN and group.gaps[0] in self.fitted.breaks
        return group.aligned is not None and not is_opened

    def _of_closed(self, token: int) -> tuple[Reason, ...]:
        """What keeps a gap on its line: what says which space stands there, and what could open it."""
        space = self._of_space(token)
        part = self.plan.gap(token).part
        if part in (NONE, EMPTY):
            return (space,)
        wrap = self.of(self._around(token)["wrap"], "wrap")
        return (space, wrap) if wrap.setting else (space,)

    def of_joined(self, token: int) -> Reason:
        """What joins a line to the one before it."""
        first, *more = self.of_gap(token)
        named = next((reason for reason in more if reason.setting), None)
        if named is not None or first.setting:
            return named or first
        tree, plan = self.plan.tree, self.plan
        node = tree.parent[tree.gap_right(token)]
        while node >= 0:  # the nearest list around it that some setting wraps
            wrap = plan.rows.style[plan.row[node]]["wrap"]
            if _setting(wrap) and wrap.value != "none":
                return self.of(wrap, "wrap")
            node = tree.parent[node]
        return first if first.place else self.of_setting("width")

    def _of_space(self, token: int) -> Reason:
        """What decided the space, or line break, of a gap that no sequence decides."""
        if token in self.plan.tight:
            operator = self.plan.tree.token_node[self.plan.tight[token]]
            return self.of(self.plan.rows.style[self.plan.row[operator]]["tight"], "tight")
        said = self.plan.gap(token).said
        name = said.source.name if said.source else "between"
        if name == "brace":  # where a brace stands decides the gap before it
            said = self.plan.style(token)["brace"]
        return self.of(said, name)

    def _around(self, token: int) -> Style:
        """What is declared for the node that a gap belongs to."""
        plan = self.plan
        return plan.rows.style[plan.row[plan.tree.parent[plan.tree.gap_right(token)]]]

    def of_indent(self, token: int, is_sort: bool = False) -> Reason:
        """What decides how far in the line of a token begins. is_sort: of what, tabs or spaces."""
        if is_sort:
            return self.of_setting("indent-with")
        group = self.plan.owners.get(token)
        if group is None:
            by_comment = self.plan.lines.get(token, (0, False))[1]
            return self.of_setting("continuation" if by_comment else "indent")
        style = group.style
        if group.hanging:
            return self.of_setting("continuation" if style["hang"].value == "soft" else "indent")
        if style["open"].value == "beside":
            return self.of(style["open"], "open")
        if self.is_under_first(group):
            return self.of(style["align"], "align")
        is_close = group.parts[group.gaps.index(token)] == CLOSE
        for name in ("close",) if is_close else ("align",):
            if _setting(style[name]) and style[name].value in ("item-column", "yes"):
                return self.of(style[name], name)
        return self.of_setting(_STEPS[str(style["indent"].value)])

    def of_blank_lines(self, token: int) -> Reason:
        """What asks for blank lines before a token, or permits no more of them."""
        plan = self.plan
        code = plan.code_from(token)  # they are asked for before what the comments speak of
        group, kept = plan.owners.get(token), plan.style(code)["blank-kept"]
        is_edge = group is not None and group.parts[group.part_of(token) - 1] != MID
        if (group is None or is_edge) and _setting(kept):
            return self.of(kept, "blank-kept")
        if group is not None and is_edge:
            return self.of(group.style["blank-edges"], "blank-edges")
        if plan.blanks.get(token):
            return self.of(plan.gap(code).blanked, "blank-before")
        style = group.style if group is not None else plan.rows.style[0]
        return self.of(style["blank-most"], "blank-most")


def _setting(declared: Declared) -> str | None:
    return declared.source.setting if declared.source is not None else None
