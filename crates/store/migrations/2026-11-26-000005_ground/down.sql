DROP INDEX session_expires;
DROP TABLE upload;
ALTER TABLE template DROP COLUMN format;
ALTER TABLE sheaf DROP COLUMN format;
ALTER TABLE change DROP COLUMN format;
ALTER TABLE part DROP COLUMN format;
ALTER TABLE tracker DROP COLUMN wakes_at, DROP COLUMN turned_on;
