-- What was worked out of a project and is shown at once the next time: of the state under "key", and nothing else. It can be made again at any time.
CREATE TABLE pelvok.kept (
    project_id text NOT NULL REFERENCES pelvok.project (id) ON DELETE CASCADE,
    what text NOT NULL,
    key text NOT NULL,
    bytes bytea NOT NULL,
    PRIMARY KEY (project_id, what)
);
-- One row: which programs made it. Others work it out anew.
CREATE TABLE pelvok.kept_by (
    one boolean PRIMARY KEY DEFAULT true CHECK (one),
    program text NOT NULL
);
