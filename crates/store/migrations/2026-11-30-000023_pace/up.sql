-- How many messages an automation has sent within an hour: to one reader, and ('') to all.
CREATE TABLE pace (
    tracker_id integer NOT NULL,
    automation_id integer NOT NULL,
    reader text NOT NULL,
    hour timestamptz NOT NULL,
    sent integer NOT NULL,
    -- Whether somebody was told that more wait.
    told boolean NOT NULL DEFAULT false,
    PRIMARY KEY (tracker_id, automation_id, reader, hour)
);
