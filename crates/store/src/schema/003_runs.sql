-- Observations of more kinds, runs, and what shows power by itself.

CREATE TABLE evidence_new (
    house  INTEGER NOT NULL,
    id     INTEGER NOT NULL CHECK (id > 0),
    point  INTEGER NOT NULL,
    time   TEXT    NOT NULL,
    who    TEXT    NOT NULL,
    step   INTEGER,
    what   TEXT    NOT NULL CHECK (what IN ('power', 'pointed', 'rise', 'wire', 'tried', 'fault')),
    seen   TEXT    CHECK (seen IN ('live', 'dead', 'unsure')),
    how    TEXT    CHECK (how IN ('tester', 'lamp', 'light', 'radio', 'meter', 'word')),
    -- What a rise, a trial or a fault says beside the breaker, as the API writes it.
    detail TEXT    CHECK (detail IS NULL OR json_valid(detail)),
    PRIMARY KEY (house, id),
    FOREIGN KEY (house, point) REFERENCES point (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
    CHECK ((what = 'power') = (seen IS NOT NULL) AND (what = 'power') = (how IS NOT NULL)),
    CHECK ((what IN ('rise', 'tried', 'fault')) = (detail IS NOT NULL))
) STRICT, WITHOUT ROWID;
INSERT INTO evidence_new SELECT house, id, point, time, who, step, what, seen, how, NULL FROM evidence;

CREATE TABLE evidence_breaker_new (
    house    INTEGER NOT NULL,
    evidence INTEGER NOT NULL,
    breaker  INTEGER NOT NULL,
    PRIMARY KEY (house, evidence, breaker),
    FOREIGN KEY (house, evidence) REFERENCES evidence_new (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
    FOREIGN KEY (house, breaker) REFERENCES breaker (house, id) DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;
INSERT INTO evidence_breaker_new SELECT house, evidence, breaker FROM evidence_breaker;

DROP TABLE evidence_breaker;
DROP TABLE evidence;
ALTER TABLE evidence_new RENAME TO evidence;
ALTER TABLE evidence_breaker_new RENAME TO evidence_breaker;

ALTER TABLE point ADD COLUMN shows INTEGER NOT NULL DEFAULT 0 CHECK (shows IN (0, 1));

CREATE TABLE run (
    house   INTEGER NOT NULL REFERENCES house (id) ON DELETE CASCADE,
    id      INTEGER NOT NULL CHECK (id > 0),
    begun   TEXT    NOT NULL,
    ended   TEXT,
    -- The crew as the API writes it; the breakers it keeps on must be there, which the house is checked for when loaded.
    crew    TEXT    NOT NULL CHECK (json_valid(crew)),
    steps   INTEGER NOT NULL CHECK (steps >= 0),
    outages INTEGER NOT NULL CHECK (outages >= 0),
    PRIMARY KEY (house, id)
) STRICT, WITHOUT ROWID;
