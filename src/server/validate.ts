import 'reflect-metadata';
import { type ClassConstructor, plainToInstance } from 'class-transformer';
import { validateSync, type ValidationError } from 'class-validator';
import { Problem } from './problem';

/** Deepest nesting of what comes over the wire. */
const deepest = 16;
/** Names that mean something of their own to JavaScript's objects, and to what makes instances of classes. */
const reserved = ['constructor', '__proto__', 'prototype'];

/**
 * The value itself, if none of its objects has a field that JavaScript takes for something else, and it is not nested
 * without end.
 *
 * @throws Problem 400
 */
export function requirePlain<T>(value: T): T {
  const waiting: [value: unknown, depth: number][] = [[value, 0]];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const [each, depth] = next;
    if (typeof each !== 'object' || each === null) continue;
    if (depth > deepest) throw new Problem(400, 'This was not accepted: it is nested too deeply.');
    const taken = Array.isArray(each) ? undefined : reserved.find((name) => Object.hasOwn(each, name));
    if (taken) throw new Problem(400, `This was not accepted: a field cannot be called ${taken}.`);
    for (const inner of Array.isArray(each) ? each : Object.values(each))
      if (typeof inner === 'object') waiting.push([inner, depth + 1]);
  }
  return value;
}

/**
 * The plain value as an instance of the class, if it holds to the class's rules and has no other fields.
 *
 * @throws Problem 400 that names the first field at fault.
 */
export function validated<T extends object>(type: ClassConstructor<T>, value: unknown): T {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    throw new Problem(400, 'An object was expected.');
  return checked(plainToInstance(type, value));
}

/** As {@link validated}, for values of the class's own fields, which are taken as they are, not copied through. */
export function validatedFlat<T extends object>(type: ClassConstructor<T>, value: unknown): T {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    throw new Problem(400, 'An object was expected.');
  return checked(Object.assign(new type(), value));
}

/**
 * An instance that holds to its class's rules.
 *
 * @throws Problem 400 that names the first field at fault.
 */
export function checked<T extends object>(instance: T): T {
  const errors = validateSync(instance, {
    whitelist: true,
    forbidNonWhitelisted: true,
    stopAtFirstError: true,
  });
  if (errors.length > 0) throw new Problem(400, `This was not accepted: ${firstReason(errors)}.`);
  return instance;
}

function firstReason([error]: ValidationError[], within = ''): string {
  const place = within + error.property;
  if (error.children && error.children.length > 0) return firstReason(error.children, `${place}.`);
  const reason = Object.values(error.constraints ?? {})[0] ?? 'it is not valid';
  return within ? `${within}${reason}` : reason;
}
