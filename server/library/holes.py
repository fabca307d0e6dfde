"""Holes, shafts and other features of a part as its page lists them."""

import math

from ninja import Schema

from drafting.annotation.wording.callout_words import plain
from drafting.annotation.wording.feature_words import rows as feature_rows
from drafting.annotation.wording.hole_words import rows as callout_rows
from drafting.annotation.wording.numbers import DIAMETER, written
from drafting.errors import ModelError
from drafting.features.naming import feature_name, hole_name, pattern_words
from drafting.features.recognized import features, frame
from drafting.features.saying import offers, shaft_offers
from drafting.features.shafts import Shaft
from drafting.model.model import Facts, PartFacts
from drafting.standards.processes import HOLE, KNURLS, PITCHES, SHAFT
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.text import one_line


class HolePlace(Schema):
    """A hole's entry, and the direction into the material, in the part's frame; mm."""

    at: list[float]
    direction: list[float]
    radius: float
    faces: list[str]


class HoleOffer(Schema):
    """What the diameter is common for; thread: what would be said."""

    words: str
    thread: str


class HoleRow(Schema):
    """Equal holes of a part. says: the callout of one; pattern: how they stand together."""

    part: str
    name: str
    says: str
    count: int
    pattern: str
    thread: str
    thread_length: float | None
    said: bool
    process: str
    processes: list[str]
    """Ways to finish it that can be said."""
    places: list[HolePlace]
    offers: list[HoleOffer]


def hole_rows(facts: Facts) -> list[HoleRow]:
    """The holes of a model of one part, equal ones together, the smallest first."""
    (key, part), *_ = facts.parts.items()
    known = features(part)
    found = [_hole_row(key, part, k, _profile(facts)) for k in range(len(known.groups))]
    return sorted(found, key=lambda r: (r.places[0].radius, r.says))


def shaft_rows(facts: Facts) -> list[HoleRow]:
    """The shafts of a model of one part; bosses are no shafts."""
    (key, part), *_ = facts.parts.items()
    known = features(part)
    bosses = {name for f in known.others if f.kind == "boss" for name in f.faces}
    return [_shaft_row(key, part, s, _profile(facts)) for s in known.shafts if not bosses & set(s.faces)]


def row_at(facts: Facts, instance: str, source: str) -> HoleRow | None:
    """The holes equal to the one that an edge or a face of an instance belongs to, or the shaft; None where
    it belongs to neither."""
    placed = facts.part_of(instance)
    if placed is None:
        return None
    found, part = placed
    edge, known = part.edge(source), features(part)
    faces = edge.faces if edge else [source]
    for number in known.holes_at(faces):
        group = next(k for k, g in enumerate(known.groups) if number in g)
        return _hole_row(found.part, part, group, _profile(facts))
    shaft = next((s for s in known.shafts if set(faces) & set(s.faces)), None)
    return _shaft_row(found.part, part, shaft, _profile(facts)) if shaft else None


def _profile(facts: Facts) -> Profile:
    return ASME_INCH if facts.units in ("in", "ft") else ISO_MM


def _hole_row(key: str, part: PartFacts, group: int, profile: Profile) -> HoleRow:
    known = features(part)
    members = [known.holes[n] for n in known.groups[group]]
    first = members[0]
    words = [pattern_words(p, lambda v: written(v, profile)) for p in known.patterns[group]]
    return HoleRow(
        part=key,
        name=hole_name(first) + ("s" if len(members) > 1 else ""),
        says=plain(callout_rows(first, 1, profile), profile) if first.is_told else "",
        count=len(members),
        pattern=", ".join(words),
        thread=first.thread,
        thread_length=first.thread_length,
        said=any(t.said and t.face in first.faces for t in part.threads),
        process=first.process,
        processes=list(HOLE),
        places=[
            HolePlace(
                at=list(h.entry),
                direction=list(h.direction),
                radius=max([h.diameter, *(x.diameter for x in h.heads)]) / 2,
                faces=list(h.wall),
            )
            for h in members
        ],
        offers=[HoleOffer(words=o.words, thread=o.thread) for o in offers(first)],
    )


def _shaft_row(key: str, part: PartFacts, shaft: Shaft, profile: Profile) -> HoleRow:
    long = written(shaft.length, profile)
    words = shaft.thread or " ".join([DIAMETER + written(shaft.diameter, profile), shaft.process]).strip()
    return HoleRow(
        part=key,
        name="threaded shaft" if shaft.thread else "shaft",
        says=f"{words}, {long} long",
        count=1,
        pattern="",
        thread=shaft.thread,
        thread_length=shaft.thread_length,
        said=any(t.said and t.face in shaft.faces for t in part.threads),
        process=shaft.process,
        processes=[*SHAFT, *(f"knurled {form} {p:g}" for form in KNURLS for p in PITCHES)],
        places=[
            HolePlace(
                at=[a + d * t for a, d in zip(shaft.start, shaft.direction, strict=True)],
                direction=list(shaft.direction),
                radius=shaft.diameter / 2,
                faces=list(shaft.faces) if t else [],
            )
            for t in (0.0, shaft.length)
        ],
        offers=[HoleOffer(words=o.words, thread=o.thread) for o in shaft_offers(shaft)],
    )


class FeatureRow(Schema):
    """Equal features besides holes and shafts. says: the callout of one; places: the middle of each, in the
    part's frame, with its direction, mm."""

    name: str
    says: str
    count: int
    places: list[HolePlace]


def feature_list(facts: Facts) -> list[FeatureRow]:
    """The slots, pockets and other features of a model of one part, in the order of their names."""
    profile = _profile(facts)
    (part, *_) = facts.parts.values()
    known, out = features(part), []
    for kind in known.kinds:
        members = [known.others[n] for n in kind]
        first = members[0]
        radius = max((first.size(s) or 0.0) for s in ("diameter", "width", "radius", "length")) / 2
        out.append(
            FeatureRow(
                name=feature_name(first) + ("s" if len(members) > 1 else ""),
                says=plain(feature_rows(first, 1, profile), profile),
                count=len(members),
                places=[
                    HolePlace(
                        at=list(f.at), direction=list(f.direction), radius=radius, faces=sorted(f.faces)
                    )
                    for f in members
                ],
            )
        )
    return sorted(out, key=lambda r: (r.name, r.says))


def datum_list(facts: Facts) -> list[FeatureRow]:
    """What of a model of one part is likely a datum."""
    profile = _profile(facts)
    (part, *_) = facts.parts.values()
    out = []
    for likely in frame(part).datums:
        plane = likely.why == "largest plane"
        out.append(
            FeatureRow(
                name=likely.why,
                says="" if plane else DIAMETER + written(likely.size, profile),
                count=1,
                places=[
                    HolePlace(
                        at=list(likely.at),
                        direction=list(likely.direction),
                        radius=math.sqrt(likely.size / math.pi) if plane else likely.size / 2,
                        faces=list(likely.faces),
                    )
                ],
            )
        )
    return out


def symmetry_words(facts: Facts) -> str:
    """About how many planes a model of one part is symmetrical; empty for none."""
    (part, *_) = facts.parts.values()
    count = len(frame(part).symmetry)
    return "" if not count else "about one plane" if count == 1 else f"about {count} planes"


def typed_length(text: str) -> float | None:
    """A length in mm as it is typed; None for empty text. Raises ModelError."""
    if not text.strip():
        return None
    try:
        return float(text.replace(",", "."))
    except ValueError:
        raise ModelError(f"{one_line(text)[:20]} is no length; write it in mm, as in 12.5.") from None
