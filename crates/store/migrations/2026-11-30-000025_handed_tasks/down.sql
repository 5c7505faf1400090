ALTER TABLE task DROP COLUMN handed_with, DROP COLUMN handed_from, DROP COLUMN handed_to;
