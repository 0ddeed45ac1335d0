-- A repair is kept before the first file is written: what a crash left half done is finished or taken back by it.
ALTER TABLE repairs ADD COLUMN state TEXT NOT NULL DEFAULT 'written' CHECK (state IN ('writing', 'written', 'undoing'));
-- The process that writes it or takes it back.
ALTER TABLE repairs ADD COLUMN writer INTEGER;
