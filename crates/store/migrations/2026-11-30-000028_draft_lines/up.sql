-- Lines of a record on its way, each under one of its links: theirs alone who began it, until it is added.
CREATE TABLE draft_line (
    tracker_id INTEGER NOT NULL,
    person_id  INTEGER NOT NULL,
    draft_id   INTEGER NOT NULL,
    line_id    SERIAL NOT NULL,
    field_id   INTEGER NOT NULL,
    cells      JSON NOT NULL,
    format     SMALLINT NOT NULL,
    PRIMARY KEY (tracker_id, person_id, draft_id, line_id)
);

-- An address may stand among the files of several drafts.
ALTER TABLE draft_file DROP CONSTRAINT draft_file_pkey, ADD PRIMARY KEY (tracker_id, person_id, draft_id, field_id, id);
