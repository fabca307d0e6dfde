"""Which models a recipe refers to by number."""

from collections.abc import Mapping


def models_referred(raw: Mapping[str, object]) -> list[str]:
    """Numbers of the models that a recipe (as data) refers to, in all its levels."""
    out: dict[str, None] = {}
    waiting: list[object] = [raw]
    while waiting:
        data = waiting.pop()
        parts = data.get("parts") if isinstance(data, Mapping) else None
        for spec in parts.values() if isinstance(parts, Mapping) else []:
            if isinstance(spec, Mapping) and isinstance(spec.get("model"), str):
                out[spec["model"]] = None
            waiting.append(spec)
    return list(out)
