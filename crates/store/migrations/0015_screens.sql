-- Screens that several share and screens on the wall; names that are tapped, PINs; what inspectors may see; until when a device’s
-- token counts.

-- How far it was proved who it was: named, or (empty) enough.
ALTER TABLE who ADD COLUMN proof TEXT NOT NULL DEFAULT '';

-- What a screen holds is kept hashed; `screen` is by what records call it.
CREATE TABLE enrolled (
    hash       BLOB PRIMARY KEY NOT NULL CHECK (length(hash) = 32),
    id         BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    name       TEXT NOT NULL,
    kind       TEXT NOT NULL,
    screen     BLOB NOT NULL CHECK (length(screen) = 16),
    made_at    INTEGER NOT NULL,
    seen_at    INTEGER NOT NULL,
    ended_at   INTEGER
) STRICT, WITHOUT ROWID;

-- A session on an enrolled screen is a name that was tapped there: it ends by itself when nobody touches the screen.
ALTER TABLE session ADD COLUMN enrolled_id BLOB REFERENCES enrolled (id);
ALTER TABLE session ADD COLUMN touched_at INTEGER;
ALTER TABLE session ADD COLUMN pin_at INTEGER;

-- Whether every name takes a PIN on shared screens.
ALTER TABLE kitchen ADD COLUMN pins_always INTEGER NOT NULL DEFAULT 0;

-- Of when inspectors see what happened.
CREATE TABLE opened (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    from_at    INTEGER NOT NULL,
    until_at   INTEGER NOT NULL,
    closed_at  INTEGER
) STRICT, WITHOUT ROWID;

ALTER TABLE device ADD COLUMN until_at INTEGER;
ALTER TABLE device ADD COLUMN address TEXT;
