-- A run may wait: until when at the latest, for what, and with what it goes on. One of many records together is of none.
ALTER TABLE run ALTER COLUMN record_id DROP NOT NULL;
ALTER TABLE run ADD COLUMN waits_until TIMESTAMPTZ;
ALTER TABLE run ADD COLUMN paused JSON;
-- The tracker's change at which it was last asked whether what it waits for holds; none: it waits for time alone.
ALTER TABLE run ADD COLUMN asked_at BIGINT;
CREATE INDEX run_waits ON run (waits_until) WHERE waits_until IS NOT NULL;
CREATE INDEX run_asks ON run (tracker_id, asked_at) WHERE waits_until IS NOT NULL AND asked_at IS NOT NULL;

-- How far the times of automations have come; the time that is going on, and the record from which it goes on.
CREATE TABLE occasion (
    tracker_id     INTEGER NOT NULL REFERENCES tracker,
    automation_id  INTEGER NOT NULL,
    upto           TIMESTAMPTZ NOT NULL,
    going_at       TIMESTAMPTZ,
    next_record    INTEGER,
    PRIMARY KEY (tracker_id, automation_id)
);
