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

-- Taps that leave no record of their own identifier: sent again, they were made once.
CREATE TABLE tap (
    id         BLOB PRIMARY KEY NOT NULL CHECK (length(id) = 16),
    kitchen_id BLOB NOT NULL REFERENCES kitchen (id),
    at         INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX tap_by_time ON tap (at);
