/** Something asked for that is not done; the message is for the person at the screen. */
export class Problem extends Error {
  constructor(
    readonly status: 400 | 403 | 404 | 409 | 413 | 415 | 422 | 507,
    message: string,
    readonly details: Record<string, unknown> = {},
  ) {
    super(message);
    this.name = 'Problem';
  }
}

export const notFound = (what: string) =>
  new Problem(404, `There is no such ${what}; it may have been deleted.`);
