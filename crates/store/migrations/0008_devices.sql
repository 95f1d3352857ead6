-- Devices that report readings over HTTP: what they are called, how they prove that they are they, which bath they lie in.
CREATE TABLE device (
    id             BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id     BLOB NOT NULL REFERENCES kitchen (id),
    name           TEXT NOT NULL,
    thermometer_id BLOB NOT NULL REFERENCES thermometer (id),  -- its checks
    token_sha256   BLOB NOT NULL UNIQUE CHECK (length(token_sha256) = 32),
    created_at     INTEGER NOT NULL,
    created_by     TEXT NOT NULL,
    revoked_at     INTEGER,
    revoked_by     TEXT,
    heard_at       INTEGER               -- when it last reported anything
) STRICT, WITHOUT ROWID;
CREATE INDEX device_by_kitchen ON device (kitchen_id, created_at, id);

-- From when on it lies in which bath; in none where the bath is missing.
CREATE TABLE device_place (
    seq        INTEGER PRIMARY KEY AUTOINCREMENT,
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    device_id  BLOB NOT NULL REFERENCES device (id),
    bath_id    BLOB REFERENCES bath (id),
    piece_id   BLOB REFERENCES piece (id),  -- stuck into a piece that lies in it
    centred    INTEGER NOT NULL,         -- somebody confirmed that its tip is at the thermal centre
    at         INTEGER NOT NULL,
    by         TEXT NOT NULL
) STRICT;
CREATE INDEX place_by_device ON device_place (device_id, at, seq);
CREATE TRIGGER device_place_is_never_changed BEFORE UPDATE ON device_place BEGIN SELECT RAISE(ABORT, 'places are append-only'); END;
CREATE TRIGGER device_place_is_never_removed BEFORE DELETE ON device_place BEGIN SELECT RAISE(ABORT, 'places are append-only'); END;

ALTER TABLE instrument ADD COLUMN centred INTEGER NOT NULL DEFAULT 0;

-- When a reading was written down, and by whom; missing in what was written before.
ALTER TABLE reading ADD COLUMN recorded_at INTEGER;
ALTER TABLE reading ADD COLUMN recorded_by TEXT;

-- What was heard: an alarm is acknowledged once, on any device.
CREATE TABLE heard (
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    alarm      TEXT NOT NULL,
    at         INTEGER NOT NULL,
    by         TEXT NOT NULL,
    PRIMARY KEY (kitchen_id, alarm)
) STRICT, WITHOUT ROWID;
