"""What each SQL statement takes and answers. Made by scripts/query_signatures.py: do not edit."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Protocol

from tracebench.store.pool import Connection, Row


class Audit(Protocol):
    def add(
        self,
        conn: Connection,
        *,
        at: object,
        person_id: object,
        who: object,
        action: object,
        about: object,
        about_id: object,
        title: object,
        changes: object,
        why: object,
    ) -> int:
        """One more line of the trail; nothing ever changes or takes one away."""
        ...

    def page(
        self, conn: Connection, *, before_id: object, about: object, about_id: object, person_id: object, most: object
    ) -> Iterator[Row]:
        """The newest lines before one, of one kind of thing, thing or person where those are given."""
        ...


class Captures(Protocol):
    def add(
        self,
        conn: Connection,
        *,
        owner_id: object,
        circuit: object,
        title: object,
        origin: object,
        samples: object,
        source_samples: object,
        interval_s: object,
        start_s: object,
        detail: object,
        picture: object,
        at: object,
    ) -> Any:
        """A capture's head; its lanes follow in the same transaction."""
        ...

    def add_lane(
        self,
        conn: Connection,
        *,
        capture_id: object,
        lane: object,
        place: object,
        unit: object,
        column_name: object,
        factor: object,
        lowest: object,
        highest: object,
        dtype: object,
        code_values: object,
    ) -> int:
        """One lane of a capture."""
        ...

    def add_chunk(self, conn: Connection, *, capture_id: object, lane: object, chunk_no: object, packed: object) -> int:
        """65,536 samples of a lane, compressed."""
        ...

    def add_envelope(
        self, conn: Connection, *, capture_id: object, lane: object, factor: object, packed: object
    ) -> int:
        """One level of a lane's min/max pyramid, compressed."""
        ...

    def by_id(self, conn: Connection, *, capture_id: object) -> Any:
        """A capture's head with its lanes as one cell, which is read sooner than a dozen."""
        ...

    def fingerprint(self, conn: Connection, *, capture_id: object) -> Any:
        """The name of a capture's samples."""
        ...

    def lane_codings(self, conn: Connection, *, capture_id: object) -> Iterator[Row]:
        """How the codes of each lane turn into values."""
        ...

    def lane_coding(self, conn: Connection, *, capture_id: object, lane: object) -> Row | None:
        """How a lane's codes turn into values."""
        ...

    def chunks(
        self, conn: Connection, *, capture_id: object, lane: object, first_no: object, last_no: object
    ) -> Iterator[Row]:
        """Chunks of a lane in order, both ends included."""
        ...

    def envelope_level(self, conn: Connection, *, capture_id: object, lane: object, factor: object) -> Row | None:
        """One level of the pyramid."""
        ...

    def learner_may_see(self, conn: Connection, *, capture_id: object, person_id: object) -> Any:
        """Captures a learner owns or sits with, what a card of theirs shows beside, or the reference of a card that they have"""
        ...

    def sits_with(self, conn: Connection, *, capture_id: object, person_id: object) -> Any:
        """Whether a learner has a sitting with that capture, or one that shows it beside."""
        ...

    def instructor_may_see(self, conn: Connection, *, capture_id: object, person_id: object) -> Any:
        """Captures an instructor owns, of references in their reach or on cards of theirs, raw ones that those were made of,"""
        ...

    def copy_head(self, conn: Connection, *, capture_id: object, owner_id: object, title: object, at: object) -> Any:
        """The same capture under another owner, without what its file was called."""
        ...

    def copy_lanes(self, conn: Connection, *, capture_id: object, copy_id: object) -> int:
        """Its lanes."""
        ...

    def copy_chunks(self, conn: Connection, *, capture_id: object, copy_id: object) -> int:
        """Its samples."""
        ...

    def copy_envelopes(self, conn: Connection, *, capture_id: object, copy_id: object) -> int:
        """Its pyramid."""
        ...

    def set_raw(self, conn: Connection, *, capture_id: object, raw_id: object) -> int:
        """The capture whose samples it was made of."""
        ...

    def raw_of(self, conn: Connection, *, capture_id: object) -> Any:
        """The capture as it was recorded: another where this one was made by steps, else itself."""
        ...

    def set_picture(self, conn: Connection, *, capture_id: object, picture: object) -> int:
        """Its first lane in miniature."""
        ...

    def set_stored(self, conn: Connection, *, capture_id: object, stored_bytes: object, fingerprint: object) -> int:
        """How much of the disk its samples and pyramid take, and the name of the samples."""
        ...

    def stored_bytes_of(self, conn: Connection, *, owner_id: object) -> Any:
        """How much of the disk a person's captures take."""
        ...

    def unused(self, conn: Connection, *, owner_id: object) -> Iterator[Row]:
        """Captures of a person that no reference, sitting, note or record holds, newest first."""
        ...

    def give_up(self, conn: Connection, *, capture_id: object, owner_id: object) -> int:
        """A capture goes with its samples; foreign keys refuse where anything holds it."""
        ...

    def add_upload(
        self, conn: Connection, *, owner_id: object, filename: object, stored_as: object, bytes: object, at: object
    ) -> Any:
        """A file that waits for its mapping."""
        ...

    def upload_of(self, conn: Connection, *, upload_id: object, owner_id: object) -> Row | None:
        """A waiting file of its owner."""
        ...

    def hold_upload(self, conn: Connection, *, upload_id: object, owner_id: object) -> Row | None:
        """A waiting file of its owner, held: whoever comes second finds it gone when the first is done."""
        ...

    def drop_upload(self, conn: Connection, *, upload_id: object) -> int:
        """The file was imported or given up."""
        ...

    def waiting_of(self, conn: Connection, *, owner_id: object) -> Row | None:
        """How many files of a person wait, and how large they are together."""
        ...

    def every_upload(self, conn: Connection) -> Iterator[Row]:
        """All files that wait."""
        ...

    def uploads_before(self, conn: Connection, *, before: object) -> Iterator[Row]:
        """Waiting files nobody came back to."""
        ...

    def add_record(
        self,
        conn: Connection,
        *,
        capture_id: object,
        sitting_id: object,
        kind: object,
        document: object,
        author_id: object,
        at: object,
    ) -> Any:
        """A record typed beside a capture: resistances, voltages, a log. It may be a part of a learner's sitting."""
        ...

    def records_of(self, conn: Connection, *, capture_id: object) -> Iterator[Row]:
        """Records beside a capture that nobody took away, oldest first."""
        ...

    def records_of_sitting(self, conn: Connection, *, sitting_id: object) -> Iterator[Row]:
        """Records of a sitting that nobody took away, oldest first, whichever of its captures they were typed beside."""
        ...

    def take_sitting_record_away(self, conn: Connection, *, record_id: object, sitting_id: object, at: object) -> int:
        """A record of a sitting taken away stays in the table with the instant."""
        ...

    def take_record_away(self, conn: Connection, *, record_id: object, capture_id: object, at: object) -> int:
        """A record taken away stays in the table with the instant."""
        ...


class Cards(Protocol):
    def add(
        self, conn: Connection, *, course_id: object, author_id: object, title: object, document: object, at: object
    ) -> Any:
        """A draft card."""
        ...

    def by_id(self, conn: Connection, *, card_id: object) -> Row | None:
        """One card as it is being worked on."""
        ...

    def set_reach(self, conn: Connection, *, card_id: object, reach: object) -> int:
        """Who reaches a card."""
        ...

    def hand_over(self, conn: Connection, *, from_id: object, to_id: object) -> int:
        """Every card of one person becomes another's."""
        ...

    def of_the_school(self, conn: Connection, *, person_id: object) -> Iterator[Row]:
        """Published cards of courses that an instructor is not in, which the school may copy."""
        ...

    def of_courses_of(self, conn: Connection, *, person_id: object) -> Any:
        """Cards of the courses that an instructor belongs to, as they are being worked on, with how many sittings wait: as one"""
        ...

    def in_hand(self, conn: Connection, *, person_id: object, today: object, most: object) -> Iterator[Row]:
        """The cards that matter to an instructor today: published ones by the day they are due, then what was last worked on."""
        ...

    def of_learner(self, conn: Connection, *, person_id: object) -> Iterator[Row]:
        """The newest version of each card that a learner may begin, the first that is due first."""
        ...

    def save_draft(
        self, conn: Connection, *, card_id: object, revision: object, title: object, document: object, at: object
    ) -> int:
        """Save work on a card; nothing happens if someone else saved since `revision`."""
        ...

    def set_state(self, conn: Connection, *, card_id: object, state: object, at: object) -> int:
        """Draft, published or retired."""
        ...

    def latest_version(self, conn: Connection, *, card_id: object) -> Row | None:
        """The newest published version."""
        ...

    def publish(
        self,
        conn: Connection,
        *,
        card_id: object,
        version: object,
        document: object,
        given_capture_id: object,
        given_version_id: object,
        at: object,
    ) -> Any:
        """An immutable version, with the capture that it gives and the version of a reference that this is a copy of."""
        ...

    def show_beside(
        self, conn: Connection, *, card_version_id: object, step_id: object, version_id: object, capture_id: object
    ) -> int:
        """What a comparing step of a version shows: a copy of the capture of a reference's version."""
        ...

    def shown_beside(self, conn: Connection, *, card_version_id: object) -> Iterator[Row]:
        """What the comparing steps of a version show."""
        ...


class Courses(Protocol):
    def of_person(self, conn: Connection, *, person_id: object) -> Iterator[Row]:
        """Courses a person belongs to."""
        ...

    def all_courses(self, conn: Connection) -> Iterator[Row]:
        """Every course."""
        ...

    def add(self, conn: Connection, *, title: object, at: object) -> Any:
        """A new course."""
        ...

    def join_course(self, conn: Connection, *, course_id: object, person_id: object) -> int:
        """Make a person a member; once is enough."""
        ...

    def leave_course(self, conn: Connection, *, course_id: object, person_id: object) -> int:
        """End a membership; sittings stay."""
        ...

    def members(self, conn: Connection, *, course_id: object) -> Iterator[Row]:
        """Members of a course, instructors first."""
        ...

    def set_extra_time(self, conn: Connection, *, course_id: object, person_id: object, extra_pct: object) -> int:
        """So much more time, in percent, a member has for every card with a limit."""
        ...

    def extra_time(self, conn: Connection, *, course_id: object, person_id: object) -> Any:
        """How much more time a member has, in percent; nothing for one who is no member."""
        ...

    def learners_of(self, conn: Connection, *, course_ids: object) -> Iterator[Row]:
        """Learners of courses."""
        ...

    def place_of_learner(self, conn: Connection, *, course_id: object, person_id: object) -> Any:
        """How many learners of a course come before one, in the order in which they were made."""
        ...

    def is_member(self, conn: Connection, *, course_id: object, person_id: object) -> Any:
        """1 if the person belongs to the course."""
        ...

    def by_id(self, conn: Connection, *, course_id: object) -> Row | None:
        """One course."""
        ...

    def set_review(self, conn: Connection, *, course_id: object, review: object) -> int:
        """Whether a second instructor looks at the course's references before they are published."""
        ...

    def elsewhere(self, conn: Connection, *, asker_id: object, person_id: object) -> Any:
        """In how many courses somebody is that whoever asks does not belong to."""
        ...

    def vehicles(self, conn: Connection) -> Iterator[Row]:
        """Training vehicles."""
        ...

    def add_vehicle(self, conn: Connection, *, name: object, engine: object, bay: object) -> Any:
        """A new training vehicle."""
        ...


class Health(Protocol):
    def state(self, conn: Connection, *, since: object, used_since: object) -> Row | None:
        """The server, its size and schema, the queue, and how many sessions are in use."""
        ...


class Inbox(Protocol):
    def add(
        self,
        conn: Connection,
        *,
        owner_id: object,
        upload_id: object,
        filename: object,
        bytes: object,
        problem: object,
        at: object,
    ) -> Any:
        """A file of many that were brought in together; one that is none has a problem from the beginning."""
        ...

    def set_job(self, conn: Connection, *, item_id: object, job_id: object) -> int:
        """The job that looks at it, or makes a draft of it."""
        ...

    def keep_look(self, conn: Connection, *, item_id: object, looked: object) -> int:
        """What it holds, as far as the tool can tell."""
        ...

    def keep_reference(self, conn: Connection, *, item_id: object, reference_id: object) -> int:
        """A draft was made of it; its file is no longer needed."""
        ...

    def by_id(self, conn: Connection, *, item_id: object, owner_id: object) -> Row | None:
        """One file of its owner."""
        ...

    def hold(self, conn: Connection, *, item_id: object, owner_id: object) -> Row | None:
        """One file of its owner, held, and what its job is at."""
        ...

    def of_owner(self, conn: Connection, *, owner_id: object) -> Iterator[Row]:
        """A person's files, the first sent first, with how far the job of each is."""
        ...

    def drop_item(self, conn: Connection, *, item_id: object, owner_id: object) -> int:
        """It is given up, or was dealt with."""
        ...

    def profile(self, conn: Connection, *, owner_id: object, layout: object, circuit: object) -> Row | None:
        """How a person mapped a file of this layout to a circuit the last time."""
        ...

    def keep_profile(
        self,
        conn: Connection,
        *,
        owner_id: object,
        layout: object,
        circuit: object,
        mapping: object,
        interval_s: object,
        at: object,
    ) -> int:
        """Remember it for the next one."""
        ...


class Jobs(Protocol):
    def add(
        self,
        conn: Connection,
        *,
        kind: object,
        about: object,
        owner_id: object,
        payload: object,
        urgency: object,
        not_before: object,
        at: object,
    ) -> int:
        """Something to do, once for what it is about: what is there already stays as it is."""
        ...

    def due(self, conn: Connection, *, at: object, limit_rows: object) -> Iterator[Row]:
        """Jobs that are due, or whose worker went silent: the urgent first, then those that failed least, then the oldest."""
        ...

    def claim(self, conn: Connection, *, job_id: object, at: object) -> Row | None:
        """A job, held, if it is still due; passed over where another worker holds it."""
        ...

    def give_up(self, conn: Connection, *, job_id: object, problem: object, at: object) -> int:
        """A job that was begun too often, and why it is not begun again."""
        ...

    def afresh(self, conn: Connection, *, about: object, at: object) -> int:
        """A job as if it had never been begun."""
        ...

    def due_count(self, conn: Connection, *, at: object) -> Any:
        """How many jobs could be taken now."""
        ...

    def begin(self, conn: Connection, *, job_id: object, worker: object, until: object, at: object) -> int:
        """A job that a worker takes."""
        ...

    def renew(self, conn: Connection, *, job_id: object, worker: object, until: object, progress: object) -> int:
        """A job is still worked on, and how far it is; nobody else takes it meanwhile."""
        ...

    def still_of(self, conn: Connection, *, job_id: object, worker: object) -> Row | None:
        """The job, held, if it is still this worker's."""
        ...

    def finish(self, conn: Connection, *, job_id: object, result: object, at: object) -> int:
        """A job that is done, with what came of it."""
        ...

    def fail(self, conn: Connection, *, job_id: object, worker: object, problem: object, at: object) -> int:
        """A job that cannot be done, and why."""
        ...

    def postpone(self, conn: Connection, *, job_id: object, worker: object, problem: object, not_before: object) -> int:
        """A job that is tried again later."""
        ...

    def cancel(self, conn: Connection, *, job_id: object, at: object) -> int:
        """A job that is not wanted any more."""
        ...

    def again(self, conn: Connection, *, job_id: object, at: object) -> int:
        """A job that failed or was cancelled, from the beginning."""
        ...

    def by_id(self, conn: Connection, *, job_id: object) -> Row | None:
        """One job."""
        ...

    def by_about(self, conn: Connection, *, about: object) -> Row | None:
        """The job that is about something."""
        ...

    def latest(self, conn: Connection, *, limit_rows: object) -> Iterator[Row]:
        """The last jobs, newest first."""
        ...

    def waiting_count(self, conn: Connection) -> Any:
        """How many jobs are due or under way."""
        ...

    def forget(self, conn: Connection, *, kind: object, owner_id: object, like: object, about: object) -> int:
        """Jobs of a kind that ended and whose result nobody asks for any more, but the one that is told."""
        ...

    def move_along(self, conn: Connection, *, seconds: object) -> int:
        """The clock was set by so many seconds: what waits, and what is leased, does so as much later."""
        ...


class People(Protocol):
    def end_invitations(self, conn: Connection, *, person_id: object) -> int:
        """Links of a person that were not used are worth nothing any more."""
        ...

    def invite(self, conn: Connection, *, token_hash: object, person_id: object, at: object, ends_at: object) -> int:
        """A link by which a person chooses a password."""
        ...

    def invited(self, conn: Connection, *, token_hash: object, at: object) -> Row | None:
        """Whom an unused link is for, held until the transaction ends."""
        ...

    def use_invitation(self, conn: Connection, *, invitation_id: object, at: object) -> int:
        """A link was used."""
        ...

    def by_sign_in(self, conn: Connection, *, sign_in: object) -> Row | None:
        """One person by the name they sign in with."""
        ...

    def any_to_be_sure(self, conn: Connection) -> Any:
        """How many people there are, held so that nobody becomes the first beside another."""
        ...

    def everyone(self, conn: Connection) -> Iterator[Row]:
        """All people, by role and name, and whether they still have to choose a password."""
        ...

    def by_id(self, conn: Connection, *, person_id: object) -> Row | None:
        """One person."""
        ...

    def add(
        self,
        conn: Connection,
        *,
        sign_in: object,
        name: object,
        role: object,
        password_hash: object,
        added_by: object,
        at: object,
    ) -> Any:
        """A new person, and who brought them in."""
        ...

    def set_active(self, conn: Connection, *, person_id: object, active: object) -> int:
        """Let a person in or keep them out; ends their sessions."""
        ...

    def set_password(self, conn: Connection, *, person_id: object, password_hash: object) -> int:
        """A new password; ends all sessions."""
        ...

    def end_sessions(self, conn: Connection, *, person_id: object) -> int:
        """Sign out everywhere."""
        ...

    def school(self, conn: Connection) -> Any:
        """What the school is called, NULL until it was said."""
        ...

    def name_school(self, conn: Connection, *, name: object) -> int:
        """What the school is called."""
        ...

    def begin_session(
        self,
        conn: Connection,
        *,
        token_hash: object,
        person_id: object,
        epoch: object,
        address: object,
        device: object,
        at: object,
    ) -> int:
        """Somebody signed in."""
        ...

    def of_session(self, conn: Connection, *, token_hash: object, since: object) -> Any:
        """The person of a session that has not ended and was used since an instant, as one cell: each request asks for it, and"""
        ...

    def used_session(self, conn: Connection, *, session_id: object, at: object) -> int:
        """A session was used."""
        ...

    def sessions_of(self, conn: Connection, *, person_id: object, since: object) -> Iterator[Row]:
        """Sessions of a person that have not ended, the last used first."""
        ...

    def end_session(self, conn: Connection, *, session_id: object, person_id: object, at: object) -> int:
        """Sign out of one session."""
        ...

    def move_sessions(self, conn: Connection, *, seconds: object) -> int:
        """The clock was set by so many seconds: sessions were last used as much later."""
        ...

    def take_turn(self, conn: Connection, *, place: object) -> int:
        """Tries of names that share a place are looked at one after the other: held until the transaction ends."""
        ...

    def knows(self, conn: Connection, *, sign_in: object, device: object, address: object) -> Row | None:
        """Whether a device signed in under a name before, and an address."""
        ...

    def tries_of_name(
        self, conn: Connection, *, sign_in: object, came_from: object, minute: object, since: object
    ) -> Row | None:
        """Wrong tries of a name: by this device in all, and when the last was; in the last minute by known devices, by others,"""
        ...

    def tries_of_address(self, conn: Connection, *, address: object, minute: object) -> Row | None:
        """Wrong tries of the last minute from an address, of names that never signed in from it."""
        ...

    def tries_of_device(self, conn: Connection, *, came_from: object, since: object) -> Any:
        """How many wrong tries a device made, whatever the name."""
        ...

    def try_begins(
        self,
        conn: Connection,
        *,
        sign_in: object,
        address: object,
        came_from: object,
        known: object,
        again: object,
        strange: object,
        at: object,
    ) -> Any:
        """A sign-in that will be looked at: counted as wrong before it is, so that many at once cannot pass together."""
        ...

    def was_right(self, conn: Connection, *, sign_in: object, came_from: object) -> int:
        """A right sign-in clears what its device had tried under its name."""
        ...

    def forget_tries(self, conn: Connection, *, before: object) -> int:
        """Old tries are of no use."""
        ...

    def know_device(self, conn: Connection, *, person_id: object, device: object, at: object) -> int:
        """A device that a person signed in on."""
        ...


class Regrading(Protocol):
    def marked(self, conn: Connection, *, course_id: object) -> Iterator[Row]:
        """Sittings of a course whose marks were worked out, those of one capture beside each other."""
        ...

    def add_run(
        self, conn: Connection, *, course_id: object, author_id: object, newest: object, total: object, at: object
    ) -> Any:
        """A comparison of all marks of a course with what would be given now."""
        ...

    def latest_run(self, conn: Connection, *, course_id: object) -> Row | None:
        """The newest comparison of a course."""
        ...

    def add_row(
        self,
        conn: Connection,
        *,
        run_id: object,
        sitting_id: object,
        grade_run_id: object,
        card_version_id: object,
        grade: object,
        measured: object,
        changes: object,
        problem: object,
    ) -> int:
        """What one sitting would be given now; again does nothing."""
        ...

    def rows_of(self, conn: Connection, *, run_id: object) -> Iterator[Row]:
        """Sittings of a comparison whose marks would change, or could not be worked out."""
        ...

    def row_to_take(self, conn: Connection, *, run_id: object, sitting_id: object) -> Row | None:
        """One sitting of a comparison, held while its marks are taken over."""
        ...

    def set_taken(self, conn: Connection, *, run_id: object, sitting_id: object, at: object) -> int:
        """Its marks were taken over."""
        ...

    def newest_version(self, conn: Connection, *, card_id: object) -> Row | None:
        """The newest published version of a card."""
        ...

    def card_version(self, conn: Connection, *, version_id: object) -> Row | None:
        """One version of a card."""
        ...


class Shapes(Protocol):
    def not_outlined(self, conn: Connection, *, person_id: object, circuit: object, size: object) -> Iterator[Row]:
        """Newest published versions of a circuit in a person's reach whose outlines were not made yet."""
        ...

    def set_outlined(self, conn: Connection, *, version_id: object) -> int:
        """A version's outlines are made; again does nothing."""
        ...

    def add(
        self,
        conn: Connection,
        *,
        version_id: object,
        lane: object,
        name: object,
        sweep: object,
        from_s: object,
        to_s: object,
        packed: object,
    ) -> int:
        """An outline of a version; again does nothing."""
        ...

    def of_fleet(self, conn: Connection, *, person_id: object, circuit: object, part: object) -> Iterator[Row]:
        """Outlines of every sound published reference in reach of one design, with what tells captures apart."""
        ...

    def alike(
        self, conn: Connection, *, person_id: object, circuit: object, lane: object, name: object
    ) -> Iterator[Row]:
        """One stretch of every published reference of a circuit in reach: all its sweeps in one row, which costs half the time."""
        ...

    def titles(self, conn: Connection, *, ids: object) -> Iterator[Row]:
        """Titles and calls of references by a JSON list of their ids."""
        ...


class Shelf(Protocol):
    def add(
        self,
        conn: Connection,
        *,
        author_id: object,
        capture_id: object,
        circuit: object,
        title: object,
        document: object,
        at: object,
    ) -> Any:
        """A draft reference."""
        ...

    def by_id(self, conn: Connection, *, reference_id: object, person_id: object) -> Row | None:
        """One reference as it is being worked on; whether it was ever published, and whether a person is of its course."""
        ...

    def add_with_uid(
        self,
        conn: Connection,
        *,
        author_id: object,
        capture_id: object,
        circuit: object,
        title: object,
        document: object,
        uid: object,
        state: object,
        created_at: object,
        at: object,
    ) -> Any:
        """A reference as it came in a bundle."""
        ...

    def by_uid(self, conn: Connection, *, uid: object, person_id: object) -> Row | None:
        """The reference of that name in every school that has it, with what tells whether a person sees it."""
        ...

    def uid_of(self, conn: Connection, *, reference_id: object) -> Any:
        """What a reference is called in bundles."""
        ...

    def whole_versions(self, conn: Connection, *, reference_id: object) -> Iterator[Row]:
        """Published versions with all that is in them, oldest first."""
        ...

    def take_over(
        self, conn: Connection, *, reference_id: object, title: object, document: object, state: object, at: object
    ) -> int:
        """Work that came in a bundle, in place of work that was in it already."""
        ...

    def all_of(self, conn: Connection, *, person_id: object) -> Iterator[Row]:
        """Every reference that a person changes."""
        ...

    def of_same_samples(self, conn: Connection, *, fingerprint: object, person_id: object) -> Iterator[Row]:
        """References of captures with the very samples that bear a name, with what tells whether a person sees them."""
        ...

    def kept_answer(self, conn: Connection, *, reference_id: object, engine: object) -> Any:
        """What the core says of a reference as it stands now, if this engine has said it."""
        ...

    def keep_answer(
        self, conn: Connection, *, reference_id: object, revision: object, engine: object, answer: object
    ) -> int:
        """Keep what the core says of a reference, if it still stands as it was measured."""
        ...

    def lock_by_id(self, conn: Connection, *, reference_id: object) -> Row | None:
        """Hold a reference while it is published."""
        ...

    def set_reach(self, conn: Connection, *, reference_id: object, reach: object, course_id: object) -> int:
        """Who reaches a reference."""
        ...

    def hand_over(self, conn: Connection, *, from_id: object, to_id: object) -> int:
        """Every reference of one person becomes another's."""
        ...

    def of_capture(self, conn: Connection, *, capture_id: object) -> Row | None:
        """The newest reference made of a capture."""
        ...

    def list_anew(self, conn: Connection, *, reference_id: object) -> int:
        """What lists tell of a reference and the words it is found by, after any change of it or of its newest version."""
        ...

    def on_shelf(
        self,
        conn: Connection,
        *,
        person_id: object,
        circuit: object,
        state: object,
        call_said: object,
        collection: object,
        search: object,
        beginnings: object,
        like_words: object,
        size: object,
        after_rows: object,
    ) -> Any:
        """A page of the references in a person's reach, newest change first, as one cell: thirty rows of twelve columns take"""
        ...

    def newest_with(self, conn: Connection, *, beginnings: object, most: object) -> Any:
        """How many of the newest references have words that begin so."""
        ...

    def count_on_shelf(
        self,
        conn: Connection,
        *,
        person_id: object,
        circuit: object,
        state: object,
        call_said: object,
        collection: object,
        search: object,
        beginnings: object,
        like_words: object,
    ) -> Any:
        """How many references there are of which that is a page."""
        ...

    def fleet(self, conn: Connection, *, person_id: object, circuit: object, part: object) -> Iterator[Row]:
        """What was measured of every sound reference in reach of one design, a capture counted once."""
        ...

    def offered(
        self, conn: Connection, *, person_id: object, circuit: object, version_id: object, size: object
    ) -> Iterator[Row]:
        """Newest published versions that a card of a circuit may take, and the one it has."""
        ...

    def save_draft(
        self, conn: Connection, *, reference_id: object, revision: object, title: object, document: object, at: object
    ) -> int:
        """Save work on a reference; nothing happens if someone else saved since `revision`."""
        ...

    def set_capture(
        self,
        conn: Connection,
        *,
        reference_id: object,
        revision: object,
        capture_id: object,
        document: object,
        at: object,
    ) -> int:
        """The reference shows another capture of the same samples; nothing happens if someone else saved since `revision`."""
        ...

    def set_state(self, conn: Connection, *, reference_id: object, state: object, at: object) -> int:
        """Draft, published or retired."""
        ...

    def latest_version(self, conn: Connection, *, reference_id: object) -> Any:
        """Number of the newest version, 0 if none."""
        ...

    def publish(
        self,
        conn: Connection,
        *,
        reference_id: object,
        version: object,
        capture_id: object,
        title: object,
        document: object,
        answer: object,
        author_id: object,
        at: object,
    ) -> Any:
        """An immutable version."""
        ...

    def versions(self, conn: Connection, *, reference_id: object) -> Iterator[Row]:
        """Published versions, newest first."""
        ...

    def version_by_id(self, conn: Connection, *, version_id: object) -> Row | None:
        """One published version with its answer."""
        ...

    def collections(self, conn: Connection, *, person_id: object) -> Iterator[Row]:
        """Collections of what a person reaches, and how many there are in each."""
        ...

    def collect(self, conn: Connection, *, name: object, reference_id: object) -> int:
        """Put a reference into a collection; once is enough."""
        ...

    def take_out(self, conn: Connection, *, name: object, reference_id: object) -> int:
        """Take a reference out of a collection."""
        ...

    def last_review(self, conn: Connection, *, reference_id: object, revision: object) -> Row | None:
        """The newest review of a revision, and who said it."""
        ...

    def review(
        self,
        conn: Connection,
        *,
        reference_id: object,
        revision: object,
        reviewer_id: object,
        fine: object,
        note: object,
        at: object,
    ) -> int:
        """A second instructor's word on a revision."""
        ...

    def wants_review(self, conn: Connection, *, reference_id: object) -> Any:
        """1 where the course that a reference is of wants a second instructor's look before it is published."""
        ...


class Sittings(Protocol):
    def add_comment(
        self,
        conn: Connection,
        *,
        sitting_id: object,
        author_id: object,
        from_s: object,
        to_s: object,
        words: object,
        at: object,
    ) -> Any:
        """A comment pinned to a sitting's trace."""
        ...

    def comments(self, conn: Connection, *, sitting_id: object) -> Iterator[Row]:
        """What instructors pinned to a sitting's trace, in the order of the trace."""
        ...

    def take_comment_away(self, conn: Connection, *, sitting_id: object, comment_id: object) -> int:
        """A comment that is not meant after all."""
        ...

    def ask_second_mark(
        self, conn: Connection, *, sitting_id: object, marker_id: object, asked_by: object, at: object
    ) -> int:
        """A second marker for a sitting, once."""
        ...

    def second_mark(self, conn: Connection, *, sitting_id: object) -> Row | None:
        """Who marks a sitting a second time, and what came of it."""
        ...

    def to_mark_again(self, conn: Connection, *, marker_id: object) -> Iterator[Row]:
        """What somebody is asked to mark a second time, without whose it is."""
        ...

    def keep_second_mark(
        self, conn: Connection, *, sitting_id: object, marks: object, words: object, at: object
    ) -> int:
        """The marks of a second marker, given once."""
        ...

    def withdraw_second_mark(self, conn: Connection, *, sitting_id: object) -> int:
        """A second marking that is not wanted any more, while it is not done."""
        ...

    def second_marks_of_course(self, conn: Connection, *, course_id: object) -> Iterator[Row]:
        """The second marks that are done in a course."""
        ...

    def add(
        self,
        conn: Connection,
        *,
        card_version_id: object,
        learner_id: object,
        trial: object,
        practice: object,
        attempt: object,
        title: object,
        at: object,
        ends_at: object,
    ) -> Any:
        """A new sitting."""
        ...

    def by_id(self, conn: Connection, *, sitting_id: object) -> Row | None:
        """One sitting with its card version and course."""
        ...

    def under_way(self, conn: Connection, *, course_id: object, most: object) -> Iterator[Row]:
        """Open sittings of a course's learners, the one saved last first."""
        ...

    def set_end(self, conn: Connection, *, sitting_id: object, ends_at: object) -> int:
        """When its time is up."""
        ...

    def lock_by_id(self, conn: Connection, *, sitting_id: object) -> Any:
        """Hold a sitting while it changes."""
        ...

    def of_learner(self, conn: Connection, *, learner_id: object) -> Iterator[Row]:
        """A learner's sittings, newest first, with what stands of the marks of those that are released."""
        ...

    def of_card_and_learner(self, conn: Connection, *, card_id: object, learner_id: object) -> Iterator[Row]:
        """All attempts of a learner at a card, whichever version."""
        ...

    def attempts_of_learner(self, conn: Connection, *, learner_id: object) -> Iterator[Row]:
        """Every attempt of a learner, with its card."""
        ...

    def cards_not_released(self, conn: Connection, *, learner_id: object) -> Iterator[Row]:
        """Cards at which a learner has an attempt that is not released yet."""
        ...

    def save_answers(self, conn: Connection, *, sitting_id: object, answers: object, at: object) -> int:
        """Save what was answered."""
        ...

    def set_capture(self, conn: Connection, *, sitting_id: object, capture_id: object, at: object) -> int:
        """The capture a sitting works with."""
        ...

    def hand_in(self, conn: Connection, *, sitting_id: object, at: object) -> int:
        """From open to handed in."""
        ...

    def release(self, conn: Connection, *, sitting_id: object, released_by: object, at: object) -> int:
        """From handed in to released."""
        ...

    def add_grade_run(
        self,
        conn: Connection,
        *,
        sitting_id: object,
        engine: object,
        inputs: object,
        measured: object,
        grade: object,
        at: object,
    ) -> Any:
        """What was graded, with what, and how."""
        ...

    def has_grade(self, conn: Connection, *, sitting_id: object) -> Any:
        """Whether a sitting has been graded."""
        ...

    def latest_grade(self, conn: Connection, *, sitting_id: object) -> Row | None:
        """The newest grade run of a sitting."""
        ...

    def add_change(
        self,
        conn: Connection,
        *,
        sitting_id: object,
        criterion: object,
        earned: object,
        reason: object,
        author_id: object,
        at: object,
    ) -> Any:
        """An instructor's change of one criterion's points."""
        ...

    def changes(self, conn: Connection, *, sitting_id: object) -> Iterator[Row]:
        """Changes of a sitting's marks, oldest first."""
        ...

    def to_settle(self, conn: Connection, *, course_id: object, person_id: object, most: object) -> Iterator[Row]:
        """Sittings of a course (no trials) that wait to be settled, with what stands of their marks: the least certain first, those"""
        ...

    def first_to_settle(
        self, conn: Connection, *, course_ids: object, person_id: object, most: object
    ) -> Iterator[Row]:
        """The first of the same in several courses, with the little that a list of them tells, and how many there are in all."""
        ...

    def settled(self, conn: Connection, *, course_id: object, person_id: object, most: object) -> Iterator[Row]:
        """The last sittings of a course that were released, the latest first; found first, and only then their texts."""
        ...

    def released(self, conn: Connection, *, course_ids: object) -> Iterator[Row]:
        """The criteria of every released sitting of courses that counts, in no order: what skill is estimated from."""
        ...

    def released_digest(self, conn: Connection, *, course_ids: object) -> Any:
        """One word of all that `released` tells of courses: another as soon as any of it is another."""
        ...

    def practised(self, conn: Connection, *, course_id: object, learner_id: object, most: object) -> Iterator[Row]:
        """A learner's last practice in a course, the latest first, with what the tool made of it."""
        ...

    def set_standing(self, conn: Connection, *, sitting_id: object, standing: object, criteria: object) -> int:
        """What stands of a sitting's marks, in all and by criterion, kept beside it for lists."""
        ...

    def without_standing(self, conn: Connection, *, most: object) -> Iterator[Row]:
        """Sittings marked before what stands was kept beside them."""
        ...

    def others_of_card(
        self, conn: Connection, *, card_id: object, sitting_id: object, learner_id: object, limit_rows: object
    ) -> Iterator[Row]:
        """Other learners' handed-in sittings of a card, the latest first."""
        ...

    def others_of_circuit(
        self,
        conn: Connection,
        *,
        circuit: object,
        card_id: object,
        sitting_id: object,
        learner_id: object,
        limit_rows: object,
    ) -> Iterator[Row]:
        """Captures of other learners' handed-in sittings of other cards of a circuit, in the whole school, the latest first."""
        ...

    def on_the_shelf(self, conn: Connection, *, circuit: object, before: object, limit_rows: object) -> Iterator[Row]:
        """Captures of the references of a circuit that were published before, the latest first: one made from a sitting came after."""
        ...

    def of_the_trainer(
        self,
        conn: Connection,
        *,
        circuit: object,
        learner_id: object,
        capture_id: object,
        before: object,
        limit_rows: object,
    ) -> Iterator[Row]:
        """Captures of a circuit that the trainer gave anybody before, the latest first: without those in others' sittings and on"""
        ...

    def add_likeness(
        self,
        conn: Connection,
        *,
        sitting_id: object,
        other_id: object,
        reference_id: object,
        capture_id: object,
        kind: object,
        about: object,
    ) -> int:
        """What a sitting has in common with an earlier one, or its capture with one of the shelf or of the trainer."""
        ...

    def likenesses(self, conn: Connection, *, sitting_id: object) -> Iterator[Row]:
        """What a sitting has in common with others, earlier and later, with the shelf, and with what the trainer gave somebody."""
        ...

    def set_seen(self, conn: Connection, *, sitting_id: object, at: object) -> int:
        """The learner has seen the marks; the first time counts."""
        ...

    def take_back(self, conn: Connection, *, sitting_id: object) -> int:
        """From released to handed in, while the learner has not seen it or asks for a second look."""
        ...

    def ask_again(self, conn: Connection, *, sitting_id: object, words: object, at: object) -> int:
        """A learner asks for a second look at a released sitting; once."""
        ...

    def answer_asked(self, conn: Connection, *, sitting_id: object, at: object) -> int:
        """The second look that was asked for is done."""
        ...

    def second_look(self, conn: Connection, *, sitting_id: object) -> Row | None:
        """What a learner asked for, and whether it was answered."""
        ...

    def waiting_of_version(self, conn: Connection, *, card_version_id: object, sitting_id: object) -> Iterator[Row]:
        """Other sittings of the same version of a card that wait to be settled."""
        ...

    def set_hints(self, conn: Connection, *, sitting_id: object, hints: object) -> int:
        """Steps whose hint was taken."""
        ...

    def move_ends(self, conn: Connection, *, seconds: object) -> int:
        """The clock was set by so many seconds: open sittings with a time limit end as much later."""
        ...

    def run(self, conn: Connection, *, sitting_id: object) -> Row | None:
        """The run of the trainer that a sitting has, with how far its moves go."""
        ...

    def end_run(self, conn: Connection, *, sitting_id: object) -> int:
        """A run that is there is over, with its moves."""
        ...

    def begin_run(self, conn: Connection, *, sitting_id: object, number: object, at: object, settings: object) -> int:
        """A run begins with the key off."""
        ...

    def set_run(
        self, conn: Connection, *, sitting_id: object, settings: object, base_s: object, waited_s: object
    ) -> int:
        """Other settings of the scope, or time that was let go by; records begin anew from there."""
        ...

    def add_move(self, conn: Connection, *, sitting_id: object, at_s: object, control: object, value: object) -> int:
        """What a hand did; moves are kept in order."""
        ...

    def standing_of_controls(self, conn: Connection, *, sitting_id: object) -> Iterator[Row]:
        """Where each control of a run stands."""
        ...

    def moves(self, conn: Connection, *, sitting_id: object) -> Iterator[Row]:
        """All that hands did in a run, in order."""
        ...


class Queries(Protocol):
    audit: Audit
    captures: Captures
    cards: Cards
    courses: Courses
    health: Health
    inbox: Inbox
    jobs: Jobs
    people: People
    regrading: Regrading
    shapes: Shapes
    shelf: Shelf
    sittings: Sittings
