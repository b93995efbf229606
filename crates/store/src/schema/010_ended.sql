-- Findings of what is entered that a change ended, in words, as a JSON array; nothing where it ended none.
ALTER TABLE change ADD COLUMN ended TEXT;
