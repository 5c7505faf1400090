-- The team is an aggregate like a tracker: its log and its parts are kept in the same tables, under number 0, which no tracker has.
INSERT INTO tracker (id, seq) VALUES (0, 0);
INSERT INTO part (tracker_id, sort, number, body, format) VALUES (0, 'team', 0, '{"team":{"name":""}}', 2);
INSERT INTO part (tracker_id, sort, number, body, format)
    SELECT 0, 'person', id, json_build_object('person', json_build_object(
        'id', id, 'name', name, 'mail', mail, 'about', about, 'owner', id = (SELECT min(id) FROM person))), 2
    FROM person;

-- What signing in needs, and nothing else: who somebody is says the team.
ALTER TABLE person RENAME TO account;
ALTER TABLE account RENAME COLUMN id TO person_id;
ALTER TABLE account DROP COLUMN name, DROP COLUMN about, ALTER COLUMN mail DROP NOT NULL;
DROP INDEX person_mail;
-- Of those who have left, and of those with no address, there is none here.
CREATE UNIQUE INDEX account_mail ON account (lower(mail));

ALTER TABLE session ADD COLUMN used_at timestamptz, ADD COLUMN device text NOT NULL DEFAULT '';
CREATE INDEX session_person ON session (person_id);

-- One-time ways in: invitations, forgotten passwords, codes, changes of address. Of each only the hash is kept.
CREATE TABLE ticket (
    token_hash  BYTEA PRIMARY KEY,
    person_id   INTEGER NOT NULL REFERENCES account,
    -- invitation, password, code, new address, old address
    purpose     TEXT NOT NULL,
    -- What it is about: of a change of address, the new one.
    about       TEXT NOT NULL DEFAULT '',
    made_at     TIMESTAMPTZ NOT NULL,
    expires_at  TIMESTAMPTZ NOT NULL,
    -- When its address was first opened.
    opened_at   TIMESTAMPTZ,
    used_at     TIMESTAMPTZ,
    -- Wrong codes that were typed for it.
    tries       INTEGER NOT NULL DEFAULT 0
);
CREATE INDEX ticket_person ON ticket (person_id, purpose);
CREATE INDEX ticket_expires ON ticket (expires_at);
