-- What people said about records.
CREATE TABLE comment (
    tracker_id INTEGER NOT NULL,
    table_id INTEGER NOT NULL,
    record_id INTEGER NOT NULL,
    comment_id INTEGER NOT NULL,
    body JSON NOT NULL,
    format SMALLINT NOT NULL,
    PRIMARY KEY (tracker_id, table_id, record_id, comment_id)
);
-- How far somebody has read what was said about a record, and whether they follow it.
CREATE TABLE attention (
    tracker_id INTEGER NOT NULL,
    table_id INTEGER NOT NULL,
    record_id INTEGER NOT NULL,
    person_id INTEGER NOT NULL,
    last_read INTEGER NOT NULL DEFAULT 0,
    follows BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (tracker_id, table_id, record_id, person_id)
);
