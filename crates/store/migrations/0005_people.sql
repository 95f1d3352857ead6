-- Who works in a kitchen, as records name them; and how it likes to work. A person who leaves stays in what they did.
CREATE TABLE person (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    name       TEXT NOT NULL,
    initials   TEXT NOT NULL,
    created_at INTEGER NOT NULL,
    left_at    INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX person_by_kitchen ON person (kitchen_id, created_at, id);

ALTER TABLE kitchen ADD COLUMN habits TEXT NOT NULL DEFAULT '{}';   -- JSON
