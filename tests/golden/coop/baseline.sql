-- baseline, up: 122 steps, one transaction.
-- From 2cccbc62b4c2814518eeda18bba0c872252e3f7dd42543fb0bf929b7f902e86b
-- to   0d9283ed24be23af62182517c566624fdd8291020ec3562ab5ce2e83addbb1da

SET search_path = pg_catalog;
SET check_function_bodies = off;
SET standard_conforming_strings = on;
SET client_min_messages = warning;

BEGIN;

-- 1. schema coop
CREATE SCHEMA coop;
COMMENT ON SCHEMA coop IS 'Members, levies, orders: the office side.';

-- 2. schema field
CREATE SCHEMA field;
COMMENT ON SCHEMA field IS 'Apiaries, hives and everything that happens at them.';

-- 3. type coop.order_state
CREATE TYPE coop.order_state AS ENUM ('draft', 'placed', 'packed', 'collected', 'cancelled');

-- 4. type field.mark_colour
CREATE TYPE field.mark_colour AS ENUM ('white', 'yellow', 'red', 'green', 'blue');
COMMENT ON TYPE field.mark_colour IS 'Colour of the dot on a queen, by the last digit of her year.';

-- 5. type field.site_grade
CREATE TYPE field.site_grade AS ENUM ('sheltered', 'open', 'exposed');

-- 6. type field.grid_position
CREATE TYPE field.grid_position AS (
    easting integer,
    northing integer
);

-- 7. domain coop.email_address
CREATE DOMAIN coop.email_address AS character varying(120)
    CONSTRAINT email_has_at CHECK (((VALUE)::text ~ '^[^@ ]+@[^@ ]+$'::text));

-- 8. sequence coop.bk_levy_levy_id_seq
CREATE SEQUENCE coop.bk_levy_levy_id_seq AS integer START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 CACHE 1;

-- 9. procedure coop.close_season(smallint)
CREATE OR REPLACE PROCEDURE coop.close_season(IN closing smallint)
 LANGUAGE plpgsql
AS $procedure$
BEGIN
    UPDATE coop.season SET closed_on = make_date(closing, 10, 31) WHERE year = closing;
    INSERT INTO coop.change_log (what) VALUES ('season ' || closing || ' closed');
END
$procedure$;

-- 10. function coop.owed_by(character varying)
CREATE OR REPLACE FUNCTION coop.owed_by(keeper character varying)
 RETURNS numeric
 LANGUAGE sql
 STABLE
AS $function$ SELECT COALESCE(sum(owed), 0) FROM coop.open_levies WHERE keeper_no = keeper $function$;
COMMENT ON FUNCTION coop.owed_by(character varying) IS 'What a keeper still owes.';

-- 11. function field.colour_of(integer)
CREATE OR REPLACE FUNCTION field.colour_of(year integer)
 RETURNS field.mark_colour
 LANGUAGE sql
 IMMUTABLE
AS $function$ SELECT (ARRAY['blue', 'white', 'yellow', 'red', 'green'])[year % 5 + 1]::field.mark_colour $function$;

-- 12. function field.touch()
CREATE OR REPLACE FUNCTION field.touch()
 RETURNS trigger
 LANGUAGE plpgsql
AS $function$ BEGIN NEW.changed_at := now(); RETURN NEW; END $function$;

-- 13. table coop.attachment
CREATE TABLE coop.attachment (
    id integer GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME coop.attachment_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 CACHE 1) NOT NULL,
    owner_kind character varying(12) NOT NULL,
    owner_id bigint NOT NULL,
    file_name character varying(120) NOT NULL,
    content bytea,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    created_by character varying(12),
    CONSTRAINT attachment_pkey PRIMARY KEY (id)
);

-- 14. table coop.bk_keeper
CREATE TABLE coop.bk_keeper (
    keeper_no character varying(12) NOT NULL,
    full_name character varying(80) NOT NULL,
    email coop.email_address,
    joined_on date NOT NULL,
    left_on date,
    mentor_no character varying(12),
    active character(1) DEFAULT 'Y'::bpchar NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    created_by character varying(12),
    changed_at timestamp with time zone,
    CONSTRAINT bk_keeper_active_check CHECK ((active = ANY (ARRAY['Y'::bpchar, 'N'::bpchar]))),
    CONSTRAINT bk_keeper_pkey PRIMARY KEY (keeper_no)
);
COMMENT ON TABLE coop.bk_keeper IS 'A member of the co-operative.';
COMMENT ON COLUMN coop.bk_keeper.keeper_no IS 'Membership number as painted on the hives.';

-- 15. table coop.bk_keeper_bak
CREATE TABLE coop.bk_keeper_bak (
    keeper_no character varying(12) NOT NULL,
    full_name character varying(80),
    phone character varying(30)
);

-- 16. table coop.bk_levy
CREATE TABLE coop.bk_levy (
    levy_id integer DEFAULT nextval('coop.bk_levy_levy_id_seq'::regclass) NOT NULL,
    keeper_no character varying(12),
    due_on date NOT NULL,
    amount numeric(9,2) NOT NULL,
    status character varying(10) DEFAULT 'open'::character varying NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    created_by character varying(12),
    CONSTRAINT bk_levy_status_check CHECK (((status)::text = ANY (ARRAY['open'::character varying, 'paid'::character varying, 'waived'::character varying, 'dunned'::character varying]))),
    CONSTRAINT bk_levy_pkey PRIMARY KEY (levy_id)
);
COMMENT ON TABLE coop.bk_levy IS 'Yearly levy per keeper. The reference to the keeper was never declared.';

-- 17. table coop.bk_levy_2019
CREATE TABLE coop.bk_levy_2019 (
    levy_id integer NOT NULL,
    keeper_no character varying(12),
    due_on date NOT NULL,
    amount numeric(9,2) NOT NULL,
    status character varying(10) NOT NULL,
    created_at timestamp with time zone NOT NULL,
    created_by character varying(12)
);

-- 18. table coop.bk_levy_payment
CREATE TABLE coop.bk_levy_payment (
    levy_id integer NOT NULL,
    paid_on date NOT NULL,
    amount numeric(9,2) NOT NULL,
    reference character varying(40),
    CONSTRAINT bk_levy_payment_amount_check CHECK ((amount > (0)::numeric))
);

-- 19. table coop.bk_office
CREATE TABLE coop.bk_office (
    office_code character varying(8) NOT NULL,
    title character varying(60) NOT NULL,
    "order" smallint DEFAULT 0 NOT NULL,
    CONSTRAINT bk_office_pkey PRIMARY KEY (office_code)
);
COMMENT ON TABLE coop.bk_office IS 'Chair, treasurer, apiary inspector and so on.';

-- 20. table coop.bk_office_holder
CREATE TABLE coop.bk_office_holder (
    office_code character varying(8) NOT NULL,
    keeper_no character varying(12) NOT NULL,
    elected_on date NOT NULL,
    votes integer,
    CONSTRAINT bk_office_holder_pkey PRIMARY KEY (office_code, keeper_no)
);

-- 21. table coop.change_log
CREATE TABLE coop.change_log (
    changed_at timestamp with time zone DEFAULT now() NOT NULL,
    who text DEFAULT CURRENT_USER NOT NULL,
    what text NOT NULL
);

-- 22. table coop.committee
CREATE TABLE coop.committee (
    id integer GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME coop.committee_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 CACHE 1) NOT NULL,
    name character varying(60) NOT NULL,
    chair_no character varying(12),
    CONSTRAINT committee_pkey PRIMARY KEY (id),
    CONSTRAINT committee_name_key UNIQUE (name)
);

-- 23. table coop.committee_member
CREATE TABLE coop.committee_member (
    committee_id integer NOT NULL,
    keeper_no character varying(12) NOT NULL,
    CONSTRAINT committee_member_pkey PRIMARY KEY (committee_id, keeper_no)
);

-- 24. table coop.customer
CREATE TABLE coop.customer (
    id bigint GENERATED BY DEFAULT AS IDENTITY (SEQUENCE NAME coop.customer_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 CACHE 1) NOT NULL,
    name character varying(80) NOT NULL,
    email coop.email_address,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    created_by character varying(12),
    CONSTRAINT customer_pkey PRIMARY KEY (id)
);

-- 25. table coop.keeper_account
CREATE TABLE coop.keeper_account (
    keeper_no character varying(12) NOT NULL,
    iban character varying(34) NOT NULL,
    "user" character varying(40),
    credit_limit numeric(10,2) DEFAULT 0 NOT NULL,
    CONSTRAINT keeper_account_pkey PRIMARY KEY (keeper_no),
    CONSTRAINT keeper_account_user_key UNIQUE ("user")
);

-- 26. table coop."order"
CREATE TABLE coop."order" (
    id bigint GENERATED BY DEFAULT AS IDENTITY (SEQUENCE NAME coop.order_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 CACHE 1) NOT NULL,
    customer_id bigint NOT NULL,
    state coop.order_state DEFAULT 'draft'::coop.order_state NOT NULL,
    placed_at timestamp with time zone,
    comment text,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    created_by character varying(12),
    CONSTRAINT order_pkey PRIMARY KEY (id)
);

-- 27. table coop.order_line
CREATE TABLE coop.order_line (
    order_id bigint NOT NULL,
    line_no smallint NOT NULL,
    batch_id integer NOT NULL,
    lot_no smallint NOT NULL,
    jars integer NOT NULL,
    CONSTRAINT order_line_pkey PRIMARY KEY (order_id, line_no)
);

-- 28. table coop.price
CREATE TABLE coop.price (
    season_year smallint NOT NULL,
    honey_kind character varying(20) NOT NULL,
    per_kg numeric(8,2) NOT NULL,
    CONSTRAINT price_pkey PRIMARY KEY (season_year, honey_kind)
);

-- 29. table coop.season
CREATE TABLE coop.season (
    year smallint NOT NULL,
    opened_on date NOT NULL,
    closed_on date,
    CONSTRAINT season_days_check CHECK (((closed_on IS NULL) OR (closed_on > opened_on))),
    CONSTRAINT season_pkey PRIMARY KEY (year)
);

-- 30. table coop.tmp_customer_import
CREATE TABLE coop.tmp_customer_import (
    line_no integer,
    line text
);

-- 31. table field.apiary
CREATE TABLE field.apiary (
    id integer GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME field.apiary_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 CACHE 1) NOT NULL,
    name character varying(60) NOT NULL,
    keeper_no character varying(12) NOT NULL,
    grade field.site_grade DEFAULT 'open'::field.site_grade NOT NULL,
    "position" field.grid_position,
    flags jsonb DEFAULT '{}'::jsonb NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    created_by character varying(12),
    CONSTRAINT apiary_pkey PRIMARY KEY (id),
    CONSTRAINT apiary_name_key UNIQUE (name)
);
COMMENT ON TABLE field.apiary IS 'A place where hives stand.';

-- 32. table field.apiary_forage_site
CREATE TABLE field.apiary_forage_site (
    apiary_id integer NOT NULL,
    forage_site_id integer NOT NULL,
    CONSTRAINT apiary_forage_site_pkey PRIMARY KEY (apiary_id, forage_site_id)
);

-- 33. table field.apiary_helper
CREATE TABLE field.apiary_helper (
    apiary_id integer NOT NULL,
    keeper_no character varying(12) NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT apiary_helper_pkey PRIMARY KEY (apiary_id, keeper_no)
);

-- 34. table field.batch_harvest
CREATE TABLE field.batch_harvest (
    batch_id integer NOT NULL,
    harvest_id bigint NOT NULL,
    CONSTRAINT batch_harvest_pkey PRIMARY KEY (harvest_id, batch_id)
);

-- 35. table field.breed
CREATE TABLE field.breed (
    code character varying(6) NOT NULL,
    name character varying(40) NOT NULL,
    "default" boolean DEFAULT false NOT NULL,
    CONSTRAINT breed_pkey PRIMARY KEY (code)
);

-- 36. table field.diagnoses
CREATE TABLE field.diagnoses (
    id bigint GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME field.diagnoses_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 CACHE 1) NOT NULL,
    inspection_id bigint NOT NULL,
    disease character varying(40) NOT NULL,
    certain boolean DEFAULT false NOT NULL,
    CONSTRAINT diagnoses_pkey PRIMARY KEY (id)
);

-- 37. table field.extraction_batch
CREATE TABLE field.extraction_batch (
    id integer GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME field.extraction_batch_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 CACHE 1) NOT NULL,
    extracted_on date NOT NULL,
    honey_kind character varying(20) NOT NULL,
    season_year smallint NOT NULL,
    water_percent numeric(4,1),
    CONSTRAINT extraction_batch_pkey PRIMARY KEY (id)
);

-- 38. table field.forage_site
CREATE TABLE field.forage_site (
    id integer GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME field.forage_site_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 CACHE 1) NOT NULL,
    name character varying(60) NOT NULL,
    plants text[] DEFAULT '{}'::text[] NOT NULL,
    flowers daterange,
    CONSTRAINT forage_site_pkey PRIMARY KEY (id)
);

-- 39. table field.harvest
CREATE TABLE field.harvest (
    id bigint GENERATED BY DEFAULT AS IDENTITY (SEQUENCE NAME field.harvest_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 CACHE 1) NOT NULL,
    hive_id integer NOT NULL,
    season_year smallint NOT NULL,
    taken_on date NOT NULL,
    gross_kg numeric(7,3) NOT NULL,
    tare_kg numeric(7,3) DEFAULT 0 NOT NULL,
    net_kg numeric(7,3) GENERATED ALWAYS AS ((gross_kg - tare_kg)) STORED,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    created_by character varying(12),
    CONSTRAINT harvest_pkey PRIMARY KEY (id)
);

-- 40. table field.hive
CREATE TABLE field.hive (
    id integer GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME field.hive_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 CACHE 1) NOT NULL,
    apiary_id integer NOT NULL,
    hive_no smallint NOT NULL,
    queen_id integer,
    box_kind character varying(12) DEFAULT 'national'::character varying NOT NULL,
    frames smallint DEFAULT 10 NOT NULL,
    retired_on date,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    created_by character varying(12),
    changed_at timestamp with time zone,
    CONSTRAINT hive_box_kind_check CHECK (((box_kind)::text = ANY (ARRAY['national'::character varying, 'dadant'::character varying, 'warre'::character varying, 'topbar'::character varying]))),
    CONSTRAINT hive_pkey PRIMARY KEY (id),
    CONSTRAINT hive_number_key UNIQUE (apiary_id, hive_no)
);

-- 41. table field.hive_treatment
CREATE TABLE field.hive_treatment (
    hive_id integer NOT NULL,
    treatment_id integer NOT NULL,
    applied_on date NOT NULL,
    dose numeric(9,3),
    CONSTRAINT hive_treatment_pkey PRIMARY KEY (hive_id, treatment_id)
);

-- 42. table field.inspection
CREATE TABLE field.inspection (
    id bigint GENERATED BY DEFAULT AS IDENTITY (SEQUENCE NAME field.inspection_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 CACHE 1) NOT NULL,
    hive_id integer NOT NULL,
    keeper_no character varying(12) NOT NULL,
    second_keeper_no character varying(12),
    inspected_at timestamp with time zone NOT NULL,
    brood_frames smallint,
    temper smallint,
    queen_seen boolean,
    comment text,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    created_by character varying(12),
    CONSTRAINT inspection_temper_check CHECK (((temper >= 1) AND (temper <= 5))),
    CONSTRAINT inspection_pkey PRIMARY KEY (id)
);

-- 43. table field.inspection_observation
CREATE TABLE field.inspection_observation (
    inspection_id bigint NOT NULL,
    code character varying(8) NOT NULL,
    severity smallint DEFAULT 1 NOT NULL,
    CONSTRAINT inspection_observation_pkey PRIMARY KEY (inspection_id, code)
);
COMMENT ON TABLE field.inspection_observation IS 'What was seen. The code was never declared as a reference.';

-- 44. table field.jar_lot
CREATE TABLE field.jar_lot (
    batch_id integer NOT NULL,
    lot_no smallint NOT NULL,
    jars integer NOT NULL,
    jar_grams smallint DEFAULT 500 NOT NULL,
    filled_on date NOT NULL,
    CONSTRAINT jar_lot_jars_check CHECK ((jars > 0)),
    CONSTRAINT jar_lot_pkey PRIMARY KEY (batch_id, lot_no)
);

-- 45. table field.lab_analyses
CREATE TABLE field.lab_analyses (
    sample_id uuid NOT NULL,
    substance character varying(40) NOT NULL,
    milligrams double precision,
    passed boolean,
    CONSTRAINT lab_analyses_pkey PRIMARY KEY (sample_id, substance)
);

-- 46. table field.lab_sample
CREATE TABLE field.lab_sample (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    batch_id integer NOT NULL,
    lot_no smallint NOT NULL,
    taken_by character varying(12) NOT NULL,
    checked_by character varying(12),
    taken_at timestamp with time zone NOT NULL,
    CONSTRAINT lab_sample_pkey PRIMARY KEY (id)
);

-- 47. table field.observation_code
CREATE TABLE field.observation_code (
    code character varying(8) NOT NULL,
    meaning character varying(80) NOT NULL,
    "group" character varying(20) NOT NULL,
    CONSTRAINT observation_code_pkey PRIMARY KEY (code)
);

-- 48. table field.queen
CREATE TABLE field.queen (
    id integer GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME field.queen_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 CACHE 1) NOT NULL,
    hive_id integer,
    mother_id integer,
    breeder_no character varying(12),
    breed character varying(6) NOT NULL,
    born_on date NOT NULL,
    mark field.mark_colour,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    created_by character varying(12),
    CONSTRAINT queen_pkey PRIMARY KEY (id)
);

-- 49. table field.rota
CREATE TABLE field.rota (
    apiary_id integer NOT NULL,
    season_year smallint NOT NULL,
    keeper_no character varying(12) NOT NULL,
    CONSTRAINT rota_pkey PRIMARY KEY (apiary_id, season_year, keeper_no)
);
COMMENT ON TABLE field.rota IS 'Who looks after which apiary in which season.';

-- 50. table field.swarm_report
CREATE TABLE field.swarm_report (
    id integer GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME field.swarm_report_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 CACHE 1) NOT NULL,
    hive_id integer,
    reported_at timestamp without time zone NOT NULL,
    caught boolean DEFAULT false NOT NULL,
    CONSTRAINT swarm_report_pkey PRIMARY KEY (id)
);

-- 51. table field.treatment
CREATE TABLE field.treatment (
    id integer GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME field.treatment_id_seq START WITH 1 INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 CACHE 1) NOT NULL,
    name character varying(60) NOT NULL,
    agent character varying(40) NOT NULL,
    dose numeric(9,3) NOT NULL,
    waiting interval DEFAULT '14 days'::interval NOT NULL,
    CONSTRAINT treatment_pkey PRIMARY KEY (id)
);

-- 52. table field.weather_reading
CREATE TABLE field.weather_reading (
    apiary_id integer NOT NULL,
    measured_at timestamp with time zone NOT NULL,
    celsius real,
    humidity smallint,
    CONSTRAINT weather_reading_humidity_check CHECK (((humidity >= 0) AND (humidity <= 100))),
    CONSTRAINT weather_reading_pkey PRIMARY KEY (apiary_id, measured_at)
)
PARTITION BY RANGE (measured_at);

-- 53. table field.weather_reading_2025_05
CREATE TABLE field.weather_reading_2025_05 (
    apiary_id integer NOT NULL,
    measured_at timestamp with time zone NOT NULL,
    celsius real,
    humidity smallint,
    CONSTRAINT weather_reading_humidity_check CHECK (((humidity >= 0) AND (humidity <= 100))),
    CONSTRAINT weather_reading_2025_05_pkey PRIMARY KEY (apiary_id, measured_at)
);
ALTER TABLE ONLY field.weather_reading ATTACH PARTITION field.weather_reading_2025_05 FOR VALUES FROM ('2025-05-01 00:00:00+00') TO ('2025-06-01 00:00:00+00');

-- 54. table field.weather_reading_2025_06
CREATE TABLE field.weather_reading_2025_06 (
    apiary_id integer NOT NULL,
    measured_at timestamp with time zone NOT NULL,
    celsius real,
    humidity smallint,
    CONSTRAINT weather_reading_humidity_check CHECK (((humidity >= 0) AND (humidity <= 100))),
    CONSTRAINT weather_reading_2025_06_pkey PRIMARY KEY (apiary_id, measured_at)
);
ALTER TABLE ONLY field.weather_reading ATTACH PARTITION field.weather_reading_2025_06 FOR VALUES FROM ('2025-06-01 00:00:00+00') TO ('2025-07-01 00:00:00+00');

-- 55. table field.weather_reading_2025_07
CREATE TABLE field.weather_reading_2025_07 (
    apiary_id integer NOT NULL,
    measured_at timestamp with time zone NOT NULL,
    celsius real,
    humidity smallint,
    CONSTRAINT weather_reading_humidity_check CHECK (((humidity >= 0) AND (humidity <= 100))),
    CONSTRAINT weather_reading_2025_07_pkey PRIMARY KEY (apiary_id, measured_at)
);
ALTER TABLE ONLY field.weather_reading ATTACH PARTITION field.weather_reading_2025_07 FOR VALUES FROM ('2025-07-01 00:00:00+00') TO ('2025-08-01 00:00:00+00');

-- 56. table field.weather_reading_rest
CREATE TABLE field.weather_reading_rest (
    apiary_id integer NOT NULL,
    measured_at timestamp with time zone NOT NULL,
    celsius real,
    humidity smallint,
    CONSTRAINT weather_reading_humidity_check CHECK (((humidity >= 0) AND (humidity <= 100))),
    CONSTRAINT weather_reading_rest_pkey PRIMARY KEY (apiary_id, measured_at)
);
ALTER TABLE ONLY field.weather_reading ATTACH PARTITION field.weather_reading_rest DEFAULT;

-- 57. view coop.open_levies
CREATE VIEW coop.open_levies AS
 SELECT l.levy_id,
    l.keeper_no,
    k.full_name,
    l.due_on,
    l.amount,
    (l.amount - COALESCE(sum(p.amount), (0)::numeric)) AS owed
   FROM ((coop.bk_levy l
     JOIN coop.bk_keeper k ON (((k.keeper_no)::text = (l.keeper_no)::text)))
     LEFT JOIN coop.bk_levy_payment p ON ((p.levy_id = l.levy_id)))
  WHERE ((l.status)::text = ANY (ARRAY['open'::character varying, 'dunned'::character varying]))
  GROUP BY l.levy_id, k.keeper_no;

-- 58. view field.hive_overview
CREATE VIEW field.hive_overview AS
 SELECT h.id,
    a.name AS apiary,
    h.hive_no,
    q.born_on AS queen_born_on,
    count(i.id) AS inspections,
    max(i.inspected_at) AS last_inspected_at
   FROM (((field.hive h
     JOIN field.apiary a ON ((a.id = h.apiary_id)))
     LEFT JOIN field.queen q ON ((q.id = h.queen_id)))
     LEFT JOIN field.inspection i ON ((i.hive_id = h.id)))
  GROUP BY h.id, a.name, q.born_on;

-- 59. materialized view field.season_yield
CREATE MATERIALIZED VIEW field.season_yield AS
 SELECT v.season_year,
    v.apiary_id,
    sum(v.net_kg) AS net_kg,
    count(*) AS harvests
   FROM ( SELECT r.season_year,
            h.apiary_id,
            r.net_kg
           FROM (field.harvest r
             JOIN field.hive h ON ((h.id = r.hive_id)))) v
  GROUP BY v.season_year, v.apiary_id
WITH NO DATA;

-- 60. owner of sequence coop.bk_levy_levy_id_seq
ALTER SEQUENCE coop.bk_levy_levy_id_seq OWNED BY coop.bk_levy.levy_id;

-- 61. index coop.attachment_owner_idx
CREATE INDEX attachment_owner_idx ON coop.attachment USING btree (owner_kind, owner_id);

-- 62. index coop.order_customer_idx
CREATE INDEX order_customer_idx ON coop."order" USING btree (customer_id);

-- 63. index field.apiary_keeper_idx
CREATE INDEX apiary_keeper_idx ON field.apiary USING btree (keeper_no);

-- 64. index field.harvest_hive_idx
CREATE INDEX harvest_hive_idx ON field.harvest USING btree (hive_id);

-- 65. index field.hive_queen_idx
CREATE UNIQUE INDEX hive_queen_idx ON field.hive USING btree (queen_id);

-- 66. index field.inspection_hive_idx
CREATE INDEX inspection_hive_idx ON field.inspection USING btree (hive_id, inspected_at DESC);

-- 67. index field.inspection_open_idx
CREATE INDEX inspection_open_idx ON field.inspection USING btree (inspected_at) WHERE (queen_seen IS NULL);

-- 68. index field.queen_mother_idx
CREATE INDEX queen_mother_idx ON field.queen USING btree (mother_id);

-- 69. index field.weather_reading_time_idx
CREATE INDEX weather_reading_time_idx ON ONLY field.weather_reading USING brin (measured_at);

-- 70. index field.weather_reading_2025_05_measured_at_idx
CREATE INDEX weather_reading_2025_05_measured_at_idx ON field.weather_reading_2025_05 USING brin (measured_at);
ALTER INDEX field.weather_reading_time_idx ATTACH PARTITION field.weather_reading_2025_05_measured_at_idx;

-- 71. index field.weather_reading_2025_06_measured_at_idx
CREATE INDEX weather_reading_2025_06_measured_at_idx ON field.weather_reading_2025_06 USING brin (measured_at);
ALTER INDEX field.weather_reading_time_idx ATTACH PARTITION field.weather_reading_2025_06_measured_at_idx;

-- 72. index field.weather_reading_2025_07_measured_at_idx
CREATE INDEX weather_reading_2025_07_measured_at_idx ON field.weather_reading_2025_07 USING brin (measured_at);
ALTER INDEX field.weather_reading_time_idx ATTACH PARTITION field.weather_reading_2025_07_measured_at_idx;

-- 73. index field.weather_reading_rest_measured_at_idx
CREATE INDEX weather_reading_rest_measured_at_idx ON field.weather_reading_rest USING brin (measured_at);
ALTER INDEX field.weather_reading_time_idx ATTACH PARTITION field.weather_reading_rest_measured_at_idx;

-- 74. index field.season_yield_key
CREATE UNIQUE INDEX season_yield_key ON field.season_yield USING btree (season_year, apiary_id);

-- 75. foreign key bk_keeper_mentor_fkey of coop.bk_keeper
ALTER TABLE ONLY coop.bk_keeper ADD CONSTRAINT bk_keeper_mentor_fkey FOREIGN KEY (mentor_no) REFERENCES coop.bk_keeper(keeper_no) ON DELETE SET NULL;

-- 76. foreign key bk_levy_payment_levy_fkey of coop.bk_levy_payment
ALTER TABLE ONLY coop.bk_levy_payment ADD CONSTRAINT bk_levy_payment_levy_fkey FOREIGN KEY (levy_id) REFERENCES coop.bk_levy(levy_id) ON DELETE CASCADE;

-- 77. foreign key bk_office_holder_keeper_fkey of coop.bk_office_holder
ALTER TABLE ONLY coop.bk_office_holder ADD CONSTRAINT bk_office_holder_keeper_fkey FOREIGN KEY (keeper_no) REFERENCES coop.bk_keeper(keeper_no);

-- 78. foreign key bk_office_holder_office_fkey of coop.bk_office_holder
ALTER TABLE ONLY coop.bk_office_holder ADD CONSTRAINT bk_office_holder_office_fkey FOREIGN KEY (office_code) REFERENCES coop.bk_office(office_code);

-- 79. foreign key committee_chair_fkey of coop.committee
ALTER TABLE ONLY coop.committee ADD CONSTRAINT committee_chair_fkey FOREIGN KEY (chair_no) REFERENCES coop.bk_keeper(keeper_no);

-- 80. foreign key committee_member_committee_fkey of coop.committee_member
ALTER TABLE ONLY coop.committee_member ADD CONSTRAINT committee_member_committee_fkey FOREIGN KEY (committee_id) REFERENCES coop.committee(id) ON DELETE CASCADE;

-- 81. foreign key committee_member_keeper_fkey of coop.committee_member
ALTER TABLE ONLY coop.committee_member ADD CONSTRAINT committee_member_keeper_fkey FOREIGN KEY (keeper_no) REFERENCES coop.bk_keeper(keeper_no) ON DELETE CASCADE;

-- 82. foreign key keeper_account_keeper_fkey of coop.keeper_account
ALTER TABLE ONLY coop.keeper_account ADD CONSTRAINT keeper_account_keeper_fkey FOREIGN KEY (keeper_no) REFERENCES coop.bk_keeper(keeper_no) ON DELETE CASCADE;

-- 83. foreign key order_customer_fkey of coop."order"
ALTER TABLE ONLY coop."order" ADD CONSTRAINT order_customer_fkey FOREIGN KEY (customer_id) REFERENCES coop.customer(id);

-- 84. foreign key order_line_lot_fkey of coop.order_line
ALTER TABLE ONLY coop.order_line ADD CONSTRAINT order_line_lot_fkey FOREIGN KEY (batch_id, lot_no) REFERENCES field.jar_lot(batch_id, lot_no);

-- 85. foreign key order_line_order_fkey of coop.order_line
ALTER TABLE ONLY coop.order_line ADD CONSTRAINT order_line_order_fkey FOREIGN KEY (order_id) REFERENCES coop."order"(id) ON DELETE CASCADE;

-- 86. foreign key price_season_fkey of coop.price
ALTER TABLE ONLY coop.price ADD CONSTRAINT price_season_fkey FOREIGN KEY (season_year) REFERENCES coop.season(year);

-- 87. foreign key apiary_keeper_fkey of field.apiary
ALTER TABLE ONLY field.apiary ADD CONSTRAINT apiary_keeper_fkey FOREIGN KEY (keeper_no) REFERENCES coop.bk_keeper(keeper_no);

-- 88. foreign key apiary_forage_site_apiary_fkey of field.apiary_forage_site
ALTER TABLE ONLY field.apiary_forage_site ADD CONSTRAINT apiary_forage_site_apiary_fkey FOREIGN KEY (apiary_id) REFERENCES field.apiary(id) ON DELETE CASCADE;

-- 89. foreign key apiary_forage_site_site_fkey of field.apiary_forage_site
ALTER TABLE ONLY field.apiary_forage_site ADD CONSTRAINT apiary_forage_site_site_fkey FOREIGN KEY (forage_site_id) REFERENCES field.forage_site(id) ON DELETE CASCADE;

-- 90. foreign key apiary_helper_apiary_fkey of field.apiary_helper
ALTER TABLE ONLY field.apiary_helper ADD CONSTRAINT apiary_helper_apiary_fkey FOREIGN KEY (apiary_id) REFERENCES field.apiary(id) ON DELETE CASCADE;

-- 91. foreign key apiary_helper_keeper_fkey of field.apiary_helper
ALTER TABLE ONLY field.apiary_helper ADD CONSTRAINT apiary_helper_keeper_fkey FOREIGN KEY (keeper_no) REFERENCES coop.bk_keeper(keeper_no) ON DELETE CASCADE;

-- 92. foreign key batch_harvest_batch_fkey of field.batch_harvest
ALTER TABLE ONLY field.batch_harvest ADD CONSTRAINT batch_harvest_batch_fkey FOREIGN KEY (batch_id) REFERENCES field.extraction_batch(id) ON DELETE CASCADE;

-- 93. foreign key batch_harvest_harvest_fkey of field.batch_harvest
ALTER TABLE ONLY field.batch_harvest ADD CONSTRAINT batch_harvest_harvest_fkey FOREIGN KEY (harvest_id) REFERENCES field.harvest(id);

-- 94. foreign key diagnoses_inspection_fkey of field.diagnoses
ALTER TABLE ONLY field.diagnoses ADD CONSTRAINT diagnoses_inspection_fkey FOREIGN KEY (inspection_id) REFERENCES field.inspection(id) ON DELETE CASCADE;

-- 95. foreign key extraction_batch_price_fkey of field.extraction_batch
ALTER TABLE ONLY field.extraction_batch ADD CONSTRAINT extraction_batch_price_fkey FOREIGN KEY (season_year, honey_kind) REFERENCES coop.price(season_year, honey_kind);

-- 96. foreign key harvest_hive_fkey of field.harvest
ALTER TABLE ONLY field.harvest ADD CONSTRAINT harvest_hive_fkey FOREIGN KEY (hive_id) REFERENCES field.hive(id);

-- 97. foreign key harvest_season_fkey of field.harvest
ALTER TABLE ONLY field.harvest ADD CONSTRAINT harvest_season_fkey FOREIGN KEY (season_year) REFERENCES coop.season(year);

-- 98. foreign key hive_apiary_fkey of field.hive
ALTER TABLE ONLY field.hive ADD CONSTRAINT hive_apiary_fkey FOREIGN KEY (apiary_id) REFERENCES field.apiary(id);

-- 99. foreign key hive_queen_fkey of field.hive
ALTER TABLE ONLY field.hive ADD CONSTRAINT hive_queen_fkey FOREIGN KEY (queen_id) REFERENCES field.queen(id) ON DELETE SET NULL DEFERRABLE INITIALLY DEFERRED;

-- 100. foreign key hive_treatment_hive_fkey of field.hive_treatment
ALTER TABLE ONLY field.hive_treatment ADD CONSTRAINT hive_treatment_hive_fkey FOREIGN KEY (hive_id) REFERENCES field.hive(id) ON DELETE CASCADE;

-- 101. foreign key hive_treatment_treatment_fkey of field.hive_treatment
ALTER TABLE ONLY field.hive_treatment ADD CONSTRAINT hive_treatment_treatment_fkey FOREIGN KEY (treatment_id) REFERENCES field.treatment(id);

-- 102. foreign key inspection_hive_fkey of field.inspection
ALTER TABLE ONLY field.inspection ADD CONSTRAINT inspection_hive_fkey FOREIGN KEY (hive_id) REFERENCES field.hive(id) ON DELETE CASCADE;

-- 103. foreign key inspection_keeper_fkey of field.inspection
ALTER TABLE ONLY field.inspection ADD CONSTRAINT inspection_keeper_fkey FOREIGN KEY (keeper_no) REFERENCES coop.bk_keeper(keeper_no);

-- 104. foreign key inspection_second_keeper_fkey of field.inspection
ALTER TABLE ONLY field.inspection ADD CONSTRAINT inspection_second_keeper_fkey FOREIGN KEY (second_keeper_no) REFERENCES coop.bk_keeper(keeper_no);

-- 105. foreign key inspection_observation_inspection_fkey of field.inspection_observation
ALTER TABLE ONLY field.inspection_observation ADD CONSTRAINT inspection_observation_inspection_fkey FOREIGN KEY (inspection_id) REFERENCES field.inspection(id) ON DELETE CASCADE;

-- 106. foreign key jar_lot_batch_fkey of field.jar_lot
ALTER TABLE ONLY field.jar_lot ADD CONSTRAINT jar_lot_batch_fkey FOREIGN KEY (batch_id) REFERENCES field.extraction_batch(id);

-- 107. foreign key lab_analyses_sample_fkey of field.lab_analyses
ALTER TABLE ONLY field.lab_analyses ADD CONSTRAINT lab_analyses_sample_fkey FOREIGN KEY (sample_id) REFERENCES field.lab_sample(id) ON DELETE CASCADE;

-- 108. foreign key lab_sample_checked_by_fkey of field.lab_sample
ALTER TABLE ONLY field.lab_sample ADD CONSTRAINT lab_sample_checked_by_fkey FOREIGN KEY (checked_by) REFERENCES coop.bk_keeper(keeper_no);

-- 109. foreign key lab_sample_lot_fkey of field.lab_sample
ALTER TABLE ONLY field.lab_sample ADD CONSTRAINT lab_sample_lot_fkey FOREIGN KEY (batch_id, lot_no) REFERENCES field.jar_lot(batch_id, lot_no);

-- 110. foreign key lab_sample_taken_by_fkey of field.lab_sample
ALTER TABLE ONLY field.lab_sample ADD CONSTRAINT lab_sample_taken_by_fkey FOREIGN KEY (taken_by) REFERENCES coop.bk_keeper(keeper_no);

-- 111. foreign key queen_breed_fkey of field.queen
ALTER TABLE ONLY field.queen ADD CONSTRAINT queen_breed_fkey FOREIGN KEY (breed) REFERENCES field.breed(code) ON UPDATE CASCADE;

-- 112. foreign key queen_breeder_fkey of field.queen
ALTER TABLE ONLY field.queen ADD CONSTRAINT queen_breeder_fkey FOREIGN KEY (breeder_no) REFERENCES coop.bk_keeper(keeper_no);

-- 113. foreign key queen_hive_fkey of field.queen
ALTER TABLE ONLY field.queen ADD CONSTRAINT queen_hive_fkey FOREIGN KEY (hive_id) REFERENCES field.hive(id) ON DELETE SET NULL;

-- 114. foreign key queen_mother_fkey of field.queen
ALTER TABLE ONLY field.queen ADD CONSTRAINT queen_mother_fkey FOREIGN KEY (mother_id) REFERENCES field.queen(id);

-- 115. foreign key rota_apiary_fkey of field.rota
ALTER TABLE ONLY field.rota ADD CONSTRAINT rota_apiary_fkey FOREIGN KEY (apiary_id) REFERENCES field.apiary(id) ON DELETE CASCADE;

-- 116. foreign key rota_keeper_fkey of field.rota
ALTER TABLE ONLY field.rota ADD CONSTRAINT rota_keeper_fkey FOREIGN KEY (keeper_no) REFERENCES coop.bk_keeper(keeper_no);

-- 117. foreign key rota_season_fkey of field.rota
ALTER TABLE ONLY field.rota ADD CONSTRAINT rota_season_fkey FOREIGN KEY (season_year) REFERENCES coop.season(year);

-- 118. foreign key swarm_report_hive_fkey of field.swarm_report
ALTER TABLE ONLY field.swarm_report ADD CONSTRAINT swarm_report_hive_fkey FOREIGN KEY (hive_id) REFERENCES field.hive(id) NOT VALID;

-- 119. foreign key weather_reading_apiary_fkey of field.weather_reading
ALTER TABLE field.weather_reading ADD CONSTRAINT weather_reading_apiary_fkey FOREIGN KEY (apiary_id) REFERENCES field.apiary(id);

-- 120. trigger keeper_touch on coop.bk_keeper
CREATE TRIGGER keeper_touch BEFORE UPDATE ON coop.bk_keeper FOR EACH ROW EXECUTE FUNCTION field.touch();

-- 121. trigger hive_touch on field.hive
CREATE TRIGGER hive_touch BEFORE UPDATE ON field.hive FOR EACH ROW EXECUTE FUNCTION field.touch();

-- 122. rows of materialized view field.season_yield
SET LOCAL search_path = DEFAULT;
REFRESH MATERIALIZED VIEW field.season_yield;

COMMIT;
