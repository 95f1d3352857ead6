-- Records as they are in a kitchen. Identifiers are 16 bytes, instants whole microseconds since 1970, UTC. What is
-- evidence is only ever added to: triggers refuse the rest. Run with the functions id(text), micros(text) and
-- derived(id, text) of src/migrate.rs.

DROP TRIGGER event_is_never_changed;
DROP TRIGGER event_is_never_removed;
DROP TRIGGER plan_is_never_changed;
DROP TRIGGER plan_is_never_removed;
DROP TRIGGER import_is_never_changed;
DROP TRIGGER import_is_never_removed;
DROP INDEX cook_by_kitchen;
DROP INDEX plan_by_piece;
DROP INDEX event_by_cook;
DROP INDEX reading_by_cook;
DROP INDEX own_food_by_kitchen;
DROP INDEX preset_by_kitchen;
ALTER TABLE kitchen RENAME TO old_kitchen;
ALTER TABLE cook RENAME TO old_cook;
ALTER TABLE piece RENAME TO old_piece;
ALTER TABLE plan RENAME TO old_plan;
ALTER TABLE event RENAME TO old_event;
ALTER TABLE reading RENAME TO old_reading;
ALTER TABLE own_food RENAME TO old_own_food;
ALTER TABLE dialled RENAME TO old_dialled;
ALTER TABLE salted_batch RENAME TO old_salted_batch;
ALTER TABLE preset RENAME TO old_preset;
ALTER TABLE import RENAME TO old_import;
ALTER TABLE pulse RENAME TO old_pulse;

CREATE TABLE kitchen (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    name       TEXT NOT NULL,
    time_zone  TEXT NOT NULL,
    rules      TEXT NOT NULL,          -- JSON
    created_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- Every change of what a kitchen has settled or keeps of its own, by whom. The tables that hold what is so now
-- (kitchen, own_food, dialled, salted_batch, preset) are written in the same transaction.
CREATE TABLE change (
    seq        INTEGER PRIMARY KEY AUTOINCREMENT,
    id         BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    at         INTEGER NOT NULL,
    by         TEXT NOT NULL,
    role       TEXT NOT NULL,
    body       TEXT NOT NULL           -- JSON
) STRICT;
CREATE INDEX change_by_kitchen ON change (kitchen_id, at);

CREATE TABLE import (
    id          BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id  BLOB NOT NULL REFERENCES kitchen (id),
    at          INTEGER NOT NULL,
    by          TEXT NOT NULL,
    sha256      TEXT NOT NULL,          -- of the file
    exported_at INTEGER NOT NULL,       -- by the file's own word
    kitchen     TEXT NOT NULL,          -- whose it was, by the file's own word
    left_out    TEXT NOT NULL           -- JSON: what was not taken, and why
) STRICT, WITHOUT ROWID;

-- Where a cook stands follows from its events; what lists ask of that is kept beside it, in the transaction of
-- each event.
CREATE TABLE cook (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    title      TEXT NOT NULL,
    created_at INTEGER NOT NULL,
    created_by TEXT NOT NULL,
    import_id  BLOB REFERENCES import (id),
    standing   TEXT NOT NULL CHECK (standing IN ('under-way', 'finished', 'deleted', 'unreadable'))
) STRICT, WITHOUT ROWID;
CREATE INDEX cook_by_standing ON cook (kitchen_id, standing, created_at DESC, id DESC);

CREATE TABLE piece (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    cook_id    BLOB NOT NULL REFERENCES cook (id),
    position   INTEGER NOT NULL,
    created_at INTEGER NOT NULL,
    UNIQUE (cook_id, position)
) STRICT, WITHOUT ROWID;

-- A vessel run from filling to emptying, and what it was told to be.
CREATE TABLE bath (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    name       TEXT NOT NULL,
    began_at   INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE bath_setting (
    seq        INTEGER PRIMARY KEY AUTOINCREMENT,
    id         BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    bath_id    BLOB NOT NULL REFERENCES bath (id),
    at         INTEGER NOT NULL,
    celsius    REAL NOT NULL,
    by         TEXT NOT NULL
) STRICT;
CREATE INDEX setting_by_bath ON bath_setting (bath_id, at);

-- What goes into a bath together; which bath it goes into. When it was in follows from the events.
CREATE TABLE bag (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    cook_id    BLOB NOT NULL REFERENCES cook (id),
    position   INTEGER NOT NULL,
    bath_id    BLOB NOT NULL REFERENCES bath (id),
    UNIQUE (cook_id, position)
) STRICT, WITHOUT ROWID;
CREATE INDEX bag_by_bath ON bag (bath_id);
CREATE TABLE bag_piece (
    bag_id   BLOB NOT NULL REFERENCES bag (id),
    piece_id BLOB NOT NULL REFERENCES piece (id),
    PRIMARY KEY (bag_id, piece_id)
) STRICT, WITHOUT ROWID;

-- What readings are taken with: in a bath's water, or in a piece. Readings belong to the instrument and its
-- time, and to no cook.
CREATE TABLE instrument (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    name       TEXT NOT NULL,
    bath_id    BLOB NOT NULL REFERENCES bath (id),
    piece_id   BLOB REFERENCES piece (id)
) STRICT, WITHOUT ROWID;
CREATE INDEX instrument_by_bath ON instrument (bath_id);
CREATE TABLE reading (
    instrument_id BLOB NOT NULL REFERENCES instrument (id),
    at            INTEGER NOT NULL,
    celsius       REAL NOT NULL,
    quality       TEXT NOT NULL,
    PRIMARY KEY (instrument_id, at)
) STRICT, WITHOUT ROWID;

-- Snapshots: what was typed, what was understood, what was answered, by which versions.
CREATE TABLE plan (
    seq        INTEGER PRIMARY KEY AUTOINCREMENT,
    id         BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    piece_id   BLOB NOT NULL REFERENCES piece (id),
    created_at INTEGER NOT NULL,
    engine     TEXT NOT NULL,
    data       TEXT NOT NULL,
    typed      TEXT NOT NULL,          -- JSON
    request    TEXT NOT NULL,          -- JSON
    result     TEXT NOT NULL           -- JSON
) STRICT;
CREATE INDEX plan_by_piece ON plan (piece_id, seq);

CREATE TABLE event (
    seq         INTEGER PRIMARY KEY AUTOINCREMENT,
    id          BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id  BLOB NOT NULL REFERENCES kitchen (id),
    cook_id     BLOB NOT NULL REFERENCES cook (id),
    subject     TEXT NOT NULL CHECK (subject IN ('cook', 'piece', 'bag', 'bath')),
    subject_id  BLOB,                   -- absent for the cook itself
    happened_at INTEGER NOT NULL,
    recorded_at INTEGER NOT NULL,
    recorded_by TEXT NOT NULL,
    body        TEXT NOT NULL,          -- JSON: kind and what belongs to it
    import_id   BLOB REFERENCES import (id)
) STRICT;
CREATE INDEX event_by_cook ON event (cook_id, seq);

CREATE TABLE own_food (
    id         TEXT PRIMARY KEY NOT NULL,
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    body       TEXT NOT NULL,          -- JSON
    created_at INTEGER NOT NULL,
    changed_at INTEGER NOT NULL,
    removed_at INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX own_food_by_kitchen ON own_food (kitchen_id, created_at);
CREATE TABLE dialled (
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    food       TEXT NOT NULL,
    celsius    REAL NOT NULL,
    set_at     INTEGER NOT NULL,
    PRIMARY KEY (kitchen_id, food)
) STRICT, WITHOUT ROWID;
CREATE TABLE salted_batch (
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    name       TEXT NOT NULL,          -- in lower case
    salted_at  INTEGER NOT NULL,
    PRIMARY KEY (kitchen_id, name)
) STRICT, WITHOUT ROWID;
CREATE TABLE preset (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    name       TEXT NOT NULL,
    body       TEXT NOT NULL,          -- JSON: the sentence as typed
    created_at INTEGER NOT NULL,
    removed_at INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX preset_by_kitchen ON preset (kitchen_id, created_at);

CREATE TABLE pulse (
    only_one INTEGER PRIMARY KEY NOT NULL CHECK (only_one = 1),
    beats    INTEGER NOT NULL,
    at       INTEGER NOT NULL,          -- of the last mark
    steady_s REAL,
    boot     TEXT
) STRICT;

INSERT INTO kitchen SELECT id(id), name, time_zone, rules, micros(created_at) FROM old_kitchen;
INSERT INTO import SELECT id(id), id(kitchen_id), micros(at), by, sha256, micros(exported_at), kitchen, left_out FROM old_import;
INSERT INTO cook SELECT id(id), id(kitchen_id), title, micros(created_at), 'kitchen', id(import_id), 'under-way' FROM old_cook;
INSERT INTO piece SELECT id(id), id(kitchen_id), id(cook_id), position, micros(created_at) FROM old_piece;
-- Every cook had a bath and a bag of its own.
INSERT INTO bath SELECT derived(id(id), 'bath'), id(kitchen_id), 'bath', micros(created_at) FROM old_cook;
INSERT INTO bag SELECT derived(id(id), 'bag'), id(kitchen_id), id(id), 0, derived(id(id), 'bath') FROM old_cook;
INSERT INTO bag_piece SELECT derived(id(cook_id), 'bag'), id(id) FROM old_piece;
-- A set point was kept among the readings; it is a setting.
INSERT INTO bath_setting (id, kitchen_id, bath_id, at, celsius, by)
    SELECT id(id), id(kitchen_id), derived(id(cook_id), 'bath'), micros(at), celsius, 'kitchen' FROM old_reading
    WHERE instrument = 'bath' AND origin = 'set-point' ORDER BY seq;
INSERT INTO instrument
    SELECT DISTINCT derived(id(cook_id), instrument), id(kitchen_id), instrument, derived(id(cook_id), 'bath'),
        CASE instrument WHEN 'probe' THEN id(piece_id) END
    FROM old_reading WHERE NOT (instrument = 'bath' AND origin = 'set-point');
INSERT INTO reading
    SELECT derived(id(cook_id), instrument), micros(at), celsius, origin FROM old_reading
    WHERE NOT (instrument = 'bath' AND origin = 'set-point') ORDER BY seq
    ON CONFLICT DO NOTHING;
INSERT INTO plan (id, kitchen_id, piece_id, created_at, engine, data, typed, request, result)
    SELECT id(id), id(kitchen_id), id(piece_id), micros(created_at), engine, data, typed, request, result FROM old_plan ORDER BY seq;
INSERT INTO event (id, kitchen_id, cook_id, subject, subject_id, happened_at, recorded_at, recorded_by, body, import_id)
    SELECT id(id), id(kitchen_id), id(cook_id), CASE WHEN piece_id IS NULL THEN 'cook' ELSE 'piece' END, id(piece_id),
        micros(happened_at), micros(recorded_at), recorded_by, body, id(import_id) FROM old_event ORDER BY seq;
INSERT INTO own_food SELECT id, id(kitchen_id), body, micros(created_at), micros(changed_at), micros(removed_at) FROM old_own_food;
INSERT INTO dialled SELECT id(kitchen_id), food, celsius, micros(set_at) FROM old_dialled;
INSERT INTO salted_batch SELECT id(kitchen_id), name, micros(salted_at) FROM old_salted_batch;
INSERT INTO preset SELECT id(id), id(kitchen_id), name, body, micros(created_at), micros(removed_at) FROM old_preset;

DROP TABLE old_pulse;
DROP TABLE old_preset;
DROP TABLE old_salted_batch;
DROP TABLE old_dialled;
DROP TABLE old_own_food;
DROP TABLE old_reading;
DROP TABLE old_event;
DROP TABLE old_plan;
DROP TABLE old_piece;
DROP TABLE old_cook;
DROP TABLE old_import;
DROP TABLE old_kitchen;

CREATE TRIGGER change_is_never_changed BEFORE UPDATE ON change BEGIN SELECT RAISE(ABORT, 'changes are append-only'); END;
CREATE TRIGGER change_is_never_removed BEFORE DELETE ON change BEGIN SELECT RAISE(ABORT, 'changes are append-only'); END;
CREATE TRIGGER import_is_never_changed BEFORE UPDATE ON import BEGIN SELECT RAISE(ABORT, 'imports are append-only'); END;
CREATE TRIGGER import_is_never_removed BEFORE DELETE ON import BEGIN SELECT RAISE(ABORT, 'imports are append-only'); END;
CREATE TRIGGER bath_setting_is_never_changed BEFORE UPDATE ON bath_setting BEGIN SELECT RAISE(ABORT, 'settings are append-only'); END;
CREATE TRIGGER bath_setting_is_never_removed BEFORE DELETE ON bath_setting BEGIN SELECT RAISE(ABORT, 'settings are append-only'); END;
CREATE TRIGGER reading_is_never_changed BEFORE UPDATE ON reading BEGIN SELECT RAISE(ABORT, 'readings are append-only'); END;
CREATE TRIGGER reading_is_never_removed BEFORE DELETE ON reading BEGIN SELECT RAISE(ABORT, 'readings are append-only'); END;
CREATE TRIGGER plan_is_never_changed BEFORE UPDATE ON plan BEGIN SELECT RAISE(ABORT, 'plans are snapshots'); END;
CREATE TRIGGER plan_is_never_removed BEFORE DELETE ON plan BEGIN SELECT RAISE(ABORT, 'plans are snapshots'); END;
CREATE TRIGGER event_is_never_changed BEFORE UPDATE ON event BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
CREATE TRIGGER event_is_never_removed BEFORE DELETE ON event BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
