-- Pelvok's own data. Everything lives in the schema "pelvok"; nothing else of the database is touched.

CREATE TABLE pelvok.project (
    id text PRIMARY KEY,
    name text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    created_by text NOT NULL
);

-- Where a schema is read from. The password is only in "secret": AES-256-GCM, the key in a file outside the database.
CREATE TABLE pelvok.source (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    project_id text NOT NULL REFERENCES pelvok.project (id) ON DELETE CASCADE,
    kind text NOT NULL,
    label text NOT NULL,
    location jsonb NOT NULL,
    secret bytea,
    created_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX source_project_idx ON pelvok.source (project_id);

-- Canonical bytes, gzipped, under their hash. Immutable.
CREATE TABLE pelvok.snapshot (
    hash text PRIMARY KEY,
    bytes bytea NOT NULL
);

-- One reading of a source: which structure it found, and the parts that are not structure, as the JSON text they came in.
CREATE TABLE pelvok.survey (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    project_id text NOT NULL REFERENCES pelvok.project (id) ON DELETE CASCADE,
    source_id bigint NOT NULL REFERENCES pelvok.source (id) ON DELETE CASCADE,
    hash text NOT NULL REFERENCES pelvok.snapshot (hash),
    relations integer NOT NULL,
    unmodelled integer NOT NULL,
    statistics text NOT NULL,
    reading text NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX survey_project_idx ON pelvok.survey (project_id, id);

-- Append-only. The body is JSON text: jsonb would reorder keys and refuse U+0000.
CREATE TABLE pelvok.ledger (
    project_id text NOT NULL REFERENCES pelvok.project (id) ON DELETE CASCADE,
    seq integer NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    by text NOT NULL,
    kind text NOT NULL,
    body text NOT NULL,
    PRIMARY KEY (project_id, seq)
);

-- Sealed revisions: what outputs were made from.
CREATE TABLE pelvok.revision (
    project_id text NOT NULL REFERENCES pelvok.project (id) ON DELETE CASCADE,
    snapshot text NOT NULL REFERENCES pelvok.snapshot (hash),
    ledger_seq integer NOT NULL,
    inference integer NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    by text NOT NULL,
    PRIMARY KEY (project_id, snapshot, ledger_seq, inference)
);

-- Long work. The queue holds only the id; what a job needs is read from here, and no secret is.
CREATE TABLE pelvok.job (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    project_id text NOT NULL REFERENCES pelvok.project (id) ON DELETE CASCADE,
    kind text NOT NULL,
    state text NOT NULL DEFAULT 'waiting',
    doing text NOT NULL DEFAULT '',
    done integer NOT NULL DEFAULT 0,
    total integer,
    result text,
    error text,
    by text NOT NULL,
    cancel_requested boolean NOT NULL DEFAULT false,
    lease_until timestamptz,
    created_at timestamptz NOT NULL DEFAULT now(),
    ended_at timestamptz
);
CREATE INDEX job_project_idx ON pelvok.job (project_id, id);
