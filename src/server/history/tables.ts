import type Database from 'better-sqlite3';
import { z } from 'zod';
import { type DocName, type DocOf, fieldsOf, type Stored, schemaFor } from '@/contract/documents';
import { childKinds, DOC_NAMES, type Fields, kindOf, whole } from '@/contract/kinds';
import { UndercroftError } from '@/core/errors';
import { filled, sparse } from '@/core/parameter/values';
import type { Db } from '../db/open';

/**
 * Table layout of documents, derived from their schemas: a table is named after the kind, a field `startFrame` is
 * stored in a column `start_frame`, lists and records as JSON, booleans as 1 and 0. Parameters share one JSON column,
 * which holds only values that differ from the initial ones: a new parameter needs no migration.
 */
interface Table {
  readonly fields: readonly string[];
  readonly columns: Readonly<Record<string, string>>;
  readonly json: ReadonlySet<string>;
  readonly booleans: ReadonlySet<string>;
  readonly settings: boolean;
}

const SETTINGS = 'settings';

function tableOf(doc: DocName): Table {
  const { parameters } = kindOf(doc);
  const schema = fieldsOf(doc);
  const own = new Set(Object.keys(parameters?.({}) ?? {}));
  const fields = Object.keys(schema.shape).filter((field) => !own.has(field));
  const columns = Object.fromEntries(fields.map((f) => [f, f.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`)]));
  const of = (...types: readonly string[]) => new Set(fields.filter((f) => types.includes(typeOf(schema.shape[f]))));
  return { fields, columns, json: of('array', 'object'), booleans: of('boolean'), settings: parameters !== null };
}

function typeOf(schema: unknown): string {
  if (schema instanceof z.ZodNullable || schema instanceof z.ZodOptional) return typeOf(schema.unwrap());
  if (schema instanceof z.ZodPipe) return typeOf(schema.out);
  return schema instanceof z.ZodType ? schema.def.type : '';
}

const TABLES = Object.fromEntries(DOC_NAMES.map((doc) => [doc, tableOf(doc)])) as Readonly<Record<DocName, Table>>;

/** The columns of a document for a view's SELECT, its revision included, from the table or alias `from`. */
export function columnsOf(doc: DocName, from: string = doc): string {
  const { fields, columns, settings } = TABLES[doc];
  const own = fields.map((f) => `${from}.${columns[f]} AS "${f}"`);
  return [`${from}.rev`, ...own, ...(settings ? [`${from}.${SETTINGS}`] : [])].join(', ');
}

/** Parses a row of `columnsOf`; further columns are kept as they are. */
export function fromRow<D extends DocName>(doc: D, row: unknown): Stored<DocOf<D>> {
  const { json, booleans, settings } = TABLES[doc];
  const value = { ...(row as Fields) };
  for (const field of json) if (typeof value[field] === 'string') value[field] = JSON.parse(value[field]);
  for (const field of booleans) if (field in value) value[field] = value[field] === 1;
  if (!settings) return value as unknown as Stored<DocOf<D>>;
  const { [SETTINGS]: stored, ...rest } = value;
  const parameters = kindOf(doc).parameters?.(rest) ?? {};
  return { ...rest, ...filled(parameters, JSON.parse(stored as string) as Fields) } as unknown as Stored<DocOf<D>>;
}

/** Documents of one kind, by what follows `SELECT columns FROM table`; the table is named after the kind. */
export function select<D extends DocName>(db: Db, doc: D, tail: string, ...values: unknown[]): Stored<DocOf<D>>[] {
  return prepared(db, `SELECT ${columnsOf(doc)} FROM ${doc} ${tail}`)
    .all(...values)
    .map((row) => fromRow(doc, row));
}

/** Columns and values that store some fields of a document; parameters are always stored together. */
function stored(doc: DocName, value: Readonly<Fields>, names: readonly string[]): [column: string, value: unknown][] {
  const { columns, json, settings } = TABLES[doc];
  const own = names.flatMap((name): [string, unknown][] => {
    const column = columns[name];
    const field = value[name];
    if (!column) return [];
    if (json.has(name) && field !== null) return [[column, JSON.stringify(field)]];
    return [[column, typeof field === 'boolean' ? Number(field) : field]];
  });
  if (!settings || own.length === names.length) return own;
  return [...own, [SETTINGS, JSON.stringify(sparse(kindOf(doc).parameters?.(value) ?? {}, value))]];
}

export function readDoc(db: Db, doc: DocName, id: string): { rev: number; value: Fields } | null {
  // A recording being imported or removed is no document.
  const there = doc === 'recording' ? " AND state = 'ready'" : '';
  const row = prepared(db, `SELECT ${columnsOf(doc)} FROM ${doc} WHERE id = ?${there}`).get(id);
  if (!row) return null;
  const { rev, ...value } = fromRow(doc, row) as unknown as Fields;
  return { rev: rev as number, value };
}

/** Inserts a document. */
export function insertDoc(db: Db, doc: DocName, value: Readonly<Fields>, rev: number): void {
  const cells = stored(doc, value, [...TABLES[doc].fields, ...(TABLES[doc].settings ? [SETTINGS] : [])]);
  const names = cells.map(([column]) => column).join(', ');
  const marks = cells.map(() => '?').join(', ');
  prepared(db, `INSERT INTO ${doc} (rev, ${names}) VALUES (?, ${marks})`).run(rev, ...cells.map(([, cell]) => cell));
}

/** Updates the named fields of a document from its whole value. */
export function updateDoc(db: Db, doc: DocName, value: Readonly<Fields>, names: readonly string[], rev: number): void {
  const cells = stored(doc, value, names);
  const list = ['rev', ...cells.map(([column]) => column)].map((column) => `${column} = ?`).join(', ');
  prepared(db, `UPDATE ${doc} SET ${list} WHERE id = ?`).run(rev, ...cells.map(([, cell]) => cell), value.id);
}

export function deleteDoc(db: Db, doc: DocName, id: string): void {
  prepared(db, `DELETE FROM ${doc} WHERE id = ?`).run(id);
}

export function childrenOf(db: Db, doc: DocName, id: string): { doc: DocName; id: string }[] {
  return childKinds(doc).flatMap(({ doc: child, field }) => {
    const column = TABLES[child].columns[field];
    const rows = prepared(db, `SELECT id FROM ${child} WHERE ${column} = ?`).all(id) as { id: string }[];
    return rows.map((row) => ({ doc: child, id: row.id }));
  });
}

/** Whether an edit may change a field of a document. */
export function isField(doc: DocName, value: Readonly<Fields>, field: string): boolean {
  return field !== 'id' && field in schemaFor(doc, value).shape;
}

/** The recording, kit or hit whose view shows a document. */
export function scopeOf(db: Db, doc: DocName, id: string, value: Readonly<Fields>): string {
  const { parent, scope } = kindOf(doc);
  if (!parent) return String(value[scope] ?? id);
  const above = String(value[parent.field] ?? id);
  const found = readDoc(db, parent.doc as DocName, above);
  return found ? scopeOf(db, parent.doc as DocName, above, found.value) : above;
}

/**
 * Validates a whole document; throws `out-of-range` with the wrong field. Fields added since it was made get their
 * initial values.
 */
export function checkDoc(doc: DocName, value: Readonly<Fields>): Fields {
  const complete = whole(doc, value);
  const result = schemaFor(doc, complete).safeParse(complete);
  if (result.success) return wellFormed(result.data) as Fields;
  const issue = result.error.issues[0];
  const path = [doc, ...(issue?.path ?? [])].join('.');
  throw new UndercroftError('out-of-range', `${path}: ${issue?.message ?? 'not valid'}`, path);
}

/** Text as SQLite stores it: lone surrogates are replaced, because undo compares with what is stored. */
function wellFormed(value: unknown): unknown {
  if (typeof value === 'string') return value.toWellFormed();
  if (Array.isArray(value)) return value.map(wellFormed);
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, wellFormed(inner)]));
}

type Statement = Database.Statement<unknown[]>;

const statements = new WeakMap<Db, Map<string, Statement>>();

/** Caches prepared statements by connection. */
export function prepared(db: Db, sql: string): Statement {
  let known = statements.get(db);
  if (!known) {
    known = new Map();
    statements.set(db, known);
  }
  let statement = known.get(sql);
  if (!statement) {
    statement = db.prepare<unknown[]>(sql);
    known.set(sql, statement);
  }
  return statement;
}
