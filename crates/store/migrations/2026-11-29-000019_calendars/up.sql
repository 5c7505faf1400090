-- Addresses at which other calendars look at a view by themselves, as its person sees it. Of each only the hash of its token is
-- known: whoever has lost theirs makes another.
CREATE TABLE calendar_address (
    id          BIGINT GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    token_hash  BYTEA NOT NULL UNIQUE,
    person_id   INTEGER NOT NULL,
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    view_id     INTEGER NOT NULL,
    made_at     TIMESTAMPTZ NOT NULL,
    looked_at   TIMESTAMPTZ,
    UNIQUE (person_id, tracker_id, view_id)
);
