"""What circuits declare: lanes, readings, findings, cautions, choices. The same for every role."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema

from tracebench.bench.scope import RANGES_V, RATES_HZ
from tracebench.bench.source import Source
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import probed
from tracebench.bench.vehicle.firing import ORDERS
from tracebench.core.cards.rubric import TITLES, Rubric
from tracebench.core.cards.schools import GROUNDS, SCHOOLS
from tracebench.core.circuits import CIRCUITS
from tracebench.core.circuits.conditions import ALWAYS, CONDITIONS
from tracebench.core.circuits.setup_findings import SETUP_FINDINGS
from tracebench.core.grading.grade import CRITERIA
from tracebench.core.skill import SKILLS
from tracebench.core.steps.probes import PROBES
from tracebench.web import fields as f
from tracebench.web.context import may_be_kept, person

bp = APIBlueprint("circuits", __name__, url_prefix="/api", tag="Circuits")


class LaneSpecOut(Schema):
    name = f.text()
    title = f.text()
    role = f.one_of("signal", "current", "supply", "ground", "sync", "scan")
    unit = f.text()
    required = f.flag()


class ReadingSpecOut(Schema):
    id = f.text()
    title = f.text()
    unit = f.text()
    definition = f.text()
    decimals = f.whole()
    phase = f.text(allow_none=True)
    lane = f.text()
    how = f.one_of("level", "difference", "span", "number")
    taken = f.text()


class OptionSpecOut(Schema):
    key = f.text()
    title = f.text()
    default = f.text()
    choices = f.many(f.text(), allow_none=True)
    text = f.flag()


class ChoiceOut(Schema):
    key = f.text()
    text = f.text()


class ManoeuvreOut(Schema):
    key = f.text()
    title = f.text()
    duration_s = f.number()
    sweeps = f.flag()


class LayoutOut(Schema):
    key = f.text()
    title = f.text()


class ControlOut(Schema):
    key = f.text()
    title = f.text()
    highest = f.number()


class SourceOut(Schema):
    manoeuvres = f.many(ManoeuvreOut)
    rate_hz = f.number()
    range_v = f.number()
    by_hand = f.flag()
    controls = f.many(ControlOut, metadata={"description": "what hands can do with it"})
    probed = f.many(f.text(), metadata={"description": "lanes whose probe can be put on any wire of the plug"})
    layouts = f.many(LayoutOut)
    rows = f.many(ChoiceOut)


class FindingSpecOut(Schema):
    code = f.text()
    title = f.text()
    kind = f.one_of("fault", "set-up", "note")


class PhaseSpecOut(Schema):
    name = f.text()
    required = f.flag()


class CircuitOut(Schema):
    code = f.text()
    title = f.text()
    lanes = f.many(LaneSpecOut)
    phases = f.many(PhaseSpecOut)
    readings = f.many(ReadingSpecOut)
    findings = f.many(FindingSpecOut)
    cautions = f.many(ChoiceOut)
    causes = f.many(ChoiceOut)
    next_tests = f.many(ChoiceOut)
    setup_advice = f.many(f.text())
    options = f.many(OptionSpecOut)
    asked = f.many(f.text())
    opens_on_s = f.number(allow_none=True)
    trainer = f.nested(SourceOut)


class CriterionOut(Schema):
    key = f.text()
    title = f.text()
    skill = f.text()
    points = f.number()
    about = f.text()


class FaultOut(Schema):
    circuit = f.text()
    key = f.text()
    title = f.text()


class WayOut(Schema):
    key = f.text()
    title = f.text()
    says = f.text()


class SchoolOut(Schema):
    key = f.text()
    title = f.text()
    ways = f.many(WayOut)
    circuits = f.many(f.text())


class ShareOut(Schema):
    key = f.text()
    title = f.text()
    share = f.number()


class TrainerOut(Schema):
    ranges_v = f.many(f.number())
    rates_hz = f.many(f.number())
    grounds = f.many(f.text())
    probes = f.many(ChoiceOut)


class FactsOut(Schema):
    circuits = f.many(CircuitOut)
    skills = f.many(ChoiceOut)
    conditions = f.many(ChoiceOut)
    trainer = f.nested(TrainerOut)


class MakerFactsOut(Schema):
    criteria = f.many(CriterionOut)
    schools = f.many(SchoolOut)
    shares = f.many(ShareOut)
    faults = f.many(FaultOut)


@bp.get("/facts")
@bp.output(FactsOut)
def facts() -> dict[str, Any]:
    """Everything that screens list by: circuits, skills, the trainer's settings."""
    may_be_kept()
    return {
        "circuits": [
            {
                "code": c.code,
                "title": c.title,
                "lanes": c.lanes,
                "phases": c.phases,
                "readings": c.readings,
                "findings": (*c.findings, *SETUP_FINDINGS),
                "cautions": c.cautions,
                "causes": c.causes,
                "next_tests": c.next_tests,
                "setup_advice": c.setup_advice,
                "options": c.options,
                "asked": c.asked,
                "opens_on_s": c.opens_on_s,
                "trainer": _trainer(SOURCES[c.code]),
            }
            for c in CIRCUITS.values()
        ],
        "skills": [{"key": key, "text": title} for key, title in SKILLS],
        "conditions": (ALWAYS, *CONDITIONS),
        "trainer": {
            "ranges_v": RANGES_V,
            "rates_hz": RATES_HZ,
            "grounds": GROUNDS,
            "probes": [{"key": p.key, "text": p.title} for p in PROBES],
        },
    }


def _trainer(source: Source) -> dict[str, Any]:
    rows = {"-".join(map(str, row)): f"{count}, in order {'-'.join(map(str, row))}" for count, row in ORDERS.items()}
    return {
        "manoeuvres": source.manoeuvres,
        "rate_hz": source.rate_hz,
        "range_v": source.range_v,
        "by_hand": source.by_hand,
        "controls": source.controls,
        "probed": probed(CIRCUITS[source.code]),
        "layouts": source.layouts,
        "rows": [{"key": key, "text": text} for key, text in rows.items()] if source.by_cylinder else [],
    }


@bp.get("/maker-facts")
@bp.output(MakerFactsOut)
def maker_facts() -> dict[str, Any]:
    """What the card maker needs besides: criteria and the trainer's faults."""
    person().must_be("instructor")
    faults = [{"circuit": s.code, "key": x.key, "title": x.title} for s in SOURCES.values() for x in s.faults]
    shares = [{"key": key, "title": title, "share": getattr(Rubric(), key)} for key, title in TITLES.items()]
    return {"criteria": CRITERIA, "faults": faults, "schools": SCHOOLS, "shares": shares}
