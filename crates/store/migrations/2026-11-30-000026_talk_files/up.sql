-- A file without a field is one that somebody brought to the talk of a record.
ALTER TABLE file ALTER COLUMN field_id DROP NOT NULL;
