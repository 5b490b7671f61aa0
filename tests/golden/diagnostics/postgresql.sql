CREATE TABLE bay (id int PRIMARY KEY, width int, width int);
CREATE TABLE bay (id int);
CREATE TABLE crate (id int, bay_id int REFERENCES by, FOREIGN KEY (lid) REFERENCES bay);
CREATE TABLE lid (id int, size seize, PRIMARY KEY (id), PRIMARY KEY (size));
CREATE INDEX ON nowhere (id);
ALTER TABLE bay ADD CONSTRAINT odd CHECK (id > 0), DROP COLUMN deep;
CREATE TABLE user (id int);
CREATE TABLE broken (id int,, name text);
COMMENT ON COLUMN bay.depth IS 'how deep';
ALTER TABLE bay DISABLE TRIGGER gone;
CREATE VIEW v AS SELECT nothing FROM bay;
CREATE FUNCTION f() RETURNS trigger LANGUAGE plpgsql AS $$ begin
