-- Depots as somebody wrote them for PostgreSQL.
CREATE TYPE crate_state AS ENUM ('empty', 'packed', 'gone');
CREATE DOMAIN code AS varchar(12) CHECK (VALUE ~ '^[A-Z]+$');
CREATE TABLE depot (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    code code NOT NULL UNIQUE,
    opened date NOT NULL DEFAULT CURRENT_DATE,
    tags text[] NOT NULL DEFAULT '{}'
);
COMMENT ON TABLE depot IS 'Where crates stand.';
CREATE TABLE bay (
    depot_id bigint NOT NULL REFERENCES depot ON DELETE CASCADE,
    number smallint NOT NULL,
    width numeric(6,2) CHECK (width > 0),
    PRIMARY KEY (depot_id, number)
);
CREATE TABLE crate (
    id serial PRIMARY KEY,
    depot_id bigint NOT NULL,
    bay_number smallint,
    state crate_state NOT NULL DEFAULT 'empty',
    is_sealed boolean NOT NULL DEFAULT false,
    inside_id integer REFERENCES crate,
    extra jsonb,
    changed_at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (depot_id, bay_number) REFERENCES bay
);
CREATE INDEX ON crate (depot_id, bay_number) WHERE bay_number IS NOT NULL;
CREATE TABLE label (id integer PRIMARY KEY, text varchar(40) NOT NULL);
CREATE TABLE crate_label (crate_id integer REFERENCES crate, label_id integer REFERENCES label, PRIMARY KEY (crate_id, label_id));
CREATE TABLE seal (crate_id integer PRIMARY KEY REFERENCES crate, number text NOT NULL, keeper_id integer);
CREATE TABLE keeper (id integer PRIMARY KEY, first_name text, last_name text);
CREATE VIEW packed_crate AS SELECT c.id, d.code FROM crate c JOIN depot d ON d.id = c.depot_id WHERE c.state = 'packed';
