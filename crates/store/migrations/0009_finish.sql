-- From here on a cook's list may hold a finish that was chosen: a program that knows none refuses the whole file, and
-- does not fail on one of its lines. Nothing is stored differently.
SELECT 1;
