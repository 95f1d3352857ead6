-- What the book is looked through by, kept beside each cook: the food of its first piece, when it ended, how its centre
-- came out, and the verdict of what was done (worked out when it is first asked for, and again after what was written
-- down since).
ALTER TABLE cook ADD COLUMN food TEXT NOT NULL DEFAULT '';
ALTER TABLE cook ADD COLUMN ended_at INTEGER;
ALTER TABLE cook ADD COLUMN centre INTEGER;
ALTER TABLE cook ADD COLUMN level TEXT CHECK (level IN ('pasteurized', 'exempt', 'serve-now', 'refused', 'none'));
UPDATE cook SET food = coalesce((
    SELECT json_extract(plan.request, '$.food') FROM plan JOIN piece ON piece.id = plan.piece_id
    WHERE piece.cook_id = cook.id ORDER BY piece.position, plan.seq LIMIT 1), '');
CREATE INDEX cook_by_level ON cook (kitchen_id, standing, level, created_at DESC, id DESC);
CREATE INDEX cook_by_food ON cook (kitchen_id, food, standing, ended_at DESC, id DESC);
