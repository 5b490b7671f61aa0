-- What tables have from their parents: checks that are said again, keys and triggers that reach partitions, and partitions of partitions.
create schema depot;
-- a partition whose generated column has an expression of its own
create table depot.load (day date not null, kilos int not null, pounds int generated always as (kilos * 2) stored) partition by range (day);
create table depot.load_a partition of depot.load for values from ('2020-01-01') to ('2021-01-01');
create table depot.load_b (day date not null, kilos int not null, pounds int generated always as (kilos * 2) stored);
alter table depot.load attach partition depot.load_b for values from ('2021-01-01') to ('2022-01-01');
-- statement and row triggers of inherited and partitioned tables
create function depot.f() returns trigger language plpgsql as $$begin return null; end$$;
create trigger st after insert on depot.load for each statement execute function depot.f();
create trigger rt after insert on depot.load for each row execute function depot.f();
alter table depot.load_a disable trigger rt;
create trigger st_a after update on depot.load_a for each statement execute function depot.f();
create trigger tt after insert on depot.load referencing new table as n for each statement execute function depot.f();
-- checks that are merged
create table depot.bay (id int, width int constraint wide check (width > 0), constraint sized check (id < width));
create table depot.bay_small (id int, width int, extra int, constraint wide check (width > 0)) inherits (depot.bay);
create table depot.bay_own (constraint wide check (width > 0)) inherits (depot.bay);
alter table depot.bay add constraint later check (id > 0);
create table depot.bay_free (id int, width int, constraint wide check (width > 0), constraint sized check (id < width), constraint later check (id > 0));
alter table depot.bay_free inherit depot.bay;
create table depot.p (a int, b int, constraint c check (b > 0)) partition by list (a);
create table depot.p1 (a int, b int, constraint c check (b > 0), constraint own check (b < 100));
alter table depot.p attach partition depot.p1 for values in (1);
create trigger bst before delete on depot.bay for each statement execute function depot.f();
create trigger bst before delete on depot.bay_own for each statement execute function depot.f();
-- keys that reach a partition's own partitions
create table depot.k (a int not null, b int not null, c int);
create table depot.q (a int not null, b int not null, c int) partition by range (a);
create table depot.q1 (a int not null, b int not null, c int) partition by range (b);
create table depot.q11 (a int not null, b int not null, c int);
alter table depot.q1 attach partition depot.q11 for values from (0) to (10);
alter table depot.q add primary key (a, b);
alter table depot.q attach partition depot.q1 for values from (0) to (10);
create table depot.r (a int not null, b int not null, c int, unique (a, b, c)) partition by range (a);
create table depot.r1 (a int not null, b int not null, c int, primary key (a, b), unique (a, b, c)) partition by range (b);
create table depot.r11 partition of depot.r1 for values from (0) to (10);
alter table depot.r attach partition depot.r1 for values from (0) to (10);
alter table depot.k add primary key (a, b);
alter table depot.r add foreign key (a, b) references depot.k;
alter table depot.q add constraint q_r foreign key (a, b) references depot.k (a, b);
create index on depot.r (c);
alter table depot.load_b disable trigger rt;
alter table depot.load_b enable trigger rt;
