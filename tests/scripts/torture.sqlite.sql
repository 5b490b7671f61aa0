-- Everything the reader knows of SQLite, in the spellings people use.
PRAGMA foreign_keys=OFF;
BEGIN TRANSACTION;
CREATE TABLE bay (id INTEGER PRIMARY KEY AUTOINCREMENT, label TEXT NOT NULL ON CONFLICT FAIL COLLATE NOCASE, untyped, "odd name" VARCHAR ( 20 ), [bracketed] DOUBLE PRECISION DEFAULT 1.5,
  `ticked` UNSIGNED BIG INT DEFAULT (1 + 2), flag BOOLEAN DEFAULT 0 CHECK (flag IN (0, 1)), at DATETIME DEFAULT CURRENT_TIMESTAMP, parent_id INTEGER REFERENCES bay,
  twofold GENERATED ALWAYS AS (id * 2) VIRTUAL, kept INT AS (id + 1) STORED, UNIQUE (label, flag), CONSTRAINT named CHECK (length(label) < 10));
CREATE TABLE IF NOT EXISTS bay (x);
CREATE TABLE crate (code TEXT, bay_id INT NOT NULL, other INTEGER CONSTRAINT fk REFERENCES missing (id) ON DELETE SET NULL DEFERRABLE INITIALLY DEFERRED,
  pair_a INT, pair_b INT, PRIMARY KEY (code, bay_id) FOREIGN KEY (bay_id) REFERENCES Bay (ID) ON UPDATE CASCADE FOREIGN KEY (pair_a, pair_b) REFERENCES pairs);
CREATE TABLE pairs (a INT, b INT, note TEXT UNIQUE, PRIMARY KEY (a, b)) WITHOUT ROWID;
CREATE TABLE exact (id INTEGER PRIMARY KEY, n INT NOT NULL, b BLOB, any_thing ANY) STRICT;
CREATE TABLE descending (id INTEGER PRIMARY KEY DESC, x);
CREATE TABLE int_key (id INT PRIMARY KEY, x);
CREATE TABLE copied AS SELECT id, label FROM bay;
DROP TABLE copied;
CREATE UNIQUE INDEX bay_label ON bay (label COLLATE BINARY DESC) WHERE flag = 1;
CREATE INDEX IF NOT EXISTS bay_expression ON bay (lower(label), id);
CREATE INDEX main.crate_other ON crate (other);
ALTER TABLE crate ADD COLUMN late TEXT DEFAULT 'x;y';
ALTER TABLE crate RENAME COLUMN late TO later;
ALTER TABLE pairs RENAME TO couples;
ALTER TABLE bay DROP COLUMN untyped;
CREATE VIEW seen (number, name) AS SELECT b.id, b.label FROM bay b;
CREATE VIEW plain AS SELECT b.*, c.code AS crate FROM bay b LEFT JOIN crate c ON c.bay_id = b.id;
CREATE VIRTUAL TABLE words USING fts4(title, body);
CREATE TRIGGER bay_after AFTER UPDATE OF label ON bay FOR EACH ROW WHEN new.label <> 'x' BEGIN
  UPDATE crate SET code = CASE WHEN new.id > 1 THEN 'a' ELSE 'b' END WHERE bay_id = new.id;
  INSERT INTO words (title) VALUES ('CREATE TABLE nothing (x); END');
END;
CREATE TEMP TABLE scratch (x);
INSERT INTO bay (label) VALUES('CREATE TABLE not_a_statement (x int);');
COMMIT;
