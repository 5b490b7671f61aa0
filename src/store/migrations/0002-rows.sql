-- What rows said, gzipped, under its hash: one reading of the rows of one snapshot. Immutable; no values of rows are in it, only counts.
CREATE TABLE pelvok.row_evidence (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    project_id text NOT NULL REFERENCES pelvok.project (id) ON DELETE CASCADE,
    snapshot text NOT NULL REFERENCES pelvok.snapshot (hash),
    hash text NOT NULL,
    bytes bytea NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX row_evidence_project_idx ON pelvok.row_evidence (project_id, snapshot, id);
CREATE INDEX row_evidence_hash_idx ON pelvok.row_evidence (hash);

-- A revision names the evidence it was sealed with; "" where no rows had been read.
ALTER TABLE pelvok.revision ADD COLUMN evidence text NOT NULL DEFAULT '';
ALTER TABLE pelvok.revision DROP CONSTRAINT revision_pkey;
ALTER TABLE pelvok.revision ADD PRIMARY KEY (project_id, snapshot, ledger_seq, inference, evidence);
