-- What was read in each minute, kept beside the readings in their own transaction: a page costs the same however many there
-- are. Of what comes often (reported, or brought in as a log); what was typed stands for itself.
CREATE TABLE reading_minute (
    instrument_id BLOB NOT NULL REFERENCES instrument (id),
    minute        INTEGER NOT NULL,      -- since 1970
    quality       TEXT NOT NULL,
    least_c       REAL NOT NULL,
    mean_c        REAL NOT NULL,
    most_c        REAL NOT NULL,
    last_c        REAL NOT NULL,
    last_at       INTEGER NOT NULL,
    count         INTEGER NOT NULL,
    gap_s         REAL NOT NULL,         -- the longest time without one
    PRIMARY KEY (instrument_id, minute, quality)
) STRICT, WITHOUT ROWID;
CREATE INDEX reading_by_hand ON reading (instrument_id, at) WHERE quality NOT IN ('reported', 'imported');

-- A device's clock: how far it was ahead when its readings were refused for it, and what it was told to be off by.
ALTER TABLE device ADD COLUMN ahead_s REAL;
ALTER TABLE device ADD COLUMN offset_s REAL NOT NULL DEFAULT 0;
-- What it said last that its heater is set to: said again, nothing is written down.
ALTER TABLE device ADD COLUMN set_c REAL;

-- Taps that leave no record of their own identifier: sent again, they were made once.
CREATE TABLE tap (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    at         INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX tap_by_time ON tap (at);

-- Readings of past hours, packed: every one of them still, a few bytes each (columns of differences as JSON, deflated). What
-- was typed stays a row of its own. Of a bath that ended long ago, what each minute said: `thinned`.
CREATE TABLE reading_pack (
    seq           INTEGER PRIMARY KEY AUTOINCREMENT,
    instrument_id BLOB NOT NULL REFERENCES instrument (id),
    hour          INTEGER NOT NULL,      -- since 1970
    count         INTEGER NOT NULL,      -- of readings there were
    thinned       INTEGER NOT NULL,
    body          BLOB NOT NULL
) STRICT;
CREATE UNIQUE INDEX reading_pack_by_hour ON reading_pack (instrument_id, hour);

ALTER TABLE bath ADD COLUMN thinned_at INTEGER;                 -- when its readings were thinned
ALTER TABLE bath ADD COLUMN stays_whole INTEGER NOT NULL DEFAULT 0;  -- it was tried, and would have changed an answer
ALTER TABLE kitchen ADD COLUMN whole_days INTEGER NOT NULL DEFAULT 14;  -- after its end a bath keeps every reading so long

-- A reading is removed only into a pack.
DROP TRIGGER reading_is_never_removed;
CREATE TRIGGER reading_is_never_removed BEFORE DELETE ON reading
WHEN NOT EXISTS (SELECT 1 FROM reading_pack WHERE instrument_id = OLD.instrument_id AND hour = OLD.at / 3600000000)
BEGIN SELECT RAISE(ABORT, 'readings are append-only'); END;
