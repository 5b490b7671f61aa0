-- Depots as somebody wrote them for SQLite.
CREATE TABLE depot (id INTEGER PRIMARY KEY AUTOINCREMENT, code TEXT NOT NULL UNIQUE COLLATE NOCASE, opened TEXT NOT NULL DEFAULT CURRENT_DATE);
CREATE TABLE bay (depot_id INTEGER NOT NULL REFERENCES depot ON DELETE CASCADE, number INT NOT NULL, width REAL CHECK (width > 0), PRIMARY KEY (depot_id, number)) WITHOUT ROWID;
CREATE TABLE crate (
  id INTEGER PRIMARY KEY,
  depot_id INTEGER NOT NULL,
  bay_number INT,
  state TEXT NOT NULL DEFAULT 'empty' CHECK (state IN ('empty', 'packed', 'gone')),
  is_sealed BOOLEAN NOT NULL DEFAULT 0,
  inside_id INTEGER REFERENCES crate,
  extra,
  changed_at DATETIME,
  FOREIGN KEY (depot_id, bay_number) REFERENCES bay (depot_id, number)
);
CREATE TABLE label (id INTEGER PRIMARY KEY, text VARCHAR(40) NOT NULL);
CREATE TABLE crate_label (crate_id INTEGER, label_id INTEGER, UNIQUE (crate_id, label_id));
CREATE TABLE keeper (id INTEGER PRIMARY KEY, first_name TEXT, last_name TEXT);
CREATE TABLE seal (crate_id INTEGER PRIMARY KEY REFERENCES crate, number TEXT NOT NULL, keeper_id INTEGER);
CREATE VIEW packed_crate AS SELECT c.id, d.code FROM crate c JOIN depot d ON d.id = c.depot_id WHERE c.state = 'packed';
