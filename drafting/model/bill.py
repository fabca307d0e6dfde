"""What an assembly is made of: each distinct part and group once, with its count at each level.

Parts that bear the same number are one part, whatever the file calls them.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from drafting.model.model import Facts, TreeNode

Levels = Literal["top", "parts", "indented"]


@dataclass(frozen=True)
class Line:
    """key: of the part, or of the group; name: what it is called; count: in one of what it stands in; total: in the whole; depth: 0 at the
    top; group: whether it is made of others."""

    key: str
    name: str
    count: int
    total: int
    depth: int
    group: bool = False


def lines(facts: Facts, levels: Levels = "parts") -> list[Line]:
    """top: what the whole is put together from; parts: every part, groups left out; indented: groups, each followed by what it is made of."""
    same = one_key(facts)
    if levels == "parts":
        totals: dict[str, int] = {}
        for instance in facts.instances:
            key = same.get(instance.part, instance.part)
            totals[key] = totals.get(key, 0) + 1
        return [Line(key, part_name(facts, key), n, n, 0) for key, n in totals.items()]
    return _level(facts.tree.children or [facts.tree], 0, 1, levels == "indented", facts, same)


def _level(nodes: list[TreeNode], depth: int, times: int, deeper: bool, facts: Facts, same: Mapping[str, str]) -> list[Line]:
    alike: dict[str, list[TreeNode]] = {}
    for node in nodes:
        alike.setdefault(node_key(node, same), []).append(node)
    out: list[Line] = []
    for key, members in alike.items():
        group = members[0].part is None
        name = members[0].name if group else part_name(facts, key)
        out.append(Line(key, name, len(members), len(members) * times, depth, group))
        if group and deeper:
            out += _level(members[0].children, depth + 1, len(members) * times, True, facts, same)
    return out


def part_name(facts: Facts, key: str) -> str:
    part = facts.parts[key]
    return part.name or facts.name


def one_key(facts: Facts) -> dict[str, str]:
    """For each part's key the key it is listed under: that of the first part with the same number."""
    first: dict[str, str] = {}
    return {key: first.setdefault(part.number.strip().upper(), key) if part.number.strip() else key for key, part in facts.parts.items()}


def node_key(node: TreeNode, same: Mapping[str, str]) -> str:
    """The key a node of the tree is listed under."""
    return same.get(node.part, node.part) if node.part is not None else f"group:{node.group or node.name}"


def keys_of(facts: Facts) -> dict[str, list[str]]:
    """For each instance's path the keys it may be listed under: its own part's, then those of the groups around it, from the inside out."""
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
