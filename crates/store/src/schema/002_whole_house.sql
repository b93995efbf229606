-- The panel as it really is, the plan, the logbook, pictures, and shelves for houses.
ALTER TABLE house ADD COLUMN lengths TEXT NOT NULL DEFAULT 'feet-inches' CHECK (lengths IN ('feet-inches', 'metres'));
ALTER TABLE house ADD COLUMN shelf TEXT NOT NULL DEFAULT 'active' CHECK (shelf IN ('active', 'archived', 'deleted'));
-- When it was put there; nothing for houses that never left the first shelf.
ALTER TABLE house ADD COLUMN shelved TEXT;

-- Numbers engraved out of order, as a JSON list down the left column, then the right; `numbering` is then not used.
ALTER TABLE panel ADD COLUMN engraved TEXT CHECK (engraved IS NULL OR json_valid(engraved));
ALTER TABLE panel ADD COLUMN tandem_known TEXT CHECK (tandem_known IN ('label', 'notch'));
ALTER TABLE panel ADD COLUMN model TEXT NOT NULL DEFAULT '';
ALTER TABLE panel ADD COLUMN listed TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(listed));
ALTER TABLE panel ADD COLUMN bonded INTEGER CHECK (bonded IN (0, 1));
ALTER TABLE panel ADD COLUMN plug_on_neutral INTEGER CHECK (plug_on_neutral IN (0, 1));
ALTER TABLE panel ADD COLUMN feed_through INTEGER NOT NULL DEFAULT 0 CHECK (feed_through IN (0, 1));
ALTER TABLE panel ADD COLUMN disconnect TEXT NOT NULL DEFAULT '';
ALTER TABLE panel ADD COLUMN separate_building INTEGER NOT NULL DEFAULT 0 CHECK (separate_building IN (0, 1));
-- What its card said when last printed.
ALTER TABLE panel ADD COLUMN printed TEXT CHECK (printed IS NULL OR json_valid(printed));

CREATE TABLE panel_place (
    house INTEGER NOT NULL,
    panel INTEGER NOT NULL,
    room  INTEGER NOT NULL,
    spot  TEXT CHECK (spot IS NULL OR json_valid(spot)),
    PRIMARY KEY (house, panel),
    FOREIGN KEY (house, panel) REFERENCES panel (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
    FOREIGN KEY (house, room) REFERENCES room (house, id) DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

ALTER TABLE breaker ADD COLUMN frame TEXT CHECK (frame IN ('full', 'tandem', 'quad', 'half'));
ALTER TABLE breaker ADD COLUMN trip TEXT NOT NULL DEFAULT 'common' CHECK (trip IN ('common', 'handle-tie'));
ALTER TABLE breaker ADD COLUMN model TEXT NOT NULL DEFAULT '';
ALTER TABLE breaker ADD COLUMN terminal TEXT CHECK (terminal IS NULL OR json_valid(terminal));
ALTER TABLE breaker ADD COLUMN as_found INTEGER NOT NULL DEFAULT 0 CHECK (as_found IN (0, 1));

CREATE TABLE circuit (
    house       INTEGER NOT NULL,
    id          INTEGER NOT NULL CHECK (id > 0),
    breaker     INTEGER NOT NULL,
    pole        INTEGER CHECK (pole BETWEEN 1 AND 3),
    wire        TEXT,
    metal       TEXT    NOT NULL CHECK (metal IN ('copper', 'aluminium')),
    conductors  INTEGER CHECK (conductors BETWEEN 1 AND 9),
    length_feet REAL    CHECK (length_feet > 0),
    colours     TEXT    NOT NULL CHECK (json_valid(colours)),
    landed      TEXT    NOT NULL CHECK (landed IN ('terminal', 'splice')),
    neutral_of  INTEGER,
    as_found    INTEGER NOT NULL CHECK (as_found IN (0, 1)),
    PRIMARY KEY (house, id),
    FOREIGN KEY (house, breaker) REFERENCES breaker (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
    FOREIGN KEY (house, neutral_of) REFERENCES circuit (house, id) DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

-- A room's place on its floor's plan, in inches.
CREATE TABLE room_area (
    house INTEGER NOT NULL,
    room  INTEGER NOT NULL,
    x     REAL    NOT NULL,
    y     REAL    NOT NULL,
    width REAL    NOT NULL CHECK (width > 0),
    depth REAL    NOT NULL CHECK (depth > 0),
    PRIMARY KEY (house, room),
    FOREIGN KEY (house, room) REFERENCES room (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

CREATE TABLE opening (
    house   INTEGER NOT NULL,
    id      INTEGER NOT NULL CHECK (id > 0),
    room    INTEGER NOT NULL,
    kind    TEXT    NOT NULL CHECK (kind IN ('door', 'window', 'passage', 'stairs')),
    wall    TEXT    NOT NULL CHECK (wall IN ('north', 'east', 'south', 'west')),
    along   REAL    NOT NULL,
    width   REAL    NOT NULL CHECK (width > 0),
    to_room INTEGER,
    PRIMARY KEY (house, id),
    FOREIGN KEY (house, room) REFERENCES room (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
    FOREIGN KEY (house, to_room) REFERENCES room (house, id) DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

ALTER TABLE point ADD COLUMN spot TEXT CHECK (spot IS NULL OR json_valid(spot));
ALTER TABLE point ADD COLUMN shared_box INTEGER;
ALTER TABLE point ADD COLUMN ground_fault INTEGER NOT NULL DEFAULT 0 CHECK (ground_fault IN (0, 1));

-- What a point has to do with another: the ground-fault device before it, the switches that switch it.
CREATE TABLE point_tie (
    house INTEGER NOT NULL,
    point INTEGER NOT NULL,
    other INTEGER NOT NULL,
    tie   TEXT    NOT NULL CHECK (tie IN ('protected-by', 'switched-by')),
    PRIMARY KEY (house, point, tie, other),
    FOREIGN KEY (house, point) REFERENCES point (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
    FOREIGN KEY (house, other) REFERENCES point (house, id) DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

CREATE TABLE log_entry (
    house   INTEGER NOT NULL REFERENCES house (id) ON DELETE CASCADE,
    id      INTEGER NOT NULL CHECK (id > 0),
    time    TEXT    NOT NULL,
    who     TEXT    NOT NULL,
    note    TEXT    NOT NULL,
    breaker INTEGER,
    -- The event as the API writes it; what it names must be there, which the house is checked for when loaded.
    event   TEXT    NOT NULL CHECK (json_valid(event)),
    PRIMARY KEY (house, id),
    FOREIGN KEY (house, breaker) REFERENCES breaker (house, id) DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;

CREATE TABLE picture (
    house   INTEGER NOT NULL REFERENCES house (id) ON DELETE CASCADE,
    id      INTEGER NOT NULL CHECK (id > 0),
    shows   TEXT    NOT NULL CHECK (json_valid(shows)),
    time    TEXT    NOT NULL,
    who     TEXT    NOT NULL,
    caption TEXT    NOT NULL,
    width   INTEGER NOT NULL CHECK (width > 0),
    height  INTEGER NOT NULL CHECK (height > 0),
    digest  TEXT    NOT NULL CHECK (length(digest) = 64),
    PRIMARY KEY (house, id)
) STRICT, WITHOUT ROWID;

-- Bytes of pictures by their digest. They stay when a picture is taken out, so that this can be taken back.
CREATE TABLE picture_bytes (
    digest TEXT NOT NULL PRIMARY KEY CHECK (length(digest) = 64),
    kind   TEXT NOT NULL CHECK (kind IN ('image/jpeg', 'image/png')),
    bytes  BLOB NOT NULL
) STRICT;

CREATE TABLE underlay (
    house   INTEGER NOT NULL,
    id      INTEGER NOT NULL CHECK (id > 0),
    floor   TEXT    NOT NULL,
    picture INTEGER NOT NULL,
    x       REAL    NOT NULL,
    y       REAL    NOT NULL,
    width   REAL    NOT NULL CHECK (width > 0),
    PRIMARY KEY (house, id),
    FOREIGN KEY (house, picture) REFERENCES picture (house, id) DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;
