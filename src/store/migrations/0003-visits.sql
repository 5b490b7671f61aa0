-- Where each person is in the review of a project: the docket as they laid it out, what is selected, and how far they have seen.
-- last_*: where their visit before this one ended; null on the first.
CREATE TABLE pelvok.visit (
    project_id text NOT NULL REFERENCES pelvok.project (id) ON DELETE CASCADE,
    person text NOT NULL,
    place text NOT NULL DEFAULT '{}',
    seq integer NOT NULL,
    snapshot text NOT NULL,
    rows text,
    at timestamptz NOT NULL DEFAULT now(),
    ended boolean NOT NULL DEFAULT false,
    last_seq integer,
    last_at timestamptz,
    last_snapshot text,
    last_rows text,
    PRIMARY KEY (project_id, person)
);
