-- Plans that were kept: numbered, never changed once they are applied somewhere. The catalogs they lead from and to are snapshots.
CREATE TABLE pelvok.plan (
    project_id text NOT NULL REFERENCES pelvok.project (id) ON DELETE CASCADE,
    number integer NOT NULL CHECK (number > 0),
    name text NOT NULL,
    title text NOT NULL,
    body text NOT NULL,
    up text NOT NULL,
    down text NOT NULL,
    base text REFERENCES pelvok.snapshot (hash),
    expected text NOT NULL REFERENCES pelvok.snapshot (hash),
    revision text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    by text NOT NULL,
    PRIMARY KEY (project_id, number)
);

-- Databases that plans are applied to. The password, or the whole URL's, is only in "secret".
CREATE TABLE pelvok.environment (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    project_id text NOT NULL REFERENCES pelvok.project (id) ON DELETE CASCADE,
    name text NOT NULL,
    kind text NOT NULL CHECK (kind IN ('development', 'preview', 'production')),
    protected boolean NOT NULL,
    label text NOT NULL,
    location jsonb NOT NULL,
    secret bytea,
    at timestamptz NOT NULL DEFAULT now(),
    by text NOT NULL,
    UNIQUE (project_id, name)
);

-- What was last found out about an environment: how far its plans are, and its drift. JSON text.
CREATE TABLE pelvok.watch (
    environment_id bigint PRIMARY KEY REFERENCES pelvok.environment (id) ON DELETE CASCADE,
    status text,
    drift text,
    at timestamptz NOT NULL DEFAULT now()
);

-- Drift that somebody looked at and left, with the reason.
CREATE TABLE pelvok.overlooked (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    environment_id bigint NOT NULL REFERENCES pelvok.environment (id) ON DELETE CASCADE,
    object text NOT NULL,
    field text NOT NULL,
    found text,
    reason text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    by text NOT NULL
);
CREATE INDEX overlooked_environment_idx ON pelvok.overlooked (environment_id);

-- What a job is about, beyond its project: which plan, which environment. JSON text; never a secret.
ALTER TABLE pelvok.job ADD COLUMN input text NOT NULL DEFAULT '{}';
