-- Records that somebody has begun and not added.
CREATE TABLE draft (
    tracker_id INTEGER NOT NULL,
    person_id INTEGER NOT NULL,
    draft_id SERIAL NOT NULL,
    table_id INTEGER NOT NULL,
    cells JSON NOT NULL,
    format SMALLINT NOT NULL,
    changed_at TIMESTAMPTZ NOT NULL,
    PRIMARY KEY (tracker_id, person_id, draft_id)
);
