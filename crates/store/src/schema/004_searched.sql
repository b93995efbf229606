-- Breakers of a run that were searched: nothing else was dead while they were off.

CREATE TABLE run_searched (
    house   INTEGER NOT NULL,
    run     INTEGER NOT NULL,
    breaker INTEGER NOT NULL,
    PRIMARY KEY (house, run, breaker),
    FOREIGN KEY (house, run) REFERENCES run (house, id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
    FOREIGN KEY (house, breaker) REFERENCES breaker (house, id) DEFERRABLE INITIALLY DEFERRED
) STRICT, WITHOUT ROWID;
