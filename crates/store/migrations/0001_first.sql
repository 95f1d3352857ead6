-- Every record has a time-ordered UUID (as text) and belongs to a kitchen. Instants are UTC,
-- RFC 3339. What happened in a cook is append-only: triggers refuse changes to it.

CREATE TABLE kitchen (
    id         TEXT PRIMARY KEY NOT NULL,
    name       TEXT NOT NULL,
    time_zone  TEXT NOT NULL,
    rules      TEXT NOT NULL,          -- JSON
    created_at TEXT NOT NULL
) STRICT;

CREATE TABLE cook (
    id         TEXT PRIMARY KEY NOT NULL,
    kitchen_id TEXT NOT NULL REFERENCES kitchen (id),
    title      TEXT NOT NULL,
    created_at TEXT NOT NULL
) STRICT;
CREATE INDEX cook_by_kitchen ON cook (kitchen_id, created_at);

CREATE TABLE piece (
    id         TEXT PRIMARY KEY NOT NULL,
    kitchen_id TEXT NOT NULL REFERENCES kitchen (id),
    cook_id    TEXT NOT NULL REFERENCES cook (id),
    position   INTEGER NOT NULL,
    created_at TEXT NOT NULL,
    UNIQUE (cook_id, position)
) STRICT;

-- Snapshots: what was typed, what was understood, what was answered, by which versions.
CREATE TABLE plan (
    seq        INTEGER PRIMARY KEY AUTOINCREMENT,
    id         TEXT NOT NULL UNIQUE,
    kitchen_id TEXT NOT NULL REFERENCES kitchen (id),
    piece_id   TEXT NOT NULL REFERENCES piece (id),
    created_at TEXT NOT NULL,
    engine     TEXT NOT NULL,
    data       TEXT NOT NULL,
    typed      TEXT NOT NULL,          -- JSON
    request    TEXT NOT NULL,          -- JSON
    result     TEXT NOT NULL           -- JSON
) STRICT;
CREATE INDEX plan_by_piece ON plan (piece_id, seq);

CREATE TABLE event (
    seq         INTEGER PRIMARY KEY AUTOINCREMENT,
    id          TEXT NOT NULL UNIQUE,
    kitchen_id  TEXT NOT NULL REFERENCES kitchen (id),
    cook_id     TEXT NOT NULL REFERENCES cook (id),
    piece_id    TEXT REFERENCES piece (id),
    happened_at TEXT NOT NULL,
    recorded_at TEXT NOT NULL,
    recorded_by TEXT NOT NULL,
    body        TEXT NOT NULL          -- JSON: kind and what belongs to it
) STRICT;
CREATE INDEX event_by_cook ON event (cook_id, seq);

CREATE TABLE reading (
    seq        INTEGER PRIMARY KEY AUTOINCREMENT,
    id         TEXT NOT NULL UNIQUE,
    kitchen_id TEXT NOT NULL REFERENCES kitchen (id),
    cook_id    TEXT NOT NULL REFERENCES cook (id),
    piece_id   TEXT REFERENCES piece (id),
    instrument TEXT NOT NULL CHECK (instrument IN ('bath', 'probe')),
    origin     TEXT NOT NULL,
    at         TEXT NOT NULL,
    celsius    REAL NOT NULL
) STRICT;
CREATE INDEX reading_by_cook ON reading (cook_id, at);

CREATE TRIGGER event_is_never_changed BEFORE UPDATE ON event
BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
CREATE TRIGGER event_is_never_removed BEFORE DELETE ON event
BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
CREATE TRIGGER plan_is_never_changed BEFORE UPDATE ON plan
BEGIN SELECT RAISE(ABORT, 'plans are snapshots'); END;
CREATE TRIGGER plan_is_never_removed BEFORE DELETE ON plan
BEGIN SELECT RAISE(ABORT, 'plans are snapshots'); END;
