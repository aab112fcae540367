import type { Field } from './table';

/** A value that the field takes, for tests that walk every table. */
export function sampleOf({ rule }: Field<unknown>): unknown {
  switch (rule.kind) {
    case 'uuid':
      return '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01';
    case 'ident':
      return 'sample-1';
    case 'text':
      return 'x'.repeat(rule.most);
    case 'whole':
    case 'number':
      return rule.high;
    case 'flag':
      return true;
    case 'choice':
      return rule.of[rule.of.length - 1];
    case 'idents':
      return Array.from({ length: Math.max(2, rule.least) }, (_, k) => `p${k}`);
    case 'numbers':
      return Array.from({ length: Math.min(rule.most, Math.max(2 * rule.per, rule.least)) }, (_, k) =>
        k % 2 ? rule.low : rule.high,
      );
  }
}

/** Values just beyond what the field takes, for tests that walk every table. */
export function beyondOf({ rule, nullable }: Field<unknown>): unknown[] {
  const always = nullable ? [{}] : [{}, null];
  switch (rule.kind) {
    case 'uuid':
      return [...always, '', 'x', 7];
    case 'ident':
      return [...always, '', 'a/b', 'x'.repeat(81)];
    case 'text':
      return [
        ...always,
        7,
        'x'.repeat(rule.most + 1),
        ...(rule.least > 0 ? ['x'.repeat(rule.least - 1)] : []),
      ];
    case 'whole':
      return [...always, rule.low - 1, rule.high + 1, rule.low + 0.5, String(rule.low)];
    case 'number': {
      const fine = rule.decimals === null ? [] : [rule.low + 10 ** -(rule.decimals + 1)];
      return [...always, rule.low - 0.01, rule.high + 0.01, Infinity, NaN, String(rule.low), ...fine];
    }
    case 'flag':
      return [...always, 0, 'true'];
    case 'choice':
      return [...always, 'something else', ''];
    case 'idents':
      return [...always, 'a', ['a', 'a'], ['a b'], [1], ...(rule.least > 0 ? [[]] : [])];
    case 'numbers': {
      const row = (value: unknown, length = Math.max(rule.per, rule.least)) => new Array(length).fill(value);
      return [
        ...always,
        'x',
        row('1'),
        row(null),
        row(rule.high + 1),
        row(rule.low - 1),
        row(0, (Math.floor(rule.most / rule.per) + 1) * rule.per),
        ...(rule.per > 1 ? [row(0, rule.per + 1)] : []),
        ...(rule.least > 0 ? [[]] : []),
      ];
    }
  }
}
