-- Refrigerators, freezers and the room: what is kept in them, and what is read there. An instrument measures a bath (its water,
-- or a core in it) or one of these. Cooks that were chilled and are neither eaten nor thrown away are kept: read off their
-- events after this, by src/migrate.rs.
CREATE TABLE storage (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    name       TEXT NOT NULL,
    kind       TEXT NOT NULL,
    created_at INTEGER NOT NULL,
    removed_at INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX storage_by_kitchen ON storage (kitchen_id, created_at, id);

DROP INDEX instrument_by_bath;
ALTER TABLE instrument ADD COLUMN in_bath BLOB REFERENCES bath (id);
UPDATE instrument SET in_bath = bath_id;
ALTER TABLE instrument DROP COLUMN bath_id;
ALTER TABLE instrument RENAME COLUMN in_bath TO bath_id;
ALTER TABLE instrument ADD COLUMN storage_id BLOB REFERENCES storage (id);
CREATE INDEX instrument_by_bath ON instrument (bath_id);
CREATE INDEX instrument_by_storage ON instrument (storage_id) WHERE storage_id IS NOT NULL;
CREATE TRIGGER instrument_measures_one_thing BEFORE INSERT ON instrument WHEN (NEW.bath_id IS NULL) = (NEW.storage_id IS NULL)
BEGIN SELECT RAISE(ABORT, 'an instrument measures a bath or a storage'); END;

ALTER TABLE device_place ADD COLUMN storage_id BLOB REFERENCES storage (id);
