"""What an assembly is made of: each distinct part and group once, with its count at each level.

Parts that bear the same number are one item, whatever the file calls them; so are those that the office says
are the same, and parts without a number that a standard designates alike (screws by their designation).
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from drafting.model.model import Facts, PartFacts, TreeNode

Levels = Literal["top", "parts", "indented"]
DESIGNATION = re.compile(r"\b(ISO|EN|ASME|ANSI|BS|JIS|ASTM)\b[\s-]*[A-Z]{0,3}[\s-]*\d", re.I)
"""A standard named with its number, as bought parts bear in their designation (common practice)."""


@dataclass(frozen=True)
class Line:
    """key: of the part, or of the group; name: what it is called; count: in one of what it stands in; total:
    in the whole; depth: 0 at the top; group: whether it is made of others; parts: how many of which parts it
    comes to in the whole, by their own keys."""

    key: str
    name: str
    count: int
    total: int
    depth: int
    group: bool = False
    parts: tuple[tuple[str, int], ...] = ()
    number: str = ""
    """Of a group."""


def lines(facts: Facts, levels: Levels = "parts") -> list[Line]:
    """top: what the whole is put together from; parts: every part, groups left out; indented: groups, each
    followed by what it is made of."""
    same = one_key(facts)
    if levels == "parts":
        of: dict[str, dict[str, int]] = {}
        for instance in facts.instances:
            counts = of.setdefault(same.get(instance.part, instance.part), {})
            counts[instance.part] = counts.get(instance.part, 0) + 1
        return [
            Line(
                key,
                part_name(facts, key),
                sum(counts.values()),
                sum(counts.values()),
                0,
                parts=tuple(counts.items()),
            )
            for key, counts in of.items()
        ]
    return _level(facts.tree.children or [facts.tree], 0, 1, levels == "indented", facts, same)


def _level(
    nodes: list[TreeNode], depth: int, times: int, deeper: bool, facts: Facts, same: Mapping[str, str]
) -> list[Line]:
    alike: dict[str, list[TreeNode]] = {}
    for node in nodes:
        alike.setdefault(node_key(node, same), []).append(node)
    out: list[Line] = []
    for key, members in alike.items():
        group = members[0].part is None
        name = members[0].name if group else part_name(facts, key)
        counts: dict[str, int] = {}
        for member in members:
            for part, n in _leaves(member).items():
                counts[part] = counts.get(part, 0) + n * times
        out.append(
            Line(
                key,
                name,
                len(members),
                len(members) * times,
                depth,
                group,
                tuple(counts.items()),
                members[0].number,
            )
        )
        if group and deeper:
            out += _level(members[0].children, depth + 1, len(members) * times, True, facts, same)
    return out


def _leaves(node: TreeNode) -> dict[str, int]:
    if node.part is not None:
        return {node.part: 1}
    out: dict[str, int] = {}
    for child in node.children:
        for part, n in _leaves(child).items():
            out[part] = out.get(part, 0) + n
    return out


def part_name(facts: Facts, key: str) -> str:
    """What a part is called: its name, else its number; one that a model is made of alone, as the model."""
    part = facts.parts[key]
    return part.name or part.number or (facts.name if facts.kind == "part" else "unnamed part")


def length_of(part: PartFacts) -> float:
    """What is cut off the stock for a part that is counted by length: its longest extent, mm."""
    return max(b - a for a, b in zip(part.low, part.high, strict=True))


def one_key(facts: Facts) -> dict[str, str]:
    """For each part's key the key it is listed under: that of the first part of the same item."""
    first: dict[str, str] = {}
    out: dict[str, str] = {}
    for key in facts.parts:
        home = facts.same_as.get(key, key)
        home = home if home in facts.parts else key
        mark = _mark(facts.parts[home])
        out[key] = first.setdefault(mark, home) if mark else out.get(home, home)
    return out


def _mark(part: PartFacts) -> str:
    """What tells that two parts are one item: the number, else a standard's designation."""
    if part.number.strip():
        return f"number {part.number.strip().upper()}"
    return f"designation {' '.join(part.name.upper().split())}" if DESIGNATION.search(part.name) else ""


def node_key(node: TreeNode, same: Mapping[str, str]) -> str:
    """The key a node of the tree is listed under."""
    return same.get(node.part, node.part) if node.part is not None else f"group:{node.group or node.name}"


def keys_of(facts: Facts) -> dict[str, list[str]]:
    """For each instance's path the keys it may be listed under: its own part's, then those of the groups
    around it, from the inside out."""
    same = one_key(facts)
    out: dict[str, list[str]] = {}

    def walk(node: TreeNode, above: list[str]) -> None:
        here = [node_key(node, same), *above]
        if node.part is not None:
            out[node.path] = here
        for child in node.children:
            walk(child, here)

    for node in facts.tree.children or [facts.tree]:
        walk(node, [])
    return out
