-- Who may what, who proved who they are, and what happened at the door. None of it leaves in an export; a copy of the database
-- holds passwords and sessions hashed.
ALTER TABLE person ADD COLUMN role TEXT NOT NULL DEFAULT 'cook';

CREATE TABLE secret (
    person_id BLOB NOT NULL REFERENCES person (id),
    kind      TEXT NOT NULL,
    hash      TEXT NOT NULL,           -- as the Password Hashing Competition's strings are written
    set_at    INTEGER NOT NULL,
    PRIMARY KEY (person_id, kind)
) STRICT, WITHOUT ROWID;

-- The identifier that a browser holds is kept hashed; `id` is what the session is called on the pages.
CREATE TABLE session (
    hash       BLOB PRIMARY KEY NOT NULL CHECK (length(hash) = 32),
    id         BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    person_id  BLOB NOT NULL REFERENCES person (id),
    screen     BLOB CHECK (length(screen) = 16),
    agent      TEXT NOT NULL,
    made_at    INTEGER NOT NULL,
    seen_at    INTEGER NOT NULL,
    ended_at   INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX session_by_person ON session (person_id) WHERE ended_at IS NULL;

-- Codes by which somebody chooses a password, once: for a person, or (without one) for the first owner.
CREATE TABLE code (
    hash       BLOB PRIMARY KEY NOT NULL CHECK (length(hash) = 32),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    person_id  BLOB REFERENCES person (id),
    until      INTEGER NOT NULL,
    used_at    INTEGER
) STRICT, WITHOUT ROWID;

-- How often in a row whoever it was failed: it counts over a restart.
CREATE TABLE failed (
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    subject    TEXT NOT NULL,
    times      INTEGER NOT NULL,
    last_at    INTEGER NOT NULL,
    PRIMARY KEY (kitchen_id, subject)
) STRICT, WITHOUT ROWID;

CREATE TABLE trail (
    seq        INTEGER PRIMARY KEY AUTOINCREMENT,
    id         BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    at         INTEGER NOT NULL,
    who_id     BLOB NOT NULL REFERENCES who (id),
    role       TEXT NOT NULL,
    body       TEXT NOT NULL           -- JSON
) STRICT;
CREATE INDEX trail_by_kitchen ON trail (kitchen_id, seq);
CREATE TRIGGER trail_is_never_changed BEFORE UPDATE ON trail
BEGIN SELECT RAISE(ABORT, 'what happened at the door is never changed'); END;
CREATE TRIGGER trail_is_never_removed BEFORE DELETE ON trail
BEGIN SELECT RAISE(ABORT, 'what happened at the door is never removed'); END;
