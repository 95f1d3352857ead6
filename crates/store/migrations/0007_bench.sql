-- The bath bench: the vessels and thermometers of a kitchen, how those were checked, the vessel a bath runs in and what
-- was done to its water.
CREATE TABLE vessel (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    body       TEXT NOT NULL,          -- JSON
    created_at INTEGER NOT NULL,
    removed_at INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX vessel_by_kitchen ON vessel (kitchen_id, created_at, id);

CREATE TABLE thermometer (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    name       TEXT NOT NULL,
    created_at INTEGER NOT NULL,
    removed_at INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX thermometer_by_kitchen ON thermometer (kitchen_id, created_at, id);
CREATE TABLE thermometer_check (
    seq            INTEGER PRIMARY KEY AUTOINCREMENT,
    id             BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id     BLOB NOT NULL REFERENCES kitchen (id),
    thermometer_id BLOB NOT NULL REFERENCES thermometer (id),
    at             INTEGER NOT NULL,
    against        TEXT NOT NULL,
    read_c         REAL NOT NULL,
    true_c         REAL NOT NULL,
    by             TEXT NOT NULL
) STRICT;
CREATE INDEX check_by_thermometer ON thermometer_check (thermometer_id, at);

ALTER TABLE bath ADD COLUMN vessel_id BLOB;           -- none where nobody named one
ALTER TABLE bath ADD COLUMN vessel TEXT;              -- JSON: as it was when it was filled
ALTER TABLE bath ADD COLUMN ended_at INTEGER;         -- kept beside, in the transaction of its events
CREATE INDEX bath_running ON bath (kitchen_id, ended_at, began_at) WHERE vessel_id IS NOT NULL;
ALTER TABLE instrument ADD COLUMN thermometer_id BLOB REFERENCES thermometer (id);

CREATE TABLE water_event (
    seq         INTEGER PRIMARY KEY AUTOINCREMENT,
    id          BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id  BLOB NOT NULL REFERENCES kitchen (id),
    bath_id     BLOB NOT NULL REFERENCES bath (id),
    happened_at INTEGER NOT NULL,
    recorded_at INTEGER NOT NULL,
    recorded_by TEXT NOT NULL,
    body        TEXT NOT NULL           -- JSON: kind and what belongs to it
) STRICT;
CREATE INDEX water_event_by_bath ON water_event (bath_id, seq);

CREATE TRIGGER thermometer_check_is_never_changed BEFORE UPDATE ON thermometer_check BEGIN SELECT RAISE(ABORT, 'checks are append-only'); END;
CREATE TRIGGER thermometer_check_is_never_removed BEFORE DELETE ON thermometer_check BEGIN SELECT RAISE(ABORT, 'checks are append-only'); END;
CREATE TRIGGER water_event_is_never_changed BEFORE UPDATE ON water_event BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
CREATE TRIGGER water_event_is_never_removed BEFORE DELETE ON water_event BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
