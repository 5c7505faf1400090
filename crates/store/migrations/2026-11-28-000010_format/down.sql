DROP FUNCTION keep;
-- Keeps changes and the records they touched in one call, so that an edit is one journey to the database and back. False, and
-- nothing kept, where the tracker is not where the sender thought. Rows come as arrays, so the plan is the same for one and for many.
CREATE FUNCTION keep(
    tracker INTEGER, from_seq BIGINT, to_seq BIGINT,
    -- The changes.
    seqs BIGINT[], ats TIMESTAMPTZ[], bodies JSON[], keys TEXT[], answers JSON[],
    -- The records as they are in the end.
    tables INTEGER[], records INTEGER[], created_ats TIMESTAMPTZ[], created_bys JSON[], changed_ats TIMESTAMPTZ[], changed_bys JSON[],
    versions INTEGER[], gones BOOLEAN[], cells JSON[], arrivals JSON[], moves JSON[],
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
    INSERT INTO record (tracker_id, seq, table_id, record_id, created_at, created_by, changed_at, changed_by, version, gone, cells, arrival, moved)
        SELECT $1, $3, * FROM unnest($9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19)
        ON CONFLICT (tracker_id, table_id, record_id) DO UPDATE SET seq = excluded.seq, changed_at = excluded.changed_at,
            changed_by = excluded.changed_by, version = excluded.version, gone = excluded.gone, cells = excluded.cells, arrival = excluded.arrival,
            moved = excluded.moved;
    INSERT INTO touched (tracker_id, table_id, record_id, seq) SELECT $1, * FROM unnest($20, $21, $22);
    PERFORM pg_notify('committed', $1 || ':' || $3);
    RETURN TRUE;
END
$$;
