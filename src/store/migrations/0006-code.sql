-- Where a project's code was last written to, and what people's own files there override: names of operations by entity, as JSON text.
CREATE TABLE pelvok.code_folder (
    project_id text PRIMARY KEY REFERENCES pelvok.project (id) ON DELETE CASCADE,
    into_folder text NOT NULL,
    overridden text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    by text NOT NULL
);
