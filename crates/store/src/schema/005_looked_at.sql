-- Halves of spaces that are empty, and whether somebody said that every panel is entered.

CREATE TABLE empty_space_new (
    house INTEGER NOT NULL,
    panel INTEGER NOT NULL,
    space INTEGER NOT NULL CHECK (space > 0),
    -- As a pole's: 0 is the whole space, 1 its upper and 2 its lower half.
    half  INTEGER NOT NULL CHECK (half BETWEEN 0 AND 2),
    PRIMARY KEY (house, panel, space, half),
    FOREIGN KEY (house, panel) REFERENCES panel (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;
INSERT INTO empty_space_new SELECT house, panel, space, 0 FROM empty_space;
DROP TABLE empty_space;
ALTER TABLE empty_space_new RENAME TO empty_space;

ALTER TABLE house ADD COLUMN every_panel INTEGER NOT NULL DEFAULT 0 CHECK (every_panel IN (0, 1));
