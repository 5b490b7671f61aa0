-- Rows for the co-operative: the same on every machine, from a seeded generator. Loaded once, after schema.sql.
-- pick(i, salt, n) gives a number from 0 to n - 1 that depends on nothing but its arguments.
SET search_path = pg_catalog;
CREATE FUNCTION pg_temp.pick(i bigint, salt integer, n integer) RETURNS integer
    LANGUAGE sql IMMUTABLE
    AS $$ SELECT ((((i * 2654435761 + salt * 40503) % 4294967296) * 69069 + 12345) / 65536 % n)::integer $$;
CREATE FUNCTION pg_temp.keeper(i bigint) RETURNS text LANGUAGE sql IMMUTABLE AS $$ SELECT 'FM-' || lpad((i + 1)::text, 4, '0') $$;

INSERT INTO coop.season SELECT y, make_date(y, 4, 1), CASE WHEN y < 2026 THEN make_date(y, 10, 31) END FROM generate_series(2018, 2026) y;
INSERT INTO coop.price SELECT s.year, k.kind, 8 + pg_temp.pick(s.year, k.n::int, 600) / 100.0 FROM coop.season s, unnest(ARRAY['heather', 'lime', 'clover', 'forest']) WITH ORDINALITY k(kind, n);

INSERT INTO coop.bk_keeper (keeper_no, full_name, email, joined_on, left_on, active, created_at, created_by)
SELECT pg_temp.keeper(i),
    (ARRAY['Ada','Bren','Cora','Dov','Edda','Finn','Gwen','Hale','Isla','Jorn','Kit','Lio','Mara','Nils','Orla','Pim'])[pg_temp.pick(i, 1, 16) + 1] || ' ' ||
    (ARRAY['Alder','Birk','Cress','Dunmoor','Elm','Fernley','Gorse','Hollin','Ivens','Juncker','Kelder','Ling'])[pg_temp.pick(i, 2, 12) + 1],
    CASE WHEN pg_temp.pick(i, 3, 5) > 0 THEN 'keeper' || i || '@fennmoor.example' END,
    date '2009-03-01' + pg_temp.pick(i, 4, 5500), CASE WHEN pg_temp.pick(i, 5, 12) = 0 THEN date '2025-01-31' END,
    CASE WHEN pg_temp.pick(i, 5, 12) = 0 THEN 'N' ELSE 'Y' END,
    timestamptz '2024-01-01 08:00+00' + i * interval '1 hour', pg_temp.keeper(0)
FROM generate_series(0, 213) i;
UPDATE coop.bk_keeper SET mentor_no = pg_temp.keeper(pg_temp.pick(substr(keeper_no, 4)::bigint, 6, 40)) WHERE pg_temp.pick(substr(keeper_no, 4)::bigint, 7, 3) = 0;
INSERT INTO coop.keeper_account SELECT pg_temp.keeper(i), 'FM' || lpad(pg_temp.pick(i, 8, 100000)::text, 20, '0'), CASE WHEN i % 3 = 0 THEN 'keeper' || i END, pg_temp.pick(i, 9, 50) * 10 FROM generate_series(0, 197) i;
INSERT INTO coop.bk_office VALUES ('CHAIR', 'Chair', 1), ('TREAS', 'Treasurer', 2), ('SECR', 'Secretary', 3), ('INSP', 'Apiary inspector', 4), ('STORE', 'Keeper of the store', 5);
INSERT INTO coop.bk_office_holder SELECT o.office_code, pg_temp.keeper(i * 7 + o."order"), date '2019-02-01' + i::int * 365, 20 + pg_temp.pick(i, o."order", 80) FROM coop.bk_office o, generate_series(0, 6) i;
INSERT INTO coop.committee (name, chair_no) VALUES ('Honey show', 'FM-0003'), ('Teaching apiary', 'FM-0011'), ('Swarm line', NULL), ('Bee health', 'FM-0020');
INSERT INTO coop.committee_member SELECT DISTINCT c.id, pg_temp.keeper(pg_temp.pick(i, c.id, 214)) FROM coop.committee c, generate_series(0, 11) i;

-- Three levies point nowhere: their keepers were deleted by hand long ago.
INSERT INTO coop.bk_levy (keeper_no, due_on, amount, status, created_by)
SELECT CASE WHEN i < 3 THEN 'FM-09' || i || '9' WHEN pg_temp.pick(i, 10, 30) = 0 THEN NULL ELSE pg_temp.keeper(pg_temp.pick(i, 11, 214)) END,
    make_date(2018 + pg_temp.pick(i, 12, 9), 3, 31), 20 + pg_temp.pick(i, 13, 60), (ARRAY['open', 'paid', 'paid', 'paid', 'waived', 'dunned'])[pg_temp.pick(i, 14, 6) + 1], pg_temp.keeper(1)
FROM generate_series(0, 1203) i;
INSERT INTO coop.bk_levy_payment SELECT 1 + pg_temp.pick(i, 15, 1204), date '2018-04-01' + pg_temp.pick(i, 16, 2800), 5 + pg_temp.pick(i, 17, 40), CASE WHEN i % 4 = 0 THEN 'transfer ' || i END FROM generate_series(0, 3409) i;

INSERT INTO field.breed VALUES ('CAR', 'Carniolan', true), ('BUC', 'Buckfast', false), ('DRK', 'Dark bee', false), ('LIG', 'Ligurian', false);
INSERT INTO field.apiary (name, keeper_no, grade, position, created_by)
SELECT (ARRAY['Upper','Lower','Old','New','Far','Mill','Church','Heath'])[i % 8 + 1] || ' ' || (ARRAY['Acre','Bank','Croft','Dell','End'])[i / 8 + 1], pg_temp.keeper(pg_temp.pick(i, 18, 60)),
    (ARRAY['sheltered', 'open', 'exposed'])[pg_temp.pick(i, 19, 3) + 1]::field.site_grade, ROW(400000 + pg_temp.pick(i, 20, 9000), 300000 + pg_temp.pick(i, 21, 9000))::field.grid_position, pg_temp.keeper(0)
FROM generate_series(0, 36) i;
INSERT INTO field.forage_site (name, plants, flowers) SELECT 'Site ' || i, (ARRAY['lime', 'clover', 'heather', 'willow'])[pg_temp.pick(i, 22, 4) + 1 : pg_temp.pick(i, 22, 4) + 1], daterange(make_date(2025, 4 + pg_temp.pick(i, 23, 3), 1), make_date(2025, 8, 1)) FROM generate_series(0, 60) i;
INSERT INTO field.apiary_forage_site SELECT DISTINCT a.id, 1 + pg_temp.pick(i, a.id, 61) FROM field.apiary a, generate_series(0, 3) i;
INSERT INTO field.apiary_helper SELECT DISTINCT a.id, pg_temp.keeper(pg_temp.pick(i, a.id + 500, 214)), timestamptz '2024-05-01 00:00+00' FROM field.apiary a, generate_series(0, 2) i;
INSERT INTO field.rota SELECT DISTINCT a.id, s.year, pg_temp.keeper(pg_temp.pick(a.id * 13 + s.year, 24, 214)) FROM field.apiary a, coop.season s WHERE s.year >= 2022;

INSERT INTO field.hive (apiary_id, hive_no, box_kind, frames, created_by) SELECT 1 + i % 37, 1 + i / 37, (ARRAY['national', 'national', 'dadant', 'warre', 'topbar'])[pg_temp.pick(i, 25, 5) + 1], 8 + pg_temp.pick(i, 26, 5), pg_temp.keeper(0) FROM generate_series(0, 411) i;
INSERT INTO field.queen (hive_id, mother_id, breeder_no, breed, born_on, mark, created_by)
SELECT CASE WHEN i < 600 THEN 1 + i % 412 END, CASE WHEN i > 80 AND pg_temp.pick(i, 27, 4) > 0 THEN 1 + pg_temp.pick(i, 28, 80) END, CASE WHEN pg_temp.pick(i, 29, 3) > 0 THEN pg_temp.keeper(pg_temp.pick(i, 30, 50)) END,
    (ARRAY['CAR', 'CAR', 'BUC', 'DRK', 'LIG'])[pg_temp.pick(i, 31, 5) + 1], make_date(2019 + i / 110, 6, 1) + pg_temp.pick(i, 32, 40), CASE WHEN i % 5 > 0 THEN field.colour_of(2019 + i / 110) END, pg_temp.keeper(2)
FROM generate_series(0, 654) i;
UPDATE field.hive SET queen_id = id WHERE id % 9 > 0;
INSERT INTO field.inspection (hive_id, keeper_no, second_keeper_no, inspected_at, brood_frames, temper, queen_seen, "comment", created_by)
SELECT 1 + pg_temp.pick(i, 33, 412), pg_temp.keeper(pg_temp.pick(i, 34, 90)), CASE WHEN pg_temp.pick(i, 35, 4) = 0 THEN pg_temp.keeper(90 + pg_temp.pick(i, 36, 60)) END,
    timestamptz '2022-04-01 09:00+00' + pg_temp.pick(i, 37, 1300) * interval '1 day', pg_temp.pick(i, 38, 9), 1 + pg_temp.pick(i, 39, 5), CASE pg_temp.pick(i, 40, 5) WHEN 0 THEN NULL WHEN 1 THEN false ELSE true END,
    CASE WHEN i % 17 = 0 THEN 'needs space' END, pg_temp.keeper(pg_temp.pick(i, 34, 90))
FROM generate_series(0, 9870) i;
INSERT INTO field.observation_code SELECT 'OB' || lpad(i::text, 2, '0'), 'observation ' || i, (ARRAY['brood', 'stores', 'health', 'temper'])[i % 4 + 1] FROM generate_series(1, 48) i;
INSERT INTO field.inspection_observation SELECT DISTINCT ON (1, 2) 1 + pg_temp.pick(i, 41, 9871), CASE WHEN i < 5 THEN 'XX' || i ELSE 'OB' || lpad((1 + pg_temp.pick(i, 42, 48))::text, 2, '0') END, 1 + pg_temp.pick(i, 43, 3) FROM generate_series(0, 14999) i;
INSERT INTO field.diagnoses (inspection_id, disease, certain) SELECT 1 + pg_temp.pick(i, 44, 9871), (ARRAY['chalk brood', 'sac brood', 'varroosis', 'nosemosis'])[pg_temp.pick(i, 45, 4) + 1], i % 3 = 0 FROM generate_series(0, 399) i;
INSERT INTO field.treatment (name, agent, dose) SELECT 'Treatment ' || i, (ARRAY['oxalic acid', 'formic acid', 'thymol', 'none'])[i % 4 + 1], 1 + pg_temp.pick(i, 46, 9000) / 1000.0 FROM generate_series(1, 23) i;
INSERT INTO field.hive_treatment SELECT DISTINCT ON (1, 2) 1 + pg_temp.pick(i, 47, 412), 1 + pg_temp.pick(i, 48, 23), date '2023-08-01' + pg_temp.pick(i, 49, 800), 2.5 FROM generate_series(0, 1999) i;
ALTER TABLE field.swarm_report DISABLE TRIGGER ALL;
INSERT INTO field.swarm_report (hive_id, reported_at, caught) SELECT CASE WHEN i < 4 THEN 9000 + i ELSE 1 + pg_temp.pick(i, 50, 412) END, timestamp '2023-05-10 12:00' + pg_temp.pick(i, 51, 900) * interval '1 day', i % 2 = 0 FROM generate_series(0, 87) i;
ALTER TABLE field.swarm_report ENABLE TRIGGER ALL;
INSERT INTO field.weather_reading SELECT a.id, timestamptz '2025-05-01 00:00+00' + h * interval '6 hours', 8 + pg_temp.pick(a.id * 1000 + h, 52, 200) / 10.0, 40 + pg_temp.pick(a.id * 1000 + h, 53, 60) FROM field.apiary a, generate_series(0, 399) h;

INSERT INTO field.harvest (hive_id, season_year, taken_on, gross_kg, tare_kg, created_by) SELECT 1 + pg_temp.pick(i, 54, 412), 2020 + pg_temp.pick(i, 55, 6), make_date(2020 + pg_temp.pick(i, 55, 6), 7, 1) + pg_temp.pick(i, 56, 50), 8 + pg_temp.pick(i, 57, 30000) / 1000.0, 2.2, pg_temp.keeper(3) FROM generate_series(0, 1121) i;
INSERT INTO field.extraction_batch (extracted_on, honey_kind, season_year, water_percent) SELECT make_date(2020 + i % 6, 8, 1) + pg_temp.pick(i, 58, 30), (ARRAY['heather', 'lime', 'clover', 'forest'])[pg_temp.pick(i, 59, 4) + 1], 2020 + i % 6, 15 + pg_temp.pick(i, 60, 50) / 10.0 FROM generate_series(0, 139) i;
INSERT INTO field.batch_harvest SELECT 1 + (i % 140), 1 + i FROM generate_series(0, 1121) i;
INSERT INTO field.batch_harvest SELECT DISTINCT 1 + pg_temp.pick(i, 61, 140), 1 + pg_temp.pick(i, 62, 1122) FROM generate_series(0, 150) i ON CONFLICT DO NOTHING;
INSERT INTO field.jar_lot SELECT b.id, n, 40 + pg_temp.pick(b.id * 5 + n, 63, 200), (ARRAY[250, 500, 500, 1000])[pg_temp.pick(b.id + n, 64, 4) + 1], b.extracted_on + n FROM field.extraction_batch b, generate_series(1, 3) n WHERE n < 3 OR b.id % 4 > 0;
INSERT INTO field.lab_sample (id, batch_id, lot_no, taken_by, checked_by, taken_at) SELECT md5('sample ' || i)::uuid, 1 + i % 140, 1 + i % 2, pg_temp.keeper(pg_temp.pick(i, 65, 20)), CASE WHEN i % 3 > 0 THEN pg_temp.keeper(20 + pg_temp.pick(i, 66, 9)) END, timestamptz '2024-09-01 10:00+00' + i * interval '3 hours' FROM generate_series(0, 401) i;
INSERT INTO field.lab_analyses SELECT s.id, t.substance, pg_temp.pick(s.lot_no * 77 + s.batch_id, t.n::int, 500) / 100.0, pg_temp.pick(s.batch_id, t.n::int, 9) > 0 FROM field.lab_sample s, unnest(ARRAY['hmf', 'diastase', 'sucrose']) WITH ORDINALITY t(substance, n);

INSERT INTO coop.customer (name, email, created_by) SELECT 'Customer ' || i, 'customer' || i || '@shop.example', pg_temp.keeper(4) FROM generate_series(1, 160) i;
INSERT INTO coop."order" (customer_id, state, placed_at, created_by) SELECT 1 + pg_temp.pick(i, 67, 160), (ARRAY['placed', 'packed', 'collected', 'collected', 'cancelled'])[pg_temp.pick(i, 68, 5) + 1]::coop.order_state, timestamptz '2024-10-01 08:00+00' + i * interval '5 hours', pg_temp.keeper(4) FROM generate_series(0, 899) i;
INSERT INTO coop.order_line SELECT o.id, n, 1 + (o.id * 3 + n) % 140, 1 + (o.id + n) % 2, 1 + pg_temp.pick(o.id, n::int, 12) FROM coop."order" o, generate_series(1, 2) n;
INSERT INTO coop.attachment (owner_kind, owner_id, file_name, created_by) SELECT k.kind, CASE k.kind WHEN 'inspection' THEN 1 + pg_temp.pick(i, 69, 9871) ELSE 1 + pg_temp.pick(i, 70, 412) END, k.kind || '-' || i || '.jpg', pg_temp.keeper(5) FROM generate_series(0, 1339) i, LATERAL (SELECT (ARRAY['inspection', 'hive', 'inspection', 'queen'])[i % 4 + 1] AS kind) k;
INSERT INTO coop.change_log (changed_at, what) SELECT timestamptz '2024-01-01 00:00+00' + i * interval '1 day', 'nightly run ' || i FROM generate_series(0, 299) i;
INSERT INTO coop.bk_levy_2019 SELECT levy_id, keeper_no, make_date(2019, 3, 1), amount, 'paid', timestamptz '2019-01-10 09:00+00', created_by FROM coop.bk_levy WHERE levy_id <= 60;
INSERT INTO coop.bk_keeper_bak SELECT keeper_no, full_name, '0151 ' || 4000 + row_number() OVER (ORDER BY keeper_no) FROM coop.bk_keeper WHERE keeper_no < 'K';
REFRESH MATERIALIZED VIEW field.season_yield;
ANALYZE;
