/**
 * Ends a walk through a union: where a new member is forgotten, the call does not compile.
 *
 * @throws RangeError when a value that types rule out comes all the same, as out of an old file.
 */
export function assertNever(value: never): never {
  throw new RangeError(`${JSON.stringify(value)} is not known here.`);
}
