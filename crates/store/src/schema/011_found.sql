-- The findings that rest on tracing, loads and the log, as they stood when somebody last looked at all of them: what stands no more is told
-- in the log. A JSON array.
CREATE TABLE found (
    house    INTEGER NOT NULL PRIMARY KEY REFERENCES house (id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    findings TEXT    NOT NULL
) STRICT;
