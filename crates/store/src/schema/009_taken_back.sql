-- One change can take back several, and can be taken back itself.
CREATE TABLE change_new (
    house           INTEGER NOT NULL REFERENCES house (id) ON DELETE CASCADE,
    revision        INTEGER NOT NULL CHECK (revision > 0),
    time            TEXT    NOT NULL,
    author          TEXT    NOT NULL,
    idempotency_key TEXT,
    intent          TEXT,
    edits           TEXT    NOT NULL,
    PRIMARY KEY (house, revision)
) STRICT, WITHOUT ROWID;
INSERT INTO change_new SELECT house, revision, time, author, idempotency_key, intent, edits FROM change;

-- `by` is the revision that took `revision` back.
CREATE TABLE taken_back (
    house    INTEGER NOT NULL REFERENCES house (id) ON DELETE CASCADE,
    by       INTEGER NOT NULL,
    revision INTEGER NOT NULL,
    PRIMARY KEY (house, by, revision)
) STRICT, WITHOUT ROWID;
INSERT INTO taken_back SELECT house, revision, undoes FROM change WHERE undoes IS NOT NULL;

DROP TABLE change;
ALTER TABLE change_new RENAME TO change;
CREATE UNIQUE INDEX change_key ON change (house, idempotency_key) WHERE idempotency_key IS NOT NULL;

-- The request that made a house, so that it makes it once.
ALTER TABLE house ADD COLUMN made_key TEXT;
ALTER TABLE house ADD COLUMN made_of TEXT;
CREATE UNIQUE INDEX house_key ON house (made_key) WHERE made_key IS NOT NULL;
