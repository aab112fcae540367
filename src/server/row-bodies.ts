import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsString,
  IsUUID,
  Length,
  Matches,
  Max,
  Min,
  registerDecorator,
  ValidateIf,
} from 'class-validator';
import { type RowTypes, type Table, tables } from '@/core/document/tables';
import { type Field, identPattern, type Rule } from '@/core/document/table';
import { validatedFlat } from './validate';

/** Rows as they come over the wire: one class a table, its decorators put on by the table's description. */

export const idPattern = identPattern;

/** Finite numbers within bounds, so many together; checked in one loop, as there are many. */
function AreNumbers({ low, high, least, most, per }: Extract<Rule, { kind: 'numbers' }>): PropertyDecorator {
  return (target, propertyName) =>
    registerDecorator({
      name: 'areNumbers',
      target: target.constructor,
      propertyName: String(propertyName),
      options: {
        message: `${String(propertyName)} must be ${least} to ${most} finite numbers from ${low} to ${high}${per > 1 ? `, ${per} a point` : ''}`,
      },
      validator: {
        validate: (value: unknown) =>
          Array.isArray(value) &&
          value.length >= least &&
          value.length <= most &&
          value.length % per === 0 &&
          value.every((x) => typeof x === 'number' && x >= low && x <= high),
      },
    });
}

function decoratorsOf({ rule, nullable }: Field<unknown>): PropertyDecorator[] {
  const decorators = ((): PropertyDecorator[] => {
    switch (rule.kind) {
      case 'uuid':
        return [IsUUID()];
      case 'ident':
        return [Matches(idPattern)];
      case 'text':
        return [IsString(), Length(rule.least, rule.most)];
      case 'whole':
        return [IsInt(), Min(rule.low), Max(rule.high)];
      case 'number':
        return [
          IsNumber(rule.decimals === null ? {} : { maxDecimalPlaces: rule.decimals }),
          Min(rule.low),
          Max(rule.high),
        ];
      case 'flag':
        return [IsBoolean()];
      case 'choice':
        return [IsIn(rule.of)];
      case 'idents':
        return [
          IsArray(),
          ArrayMinSize(rule.least),
          ArrayMaxSize(rule.most),
          ArrayUnique(),
          IsString({ each: true }),
          Matches(idPattern, { each: true }),
        ];
      case 'numbers':
        return [AreNumbers(rule)];
    }
  })();
  return nullable
    ? [ValidateIf((_row: object, value: unknown) => value !== null), ...decorators]
    : decorators;
}

const rowBodies = Object.fromEntries(
  Object.entries(tables).map(([table, { fields }]) => {
    const Body = class {};
    for (const [name, field] of Object.entries(fields) as [string, Field<unknown>][])
      for (const decorate of decoratorsOf(field)) decorate(Body.prototype, name);
    return [table, Body];
  }),
) as Record<Table, new () => object>;

/**
 * A row of a table as it came over the wire, checked.
 *
 * @throws Problem 400 that names the first field at fault.
 */
export function validatedRow<T extends Table>(table: T, value: unknown): RowTypes[T] {
  return { ...(validatedFlat<object>(rowBodies[table], value) as RowTypes[T]) };
}
