// Pairs of databases that differ in one field of the Catalog's structure, by the path of that field.

export interface Case {
  /** The server's first major version that has it; 13 where nothing is said. */
  readonly since?: number
  readonly setup?: string
  /** What the second database has beyond the setup, or instead where `first` is given. */
  readonly change: string
  readonly first?: string
}

const t = 'create table t (id integer primary key, a integer, b text);'
const u = 'create table u (id integer primary key, x integer, y integer);'
const f = 'create function f() returns trigger language plpgsql as $$ begin return new; end $$;'

const r = 'create table r (a int4range, b int4range, c int, d text);'
const w = 'create foreign data wrapper w; create server s foreign data wrapper w;'
/** A range whose canonical function needs the range itself: a shell first. */
const canonical = (schema: string, name = 'k') =>
  `create type g; create function ${schema}.${name}(g) returns g language internal immutable strict as 'int4range_canonical'; create type g as range (subtype = int, canonical = ${schema}.${name})`
const difference = (schema: string, name = 'df') =>
  `create function public.df(float8, float8) returns float8 language sql immutable as 'select $1 - $2'; create function public.df2(float8, float8) returns float8 language sql immutable as 'select $1 - $2'; create type g as range (subtype = float8, subtype_diff = ${schema}.${name})`

/** By path of the field; `[]` stands for any item of the list. */
export const cases: Readonly<Record<string, Case>> = {
  'schemas[].name': { change: 'create schema extra' },
  'schemas[].comment': { change: `comment on schema public is 'other'` },
  'extensions[].name': { change: 'create extension citext' },
  'extensions[].schema': { first: 'create schema x; create extension citext', change: 'create schema x; create extension citext schema x' },
  'extensions[].version': { first: `create extension citext version '1.5'`, change: `create extension citext version '1.6'` },
  'extensions[].comment': { setup: 'create extension citext;', change: `comment on extension citext is 'other'` },
  'enums[].schema': { first: `create schema x; create type e as enum ('a')`, change: `create schema x; create type x.e as enum ('a')` },
  'enums[].name': { first: `create type e as enum ('a')`, change: `create type e2 as enum ('a')` },
  'enums[].labels[]': { first: `create type e as enum ('a', 'b')`, change: `create type e as enum ('b', 'a')` },
  'enums[].comment': { setup: `create type e as enum ('a');`, change: `comment on type e is 'c'` },
  'domains[].schema': { first: 'create schema x; create domain d as text', change: 'create schema x; create domain x.d as text' },
  'domains[].name': { first: 'create domain d as text', change: 'create domain d2 as text' },
  'domains[].type': { first: 'create domain d as varchar(3)', change: 'create domain d as varchar(4)' },
  'domains[].nullable': { first: 'create domain d as text', change: 'create domain d as text not null' },
  'domains[].default': { first: `create domain d as text default 'a'`, change: `create domain d as text default 'b'` },
  'domains[].collation': { first: 'create domain d as text', change: 'create domain d as text collate "C"' },
  'domains[].checks[].name': {
    first: 'create domain d as int constraint a check (value > 0)',
    change: 'create domain d as int constraint b check (value > 0)',
  },
  'domains[].checks[].expression': {
    first: 'create domain d as int constraint a check (value > 0)',
    change: 'create domain d as int constraint a check (value > 1)',
  },
  'domains[].checks[].validated': {
    first: 'create domain d as int; alter domain d add constraint a check (value > 0)',
    change: 'create domain d as int; alter domain d add constraint a check (value > 0) not valid',
  },
  'domains[].checks[].comment': { setup: 'create domain d as int constraint a check (value > 0);', change: `comment on constraint a on domain d is 'c'` },
  'domains[].comment': { setup: 'create domain d as int;', change: `comment on domain d is 'c'` },
  'domains[].dependsOn[].kind': {
    setup: `create domain g as int; create function h(int) returns boolean immutable language sql as 'select true';`,
    first: 'create domain d as int check (value > 0)',
    change: 'create domain d as int check (h(value))',
  },
  'composites[].schema': { first: 'create schema x; create type c as (a int)', change: 'create schema x; create type x.c as (a int)' },
  'composites[].name': { first: 'create type c as (a int)', change: 'create type c2 as (a int)' },
  'composites[].attributes[].name': { first: 'create type c as (a int)', change: 'create type c as (b int)' },
  'composites[].attributes[].type': { first: 'create type c as (a int)', change: 'create type c as (a bigint)' },
  'composites[].attributes[].collation': { first: 'create type c as (a text)', change: 'create type c as (a text collate "C")' },
  'composites[].attributes[].comment': { setup: 'create type c as (a int);', change: `comment on column c.a is 'c'` },
  'composites[].comment': { setup: 'create type c as (a int);', change: `comment on type c is 'c'` },
  'composites[].dependsOn[].kind': { setup: `create type e as enum ('a');`, first: 'create type c as (a text)', change: 'create type c as (a e)' },
  'sequences[].schema': { first: 'create schema x; create sequence s', change: 'create schema x; create sequence x.s' },
  'sequences[].name': { first: 'create sequence s', change: 'create sequence s2' },
  'sequences[].options.type': { first: 'create sequence s as bigint maxvalue 100', change: 'create sequence s as integer maxvalue 100' },
  'sequences[].options.start': { first: 'create sequence s', change: 'create sequence s start 5' },
  'sequences[].options.increment': { first: 'create sequence s', change: 'create sequence s increment 5' },
  'sequences[].options.minimum': { first: 'create sequence s', change: 'create sequence s minvalue 0 start 1' },
  'sequences[].options.maximum': { first: 'create sequence s', change: 'create sequence s maxvalue 50' },
  'sequences[].options.cache': { first: 'create sequence s', change: 'create sequence s cache 5' },
  'sequences[].options.cycle': { first: 'create sequence s', change: 'create sequence s cycle' },
  'sequences[].unlogged': { since: 15, first: 'create sequence s', change: 'create unlogged sequence s' },
  'sequences[].ownedBy.schema': {
    setup: 'create schema x; create table o (i int); create table x.o (i int); create sequence s;',
    first: 'select 1',
    change: 'alter sequence s owned by o.i',
  },
  'sequences[].ownedBy.table': {
    setup: 'create table o (i int); create table p (i int); create sequence s;',
    first: 'alter sequence s owned by o.i',
    change: 'alter sequence s owned by p.i',
  },
  'sequences[].ownedBy.column': {
    setup: 'create table o (i int, j int); create sequence s;',
    first: 'alter sequence s owned by o.i',
    change: 'alter sequence s owned by o.j',
  },
  'sequences[].comment': { setup: 'create sequence s;', change: `comment on sequence s is 'c'` },
  'relations[].kind': { first: 'create table r as select 1 as x', change: 'create view r as select 1 as x' },
  'relations[].schema': { setup: 'create schema x;', first: 'create table r ()', change: 'create table x.r ()' },
  'relations[].name': { first: 'create table r ()', change: 'create table r2 ()' },
  'relations[].comment': { setup: t, change: `comment on table t is 'c'` },
  'relations[].unlogged': { first: 'create table r ()', change: 'create unlogged table r ()' },
  'relations[].options[]': { setup: t, change: 'alter table t set (fillfactor = 70)' },
  'relations[].columns[].name': { setup: t, change: 'alter table t rename a to a2' },
  'relations[].columns[].type': { setup: t, change: 'alter table t alter a type bigint' },
  'relations[].columns[].nullable': { setup: t, change: 'alter table t alter a set not null' },
  'relations[].columns[].default': { setup: t, change: 'alter table t alter a set default 1' },
  'relations[].columns[].generated.expression': {
    first: 'create table r (a int, b int generated always as (a + 1) stored)',
    change: 'create table r (a int, b int generated always as (a + 2) stored)',
  },
  'relations[].columns[].generated.kept': {
    first: 'create table r (a int, b int)',
    change: 'create table r (a int, b int generated always as (a + 1) stored)',
  },
  'relations[].columns[].identity.generation': {
    first: 'create table r (a int generated always as identity)',
    change: 'create table r (a int generated by default as identity)',
  },
  'relations[].columns[].identity.sequence.schema': {
    setup: 'create schema x; create schema y;',
    first: 'create table x.r (a int generated always as identity)',
    change: 'create table y.r (a int generated always as identity)',
  },
  'relations[].columns[].identity.sequence.name': {
    first: 'create table r (a int generated always as identity)',
    change: 'create table r (a int generated always as identity (sequence name q))',
  },
  'relations[].columns[].identity.options.type': {
    first: 'create table r (a bigint generated always as identity (maxvalue 100))',
    change: 'create table r (a int generated always as identity (maxvalue 100))',
  },
  'relations[].columns[].identity.options.start': {
    first: 'create table r (a int generated always as identity)',
    change: 'create table r (a int generated always as identity (start 7))',
  },
  'relations[].columns[].identity.options.increment': {
    first: 'create table r (a int generated always as identity)',
    change: 'create table r (a int generated always as identity (increment 7))',
  },
  'relations[].columns[].identity.options.minimum': {
    first: 'create table r (a int generated always as identity)',
    change: 'create table r (a int generated always as identity (minvalue 0 start 1))',
  },
  'relations[].columns[].identity.options.maximum': {
    first: 'create table r (a int generated always as identity)',
    change: 'create table r (a int generated always as identity (maxvalue 7))',
  },
  'relations[].columns[].identity.options.cache': {
    first: 'create table r (a int generated always as identity)',
    change: 'create table r (a int generated always as identity (cache 7))',
  },
  'relations[].columns[].identity.options.cycle': {
    first: 'create table r (a int generated always as identity)',
    change: 'create table r (a int generated always as identity (cycle))',
  },
  'relations[].columns[].collation': { first: 'create table r (a text)', change: 'create table r (a text collate "C")' },
  'relations[].columns[].storage': { setup: t, change: 'alter table t alter b set storage external' },
  'relations[].columns[].compression': { since: 14, setup: t, change: 'alter table t alter b set compression pglz' },
  'relations[].columns[].statisticsTarget': { setup: t, change: 'alter table t alter a set statistics 500' },
  'relations[].columns[].comment': { setup: t, change: `comment on column t.a is 'c'` },
  'relations[].primaryKey.name': { first: 'create table r (a int constraint k primary key)', change: 'create table r (a int constraint k2 primary key)' },
  'relations[].primaryKey.columns[]': {
    first: 'create table r (a int, b int, constraint k primary key (a, b))',
    change: 'create table r (a int, b int, constraint k primary key (b, a))',
  },
  'relations[].primaryKey.include[]': {
    first: 'create table r (a int, b int, constraint k primary key (a))',
    change: 'create table r (a int, b int, constraint k primary key (a) include (b))',
  },
  'relations[].primaryKey.deferrable': {
    first: 'create table r (a int constraint k primary key)',
    change: 'create table r (a int constraint k primary key deferrable)',
  },
  'relations[].primaryKey.options[]': {
    first: 'create table r (a int constraint k primary key)',
    change: 'create table r (a int constraint k primary key with (fillfactor = 50))',
  },
  'relations[].primaryKey.attachedTo': {
    setup: 'create table p (a int primary key) partition by range (a); create table c (a int not null primary key);',
    first: 'select 1',
    change: 'alter table p attach partition c default',
  },
  'relations[].primaryKey.clustered': { setup: t, change: 'alter table t cluster on t_pkey' },
  'relations[].primaryKey.comment': { setup: t, change: `comment on constraint t_pkey on t is 'c'` },
  'relations[].uniques[].name': { setup: t, first: 'alter table t add constraint k unique (a)', change: 'alter table t add constraint k2 unique (a)' },
  'relations[].uniques[].columns[]': { setup: t, first: 'alter table t add constraint k unique (a)', change: 'alter table t add constraint k unique (b)' },
  'relations[].uniques[].include[]': {
    setup: t,
    first: 'alter table t add constraint k unique (a)',
    change: 'alter table t add constraint k unique (a) include (b)',
  },
  'relations[].uniques[].deferrable': {
    setup: t,
    first: 'alter table t add constraint k unique (a)',
    change: 'alter table t add constraint k unique (a) deferrable initially deferred',
  },
  'relations[].uniques[].nullsNotDistinct': {
    since: 15,
    setup: t,
    first: 'alter table t add constraint k unique (a)',
    change: 'alter table t add constraint k unique nulls not distinct (a)',
  },
  'relations[].uniques[].options[]': {
    setup: t,
    first: 'alter table t add constraint k unique (a)',
    change: 'alter table t add constraint k unique (a) with (fillfactor = 50)',
  },
  'relations[].uniques[].attachedTo': {
    setup: 'create table p (a int unique) partition by range (a); create table c (a int unique);',
    first: 'select 1',
    change: 'alter table p attach partition c default',
  },
  'relations[].uniques[].clustered': { setup: `${t} alter table t add constraint k unique (a);`, change: 'alter table t cluster on k' },
  'relations[].uniques[].comment': { setup: `${t} alter table t add constraint k unique (a);`, change: `comment on constraint k on t is 'c'` },
  'relations[].foreignKeys[].name': {
    setup: t + u,
    first: 'alter table u add constraint k foreign key (x) references t',
    change: 'alter table u add constraint k2 foreign key (x) references t',
  },
  'relations[].foreignKeys[].columns[]': {
    setup: t + u,
    first: 'alter table u add constraint k foreign key (x) references t',
    change: 'alter table u add constraint k foreign key (y) references t',
  },
  'relations[].foreignKeys[].target.schema': {
    setup: `create schema z; create table z.t (id int primary key); ${t}${u}`,
    first: 'alter table u add constraint k foreign key (x) references t',
    change: 'alter table u add constraint k foreign key (x) references z.t',
  },
  'relations[].foreignKeys[].target.table': {
    setup: `create table t2 (id int primary key); ${t}${u}`,
    first: 'alter table u add constraint k foreign key (x) references t',
    change: 'alter table u add constraint k foreign key (x) references t2',
  },
  'relations[].foreignKeys[].target.columns[]': {
    setup: `${t}${u} alter table t add unique (a);`,
    first: 'alter table u add constraint k foreign key (x) references t (id)',
    change: 'alter table u add constraint k foreign key (x) references t (a)',
  },
  'relations[].foreignKeys[].onUpdate': {
    setup: t + u,
    first: 'alter table u add constraint k foreign key (x) references t',
    change: 'alter table u add constraint k foreign key (x) references t on update cascade',
  },
  'relations[].foreignKeys[].onDelete': {
    setup: t + u,
    first: 'alter table u add constraint k foreign key (x) references t',
    change: 'alter table u add constraint k foreign key (x) references t on delete set null',
  },
  'relations[].foreignKeys[].onDeleteColumns[]': {
    since: 15,
    setup: 'create table m (a int, b int, primary key (a, b)); create table n (x int, y int);',
    first: 'alter table n add constraint k foreign key (x, y) references m on delete set null',
    change: 'alter table n add constraint k foreign key (x, y) references m on delete set null (y)',
  },
  'relations[].foreignKeys[].match': {
    setup: t + u,
    first: 'alter table u add constraint k foreign key (x) references t',
    change: 'alter table u add constraint k foreign key (x) references t match full',
  },
  'relations[].foreignKeys[].deferrable': {
    setup: t + u,
    first: 'alter table u add constraint k foreign key (x) references t',
    change: 'alter table u add constraint k foreign key (x) references t deferrable',
  },
  'relations[].foreignKeys[].validated': {
    setup: t + u,
    first: 'alter table u add constraint k foreign key (x) references t',
    change: 'alter table u add constraint k foreign key (x) references t not valid',
  },
  'relations[].foreignKeys[].enforced': {
    setup: `${t}${u} alter table u add constraint k foreign key (x) references t;`,
    change: 'alter table u disable trigger all',
  },
  'relations[].foreignKeys[].comment': {
    setup: `${t}${u} alter table u add constraint k foreign key (x) references t;`,
    change: `comment on constraint k on u is 'c'`,
  },
  'relations[].checks[].name': { setup: t, first: 'alter table t add constraint k check (a > 0)', change: 'alter table t add constraint k2 check (a > 0)' },
  'relations[].checks[].expression': {
    setup: t,
    first: 'alter table t add constraint k check (a > 0)',
    change: 'alter table t add constraint k check (a > 1)',
  },
  'relations[].checks[].validated': {
    setup: t,
    first: 'alter table t add constraint k check (a > 0)',
    change: 'alter table t add constraint k check (a > 0) not valid',
  },
  'relations[].checks[].inheritable': {
    setup: t,
    first: 'alter table t add constraint k check (a > 0)',
    change: 'alter table t add constraint k check (a > 0) no inherit',
  },
  'relations[].checks[].inherited': {
    setup: 'create table p (a int, constraint k check (a > 0)) partition by range (a); create table c (a int, constraint k check (a > 0));',
    first: 'select 1',
    change: 'alter table p attach partition c default',
  },
  'relations[].checks[].comment': { setup: `${t} alter table t add constraint k check (a > 0);`, change: `comment on constraint k on t is 'c'` },
  'relations[].indexes[].name': { setup: t, first: 'create index i on t (a)', change: 'create index i2 on t (a)' },
  'relations[].indexes[].unique': { setup: t, first: 'create index i on t (a)', change: 'create unique index i on t (a)' },
  'relations[].indexes[].method': { setup: t, first: 'create index i on t (a)', change: 'create index i on t using hash (a)' },
  'relations[].indexes[].columns[].column': { setup: t, first: 'create index i on t (a)', change: 'create index i on t (id)' },
  'relations[].indexes[].columns[].expression': { setup: t, first: 'create index i on t ((a + 1))', change: 'create index i on t ((a + 2))' },
  'relations[].indexes[].columns[].collation': { setup: t, first: 'create index i on t (b)', change: 'create index i on t (b collate "C")' },
  'relations[].indexes[].columns[].operatorClass': { setup: t, first: 'create index i on t (b)', change: 'create index i on t (b text_pattern_ops)' },
  'relations[].indexes[].columns[].operatorClassOptions[]': {
    setup: 'create table v (d tsvector);',
    first: 'create index i on v using gist (d)',
    change: 'create index i on v using gist (d tsvector_ops (siglen = 100))',
  },
  'relations[].indexes[].columns[].descending': { setup: t, first: 'create index i on t (a nulls first)', change: 'create index i on t (a desc nulls first)' },
  'relations[].indexes[].columns[].nullsFirst': { setup: t, first: 'create index i on t (a)', change: 'create index i on t (a nulls first)' },
  'relations[].indexes[].include[]': { setup: t, first: 'create index i on t (a)', change: 'create index i on t (a) include (b)' },
  'relations[].indexes[].predicate': { setup: t, first: 'create index i on t (a)', change: 'create index i on t (a) where a > 0' },
  'relations[].indexes[].nullsNotDistinct': {
    since: 15,
    setup: t,
    first: 'create unique index i on t (a)',
    change: 'create unique index i on t (a) nulls not distinct',
  },
  'relations[].indexes[].options[]': { setup: t, first: 'create index i on t (a)', change: 'create index i on t (a) with (fillfactor = 50)' },
  'relations[].indexes[].attachedTo': {
    setup: 'create table p (a int) partition by range (a); create table c partition of p default; create index i on only p (a); create index ci on c (a);',
    first: 'select 1',
    change: 'alter index i attach partition ci',
  },
  'relations[].indexes[].clustered': { setup: `${t} create index i on t (a);`, change: 'alter table t cluster on i' },
  'relations[].indexes[].valid': {
    setup: 'create table p (a int) partition by range (a); create table c partition of p default;',
    first: 'create index i on only p (a); create index ci on c (a); alter index i attach partition ci',
    change: 'create index i on only p (a); create index ci on c (a)',
  },
  'relations[].indexes[].statistics[].position': {
    setup: `${t} create index i on t ((a + 1), (a + 2));`,
    first: 'alter index i alter column 1 set statistics 100',
    change: 'alter index i alter column 2 set statistics 100',
  },
  'relations[].indexes[].statistics[].target': {
    setup: `${t} create index i on t ((a + 1));`,
    first: 'alter index i alter column 1 set statistics 100',
    change: 'alter index i alter column 1 set statistics 200',
  },
  'relations[].indexes[].comment': { setup: `${t} create index i on t (a);`, change: `comment on index i is 'c'` },
  'relations[].triggers[].name': {
    setup: t + f,
    first: 'create trigger g before update on t for each row execute function f()',
    change: 'create trigger g2 before update on t for each row execute function f()',
  },
  'relations[].triggers[].definition': {
    setup: t + f,
    first: 'create trigger g before update on t for each row execute function f()',
    change: 'create trigger g before insert on t for each row execute function f()',
  },
  'relations[].triggers[].fires': {
    setup: `${t}${f} create trigger g before update on t for each row execute function f();`,
    change: 'alter table t disable trigger g',
  },
  'relations[].triggers[].comment': {
    setup: `${t}${f} create trigger g before update on t for each row execute function f();`,
    change: `comment on trigger g on t is 'c'`,
  },
  'relations[].rules[].name': {
    setup: t,
    first: 'create rule g as on delete to t do instead nothing',
    change: 'create rule g2 as on delete to t do instead nothing',
  },
  'relations[].rules[].definition': {
    setup: t,
    first: 'create rule g as on delete to t do instead nothing',
    change: 'create rule g as on update to t do instead nothing',
  },
  'relations[].rules[].fires': { setup: `${t} create rule g as on delete to t do instead nothing;`, change: 'alter table t disable rule g' },
  'relations[].rules[].comment': { setup: `${t} create rule g as on delete to t do instead nothing;`, change: `comment on rule g on t is 'c'` },
  'relations[].partitionKey': { first: 'create table p (a int) partition by range (a)', change: 'create table p (a int) partition by list (a)' },
  'relations[].partitionOf.parent.schema': {
    setup: 'create schema x; create table p (a int) partition by range (a); create table x.p (a int) partition by range (a);',
    first: 'create table c partition of p default',
    change: 'create table c partition of x.p default',
  },
  'relations[].partitionOf.parent.name': {
    setup: 'create table p (a int) partition by range (a); create table q (a int) partition by range (a);',
    first: 'create table c partition of p default',
    change: 'create table c partition of q default',
  },
  'relations[].partitionOf.bound': {
    setup: 'create table p (a int) partition by range (a);',
    first: 'create table c partition of p for values from (1) to (2)',
    change: 'create table c partition of p for values from (1) to (3)',
  },
  'relations[].definition': { setup: t, first: 'create view v as select id from t', change: 'create view v as select a as id from t' },
  'relations[].replicaIdentity.kind': { setup: t, change: 'alter table t replica identity full' },
  'relations[].replicaIdentity.index': {
    setup: 'create table r (a int not null, b int not null); create unique index i on r (a); create unique index j on r (b);',
    first: 'alter table r replica identity using index i',
    change: 'alter table r replica identity using index j',
  },
  'relations[].rowSecurity': { setup: t, change: 'alter table t enable row level security' },
  'relations[].dependsOn[].kind': {
    setup: `create sequence s; create table r (a int);`,
    first: `alter table r alter a set default 1`,
    change: `alter table r alter a set default nextval('s')`,
  },
  'routines[].kind': { first: `create function r() returns void language sql as ''`, change: `create procedure r() language sql as ''` },
  'routines[].schema': {
    setup: 'create schema x;',
    first: `create function r() returns void language sql as ''`,
    change: `create function x.r() returns void language sql as ''`,
  },
  'routines[].name': { first: `create function r() returns void language sql as ''`, change: `create function r2() returns void language sql as ''` },
  'routines[].argumentTypes': {
    first: `create function r(a int) returns void language sql as ''`,
    change: `create function r(a text) returns void language sql as ''`,
  },
  'routines[].arguments': {
    first: `create function r(a int) returns void language sql as ''`,
    change: `create function r(a int default 1) returns void language sql as ''`,
  },
  'routines[].returns': {
    first: `create function r() returns int language sql as 'select 1'`,
    change: `create function r() returns bigint language sql as 'select 1::bigint'`,
  },
  'routines[].language': {
    first: `create function r() returns void language sql as ''`,
    change: `create function r() returns void language plpgsql as 'begin end'`,
  },
  'routines[].definition': {
    first: `create function r() returns int language sql as 'select 1'`,
    change: `create function r() returns int language sql as 'select 2'`,
  },
  'routines[].comment': { setup: `create function r() returns void language sql as '';`, change: `comment on function r is 'c'` },
  'routines[].dependsOn[].kind': {
    setup: `create type e as enum ('a');`,
    first: `create function r(a text) returns void language sql as ''`,
    change: `create function r(a e) returns void language sql as ''`,
  },
  'ranges[].schema': {
    first: 'create schema x; create type g as range (subtype = numeric)',
    change: 'create schema x; create type x.g as range (subtype = numeric)',
  },
  'ranges[].name': { first: 'create type g as range (subtype = numeric)', change: 'create type g2 as range (subtype = numeric)' },
  'ranges[].subtype': { first: 'create type g as range (subtype = numeric)', change: 'create type g as range (subtype = float8)' },
  'ranges[].multirange.schema': {
    since: 14,
    first: 'create schema x; create type g as range (subtype = numeric)',
    change: 'create schema x; create type g as range (subtype = numeric, multirange_type_name = x.g_multirange)',
  },
  'ranges[].multirange.name': {
    since: 14,
    first: 'create type g as range (subtype = numeric)',
    change: 'create type g as range (subtype = numeric, multirange_type_name = many)',
  },
  'ranges[].operatorClass': {
    first: 'create type g as range (subtype = text)',
    change: 'create type g as range (subtype = text, subtype_opclass = text_pattern_ops)',
  },
  'ranges[].collation': { first: 'create type g as range (subtype = text)', change: 'create type g as range (subtype = text, collation = "C")' },
  'ranges[].canonical.schema': { setup: 'create schema x;', first: canonical('public'), change: canonical('x') },
  'ranges[].canonical.name': { first: canonical('public'), change: canonical('public', 'k2') },
  'ranges[].difference.schema': { first: difference('public'), change: difference('public').replace('public.df)', 'float8mi)') },
  'ranges[].difference.name': { first: difference('public'), change: difference('public', 'df2') },
  'ranges[].comment': { setup: 'create type g as range (subtype = numeric);', change: `comment on type g is 'c'` },
  'ranges[].dependsOn[].kind': {
    setup: 'create domain d as int;',
    first: 'create type g as range (subtype = int)',
    change: 'create type g as range (subtype = d)',
  },
  'relations[].columns[].identity.comment': {
    setup: 'create table i (id int generated always as identity);',
    change: `comment on sequence i_id_seq is 'c'`,
  },
  'relations[].columns[].options[]': { setup: t, change: 'alter table t alter a set (n_distinct = 5)' },
  'relations[].columns[].inherited': {
    setup: 'create table up (a int);',
    first: 'create table down () inherits (up)',
    change: 'create table down (a int) inherits (up)',
  },
  'relations[].primaryKey.indexComment': { setup: t, change: `comment on index t_pkey is 'c'` },
  'relations[].uniques[].indexComment': { setup: 'create table k (a int unique);', change: `comment on index k_a_key is 'c'` },
  'relations[].exclusions[].name': {
    setup: r,
    first: 'alter table r add constraint x exclude using gist (a with &&)',
    change: 'alter table r add constraint y exclude using gist (a with &&)',
  },
  'relations[].exclusions[].method': {
    setup: r,
    first: 'alter table r add constraint x exclude (c with =)',
    change: 'alter table r add constraint x exclude using hash (c with =)',
  },
  'relations[].exclusions[].elements[].column': {
    setup: r,
    first: 'alter table r add constraint x exclude using gist (a with &&)',
    change: 'alter table r add constraint x exclude using gist (b with &&)',
  },
  'relations[].exclusions[].elements[].expression': {
    setup: r,
    first: 'alter table r add constraint x exclude ((c + 1) with =)',
    change: 'alter table r add constraint x exclude ((c + 2) with =)',
  },
  'relations[].exclusions[].elements[].collation': {
    setup: r,
    first: 'alter table r add constraint x exclude (d with =)',
    change: 'alter table r add constraint x exclude (d collate "C" with =)',
  },
  'relations[].exclusions[].elements[].operatorClass': {
    setup: r,
    first: 'alter table r add constraint x exclude (d with =)',
    change: 'alter table r add constraint x exclude (d text_pattern_ops with =)',
  },
  'relations[].exclusions[].elements[].operatorClassOptions[]': {
    setup: 'create extension intarray; create table w (v int[]);',
    first: 'alter table w add constraint x exclude using gist (v gist__intbig_ops with &&)',
    change: 'alter table w add constraint x exclude using gist (v gist__intbig_ops (siglen = 32) with &&)',
  },
  'relations[].exclusions[].elements[].descending': {
    setup: r,
    first: 'alter table r add constraint x exclude (c with =)',
    change: 'alter table r add constraint x exclude (c desc with =)',
  },
  'relations[].exclusions[].elements[].nullsFirst': {
    setup: r,
    first: 'alter table r add constraint x exclude (c with =)',
    change: 'alter table r add constraint x exclude (c nulls first with =)',
  },
  'relations[].exclusions[].elements[].operator.schema': {
    setup: `${r} create schema x; create operator x.= (leftarg = int, rightarg = int, function = int4eq, commutator = OPERATOR(x.=)); create operator class x.c for type int using btree as operator 3 x.=, function 1 btint4cmp(int, int);`,
    first: 'alter table r add constraint x exclude (c with =)',
    change: 'alter table r add constraint x exclude (c x.c with OPERATOR(x.=))',
  },
  'relations[].exclusions[].elements[].operator.name': {
    setup: r,
    first: 'alter table r add constraint x exclude using gist (a with &&)',
    change: 'alter table r add constraint x exclude using gist (a with =)',
  },
  'relations[].exclusions[].include[]': {
    setup: r,
    first: 'alter table r add constraint x exclude (c with =)',
    change: 'alter table r add constraint x exclude (c with =) include (d)',
  },
  'relations[].exclusions[].predicate': {
    setup: r,
    first: 'alter table r add constraint x exclude (c with =)',
    change: 'alter table r add constraint x exclude (c with =) where (c > 0)',
  },
  'relations[].exclusions[].options[]': {
    setup: r,
    first: 'alter table r add constraint x exclude (c with =)',
    change: 'alter table r add constraint x exclude (c with =) with (fillfactor = 50)',
  },
  'relations[].exclusions[].deferrable': {
    setup: r,
    first: 'alter table r add constraint x exclude (c with =)',
    change: 'alter table r add constraint x exclude (c with =) deferrable',
  },
  'relations[].exclusions[].clustered': { setup: `${r} alter table r add constraint x exclude (c with =);`, change: 'alter table r cluster on x' },
  'relations[].exclusions[].comment': { setup: `${r} alter table r add constraint x exclude (c with =);`, change: `comment on constraint x on r is 'c'` },
  'relations[].exclusions[].indexComment': { setup: `${r} alter table r add constraint x exclude (c with =);`, change: `comment on index x is 'c'` },
  'relations[].policies[].name': { setup: t, first: 'create policy p on t', change: 'create policy q on t' },
  'relations[].policies[].permissive': { setup: t, first: 'create policy p on t', change: 'create policy p on t as restrictive' },
  'relations[].policies[].command': { setup: t, first: 'create policy p on t', change: 'create policy p on t for delete' },
  'relations[].policies[].roles[]': { setup: t, first: 'create policy p on t', change: 'create policy p on t to pg_monitor' },
  'relations[].policies[].using': { setup: t, first: 'create policy p on t using (a > 0)', change: 'create policy p on t using (a > 1)' },
  'relations[].policies[].check': { setup: t, first: 'create policy p on t with check (a > 0)', change: 'create policy p on t with check (a > 1)' },
  'relations[].policies[].comment': { setup: `${t} create policy p on t;`, change: `comment on policy p on t is 'c'` },
  'relations[].inherits[].schema': {
    setup: 'create schema x; create table up (a int); create table x.up (a int);',
    first: 'create table down () inherits (up)',
    change: 'create table down () inherits (x.up)',
  },
  'relations[].inherits[].name': {
    setup: 'create table up (a int); create table up2 (a int);',
    first: 'create table down () inherits (up, up2)',
    change: 'create table down () inherits (up2, up)',
  },
  'relations[].ofType.schema': {
    setup: 'create schema x; create type c as (a int); create type x.c as (a int);',
    first: 'create table o of c',
    change: 'create table o of x.c',
  },
  'relations[].ofType.name': { setup: 'create type c as (a int); create type c2 as (a int);', first: 'create table o of c', change: 'create table o of c2' },
  'relations[].accessMethod': {
    setup: 'create access method other type table handler heap_tableam_handler;',
    first: 'create table o (a int)',
    change: 'create table o (a int) using other',
  },
  'relations[].foreign.server': {
    setup: `${w} create server s2 foreign data wrapper w;`,
    first: 'create foreign table o (a int) server s',
    change: 'create foreign table o (a int) server s2',
  },
  'relations[].foreign.options[]': {
    setup: w,
    first: 'create foreign table o (a int) server s',
    change: `create foreign table o (a int) server s options (b 'c')`,
  },
  'relations[].foreign.columns[].column': {
    setup: w,
    first: `create foreign table o (a int options (b 'c'), d int) server s`,
    change: `create foreign table o (a int, d int options (b 'c')) server s`,
  },
  'relations[].foreign.columns[].options[]': {
    setup: w,
    first: `create foreign table o (a int options (b 'c')) server s`,
    change: `create foreign table o (a int options (b 'd')) server s`,
  },
  'objects[].kind': { first: `create collation o (locale = 'C')`, change: 'create text search dictionary o (template = simple)' },
  'objects[].schema': { first: `create schema x; create collation o (locale = 'C')`, change: `create schema x; create collation x.o (locale = 'C')` },
  'objects[].name': { first: `create collation o (locale = 'C')`, change: `create collation o2 (locale = 'C')` },
  'objects[].definition[]': { first: `create collation o (locale = 'C')`, change: `create collation o (locale = 'POSIX')` },
  'objects[].comment': { setup: `create collation o (locale = 'C');`, change: `comment on collation o is 'c'` },
  'objects[].dependsOn[].kind': {
    setup: 'create table a (x int, y int); create table b (x int, y int);',
    first: 'create statistics o on x, y from a',
    change: 'create statistics o on x, y from b',
  },
  'unmodelled[].kind': { setup: `${t} create schema x;`, change: 'alter default privileges in schema x grant select on tables to public' },
  'unmodelled[].identity': {
    setup: 'create schema x; create schema y;',
    first: 'alter default privileges in schema x grant select on tables to public',
    change: 'alter default privileges in schema y grant select on tables to public',
  },
}
