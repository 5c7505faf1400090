-- A run may wait for a web address that is called for it: when it is to be called next, how often it was, and whether a server is at it.
-- If that server is killed meanwhile, nobody knows whether the address was reached.
ALTER TABLE run ADD COLUMN calls_at TIMESTAMPTZ;
ALTER TABLE run ADD COLUMN called INTEGER NOT NULL DEFAULT 0;
ALTER TABLE run ADD COLUMN calling BOOLEAN NOT NULL DEFAULT false;
CREATE INDEX run_calls ON run (calls_at) WHERE calls_at IS NOT NULL;
