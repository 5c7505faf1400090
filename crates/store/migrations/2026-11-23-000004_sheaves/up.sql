-- An operation of the log on many records at once. It stands here and not in its change's body, and while it is open it is the
-- only place where its values are: neither the records nor their trails have rows of their own for it.
CREATE TABLE sheaf (
    tracker_id    INTEGER NOT NULL REFERENCES tracker,
    seq           BIGINT NOT NULL,
    -- Its place among the change's operations, from 0.
    place         INTEGER NOT NULL,
    table_id      INTEGER NOT NULL,
    -- All records that it touches are between these.
    first_record  INTEGER NOT NULL,
    last_record   INTEGER NOT NULL,
    op            JSON NOT NULL,
    open          BOOLEAN NOT NULL,
    PRIMARY KEY (tracker_id, seq, place)
);
DO $$
BEGIN
    ALTER TABLE sheaf ALTER COLUMN op SET COMPRESSION lz4;
EXCEPTION WHEN feature_not_supported THEN
    NULL;
END
$$;

-- As of which change the row is.
ALTER TABLE record ADD COLUMN seq BIGINT NOT NULL DEFAULT 0;

-- How a record came that nobody of the team made: by which link, and what of it waits for somebody.
ALTER TABLE record ADD COLUMN arrival JSON;

-- The private addresses at which respondents follow their answers: SHA-256 of the secret in them.
CREATE TABLE receipt (
    hash        TEXT PRIMARY KEY,
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    table_id    INTEGER NOT NULL,
    record_id   INTEGER NOT NULL
);

-- What came to a form by calls and mails, taken or refused.
CREATE TABLE way_log (
    id          BIGINT GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    form_id     INTEGER NOT NULL,
    at          TIMESTAMPTZ NOT NULL,
    way         TEXT NOT NULL,
    record_id   INTEGER,
    note        TEXT NOT NULL
);
CREATE INDEX way_log_of ON way_log (tracker_id, form_id, id);

-- How often a form was opened, sent, and left at which question. Numbers only, of nobody.
CREATE TABLE form_count (
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    form_id     INTEGER NOT NULL,
    what        TEXT NOT NULL,
    number      BIGINT NOT NULL,
    PRIMARY KEY (tracker_id, form_id, what)
);

DROP FUNCTION keep;
-- Keeps changes and the records they touched in one call, so that an edit is one journey to the database and back. False, and
-- nothing kept, where the tracker is not where the sender thought. Rows come as arrays, so the plan is the same for one and for many.
CREATE FUNCTION keep(
    tracker INTEGER, from_seq BIGINT, to_seq BIGINT,
    -- The changes.
    seqs BIGINT[], ats TIMESTAMPTZ[], bodies JSON[], keys TEXT[], answers JSON[],
    -- The records as they are in the end.
    tables INTEGER[], records INTEGER[], created_ats TIMESTAMPTZ[], created_bys JSON[], changed_ats TIMESTAMPTZ[], changed_bys JSON[],
    versions INTEGER[], gones BOOLEAN[], cells JSON[], arrivals JSON[],
    -- Which change touched which record.
    touched_tables INTEGER[], touched_records INTEGER[], touched_seqs BIGINT[]
) RETURNS BOOLEAN LANGUAGE plpgsql AS $$
#variable_conflict use_column
BEGIN
    UPDATE tracker SET seq = $3 WHERE id = $1 AND seq = $2;
    IF NOT FOUND THEN
        RETURN FALSE;
    END IF;
    INSERT INTO change (tracker_id, seq, at, body, key, answer) SELECT $1, * FROM unnest($4, $5, $6, $7, $8);
    INSERT INTO record (tracker_id, seq, table_id, record_id, created_at, created_by, changed_at, changed_by, version, gone, cells, arrival)
        SELECT $1, $3, * FROM unnest($9, $10, $11, $12, $13, $14, $15, $16, $17, $18)
        ON CONFLICT (tracker_id, table_id, record_id) DO UPDATE SET seq = excluded.seq, changed_at = excluded.changed_at,
            changed_by = excluded.changed_by, version = excluded.version, gone = excluded.gone, cells = excluded.cells, arrival = excluded.arrival;
    INSERT INTO touched (tracker_id, table_id, record_id, seq) SELECT $1, * FROM unnest($19, $20, $21);
    PERFORM pg_notify('committed', $1 || ':' || $3);
    RETURN TRUE;
END
$$;
