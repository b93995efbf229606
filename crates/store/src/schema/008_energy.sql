-- Numbers of energy records, four bytes each, by their digest.
CREATE TABLE energy_numbers (
    digest TEXT NOT NULL PRIMARY KEY CHECK (length(digest) = 64),
    bytes  BLOB NOT NULL
) STRICT;
