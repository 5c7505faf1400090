-- Files that somebody brought to a record on its way: theirs alone until it is added.
CREATE TABLE draft_file (
    tracker_id INTEGER NOT NULL,
    person_id  INTEGER NOT NULL,
    draft_id   INTEGER NOT NULL,
    field_id   INTEGER NOT NULL,
    place      SERIAL NOT NULL,
    id         TEXT NOT NULL PRIMARY KEY,
    name       TEXT NOT NULL,
    media      TEXT NOT NULL,
    size       BIGINT NOT NULL
);
CREATE INDEX draft_file_of ON draft_file (tracker_id, person_id, draft_id);
