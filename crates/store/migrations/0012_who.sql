-- Who did something stands apart, named as of then: a person of the kitchen, or nobody in particular, on a screen where one is
-- known. Lists of kinds that grow stand in the program, which refuses what it does not know; no table holds them any more. A
-- cook is a bag; guests are the kitchen's. Run with the function derived(id, text) of src/migrate.rs.

CREATE TABLE who (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),  -- derived from all of it
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    person_id  BLOB,                     -- may be one of another kitchen's, from a file
    name       TEXT NOT NULL,
    screen     BLOB
) STRICT, WITHOUT ROWID;

CREATE TEMP TABLE named AS
    SELECT DISTINCT kitchen_id AS kitchen, recorded_by AS name FROM event
    UNION SELECT kitchen_id, by FROM bath_setting
    UNION SELECT kitchen_id, recorded_by FROM water_event
    UNION SELECT kitchen_id, by FROM change
    UNION SELECT kitchen_id, by FROM import
    UNION SELECT kitchen_id, by FROM thermometer_check
    UNION SELECT kitchen_id, by FROM device_place
    UNION SELECT kitchen_id, by FROM heard
    UNION SELECT kitchen_id, created_by FROM device
    UNION SELECT kitchen_id, revoked_by FROM device WHERE revoked_by IS NOT NULL
    UNION SELECT kitchen_id, created_by FROM cook
    UNION SELECT i.kitchen_id, r.recorded_by FROM reading r JOIN instrument i ON i.id = r.instrument_id
        WHERE r.recorded_by IS NOT NULL;
CREATE TEMP TABLE named_who AS
    SELECT n.kitchen, n.name, p.person,
        derived(n.kitchen, 'who' || char(31) || coalesce(hex(p.person), '') || char(31) || n.name || char(31)) AS who
    FROM temp.named n LEFT JOIN (
        -- Of two people of one name nobody can tell which it was.
        SELECT kitchen_id, name, max(id) AS person FROM person GROUP BY kitchen_id, name HAVING count(*) = 1
    ) p ON p.kitchen_id = n.kitchen AND p.name = n.name;
CREATE INDEX temp.named_who_by_name ON named_who (kitchen, name);
INSERT INTO who (id, kitchen_id, person_id, name) SELECT who, kitchen, person, name FROM temp.named_who;

DROP TRIGGER event_is_never_changed;
DROP TRIGGER event_is_never_removed;
DROP TRIGGER bath_setting_is_never_changed;
DROP TRIGGER bath_setting_is_never_removed;
DROP TRIGGER water_event_is_never_changed;
DROP TRIGGER water_event_is_never_removed;
DROP TRIGGER change_is_never_changed;
DROP TRIGGER change_is_never_removed;
DROP TRIGGER thermometer_check_is_never_changed;
DROP TRIGGER thermometer_check_is_never_removed;
DROP TRIGGER device_place_is_never_changed;
DROP TRIGGER device_place_is_never_removed;
DROP TRIGGER import_is_never_changed;
DROP TRIGGER reading_is_never_changed;

CREATE TABLE new_event (
    seq         INTEGER PRIMARY KEY AUTOINCREMENT,
    id          BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id  BLOB NOT NULL REFERENCES kitchen (id),
    cook_id     BLOB NOT NULL REFERENCES cook (id),
    subject     TEXT NOT NULL,
    subject_id  BLOB,                   -- absent for the cook itself
    happened_at INTEGER NOT NULL,
    recorded_at INTEGER NOT NULL,
    who_id      BLOB NOT NULL REFERENCES who (id),
    body        TEXT NOT NULL,          -- JSON: kind and what belongs to it
    import_id   BLOB REFERENCES import (id)
) STRICT;
INSERT INTO new_event SELECT e.seq, e.id, e.kitchen_id, e.cook_id, e.subject, e.subject_id, e.happened_at, e.recorded_at, n.who, e.body, e.import_id
    FROM event e JOIN temp.named_who n ON n.kitchen = e.kitchen_id AND n.name = e.recorded_by;
DROP TABLE event;
ALTER TABLE new_event RENAME TO event;
CREATE INDEX event_by_cook ON event (cook_id, seq);

CREATE TABLE new_setting (
    seq        INTEGER PRIMARY KEY AUTOINCREMENT,
    id         BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    bath_id    BLOB NOT NULL REFERENCES bath (id),
    at         INTEGER NOT NULL,
    celsius    REAL NOT NULL,
    who_id     BLOB NOT NULL REFERENCES who (id)
) STRICT;
INSERT INTO new_setting SELECT s.seq, s.id, s.kitchen_id, s.bath_id, s.at, s.celsius, n.who
    FROM bath_setting s JOIN temp.named_who n ON n.kitchen = s.kitchen_id AND n.name = s.by;
DROP TABLE bath_setting;
ALTER TABLE new_setting RENAME TO bath_setting;
CREATE INDEX setting_by_bath ON bath_setting (bath_id, at);

CREATE TABLE new_water_event (
    seq         INTEGER PRIMARY KEY AUTOINCREMENT,
    id          BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id  BLOB NOT NULL REFERENCES kitchen (id),
    bath_id     BLOB NOT NULL REFERENCES bath (id),
    happened_at INTEGER NOT NULL,
    recorded_at INTEGER NOT NULL,
    who_id      BLOB NOT NULL REFERENCES who (id),
    body        TEXT NOT NULL           -- JSON: kind and what belongs to it
) STRICT;
INSERT INTO new_water_event SELECT w.seq, w.id, w.kitchen_id, w.bath_id, w.happened_at, w.recorded_at, n.who, w.body
    FROM water_event w JOIN temp.named_who n ON n.kitchen = w.kitchen_id AND n.name = w.recorded_by;
DROP TABLE water_event;
ALTER TABLE new_water_event RENAME TO water_event;
CREATE INDEX water_event_by_bath ON water_event (bath_id, seq);

CREATE TABLE new_change (
    seq        INTEGER PRIMARY KEY AUTOINCREMENT,
    id         BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    at         INTEGER NOT NULL,
    who_id     BLOB NOT NULL REFERENCES who (id),
    role       TEXT NOT NULL,
    body       TEXT NOT NULL           -- JSON
) STRICT;
INSERT INTO new_change SELECT c.seq, c.id, c.kitchen_id, c.at, n.who, c.role, c.body
    FROM change c JOIN temp.named_who n ON n.kitchen = c.kitchen_id AND n.name = c.by;
DROP TABLE change;
ALTER TABLE new_change RENAME TO change;
CREATE INDEX change_by_kitchen ON change (kitchen_id, at);

CREATE TABLE new_check (
    seq            INTEGER PRIMARY KEY AUTOINCREMENT,
    id             BLOB NOT NULL UNIQUE CHECK (length(id) = 16),
    kitchen_id     BLOB NOT NULL REFERENCES kitchen (id),
    thermometer_id BLOB NOT NULL REFERENCES thermometer (id),
    at             INTEGER NOT NULL,
    against        TEXT NOT NULL,
    read_c         REAL NOT NULL,
    true_c         REAL NOT NULL,
    who_id         BLOB NOT NULL REFERENCES who (id)
) STRICT;
INSERT INTO new_check SELECT c.seq, c.id, c.kitchen_id, c.thermometer_id, c.at, c.against, c.read_c, c.true_c, n.who
    FROM thermometer_check c JOIN temp.named_who n ON n.kitchen = c.kitchen_id AND n.name = c.by;
DROP TABLE thermometer_check;
ALTER TABLE new_check RENAME TO thermometer_check;
CREATE INDEX check_by_thermometer ON thermometer_check (thermometer_id, at);

CREATE TABLE new_place (
    seq        INTEGER PRIMARY KEY AUTOINCREMENT,
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    device_id  BLOB NOT NULL REFERENCES device (id),
    bath_id    BLOB REFERENCES bath (id),
    piece_id   BLOB REFERENCES piece (id),  -- stuck into a piece that lies in it
    centred    INTEGER NOT NULL,         -- somebody confirmed that its tip is at the thermal centre
    at         INTEGER NOT NULL,
    who_id     BLOB NOT NULL REFERENCES who (id)
) STRICT;
INSERT INTO new_place SELECT p.seq, p.kitchen_id, p.device_id, p.bath_id, p.piece_id, p.centred, p.at, n.who
    FROM device_place p JOIN temp.named_who n ON n.kitchen = p.kitchen_id AND n.name = p.by;
DROP TABLE device_place;
ALTER TABLE new_place RENAME TO device_place;
CREATE INDEX place_by_device ON device_place (device_id, at, seq);

CREATE TABLE new_heard (
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    alarm      TEXT NOT NULL,
    at         INTEGER NOT NULL,
    who_id     BLOB NOT NULL REFERENCES who (id),
    PRIMARY KEY (kitchen_id, alarm)
) STRICT, WITHOUT ROWID;
INSERT INTO new_heard SELECT h.kitchen_id, h.alarm, h.at, n.who
    FROM heard h JOIN temp.named_who n ON n.kitchen = h.kitchen_id AND n.name = h.by;
DROP TABLE heard;
ALTER TABLE new_heard RENAME TO heard;

-- Tables others refer to keep their place, and change column by column.
ALTER TABLE import ADD COLUMN who_id BLOB REFERENCES who (id);
UPDATE import SET who_id = (SELECT n.who FROM temp.named_who n WHERE n.kitchen = kitchen_id AND n.name = by);
ALTER TABLE import DROP COLUMN by;
ALTER TABLE device ADD COLUMN who_id BLOB REFERENCES who (id);
ALTER TABLE device ADD COLUMN revoked_who_id BLOB REFERENCES who (id);
UPDATE device SET who_id = (SELECT n.who FROM temp.named_who n WHERE n.kitchen = kitchen_id AND n.name = created_by),
    revoked_who_id = (SELECT n.who FROM temp.named_who n WHERE n.kitchen = kitchen_id AND n.name = revoked_by);
ALTER TABLE device DROP COLUMN created_by;
ALTER TABLE device DROP COLUMN revoked_by;
ALTER TABLE reading ADD COLUMN who_id BLOB REFERENCES who (id);
UPDATE reading SET who_id = (SELECT n.who FROM instrument i JOIN temp.named_who n ON n.kitchen = i.kitchen_id
    WHERE i.id = instrument_id AND n.name = recorded_by) WHERE recorded_by IS NOT NULL;
ALTER TABLE reading DROP COLUMN recorded_by;

DROP INDEX cook_by_standing;
DROP INDEX cook_by_level;
DROP INDEX cook_by_food;
CREATE TEMP TABLE stood AS SELECT id, standing, level FROM cook;
ALTER TABLE cook DROP COLUMN standing;
ALTER TABLE cook DROP COLUMN level;
ALTER TABLE cook ADD COLUMN standing TEXT NOT NULL DEFAULT 'under-way';
ALTER TABLE cook ADD COLUMN level TEXT;
ALTER TABLE cook ADD COLUMN together BLOB;  -- cooks begun together share their plan's wishes
ALTER TABLE cook ADD COLUMN who_id BLOB REFERENCES who (id);
UPDATE cook SET (standing, level) = (SELECT s.standing, s.level FROM temp.stood s WHERE s.id = cook.id),
    who_id = (SELECT n.who FROM temp.named_who n WHERE n.kitchen = kitchen_id AND n.name = created_by);
ALTER TABLE cook DROP COLUMN created_by;
CREATE INDEX cook_by_standing ON cook (kitchen_id, standing, created_at DESC, id DESC);
CREATE INDEX cook_by_level ON cook (kitchen_id, standing, level, created_at DESC, id DESC);
CREATE INDEX cook_by_food ON cook (kitchen_id, food, standing, ended_at DESC, id DESC);
CREATE INDEX cook_by_together ON cook (together) WHERE together IS NOT NULL;

-- A cook is a bag: the piece in it is the cook's. (Those with more are parted after this, by src/migrate.rs.)
ALTER TABLE bag ADD COLUMN letter TEXT NOT NULL DEFAULT '';

-- Whom a kitchen cooks for. One who is removed leaves a number, whether at risk, and what they must not eat.
CREATE TABLE guest (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    number     INTEGER NOT NULL,
    body       TEXT NOT NULL,           -- JSON
    created_at INTEGER NOT NULL,
    removed_at INTEGER,
    UNIQUE (kitchen_id, number)
) STRICT, WITHOUT ROWID;

DROP TABLE temp.named;
DROP TABLE temp.named_who;
DROP TABLE temp.stood;

CREATE TRIGGER who_is_never_changed BEFORE UPDATE ON who BEGIN SELECT RAISE(ABORT, 'who did something is append-only'); END;
CREATE TRIGGER who_is_never_removed BEFORE DELETE ON who BEGIN SELECT RAISE(ABORT, 'who did something is append-only'); END;
CREATE TRIGGER event_is_never_changed BEFORE UPDATE ON event BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
CREATE TRIGGER event_is_never_removed BEFORE DELETE ON event BEGIN SELECT RAISE(ABORT, 'events are append-only'); END;
CREATE TRIGGER bath_setting_is_never_changed BEFORE UPDATE ON bath_setting BEGIN SELECT RAISE(ABORT, 'settings are append-only'); END;
CREATE TRIGGER bath_setting_is_never_removed BEFORE DELETE ON bath_setting BEGIN SELECT RAISE(ABORT, 'settings are append-only'); END;
CREATE TRIGGER water_event_is_never_changed BEFORE UPDATE ON water_event BEGIN SELECT RAISE(ABORT, 'water events are append-only'); END;
CREATE TRIGGER water_event_is_never_removed BEFORE DELETE ON water_event BEGIN SELECT RAISE(ABORT, 'water events are append-only'); END;
CREATE TRIGGER change_is_never_changed BEFORE UPDATE ON change BEGIN SELECT RAISE(ABORT, 'changes are append-only'); END;
CREATE TRIGGER change_is_never_removed BEFORE DELETE ON change BEGIN SELECT RAISE(ABORT, 'changes are append-only'); END;
CREATE TRIGGER thermometer_check_is_never_changed BEFORE UPDATE ON thermometer_check BEGIN SELECT RAISE(ABORT, 'checks are append-only'); END;
CREATE TRIGGER thermometer_check_is_never_removed BEFORE DELETE ON thermometer_check BEGIN SELECT RAISE(ABORT, 'checks are append-only'); END;
CREATE TRIGGER device_place_is_never_changed BEFORE UPDATE ON device_place BEGIN SELECT RAISE(ABORT, 'places of devices are append-only'); END;
CREATE TRIGGER device_place_is_never_removed BEFORE DELETE ON device_place BEGIN SELECT RAISE(ABORT, 'places of devices are append-only'); END;
CREATE TRIGGER import_is_never_changed BEFORE UPDATE ON import BEGIN SELECT RAISE(ABORT, 'imports are append-only'); END;
CREATE TRIGGER reading_is_never_changed BEFORE UPDATE ON reading BEGIN SELECT RAISE(ABORT, 'readings are append-only'); END;
