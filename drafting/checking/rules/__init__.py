"""The rules that there are. A new rule is a module and a line here."""

from importlib import import_module

from drafting.checking.rule import Rule

MODULES = (
    "lost",
    "lettering",
    "crossed_lettering",
    "crossing",
    "arrowheads",
    "near_rows",
    "within_outline",
    "hidden_lines",
    "centers",
    "small_lettering",
    "own_words",
    "not_to_scale",
    "units",
    "fits",
    "fine_tolerance",
    "process",
    "tolerances",
    "geometric",
    "projection",
    "idle_view",
    "view_letters",
    "detail_scale",
    "scale",
    "title_block",
    "balloons",
    "mates",
    "item_numbers",
    "in_the_way",
    "outside_frame",
)
SAID = (
    Rule("not given", "Every number of the part is given", "ISO 129-1", "ASME Y14.5-2009 1.4", "grave"),
    Rule("said twice", "Each number is given once", "ISO 129-1", "ASME Y14.5-2009 1.4", "look"),
    Rule(
        "not understood", "Every size says something of the part", "ISO 129-1", "ASME Y14.5-2009 1.4", "look"
    ),
    Rule("completeness", "It can be told whether the sizes are complete", "", "", "look"),
)
"""Rules of the numbers of the part as a whole: `drafting.completeness` tells what they find."""
ALL: tuple[Rule, ...] = (
    *SAID,
    *(import_module(f"drafting.checking.rules.{name}").RULE for name in MODULES),
)
RULES = {rule.key: rule for rule in ALL}
