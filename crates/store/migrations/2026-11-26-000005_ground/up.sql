-- Time is a change: to which day a tracker was turned, and when it has to be turned though nobody looks at it.
ALTER TABLE tracker ADD COLUMN turned_on date, ADD COLUMN wakes_at timestamptz;
UPDATE tracker SET turned_on = current_date, wakes_at = current_date + 1;
CREATE INDEX tracker_wakes ON tracker (wakes_at);

-- Kept forms have versions: what was written before is of the first. Whoever writes another makes it the default.
ALTER TABLE part ADD COLUMN format smallint NOT NULL DEFAULT 1;
ALTER TABLE change ADD COLUMN format smallint NOT NULL DEFAULT 1;
ALTER TABLE sheaf ADD COLUMN format smallint NOT NULL DEFAULT 1;
ALTER TABLE template ADD COLUMN format smallint NOT NULL DEFAULT 1;

-- Files that wait for their import, whichever server takes the next request.
CREATE TABLE upload (
    token text PRIMARY KEY,
    owner integer NOT NULL,
    name text NOT NULL,
    at timestamptz NOT NULL
);
CREATE INDEX upload_at ON upload (at);
CREATE INDEX session_expires ON session (expires_at);
