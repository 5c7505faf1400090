-- By which link in a message somebody outside can say that they want no more of them. Each try to send gives the message a link of its
-- own, of which only the hash is known; what they said is the team's, and stands in its log.
CREATE TABLE opt_out_token (
    token_hash    BYTEA PRIMARY KEY,
    address       TEXT NOT NULL,
    -- What such a message says first.
    subject       TEXT NOT NULL,
    tracker_id    INTEGER,
    -- The automation that wrote it, or the form that sent a copy.
    part_id       INTEGER,
    made_at       TIMESTAMPTZ NOT NULL
);
