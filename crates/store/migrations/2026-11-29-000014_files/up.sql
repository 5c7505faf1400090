-- What stands in files, so that they are found by it: read after they came, by whichever server comes first. A state of 0 to 2: so many
-- tries were made; 9: it was read, or holds no text.
ALTER TABLE file ADD COLUMN text_state SMALLINT NOT NULL DEFAULT 0;
ALTER TABLE file ADD COLUMN text_due TIMESTAMPTZ NOT NULL DEFAULT now();
-- Since when no cell holds it. After a while its bytes are dropped, and then it is gone.
ALTER TABLE file ADD COLUMN let_go_at TIMESTAMPTZ;
UPDATE file SET text_state = 9 WHERE media LIKE 'image/%' OR media LIKE 'audio/%' OR media LIKE 'video/%';
CREATE INDEX file_unread ON file (text_due) WHERE text_state < 3;
CREATE INDEX file_let_go ON file (let_go_at) WHERE let_go_at IS NOT NULL;
CREATE TABLE file_text (
    number      BIGINT GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    tracker_id  INTEGER NOT NULL,
    file_id     TEXT NOT NULL UNIQUE,
    text        TEXT NOT NULL
);
CREATE INDEX file_text_of ON file_text (tracker_id, number);

-- A file that comes in pieces: how large it will be, and how much of it is here.
ALTER TABLE upload ADD COLUMN size BIGINT NOT NULL DEFAULT 0;
ALTER TABLE upload ADD COLUMN got BIGINT NOT NULL DEFAULT 0;

-- Records that were emptied out of the bin: nothing is left of them but their numbers.
CREATE TABLE emptied (
    tracker_id  INTEGER NOT NULL,
    table_id    INTEGER NOT NULL,
    record_id   INTEGER NOT NULL,
    PRIMARY KEY (tracker_id, table_id, record_id)
);
CREATE INDEX record_gone ON record (changed_at) WHERE gone;
