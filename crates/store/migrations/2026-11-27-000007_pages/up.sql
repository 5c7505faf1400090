-- Shared pages: their public addresses, who came in by a passcode or a mailed code, and when they were last looked at.
CREATE TABLE page_link (
    link        TEXT PRIMARY KEY,
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    page_id     INTEGER NOT NULL
);
CREATE INDEX page_link_page ON page_link (tracker_id, page_id);

CREATE TABLE page_session (
    token_hash  BYTEA PRIMARY KEY,
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    page_id     INTEGER NOT NULL,
    -- Which of those whom the page names; nobody's: whoever knew the passcode.
    guest_id    INTEGER,
    -- The hash of what let them in: another passcode ends it.
    let_in_by   BYTEA NOT NULL,
    expires_at  TIMESTAMPTZ NOT NULL
);
CREATE INDEX page_session_page ON page_session (tracker_id, page_id);
CREATE INDEX page_session_expires ON page_session (expires_at);

-- The last code that was mailed to each; of it only the hash is kept.
CREATE TABLE page_code (
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    page_id     INTEGER NOT NULL,
    guest_id    INTEGER NOT NULL,
    code_hash   BYTEA NOT NULL,
    expires_at  TIMESTAMPTZ NOT NULL,
    tries       INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (tracker_id, page_id, guest_id)
);

CREATE TABLE page_visit (
    tracker_id  INTEGER NOT NULL REFERENCES tracker,
    page_id     INTEGER NOT NULL,
    -- 0: nobody in particular.
    guest_id    INTEGER NOT NULL,
    visits      BIGINT NOT NULL,
    last_at     TIMESTAMPTZ NOT NULL,
    PRIMARY KEY (tracker_id, page_id, guest_id)
);
