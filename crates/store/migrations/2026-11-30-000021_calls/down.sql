DROP INDEX run_calls;
ALTER TABLE run DROP COLUMN calls_at, DROP COLUMN called, DROP COLUMN calling;
