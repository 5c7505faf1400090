-- What somebody asks of somebody, by a day, perhaps about a record.
CREATE TABLE task (
    id         BIGINT GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    by_id      INTEGER NOT NULL,
    who_id     INTEGER NOT NULL,
    what       TEXT NOT NULL,
    note       TEXT NOT NULL,
    due        DATE,
    urgent     BOOLEAN NOT NULL,
    tracker_id INTEGER,
    table_id   INTEGER,
    record_id  INTEGER,
    made_at    TIMESTAMPTZ NOT NULL,
    done_at    TIMESTAMPTZ
);
CREATE INDEX task_of_who ON task (who_id, done_at);
CREATE INDEX task_of_by ON task (by_id, done_at);

-- Of whom each morning was begun: they are reminded once a day.
CREATE TABLE morning (
    person_id  INTEGER NOT NULL,
    day        DATE NOT NULL,
    PRIMARY KEY (person_id, day)
);
