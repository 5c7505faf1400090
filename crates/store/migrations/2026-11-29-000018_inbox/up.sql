-- What somebody is told of what others did. It is told through its reader's eyes when it is read, and holds no words of records.
CREATE TABLE notice (
    id         BIGINT GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    person_id  INTEGER NOT NULL,
    at         TIMESTAMPTZ NOT NULL,
    tracker_id INTEGER,
    body       JSON NOT NULL,
    read_at    TIMESTAMPTZ
);
CREATE INDEX notice_of_person ON notice (person_id, id);
CREATE INDEX notice_unread ON notice (person_id) WHERE read_at IS NULL;

-- Which of it comes by mail, too; nothing said: as it is by itself.
CREATE TABLE inbox_wish (
    person_id  INTEGER NOT NULL,
    word       TEXT NOT NULL,
    by_mail    BOOLEAN NOT NULL,
    PRIMARY KEY (person_id, word)
);
