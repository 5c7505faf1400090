-- Areas are parts of the team; until now each tracker held the name of its own.
INSERT INTO part (tracker_id, sort, number, body, format)
SELECT 0, 'area', row_number() OVER (ORDER BY area.name),
       json_build_object('area', json_build_object('id', row_number() OVER (ORDER BY area.name), 'name', area.name, 'trackers', area.trackers)), 2
FROM (
    SELECT btrim(body::json -> 'tracker' ->> 'area') AS name, json_agg(tracker_id ORDER BY tracker_id) AS trackers
    FROM part WHERE sort = 'tracker' AND tracker_id > 0
    GROUP BY 1
) area
WHERE area.name IS NOT NULL AND area.name <> '';

-- What somebody keeps on top at home, for themselves alone.
CREATE TABLE pin (
    person_id   INTEGER NOT NULL,
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    PRIMARY KEY (person_id, tracker_id)
);

-- What was handed over when somebody left, so that taking that back takes back all of it.
CREATE TABLE handed (
    team_seq    BIGINT NOT NULL,
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    seq         BIGINT NOT NULL,
    PRIMARY KEY (team_seq, tracker_id)
);

-- Passkeys: what a device of somebody's proves itself with.
CREATE TABLE passkey (
    credential_id  BYTEA PRIMARY KEY,
    person_id      INTEGER NOT NULL,
    name           TEXT NOT NULL,
    body           JSON NOT NULL,
    made_at        TIMESTAMPTZ NOT NULL,
    used_at        TIMESTAMPTZ
);
CREATE INDEX passkey_person ON passkey (person_id);

-- What was asked of a device and is not answered yet; used once.
CREATE TABLE passkey_asked (
    token_hash  BYTEA PRIMARY KEY,
    -- Who adds one; nobody: somebody signs in.
    person_id   INTEGER,
    body        JSON NOT NULL,
    expires_at  TIMESTAMPTZ NOT NULL
);
