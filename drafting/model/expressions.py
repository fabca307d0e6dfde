"""Arithmetic on named parameters, as recipes use it: `width / 2 - 5`. Nothing else of Python is allowed."""

import ast
import math
import operator
from collections.abc import Callable, Mapping

from drafting.errors import ModelError

_BINARY: dict[type, Callable[[float, float], float]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
}
_FUNCTIONS: dict[str, Callable[..., float]] = {
    "sqrt": math.sqrt,
    "sin": lambda d: math.sin(math.radians(d)),
    "cos": lambda d: math.cos(math.radians(d)),
    "tan": lambda d: math.tan(math.radians(d)),
    "min": min,
    "max": max,
}
MAX_LENGTH = 200


def evaluate(value: float | str, parameters: Mapping[str, float]) -> float:
    """Value of a number or of an expression on parameters (mm; angles of functions in degrees). Raises
    ModelError."""
    if not isinstance(value, str):
        return float(value)
    if len(value) > MAX_LENGTH:
        raise ModelError(f"The expression {value[:40]!r}… is longer than {MAX_LENGTH} characters.")
    try:
        result = _walk(ast.parse(value, mode="eval").body, parameters)
    except ZeroDivisionError as error:
        raise ModelError(f"The expression {value!r} divides by zero.") from error
    except (SyntaxError, ValueError, RecursionError, TypeError) as error:
        raise ModelError(f"{value!r} is not an expression of numbers, parameters and + - * / ( ).") from error
    if not math.isfinite(result):
        raise ModelError(f"The expression {value!r} has no finite value.")
    return result


def _walk(node: ast.AST, parameters: Mapping[str, float]) -> float:
    if (
        isinstance(node, ast.Constant)
        and isinstance(node.value, int | float)
        and not isinstance(node.value, bool)
    ):
        return float(node.value)
    if isinstance(node, ast.Name):
        if node.id not in parameters:
            raise ModelError(f"The recipe has no parameter named {node.id!r}.")
        return parameters[node.id]
    if isinstance(node, ast.BinOp) and type(node.op) in _BINARY:
        return _BINARY[type(node.op)](_walk(node.left, parameters), _walk(node.right, parameters))
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        return -_walk(node.operand, parameters)
    if (
        isinstance(node, ast.Call)
        and isinstance(node.func, ast.Name)
        and node.func.id in _FUNCTIONS
        and not node.keywords
    ):
        return _FUNCTIONS[node.func.id](*(_walk(a, parameters) for a in node.args))
    raise ValueError("not arithmetic")
