-- Where a record came from, when it was not written down here: which file, by whom and when. What came with an
-- import says so for ever.
CREATE TABLE import (
    id          TEXT PRIMARY KEY NOT NULL,
    kitchen_id  TEXT NOT NULL REFERENCES kitchen (id),
    at          TEXT NOT NULL,
    by          TEXT NOT NULL,
    sha256      TEXT NOT NULL,          -- of the file
    exported_at TEXT NOT NULL,          -- by the file's own word
    kitchen     TEXT NOT NULL,          -- whose it was, by the file's own word
    left_out    TEXT NOT NULL           -- JSON: what was not taken, and why
) STRICT;
CREATE TRIGGER import_is_never_changed BEFORE UPDATE ON import
BEGIN SELECT RAISE(ABORT, 'imports are append-only'); END;
CREATE TRIGGER import_is_never_removed BEFORE DELETE ON import
BEGIN SELECT RAISE(ABORT, 'imports are append-only'); END;

ALTER TABLE cook ADD COLUMN import_id TEXT REFERENCES import (id);
ALTER TABLE event ADD COLUMN import_id TEXT REFERENCES import (id);

-- One line, written again and again: that it can be is what the health page reports, and what it holds tells
-- whether the machine's clock was set while the program was off.
CREATE TABLE pulse (
    only_one INTEGER PRIMARY KEY NOT NULL CHECK (only_one = 1),
    beats    INTEGER NOT NULL,
    at       TEXT NOT NULL,             -- of the last mark
    steady_s REAL,                      -- the clock that is never set, and the start of the machine it counts from
    boot     TEXT
) STRICT;
