CREATE TABLE bay (id int PRIMARY KEY, id2 int, KEY (depth));
CREATE TABLE crate (id int AUTO_INCREMENT, bay_id int REFERENCES bay (id), CONSTRAINT c FOREIGN KEY (bay_id) REFERENCES by (id));
CREATE TABLE lid (id int PRIMARY KEY, size enum('a','a') , CONSTRAINT big CHECK (size > 1)) ENGINE=NoSuch;
CREATE TABLE `broken` (id int;
ALTER TABLE bay MODIFY COLUMN depth int;
DROP TABLE nowhere;
CREATE TABLE key (id int);
