// Words of the server's own keyword list where a dump writes them as names without quotes: in every place of a name, and all in one table.
import { describe, expect, it } from 'vitest'
import { compareCatalogs } from '../../src/core/catalog/index.ts'
import { allowedDifference, readScript, scriptDiagnosticLine } from '../../src/core/ddl/index.ts'
import { postgresScript } from '../../src/core/dialect/postgres/script.ts'
import { makeDatabase, rowsOf, surveyOf } from '../support/server.ts'

const words = (await rowsOf<{ word: string }>('postgres', 'select word from pg_get_keywords() where quote_ident(word) = word order by 1')).map((r) => r.word)

const t = (columns: string) => `CREATE TABLE public.t (${columns});`
const makesTrigger = `CREATE FUNCTION public.f() RETURNS trigger LANGUAGE plpgsql AS $$begin return new; end$$;`
const places: Readonly<Record<string, (w: string) => string>> = {
  ...Object.fromEntries(
    [
      'integer NOT NULL',
      'character varying(10)',
      'numeric(10,2)',
      'timestamp without time zone',
      'integer[]',
      'public.e',
      'boolean DEFAULT false NOT NULL',
      '"char"',
      'double precision',
    ].map((type) => [`a column of type ${type}`, (w: string) => `CREATE TYPE public.e AS ENUM ('a'); ${t(`a integer, ${w} ${type}, z text`)}`]),
  ),
  'a table': (w) => `CREATE TABLE public.${w} (id integer); CREATE TABLE public.t (LIKE public.${w}); ALTER TABLE public.t RENAME TO other;`,
  'a key': (w) => `${t(`id integer NOT NULL, ${w} integer NOT NULL`)} ALTER TABLE ONLY public.t ADD CONSTRAINT k PRIMARY KEY (id, ${w});`,
  'an index': (w) => `${t(`${w} text`)} CREATE INDEX i ON public.t USING btree (lower(${w}), ${w} DESC NULLS LAST) WHERE (${w} IS NOT NULL);`,
  'an altered column': (w) => `${t(`id integer, ${w} integer`)} ALTER TABLE public.t ALTER COLUMN ${w} SET DEFAULT 1; COMMENT ON COLUMN public.t.${w} IS 'x';`,
  'a dropped column': (w) => `${t(`id integer, ${w} integer`)} ALTER TABLE public.t DROP ${w};`,
  'a constraint': (w) => `${t(`id integer, CONSTRAINT ${w} CHECK ((id > 0))`)}`,
  'a reference': (w) =>
    `CREATE TABLE public.p (${w} integer PRIMARY KEY); ${t(`${w} integer`)} ALTER TABLE ONLY public.t ADD CONSTRAINT f FOREIGN KEY (${w}) REFERENCES public.p(${w}) ON DELETE CASCADE;`,
  'a schema': (w) => `CREATE SCHEMA ${w}; CREATE TABLE ${w}.t (id integer);`,
  'a sequence': (w) => `CREATE SEQUENCE public.${w} START WITH 1 INCREMENT BY 1 NO MINVALUE NO MAXVALUE CACHE 1;`,
  'an owned sequence': (w) => `${t(`${w} integer`)} CREATE SEQUENCE public.s; ALTER SEQUENCE public.s OWNED BY public.t.${w};`,
  'an identity': (w) =>
    `${t(`${w} integer NOT NULL`)} ALTER TABLE public.t ALTER COLUMN ${w} ADD GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME public.q START WITH 1);`,
  'a view': (w) => `${t(`${w} integer`)} CREATE VIEW public.${w} AS SELECT t.${w} FROM public.t;`,
  'a trigger': (w) => `${t(`${w} integer`)} ${makesTrigger} CREATE TRIGGER ${w} BEFORE UPDATE OF ${w} ON public.t FOR EACH ROW EXECUTE FUNCTION public.f();`,
  'a type’s part': (w) => `CREATE TYPE public.c AS (${w} integer, b text);`,
  'a parent’s column': (w) => `CREATE TABLE public.p (${w} integer); CREATE TABLE public.t () INHERITS (public.p);`,
  'a partition key': (w) => `CREATE TABLE public.t (${w} integer) PARTITION BY RANGE (${w});`,
  rows: (w) => `${t(`${w} integer`)}\nCOPY public.t (${w}) FROM stdin;\n1\n\\.\n`,
}

describe('words that a dump writes without quotes', () => {
  it('are many', () => expect(words.length).toBeGreaterThan(200))

  it.each(Object.entries(places))('name %s', (_, text) => {
    const wrong = words.filter((w) => readScript([{ name: 'a.sql', text: text(w) }], postgresScript).diagnostics.length > 0)
    expect(wrong).toEqual([])
  })

  it('name the columns of one table, as the server has them', async () => {
    const text = `CREATE TABLE public.t (${words.map((w, i) => `${w} ${['integer', 'text', 'character varying(10)', 'numeric(10,2)'][i % 4]}${i % 3 === 0 ? ' NOT NULL' : ''}`).join(', ')});`
    const db = await makeDatabase(text)
    try {
      const script = readScript([{ name: 'a.sql', text }], postgresScript)
      expect(script.diagnostics.map(scriptDiagnosticLine)).toEqual([])
      const differences = compareCatalogs(script.catalog, (await surveyOf(db.location)).structure)
      expect(differences.filter((d) => allowedDifference(d, () => false) === null)).toEqual([])
    } finally {
      await db.drop()
    }
  })
})
