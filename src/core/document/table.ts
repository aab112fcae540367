/** What a table's description is made of: fields with their bounds, from which types, checks and SQL are made. */

/** What a field may hold. Bounds are inclusive. */
export type Rule =
  | { kind: 'uuid' }
  | { kind: 'ident' }
  | { kind: 'text'; least: number; most: number }
  | { kind: 'whole'; low: number; high: number }
  | { kind: 'number'; low: number; high: number; decimals: number | null }
  | { kind: 'flag' }
  | { kind: 'choice'; of: readonly string[] }
  /** Different idents. */
  | { kind: 'idents'; least: number; most: number }
  /** Finite numbers, `per` together. */
  | { kind: 'numbers'; low: number; high: number; least: number; most: number; per: number };

/** One field of a table. */
export interface Field<V> {
  rule: Rule;
  nullable: boolean;
  /** Its column in the database; null: the field's name in snake case. */
  column: string | null;
  /** What it is before anything is set; rows written down before it existed have this. Undefined: always given. */
  plain: V | undefined;
  /** The row or file that its id refers to; null when it is not such an id. */
  refersTo: Reference | null;
}

/** What a reference names, one of these: rows of the document's tables, or files, which only the server knows. */
export interface Reference {
  targets: readonly string[];
  /** Whether what it names may be gone. */
  mayDangle: boolean;
}

/** A field that is something before anything is set. */
export interface PlainField<V> extends Field<V> {
  plain: V;
  isPlain: true;
}

interface Extras<V> {
  plain: V;
  column?: string;
}

/** A maker of fields: with `plain` given, of those that have it. */
function made<V>(rule: Rule, extras?: Extras<V>): PlainField<V> {
  const { plain, column = null } = extras ?? {};
  return { rule, nullable: false, column, plain: plain as V, refersTo: null, isPlain: true };
}

interface Maker<V, A extends unknown[]> {
  (...bounds: A): Field<V>;
  (...boundsAndExtras: [...A, Extras<V>]): PlainField<V>;
}

/** A row's own id, known once in all crossings. */
export const ownId = (): Field<string> => made({ kind: 'uuid' });
/** The id of a row or file that has to be there. */
export const reference = (...targets: string[]): Field<string> => ({
  ...made<string>({ kind: 'uuid' }),
  refersTo: { targets, mayDangle: false },
});
/** The id of a row or file that may be gone. */
export const looseReference = (...targets: string[]): Field<string> => ({
  ...made<string>({ kind: 'uuid' }),
  refersTo: { targets, mayDangle: true },
});
export const ident = (): Field<string> => made({ kind: 'ident' });
export const text = (least: number, most: number): Field<string> => made({ kind: 'text', least, most });
export const whole: Maker<number, [low: number, high: number]> = (
  low: number,
  high: number,
  extras?: Extras<number>,
) => made({ kind: 'whole', low, high }, extras);
export const number: Maker<number, [low: number, high: number]> = (
  low: number,
  high: number,
  extras?: Extras<number>,
) => made({ kind: 'number', low, high, decimals: null }, extras);
/** A number with at most so many places after the point. */
export const decimal = (decimals: number, low: number, high: number, extras: Extras<number>) =>
  made({ kind: 'number', low, high, decimals }, extras);
export const flag = (plain: boolean) => made<boolean>({ kind: 'flag' }, { plain });
export function choice<const C extends string>(of: readonly C[]): Field<C>;
export function choice<const C extends string>(of: readonly C[], plain: C): PlainField<C>;
export function choice<const C extends string>(of: readonly C[], plain?: C) {
  return made<C>({ kind: 'choice', of }, plain === undefined ? undefined : { plain });
}
export const idents = (least: number, most: number): Field<string[]> => made({ kind: 'idents', least, most });

interface NumbersBounds {
  low: number;
  high: number;
  least: number;
  most: number;
  /** How many go together. */
  per: number;
}
export const numbers = (bounds: NumbersBounds): Field<number[]> => made({ kind: 'numbers', ...bounds });
/** Numbers that are none before anything is set. */
export const fewNumbers = (bounds: NumbersBounds) =>
  made<readonly number[]>({ kind: 'numbers', ...bounds }, { plain: [] });

/** The field, or null in its place; null is what it is before anything is set. */
export const orNull = <V>(of: Field<V>): PlainField<V | null> => ({
  ...of,
  nullable: true,
  plain: null,
  isPlain: true,
});

export type Fields = Record<string, Field<unknown>>;

/** Values of a row with these fields. */
export type RowOf<F> = { [K in keyof F]: F[K] extends Field<infer V> ? V : never };

/** What ids are made from where they are not their own. */
export interface IdParts {
  outlineId: string;
  ownerId: string;
  channel: never;
  frame: number;
}

/** A table of a crossing's document. */
export interface TableDescription<F extends Fields = Fields> {
  /** One of its rows, in sentences: “an outline”. */
  called: string;
  /** Where its rows are in a document. */
  collection: string;
  /** One row; rows by their id; or rows by outline, ascending by frame. */
  shape: 'one' | 'by id' | 'by frame';
  /** Makes a row's id from its other fields; null where the id is its own, or another row's. */
  derivedId: ((row: IdParts) => string) | null;
  /** Whether a column holds the id. */
  storesId: boolean;
  fields: F;
}

/** Values of those fields that have one before anything is set. */
export function plainOf<F extends Fields, K extends keyof F = never>(
  fields: F,
  ...without: K[]
): Omit<{ [P in keyof F as F[P] extends PlainField<unknown> ? P : never]: RowOf<F>[P] }, K> {
  return Object.fromEntries(
    Object.entries(fields).flatMap(([name, { plain }]) =>
      plain === undefined || (without as string[]).includes(name) ? [] : [[name, plain]],
    ),
  ) as never;
}

/** What an ident, as a point's name or a derived id, is made of. */
export const identPattern = /^[\w@~-]{1,80}$/;
const uuidPattern = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;

/** Whether a value is one that the field may hold. */
export function fitsField({ rule, nullable }: Field<unknown>, value: unknown): boolean {
  if (value === null) return nullable;
  const within = (each: unknown, low: number, high: number) =>
    typeof each === 'number' && each >= low && each <= high;
  switch (rule.kind) {
    case 'uuid':
      return typeof value === 'string' && uuidPattern.test(value);
    case 'ident':
      return typeof value === 'string' && identPattern.test(value);
    case 'text':
      return typeof value === 'string' && value.length >= rule.least && value.length <= rule.most;
    case 'whole':
      return Number.isInteger(value) && within(value, rule.low, rule.high);
    case 'number': {
      if (!within(value, rule.low, rule.high)) return false;
      const parts = rule.decimals === null ? 0 : (value as number) * 10 ** rule.decimals;
      return Math.abs(parts - Math.round(parts)) < 1e-6;
    }
    case 'flag':
      return typeof value === 'boolean';
    case 'choice':
      return rule.of.includes(value as string);
    case 'idents':
      return (
        Array.isArray(value) &&
        value.length >= rule.least &&
        value.length <= rule.most &&
        new Set(value).size === value.length &&
        value.every((each) => typeof each === 'string' && identPattern.test(each))
      );
    case 'numbers':
      return (
        Array.isArray(value) &&
        value.length >= rule.least &&
        value.length <= rule.most &&
        value.length % rule.per === 0 &&
        value.every((each) => within(each, rule.low, rule.high))
      );
  }
}

/** A field's column. */
export function columnOf(name: string, { column }: Field<unknown>): string {
  return column ?? name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
}
