DROP INDEX record_gone;
DROP TABLE emptied;
ALTER TABLE upload DROP COLUMN got, DROP COLUMN size;
DROP TABLE file_text;
DROP INDEX file_let_go, file_unread;
ALTER TABLE file DROP COLUMN let_go_at, DROP COLUMN text_due, DROP COLUMN text_state;
