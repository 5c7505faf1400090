DROP TABLE ticket;
DROP INDEX session_person;
ALTER TABLE session DROP COLUMN device, DROP COLUMN used_at;
-- Whoever has no address, or has left, could not be kept as before.
DELETE FROM session WHERE person_id IN (SELECT person_id FROM account WHERE mail IS NULL);
DELETE FROM account WHERE mail IS NULL;
DROP INDEX account_mail;
ALTER TABLE account ALTER COLUMN mail SET NOT NULL, ADD COLUMN name TEXT NOT NULL DEFAULT '', ADD COLUMN about TEXT NOT NULL DEFAULT '';
UPDATE account SET
    name = coalesce((SELECT body->'person'->>'name' FROM part WHERE tracker_id = 0 AND sort = 'person' AND number = person_id), ''),
    about = coalesce((SELECT body->'person'->>'about' FROM part WHERE tracker_id = 0 AND sort = 'person' AND number = person_id), '');
ALTER TABLE account RENAME COLUMN person_id TO id;
ALTER TABLE account RENAME TO person;
CREATE UNIQUE INDEX person_mail ON person (lower(mail));
DELETE FROM job WHERE tracker_id = 0;
DELETE FROM change WHERE tracker_id = 0;
DELETE FROM part WHERE tracker_id = 0;
DELETE FROM tracker WHERE id = 0;
