import type Database from 'better-sqlite3';
import { DOCUMENTS, type DocName } from '@/contract/documents';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';

export type Fields = Record<string, unknown>;

interface DocTable {
  readonly fields: readonly string[];
  readonly columns: Readonly<Record<string, string>>;
  /** Field that names the recording or kit whose view shows the document. */
  readonly scope: string;
  /** Documents that cannot be without this one, and the field that names it. */
  readonly children: readonly { doc: DocName; field: string }[];
  /** Whether a person can make and remove it; the others come and go with their recording. */
  readonly lasting: boolean;
}

function table(doc: DocName, scope: string, lasting: boolean, children: DocTable['children'] = []): DocTable {
  const schema = DOCUMENTS[doc];
  const fields = Object.keys(schema.shape);
  const columns = Object.fromEntries(fields.map((f) => [f, f.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`)]));
  return { fields, columns, scope, children, lasting };
}

/** How documents lie in their tables: a field `startFrame` in a column `start_frame`, the table named as the document. */
export const TABLES: Readonly<Record<DocName, DocTable>> = {
  recording: table('recording', 'id', true),
  cut: table('cut', 'id', true),
  slice: table('slice', 'recordingId', false),
  bookmark: table('bookmark', 'recordingId', false),
  hit: table('hit', 'id', false),
  kit: table('kit', 'id', false, [{ doc: 'pad', field: 'kitId' }]),
  pad: table('pad', 'kitId', false, [
    { doc: 'layer', field: 'padId' },
    { doc: 'variation', field: 'padId' },
  ]),
  layer: table('layer', 'padId', false),
  variation: table('variation', 'padId', false),
  plan: table('plan', 'id', false),
};

/** Fields that are lists or records and lie as JSON in their columns. */
const AS_JSON: ReadonlySet<string> = new Set(['tags', 'dc', 'strikes', 'split', 'pad', 'also']);
/** Fields that are true or false and lie as 1 or 0. */
const BOOLEANS: ReadonlySet<string> = new Set(['locked', 'oneVoice']);

/** The columns of a document as a view selects them, its revision included, from the table or alias `from`. */
export function columnsOf(doc: DocName, from: string = doc): string {
  const { fields, columns } = TABLES[doc];
  return ['rev', ...fields].map((f) => `${from}.${columns[f] ?? f} AS "${f}"`).join(', ');
}

/** A row of `columnsOf` as the document it is; further columns stay as they are. */
export function fromRow<T>(row: unknown): T {
  const value = { ...(row as Fields) };
  for (const field of AS_JSON) if (typeof value[field] === 'string') value[field] = JSON.parse(value[field]);
  for (const field of BOOLEANS) if (field in value) value[field] = value[field] === 1;
  return value as T;
}

function toColumn(field: string, value: unknown): unknown {
  if (AS_JSON.has(field)) return JSON.stringify(value);
  return typeof value === 'boolean' ? Number(value) : value;
}

export function readDoc(db: Db, doc: DocName, id: string): { rev: number; value: Fields } | null {
  // A recording that is on its way, in or out, is no document.
  const there = doc === 'recording' ? " AND state = 'ready'" : '';
  const row = prepared(db, `SELECT ${columnsOf(doc)} FROM ${doc} WHERE id = ?${there}`).get(id);
  if (!row) return null;
  const { rev, ...value } = fromRow<Fields>(row);
  return { rev: rev as number, value };
}

export function insertDoc(db: Db, doc: DocName, value: Fields, rev: number): void {
  const { fields, columns } = TABLES[doc];
  const names = fields.map((f) => columns[f]).join(', ');
  const marks = fields.map(() => '?').join(', ');
  prepared(db, `INSERT INTO ${doc} (rev, ${names}) VALUES (?, ${marks})`).run(
    rev,
    ...fields.map((f) => toColumn(f, value[f])),
  );
}

export function updateDoc(db: Db, doc: DocName, id: string, set: Fields, rev: number): void {
  const { columns } = TABLES[doc];
  const names = Object.keys(set);
  const list = names.map((f) => `${columns[f]} = ?`).join(', ');
  prepared(db, `UPDATE ${doc} SET rev = ?, ${list} WHERE id = ?`).run(
    rev,
    ...names.map((f) => toColumn(f, set[f])),
    id,
  );
}

export function deleteDoc(db: Db, doc: DocName, id: string): void {
  prepared(db, `DELETE FROM ${doc} WHERE id = ?`).run(id);
}

export function childrenOf(db: Db, doc: DocName, id: string): { doc: DocName; id: string }[] {
  return TABLES[doc].children.flatMap(({ doc: child, field }) => {
    const column = TABLES[child].columns[field];
    const rows = prepared(db, `SELECT id FROM ${child} WHERE ${column} = ?`).all(id) as { id: string }[];
    return rows.map((row) => ({ doc: child, id: row.id }));
  });
}

/** A whole document, checked against its schema; throws `out-of-range` with the field that is wrong. */
export function checkDoc(doc: DocName, value: Fields): Fields {
  const result = DOCUMENTS[doc].safeParse(value);
  if (result.success) return wellFormed(result.data) as Fields;
  const issue = result.error.issues[0];
  const path = [doc, ...(issue?.path ?? [])].join('.');
  throw new UndercroftError('out-of-range', `${path}: ${issue?.message ?? 'not valid'}`, path);
}

/** Texts as they lie in the database: half a character is none there, and what is kept for undo must be equal to what is stored. */
function wellFormed(value: unknown): unknown {
  if (typeof value === 'string') return value.toWellFormed();
  if (Array.isArray(value)) return value.map(wellFormed);
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, wellFormed(inner)]));
}

type Statement = Database.Statement<unknown[]>;

const statements = new WeakMap<Db, Map<string, Statement>>();

/** Each SQL text is prepared once a connection. */
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
