-- Templates that the team published. The body is a whole tracker, packed.
CREATE TABLE template (
    id            INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    title         TEXT NOT NULL,
    description   TEXT NOT NULL,
    icon          TEXT NOT NULL,
    hue           TEXT NOT NULL,
    published_by  INTEGER NOT NULL REFERENCES person,
    published_at  TIMESTAMPTZ NOT NULL,
    body          JSONB NOT NULL
);

-- When somebody last looked at a tracker, and how far its log went then.
CREATE TABLE visit (
    person_id   INTEGER NOT NULL REFERENCES person,
    tracker_id  INTEGER NOT NULL REFERENCES tracker ON DELETE CASCADE,
    at          TIMESTAMPTZ NOT NULL,
    PRIMARY KEY (person_id, tracker_id)
);
