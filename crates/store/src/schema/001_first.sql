-- The house and what is in it. Ids of things are unique within their house and chosen by whoever made them.
CREATE TABLE house (
    id              INTEGER PRIMARY KEY,
    name            TEXT    NOT NULL CHECK (trim(name) <> ''),
    proof_threshold REAL    NOT NULL CHECK (proof_threshold BETWEEN 0.9 AND 0.9999),
    revision        INTEGER NOT NULL CHECK (revision >= 0)
) STRICT;

CREATE TABLE panel (
    house        INTEGER NOT NULL REFERENCES house (id) ON DELETE CASCADE,
    id           INTEGER NOT NULL CHECK (id > 0),
    name         TEXT    NOT NULL CHECK (trim(name) <> ''),
    fed_by       INTEGER,
    supply       TEXT    NOT NULL CHECK (supply IN ('split-phase', 'wye-1ph', 'wye-3ph')),
    bus_amps     REAL    NOT NULL CHECK (bus_amps > 0),
    main_amps    REAL    CHECK (main_amps > 0),
    spaces       INTEGER NOT NULL CHECK (spaces BETWEEN 1 AND 84),
    numbering    TEXT    NOT NULL CHECK (numbering IN ('odd-even', 'columns')),
    tandem       TEXT    NOT NULL,
    max_circuits INTEGER CHECK (max_circuits > 0),
    card_width   REAL    CHECK (card_width > 0),
    card_height  REAL    CHECK (card_height > 0),
    PRIMARY KEY (house, id),
    FOREIGN KEY (house, fed_by) REFERENCES breaker (house, id) DEFERRABLE INITIALLY DEFERRED,
    CHECK ((card_width IS NULL) = (card_height IS NULL))
) STRICT, WITHOUT ROWID;

CREATE TABLE empty_space (
    house INTEGER NOT NULL,
    panel INTEGER NOT NULL,
    space INTEGER NOT NULL CHECK (space > 0),
    PRIMARY KEY (house, panel, space),
    FOREIGN KEY (house, panel) REFERENCES panel (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

CREATE TABLE breaker (
    house  INTEGER NOT NULL,
    id     INTEGER NOT NULL CHECK (id > 0),
    panel  INTEGER NOT NULL,
    amps   REAL    NOT NULL CHECK (amps > 0),
    device TEXT    NOT NULL CHECK (device IN ('plain', 'gfci', 'afci', 'dual', 'fuse')),
    handle TEXT    NOT NULL CHECK (handle IN ('on', 'off', 'tripped')),
    label  TEXT    NOT NULL,
    PRIMARY KEY (house, id),
    FOREIGN KEY (house, panel) REFERENCES panel (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

-- One row a pole; half 0 is the whole space, 1 its upper and 2 its lower half.
CREATE TABLE pole (
    house   INTEGER NOT NULL,
    breaker INTEGER NOT NULL,
    nth     INTEGER NOT NULL CHECK (nth BETWEEN 0 AND 2),
    space   INTEGER NOT NULL CHECK (space > 0),
    half    INTEGER NOT NULL CHECK (half BETWEEN 0 AND 2),
    PRIMARY KEY (house, breaker, nth),
    FOREIGN KEY (house, breaker) REFERENCES breaker (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

CREATE TABLE room (
    house INTEGER NOT NULL REFERENCES house (id) ON DELETE CASCADE,
    id    INTEGER NOT NULL CHECK (id > 0),
    name  TEXT    NOT NULL CHECK (trim(name) <> ''),
    floor TEXT    NOT NULL CHECK (trim(floor) <> ''),
    PRIMARY KEY (house, id)
) STRICT, WITHOUT ROWID;

CREATE TABLE point (
    house INTEGER NOT NULL,
    id    INTEGER NOT NULL CHECK (id > 0),
    tag   TEXT    NOT NULL COLLATE NOCASE,
    room  INTEGER NOT NULL,
    kind  TEXT    NOT NULL CHECK (kind IN ('receptacle', 'light', 'switch', 'appliance', 'alarm', 'other')),
    name  TEXT    NOT NULL,
    volts INTEGER CHECK (volts IN (120, 208, 240)),
    watts REAL    CHECK (watts >= 0),
    PRIMARY KEY (house, id),
    FOREIGN KEY (house, room) REFERENCES room (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

CREATE TABLE evidence (
    house  INTEGER NOT NULL,
    id     INTEGER NOT NULL CHECK (id > 0),
    point  INTEGER NOT NULL,
    time   TEXT    NOT NULL,
    who    TEXT    NOT NULL,
    step   INTEGER,
    what   TEXT    NOT NULL CHECK (what IN ('power', 'pointed')),
    seen   TEXT    CHECK (seen IN ('live', 'dead', 'unsure')),
    how    TEXT    CHECK (how IN ('tester', 'lamp', 'light', 'radio', 'meter', 'word')),
    PRIMARY KEY (house, id),
    FOREIGN KEY (house, point) REFERENCES point (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
    CHECK ((what = 'power') = (seen IS NOT NULL) AND (what = 'power') = (how IS NOT NULL))
) STRICT, WITHOUT ROWID;

-- The breakers a piece of evidence speaks of: those off, or the one pointed at.
CREATE TABLE evidence_breaker (
    house    INTEGER NOT NULL,
    evidence INTEGER NOT NULL,
    breaker  INTEGER NOT NULL,
    PRIMARY KEY (house, evidence, breaker),
    FOREIGN KEY (house, evidence) REFERENCES evidence (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
    FOREIGN KEY (house, breaker) REFERENCES breaker (house, id) DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

CREATE TABLE step (
    house INTEGER NOT NULL PRIMARY KEY REFERENCES house (id) ON DELETE CASCADE,
    id    INTEGER NOT NULL CHECK (id > 0)
) STRICT;

CREATE TABLE step_off (
    house   INTEGER NOT NULL REFERENCES step (house) ON DELETE CASCADE,
    breaker INTEGER NOT NULL,
    PRIMARY KEY (house, breaker),
    FOREIGN KEY (house, breaker) REFERENCES breaker (house, id) DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

CREATE TABLE step_visit (
    house INTEGER NOT NULL REFERENCES step (house) ON DELETE CASCADE,
    nth   INTEGER NOT NULL,
    point INTEGER NOT NULL,
    PRIMARY KEY (house, nth),
    FOREIGN KEY (house, point) REFERENCES point (house, id) DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

-- The log: one row a revision. `undoes` is the revision that this one takes back.
CREATE TABLE change (
    house           INTEGER NOT NULL REFERENCES house (id) ON DELETE CASCADE,
    revision        INTEGER NOT NULL CHECK (revision > 0),
    time            TEXT    NOT NULL,
    author          TEXT    NOT NULL,
    idempotency_key TEXT,
    intent          TEXT,
    edits           TEXT    NOT NULL,
    undoes          INTEGER,
    PRIMARY KEY (house, revision),
    FOREIGN KEY (house, undoes) REFERENCES change (house, revision)
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX change_key ON change (house, idempotency_key) WHERE idempotency_key IS NOT NULL;

-- Devices let in by the join code; only a digest of the cookie is kept.
CREATE TABLE session (
    digest TEXT NOT NULL PRIMARY KEY,
    made   TEXT NOT NULL
) STRICT, WITHOUT ROWID;
