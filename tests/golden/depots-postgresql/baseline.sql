-- baseline, up: 19 steps, one transaction.
-- From 2cccbc62b4c2814518eeda18bba0c872252e3f7dd42543fb0bf929b7f902e86b
-- to   e9f1b69279ed3f425d282734824be052814e435097d280b47f3875ea40280c41

SET search_path = public;
SET check_function_bodies = off;
SET standard_conforming_strings = on;
SET client_min_messages = warning;

BEGIN;

-- 1. type public.crate_state
CREATE TYPE public.crate_state AS ENUM ('empty', 'packed', 'gone');

-- 2. domain public.code
CREATE DOMAIN public.code AS character varying(12)
    CONSTRAINT code_check CHECK (VALUE ~ '^[A-Z]+$');

-- 3. sequence public.crate_id_seq
CREATE SEQUENCE public.crate_id_seq AS integer START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 CACHE 1;

-- 4. table public.bay
CREATE TABLE public.bay (
    depot_id bigint NOT NULL,
    number smallint NOT NULL,
    width numeric(6,2),
    CONSTRAINT bay_width_check CHECK (width > 0),
    CONSTRAINT bay_pkey PRIMARY KEY (depot_id, number)
);

-- 5. table public.crate
CREATE TABLE public.crate (
    id integer DEFAULT nextval('public.crate_id_seq'::regclass) NOT NULL,
    depot_id bigint NOT NULL,
    bay_number smallint,
    state public.crate_state DEFAULT 'empty' NOT NULL,
    is_sealed boolean DEFAULT false NOT NULL,
    inside_id integer,
    extra jsonb,
    changed_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT crate_pkey PRIMARY KEY (id)
);

-- 6. table public.crate_label
CREATE TABLE public.crate_label (
    crate_id integer NOT NULL,
    label_id integer NOT NULL,
    CONSTRAINT crate_label_pkey PRIMARY KEY (crate_id, label_id)
);

-- 7. table public.depot
CREATE TABLE public.depot (
    id bigint GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME public.depot_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 CACHE 1) NOT NULL,
    code public.code NOT NULL,
    opened date DEFAULT CURRENT_DATE NOT NULL,
    tags text[] DEFAULT '{}' NOT NULL,
    CONSTRAINT depot_pkey PRIMARY KEY (id),
    CONSTRAINT depot_code_key UNIQUE (code)
);
COMMENT ON TABLE public.depot IS 'Where crates stand.';

-- 8. table public.keeper
CREATE TABLE public.keeper (
    id integer NOT NULL,
    first_name text,
    last_name text,
    CONSTRAINT keeper_pkey PRIMARY KEY (id)
);

-- 9. table public.label
CREATE TABLE public.label (
    id integer NOT NULL,
    text character varying(40) NOT NULL,
    CONSTRAINT label_pkey PRIMARY KEY (id)
);

-- 10. table public.seal
CREATE TABLE public.seal (
    crate_id integer NOT NULL,
    number text NOT NULL,
    keeper_id integer,
    CONSTRAINT seal_pkey PRIMARY KEY (crate_id)
);

-- 11. view public.packed_crate
CREATE VIEW public.packed_crate (id, code) AS
SELECT c.id, d.code FROM crate c JOIN depot d ON d.id = c.depot_id WHERE c.state = 'packed';

-- 12. owner of sequence public.crate_id_seq
ALTER SEQUENCE public.crate_id_seq OWNED BY public.crate.id;

-- 13. index public.crate_depot_id_bay_number_idx
CREATE INDEX crate_depot_id_bay_number_idx ON public.crate USING btree (depot_id, bay_number) WHERE bay_number IS NOT NULL;

-- 14. foreign key bay_depot_id_fkey of public.bay
ALTER TABLE ONLY public.bay ADD CONSTRAINT bay_depot_id_fkey FOREIGN KEY (depot_id) REFERENCES public.depot(id) ON DELETE CASCADE;

-- 15. foreign key crate_depot_id_bay_number_fkey of public.crate
ALTER TABLE ONLY public.crate ADD CONSTRAINT crate_depot_id_bay_number_fkey FOREIGN KEY (depot_id, bay_number) REFERENCES public.bay(depot_id, number);

-- 16. foreign key crate_inside_id_fkey of public.crate
ALTER TABLE ONLY public.crate ADD CONSTRAINT crate_inside_id_fkey FOREIGN KEY (inside_id) REFERENCES public.crate(id);

-- 17. foreign key crate_label_crate_id_fkey of public.crate_label
ALTER TABLE ONLY public.crate_label ADD CONSTRAINT crate_label_crate_id_fkey FOREIGN KEY (crate_id) REFERENCES public.crate(id);

-- 18. foreign key crate_label_label_id_fkey of public.crate_label
ALTER TABLE ONLY public.crate_label ADD CONSTRAINT crate_label_label_id_fkey FOREIGN KEY (label_id) REFERENCES public.label(id);

-- 19. foreign key seal_crate_id_fkey of public.seal
ALTER TABLE ONLY public.seal ADD CONSTRAINT seal_crate_id_fkey FOREIGN KEY (crate_id) REFERENCES public.crate(id);

COMMIT;
