-- What a kitchen keeps of its own: foods copied from the catalogue and changed, by food the bath it has found
-- right, batches it has salted, and plans kept under a name. Plans hold copies, so a change here changes no
-- record.

CREATE TABLE own_food (
    id         TEXT PRIMARY KEY NOT NULL,
    kitchen_id TEXT NOT NULL REFERENCES kitchen (id),
    body       TEXT NOT NULL,          -- JSON
    created_at TEXT NOT NULL,
    changed_at TEXT NOT NULL,
    removed_at TEXT
) STRICT;
CREATE INDEX own_food_by_kitchen ON own_food (kitchen_id, created_at);

CREATE TABLE dialled (
    kitchen_id TEXT NOT NULL REFERENCES kitchen (id),
    food       TEXT NOT NULL,
    celsius    REAL NOT NULL,
    set_at     TEXT NOT NULL,
    PRIMARY KEY (kitchen_id, food)
) STRICT;

CREATE TABLE salted_batch (
    kitchen_id TEXT NOT NULL REFERENCES kitchen (id),
    name       TEXT NOT NULL,          -- in lower case
    salted_at  TEXT NOT NULL,
    PRIMARY KEY (kitchen_id, name)
) STRICT;

CREATE TABLE preset (
    id         TEXT PRIMARY KEY NOT NULL,
    kitchen_id TEXT NOT NULL REFERENCES kitchen (id),
    name       TEXT NOT NULL,
    body       TEXT NOT NULL,          -- JSON: the sentence as typed
    created_at TEXT NOT NULL,
    removed_at TEXT
) STRICT;
CREATE INDEX preset_by_kitchen ON preset (kitchen_id, created_at);
