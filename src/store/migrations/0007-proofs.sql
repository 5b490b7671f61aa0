-- What the last rehearsal of a plan said, by the mark of its scripts: a plan that was changed since has none.
CREATE TABLE pelvok.proof (
    project_id text NOT NULL REFERENCES pelvok.project (id) ON DELETE CASCADE,
    mark text NOT NULL,
    ok boolean NOT NULL,
    server text NOT NULL,
    says text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (project_id, mark)
);
