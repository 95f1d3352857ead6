-- From here on a cook's list may hold what was asked about and answered: whether the time meant was the first or the
-- second of an hour that was doubled, where a piece was meanwhile. A program that knows none refuses the whole file, and
-- does not fail on one of its lines. Nothing is stored differently.
SELECT 1;
