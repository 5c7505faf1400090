-- What a mail asks of its reader, until when it can be answered, and how it was. What may be answered stands in the mail itself.
CREATE TABLE reply (
    job_id       BIGINT PRIMARY KEY REFERENCES job,
    tracker_id   INTEGER NOT NULL,
    table_id     INTEGER NOT NULL,
    record_id    INTEGER NOT NULL,
    -- Of the team, where it went to one of the team.
    person_id    INTEGER,
    until        TIMESTAMPTZ NOT NULL,
    -- The tracker's change by which it was answered, and in which words.
    answered_seq BIGINT,
    answered_at  TIMESTAMPTZ,
    words        TEXT
);
CREATE INDEX reply_of_person ON reply (person_id, until) WHERE person_id IS NOT NULL;
CREATE INDEX reply_of_record ON reply (tracker_id, table_id, record_id);

-- Each try to send a mail gives it a link of its own, of which only the hash is known.
CREATE TABLE reply_token (
    token_hash   BYTEA PRIMARY KEY,
    job_id       BIGINT NOT NULL REFERENCES reply
);
