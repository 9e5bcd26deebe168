"""The shelf: references, their drafts and published versions."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema, fields
from apiflask.validators import Length, OneOf, Range, Regexp
from flask import Response

from tracebench.core.cards.documents import COMPLAINTS
from tracebench.core.circuits.conditions import ALWAYS
from tracebench.core.errors import BadOption
from tracebench.core.preparing import FIELDS, MOST_STEPS
from tracebench.usecases.people.reach import REACHES
from tracebench.usecases.shelf import (
    collections,
    comparing,
    corridors,
    exchange,
    fleet,
    listing,
    looking_alike,
    parades,
    preparing,
    versions,
)
from tracebench.usecases.shelf import references as shelf
from tracebench.usecases.shelf import second_look as review
from tracebench.usecases.shelf.corridors import Laid
from tracebench.usecases.shelf.looking_alike import Alike
from tracebench.usecases.shelf.parades import Parade
from tracebench.usecases.shelf.values import (
    Collection,
    Comparison,
    FleetLimits,
    Offered,
    ReferenceSheet,
    SameSamples,
    ShelfPage,
    VersionChanges,
)
from tracebench.web import fields as f
from tracebench.web.areas.answer_schemas import AnswerPhaseOut, AnswerWithEventsOut, CorridorOut, ParadeOut
from tracebench.web.areas.audit import DifferenceOut
from tracebench.web.context import now, person, reading, transaction
from tracebench.web.files import handed_out

bp = APIBlueprint("shelf", __name__, url_prefix="/api/references", tag="Shelf")


class TagBody(Schema):
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)
    lane = f.text()
    text = f.text()


class ToldPhaseBody(Schema):
    name = f.text()
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)


class LimitBody(Schema):
    reading = f.text()
    low = f.number(allow_none=True)
    high = f.number(allow_none=True)
    basis = f.one_of("maker", "own-fleet", "common-practice")
    marginal = fields.Float(load_default=None, allow_none=True)
    condemns = fields.Boolean(load_default=True)
    source = fields.String(load_default="")
    when = fields.String(load_default="", metadata={"description": "condition that it holds under; empty: any"})


class ProvenanceBody(f.Rows):
    vehicle = f.text()
    engine = f.text()
    conditions = f.text()
    ground = f.text()
    probe = f.text()
    taken_by = f.text()
    taken_on = f.text()
    part = f.text()


class PairBody(Schema):
    uid = f.text(validate=Length(1, 32))
    how = f.one_of(*shelf.PAIRS)


class DocumentBody(Schema):
    phases = f.many(ToldPhaseBody)
    options = fields.Dict(keys=fields.String(), values=fields.String(), required=True)
    limits = f.many(LimitBody)
    tags = f.many(TagBody)
    provenance = f.nested(ProvenanceBody)
    notes = f.text()
    complaint = fields.String(load_default=ALWAYS.key, validate=OneOf(COMPLAINTS))
    pair = fields.Nested(PairBody, load_default=None, allow_none=True)


class ReferenceIn(Schema):
    capture_id = f.whole()
    title = f.text()
    document = f.nested(DocumentBody)
    word = fields.Boolean(
        load_default=False,
        metadata={"description": "a learner's capture: the instructor's word that the learner agrees to its use"},
    )


class ReachIn(Schema):
    reach = f.one_of(*REACHES)
    course_id = fields.Integer(load_default=None, allow_none=True)


class ReferenceSaveIn(Schema):
    revision = f.whole()
    title = f.text()
    document = f.nested(DocumentBody)


class StepOut(Schema):
    kind = f.one_of(*FIELDS)
    lane = fields.String()
    factor = fields.Float()
    from_ = fields.Float(**f.FROM)
    to = fields.Float(**f.TO)
    by = fields.Float()
    hz = fields.Float()
    words = f.text()


class StepIn(Schema):
    kind = f.one_of(*FIELDS)
    lane = fields.String(validate=Length(max=64))
    factor = fields.Float(allow_none=True)
    from_ = fields.Float(allow_none=True, **f.FROM)
    to = fields.Float(allow_none=True, **f.TO)
    by = fields.Float(allow_none=True)
    hz = fields.Float(allow_none=True)


class StepsIn(Schema):
    revision = f.whole()
    steps = f.many(StepIn, validate=Length(max=MOST_STEPS))


class SplitIn(Schema):
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)


class VersionOut(Schema):
    id = f.whole()
    version = f.whole()
    title = f.text()
    author = f.text()
    published_at = f.instant()


class PairIn(Schema):
    revision = f.whole()
    other_id = fields.Integer(load_default=None, allow_none=True)
    how = f.one_of(*shelf.PAIRS, required=False, load_default="sound")


class PairedOut(Schema):
    id = f.whole()
    title = f.text()
    how = f.one_of(*shelf.PAIRS)
    words = f.text()


class ReviewIn(Schema):
    revision = f.whole()
    fine = f.flag()
    note = fields.String(load_default="", validate=Length(max=1000))


class ReviewOut(Schema):
    by = f.text(allow_none=True)
    fine = f.flag(allow_none=True)
    note = f.text(allow_none=True)
    at = f.instant(allow_none=True)


class CollectionOut(f.Rows):
    name = f.text()
    items = f.whole()


class CollectIn(Schema):
    name = f.text(validate=Length(1, 60))
    ids = f.many(fields.Integer(), validate=Length(1, 500))
    inside = fields.Boolean(load_default=True)


class ReferenceOut(Schema):
    id = f.whole()
    capture_id = f.whole()
    circuit = f.text()
    title = f.text()
    author = f.text()
    state = f.one_of("draft", "published", "retired")
    revision = f.whole()
    document = f.nested(DocumentBody)
    reach = f.one_of(*REACHES)
    course_id = f.whole(allow_none=True)
    owned = f.flag()
    may_change = f.flag()
    answer = f.nested(AnswerWithEventsOut)
    raw_id = f.whole(metadata={"description": "the capture as it was recorded; records stand beside that"})
    steps = f.many(StepOut)
    pair = f.nested(PairedOut, allow_none=True)
    review = f.nested(ReviewOut, allow_none=True)
    versions = f.many(VersionOut)
    created_at = f.instant()
    changed_at = f.instant()


class ShelfItemOut(f.Rows):
    id = f.whole()
    capture_id = f.whole()
    circuit = f.text()
    title = f.text()
    author = f.text()
    state = f.one_of("draft", "published", "retired")
    reach = f.one_of(*REACHES)
    version = f.whole(allow_none=True)
    version_id = f.whole(allow_none=True)
    call = f.one_of("sound", "faulty", "inconclusive", allow_none=True)
    because = f.many(f.text())
    provenance = f.nested(ProvenanceBody)
    options = fields.Dict(keys=fields.String(), values=fields.String(), required=True)
    tags = f.whole()
    picture = f.text(metadata={"description": "base64 of least values, then most values, 0 to 255"})
    changed_at = f.instant()


class ShelfOut(f.Rows):
    total = f.whole()
    items = f.many(ShelfItemOut)


class ShelfQuery(Schema):
    words = fields.String(load_default="", validate=Length(max=200))
    circuit = fields.String(load_default="", validate=Length(max=64))
    state = f.one_of("", "draft", "published", "retired", required=False, load_default="")
    call = f.one_of("", "sound", "faulty", "inconclusive", required=False, load_default="")
    collection = fields.String(load_default="", validate=Length(max=60))
    after = fields.Integer(load_default=0, validate=Range(0, 1_000_000))
    size = fields.Integer(load_default=listing.PAGE, validate=Range(1, 200))


class VersionChangesOut(f.Rows):
    version = f.whole(allow_none=True, metadata={"description": "none: the draft"})
    changes = f.many(DifferenceOut)


class CompareQuery(Schema):
    ids = f.text(validate=[Length(1, 80), Regexp(r"^\d{1,9}(,\d{1,9})*$")])


class BesideOut(Schema):
    id = f.whole()
    title = f.text()
    capture_id = f.whole()
    call = f.one_of("sound", "faulty", "inconclusive")
    phases = f.many(AnswerPhaseOut)
    shape_only = f.flag()


class ComparedOut(Schema):
    reading = f.text()
    values = f.many(fields.Float(allow_none=True))
    matters = f.number()


class CompareOut(Schema):
    circuit = f.text()
    references = f.many(BesideOut)
    rows = f.many(ComparedOut)


class FleetQuery(Schema):
    reading = f.text(validate=Length(1, 64))


class FleetMemberOut(f.Rows):
    id = f.whole()
    title = f.text()
    value = f.number()


class FleetOut(Schema):
    reading = f.text()
    low = f.number()
    high = f.number()
    count = f.whole()
    mean = f.number()
    sd = f.number()
    method = f.one_of("normal", "distribution-free")
    coverage = f.number()
    confidence = f.number()
    source = f.text()
    of = f.many(FleetMemberOut)


class AlikeQuery(Schema):
    lane = f.text(validate=Length(1, 64))
    from_ = f.number(**f.FROM)
    to = f.number(**f.TO)


class AlikeOne(f.Rows):
    id = f.whole()
    title = f.text()
    call = f.one_of("sound", "faulty", "inconclusive", allow_none=True)
    apart = f.number(metadata={"description": "root mean square difference in standard deviations; 0 is the same"})
    picture = f.text()


class AlikeOut(Schema):
    name = f.text()
    picture = f.text()
    looked_at = f.whole()
    left = f.whole(metadata={"description": "references that were not looked at yet; asking again goes on"})
    found = f.many(AlikeOne)


class BundleQuery(Schema):
    ids = f.text(validate=[Length(1, 8000), Regexp(r"^\d{1,9}(,\d{1,9})*$")])
    samples = f.one_of("parquet", "csv", required=False, load_default="parquet")


class OfferedQuery(Schema):
    circuit = fields.String(load_default="", validate=Length(max=64))
    version_id = fields.Integer(load_default=0)


class OfferedOut(f.Rows):
    id = f.whole()
    version_id = f.whole()
    version = f.whole()
    circuit = f.text()
    title = f.text()
    options = fields.Dict(keys=fields.String(), values=fields.String(), required=True)


class MadeOut(Schema):
    id = f.whole()


class SameOut(f.Rows):
    id = f.whole()
    title = f.text()
    state = f.one_of("draft", "published", "retired")


@bp.get("/same/<int:capture_id>")
@bp.output(SameOut(many=True))
def same(capture_id: int) -> list[SameSamples]:
    """References that hold the very samples of a capture."""
    with reading() as conn:
        return shelf.of_same_samples(conn, person(), capture_id)


@bp.get("")
@bp.input(ShelfQuery, location="query")
@bp.output(ShelfOut)
def listed(query_data: dict[str, Any]) -> ShelfPage:
    """References in reach, a page at a time."""
    with reading() as conn:
        return listing.listed(conn, person(), **query_data)


@bp.get("/compare")
@bp.input(CompareQuery, location="query")
@bp.output(CompareOut)
def compare(query_data: dict[str, Any]) -> Comparison:
    """Two to four references of one circuit beside each other."""
    return comparing.compare(transaction, person(), [int(part) for part in query_data["ids"].split(",")])


@bp.get("/offered")
@bp.input(OfferedQuery, location="query")
@bp.output(OfferedOut(many=True))
def offered(query_data: dict[str, Any]) -> list[Offered]:
    """Published versions that a card of a circuit may take."""
    with reading() as conn:
        return listing.offered(conn, person(), **query_data)


@bp.get("/collections")
@bp.output(CollectionOut(many=True))
def collection_names() -> list[Collection]:
    """Collections of what is in reach."""
    with reading() as conn:
        return collections.names(conn, person())


@bp.post("/collections")
@bp.input(CollectIn)
@bp.output(CollectionOut(many=True))
def collect(json_data: dict[str, Any]) -> list[Collection]:
    """Put references into a collection, or take them out."""
    with transaction() as conn:
        collections.collect(conn, person(), **json_data)
        return collections.names(conn, person())


@bp.get("/bundle")
@bp.input(BundleQuery, location="query")
@bp.doc(responses={200: "a zip: a Frictionless Data Package"})
def as_bundle(query_data: dict[str, Any]) -> Response:
    """References as a bundle that any tool can open."""
    ids = [int(part) for part in query_data["ids"].split(",")]
    if len(ids) > exchange.MOST_AT_ONCE:
        raise BadOption(f"at most {exchange.MOST_AT_ONCE} at a time; `tracebench shelf export` writes a whole shelf")
    return handed_out(
        lambda path: exchange.export(transaction, person(), ids, path, query_data["samples"], now()),
        "references.zip" if len(ids) > 1 else f"reference-{ids[0]}.zip",
    )


@bp.post("")
@bp.input(ReferenceIn)
@bp.output(MadeOut, status_code=201)
def create(json_data: dict[str, Any]) -> dict[str, Any]:
    """A draft reference from a capture."""
    return {"id": shelf.create(transaction, person(), at=now(), **json_data)}


@bp.get("/<int:reference_id>")
@bp.output(ReferenceOut)
def one(reference_id: int) -> ReferenceSheet:
    """A reference with what the core measures on it."""
    return shelf.one(transaction, person(), reference_id)


@bp.get("/<int:reference_id>/changes")
@bp.output(VersionChangesOut(many=True))
def changes(reference_id: int) -> list[VersionChanges]:
    """What each version changed of the one before it, and the draft of the newest."""
    with transaction() as conn:
        return versions.changed(conn, person(), reference_id)


@bp.get("/<int:reference_id>/pdf")
@bp.doc(responses={200: "the sheet as PDF"})
def as_pdf(reference_id: int) -> Response:
    """The sheet to print."""
    name = f"reference-{reference_id}.pdf"
    return handed_out(lambda path: path.write_bytes(shelf.printed(transaction, person(), reference_id)), name)


@bp.get("/<int:reference_id>/fleet")
@bp.input(FleetQuery, location="query")
@bp.output(FleetOut)
def own_fleet(reference_id: int, query_data: dict[str, Any]) -> FleetLimits:
    """Limits of a reading from the sound references of the same design."""
    with transaction() as conn:
        return fleet.limits_of(conn, person(), reference_id, query_data["reading"])


@bp.get("/<int:reference_id>/parade")
@bp.output(ParadeOut)
def events_laid_over(reference_id: int) -> Parade:
    """The events of a reference laid over each other, aligned by their starts."""
    with transaction() as conn:
        return parades.of_reference(conn, person(), reference_id)


@bp.get("/<int:reference_id>/corridor")
@bp.output(CorridorOut)
def corridor(reference_id: int) -> Laid:
    """The band that sound ones of its design stay within, along its own trace."""
    return corridors.of_reference(transaction, person(), reference_id)


@bp.get("/<int:reference_id>/alike")
@bp.input(AlikeQuery, location="query")
@bp.output(AlikeOut)
def alike(reference_id: int, query_data: dict[str, Any]) -> Alike:
    """References whose same phase looks most like a stretch of this one."""
    span = query_data["from"], query_data["to"]
    return looking_alike.looks_like(transaction, person(), reference_id, query_data["lane"], *span)


@bp.put("/<int:reference_id>")
@bp.input(ReferenceSaveIn)
@bp.output(ReferenceOut)
def save(reference_id: int, json_data: dict[str, Any]) -> ReferenceSheet:
    """Save work on a reference."""
    return shelf.save(transaction, person(), reference_id, at=now(), **json_data)


@bp.put("/<int:reference_id>/steps")
@bp.input(StepsIn)
@bp.output(ReferenceOut)
def set_steps(reference_id: int, json_data: dict[str, Any]) -> ReferenceSheet:
    """Make its capture anew of the raw samples by these steps; none gives the raw ones back."""
    return preparing.set_steps(transaction, person(), reference_id, at=now(), **json_data)


@bp.post("/<int:reference_id>/split")
@bp.input(SplitIn)
@bp.output(MadeOut, status_code=201)
def split(reference_id: int, json_data: dict[str, Any]) -> dict[str, Any]:
    """A draft of its own of a stretch of it."""
    return {"id": preparing.split(transaction, person(), reference_id, json_data["from"], json_data["to"], now())}


@bp.post("/<int:reference_id>/publish")
@bp.output(ReferenceOut)
def publish(reference_id: int) -> ReferenceSheet:
    """Freeze the next version."""
    return shelf.publish(transaction, person(), reference_id, now())


@bp.post("/<int:reference_id>/retire")
@bp.output(ReferenceOut)
def retire(reference_id: int) -> ReferenceSheet:
    """Take it off the shelf."""
    with transaction() as conn:
        shelf.retire(conn, person(), reference_id, now())
    return shelf.one(transaction, person(), reference_id)


@bp.put("/<int:reference_id>/pair")
@bp.input(PairIn)
@bp.output(ReferenceOut)
def set_pair(reference_id: int, json_data: dict[str, Any]) -> ReferenceSheet:
    """Draw it together with another of its circuit, or with none."""
    return shelf.set_pair(transaction, person(), reference_id, at=now(), **json_data)


@bp.post("/<int:reference_id>/review")
@bp.input(ReviewIn)
@bp.output(ReferenceOut)
def second_look(reference_id: int, json_data: dict[str, Any]) -> ReferenceSheet:
    """A second instructor's word on it, where its course wants one."""
    with transaction() as conn:
        review.say(conn, person(), shelf.work_on(conn, person(), reference_id), at=now(), **json_data)
    return shelf.one(transaction, person(), reference_id)


@bp.put("/<int:reference_id>/reach")
@bp.input(ReachIn)
@bp.output(ReferenceOut)
def set_reach(reference_id: int, json_data: dict[str, Any]) -> ReferenceSheet:
    """Say who reaches it: its owner, the instructors of a course, or all."""
    with transaction() as conn:
        shelf.set_reach(conn, person(), reference_id, json_data["reach"], json_data["course_id"], now())
    return shelf.one(transaction, person(), reference_id)


@bp.post("/<int:reference_id>/copy")
@bp.output(MadeOut, status_code=201)
def copy(reference_id: int) -> dict[str, Any]:
    """A draft of one's own of it."""
    with transaction() as conn:
        return {"id": shelf.copy(conn, person(), reference_id, now())}
