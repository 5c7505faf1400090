-- One installation serves one team. `tracker_id` leads every key that it can lead, so that trackers can be spread by it.

CREATE TABLE person (
    id            INTEGER PRIMARY KEY,
    name          TEXT NOT NULL,
    mail          TEXT NOT NULL,
    password_hash TEXT,
    about         TEXT NOT NULL DEFAULT ''
);
CREATE UNIQUE INDEX person_mail ON person (lower(mail));

CREATE TABLE session (
    -- SHA-256 of the token in the cookie: whoever reads this table can't sign in with it.
    token_hash  BYTEA PRIMARY KEY,
    person_id   INTEGER NOT NULL REFERENCES person,
    stands_in   INTEGER REFERENCES person,
    created_at  TIMESTAMPTZ NOT NULL,
    expires_at  TIMESTAMPTZ NOT NULL
);

CREATE TABLE tracker (
    id   INTEGER PRIMARY KEY,
    -- The last change; taken under this row's lock.
    seq  BIGINT NOT NULL
);

-- The structure: tables with their fields, views, forms, roles, automations. Always read whole, never searched by SQL.
CREATE TABLE part (
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    sort        TEXT NOT NULL,
    number      INTEGER NOT NULL,
    body        JSONB NOT NULL,
    PRIMARY KEY (tracker_id, sort, number)
);

CREATE TABLE counter (
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    field_id    INTEGER NOT NULL,
    period      TEXT NOT NULL,
    last        BIGINT NOT NULL,
    PRIMARY KEY (tracker_id, field_id, period)
);

CREATE TABLE record (
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    table_id    INTEGER NOT NULL,
    record_id   INTEGER NOT NULL,
    created_at  TIMESTAMPTZ NOT NULL,
    created_by  JSONB NOT NULL,
    changed_at  TIMESTAMPTZ NOT NULL,
    changed_by  JSONB NOT NULL,
    version     INTEGER NOT NULL,
    gone        BOOLEAN NOT NULL,
    cells       JSONB NOT NULL,
    PRIMARY KEY (tracker_id, table_id, record_id)
);

-- The log. What it holds is never changed.
CREATE TABLE change (
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    seq         BIGINT NOT NULL,
    at          TIMESTAMPTZ NOT NULL,
    body        JSONB NOT NULL,
    -- The sender's key and the answer given, so that sending twice does once.
    key         TEXT,
    answer      JSONB,
    PRIMARY KEY (tracker_id, seq)
);
CREATE UNIQUE INDEX change_key ON change (tracker_id, key) WHERE key IS NOT NULL;

-- Which changes touched a record: its trail.
CREATE TABLE touched (
    tracker_id  INTEGER NOT NULL,
    table_id    INTEGER NOT NULL,
    record_id   INTEGER NOT NULL,
    seq         BIGINT NOT NULL,
    PRIMARY KEY (tracker_id, table_id, record_id, seq)
);

CREATE TABLE file (
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    id          TEXT NOT NULL,
    table_id    INTEGER NOT NULL,
    record_id   INTEGER NOT NULL,
    field_id    INTEGER NOT NULL,
    name        TEXT NOT NULL,
    media       TEXT NOT NULL,
    size        BIGINT NOT NULL,
    PRIMARY KEY (tracker_id, id)
);
CREATE UNIQUE INDEX file_id ON file (id);

-- Public addresses of forms.
CREATE TABLE form_link (
    link        TEXT PRIMARY KEY,
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    form_id     INTEGER NOT NULL
);

CREATE TABLE run (
    tracker_id     INTEGER NOT NULL REFERENCES tracker,
    id             BIGINT GENERATED ALWAYS AS IDENTITY,
    automation_id  INTEGER NOT NULL,
    table_id       INTEGER NOT NULL,
    record_id      INTEGER NOT NULL,
    seq            BIGINT NOT NULL,
    at             TIMESTAMPTZ NOT NULL,
    log            JSONB NOT NULL,
    PRIMARY KEY (tracker_id, id)
);
CREATE INDEX run_of ON run (tracker_id, automation_id, id);
CREATE INDEX run_record ON run (tracker_id, table_id, record_id);

-- The outbox: written in the transaction of the change that causes it.
CREATE TABLE job (
    id          BIGINT GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    run_id      BIGINT NOT NULL,
    -- One cause, one job.
    key         TEXT NOT NULL,
    mail        JSONB NOT NULL,
    -- waiting, handing over, sent, unsure, failed
    state       TEXT NOT NULL,
    attempts    INTEGER NOT NULL,
    due_at      TIMESTAMPTZ NOT NULL,
    note        TEXT NOT NULL DEFAULT ''
);
CREATE UNIQUE INDEX job_key ON job (tracker_id, key);
CREATE INDEX job_due ON job (due_at) WHERE state IN ('waiting', 'handing over');

-- What the post room received.
CREATE TABLE message (
    id           BIGINT GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    message_id   TEXT NOT NULL,
    received_at  TIMESTAMPTZ NOT NULL,
    sender       TEXT NOT NULL,
    recipient    TEXT NOT NULL,
    subject      TEXT NOT NULL,
    body         TEXT NOT NULL,
    raw          BYTEA NOT NULL
);
CREATE INDEX message_by_id ON message (message_id);
