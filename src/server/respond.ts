import parseRange from 'range-parser';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { limits } from '@/core/model/limits';
import { diskFull, isDiskFull } from './full-disk';
import { Problem } from './problem';
import { requirePlain } from './validate';

/** Answers with what `work` returns as JSON; problems become their status and a sentence. */
export async function respond(work: () => unknown): Promise<Response> {
  try {
    const result = await work();
    return result instanceof Response ? result : Response.json(result ?? {});
  } catch (error) {
    const problem = error instanceof Problem ? error : isDiskFull(error) ? diskFull() : null;
    if (problem)
      return Response.json({ error: problem.message, ...problem.details }, { status: problem.status });
    console.error(error);
    return Response.json(
      { error: 'Something went wrong in Kiv; nothing was changed. The server’s log says what.' },
      { status: 500 },
    );
  }
}

/**
 * The request's JSON body.
 *
 * @throws Problem 415 for another content type, 413 for more than 32 MB, 400 for what is not plain JSON.
 */
export async function readJson(request: Request): Promise<unknown> {
  if (!(request.headers.get('content-type') ?? '').startsWith('application/json')) {
    throw new Problem(415, 'The body must be JSON.');
  }
  const text = await readText(request, mostBytes);
  if (text.length > limits.stepLength) throw new Problem(413, 'The body is too large.');
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Problem(400, 'The body is not valid JSON.');
  }
  return requirePlain(value);
}

/** Bytes of a body of {@link limits}`.stepLength`, with room for letters beyond ASCII. */
const mostBytes = 1.25 * limits.stepLength;

/** The request's body as text. @throws Problem 413 as soon as more than `most` bytes have come, whatever was declared. */
async function readText(request: Request, most: number): Promise<string> {
  const tooLarge = new Problem(413, 'The body is too large.');
  if (Number(request.headers.get('content-length') ?? 0) > most) throw tooLarge;
  const chunks: Uint8Array[] = [];
  let received = 0;
  // Node's own streams are read by `for await`, which the types of the browser's do not know of.
  const body = request.body as unknown as AsyncIterable<Uint8Array> | null;
  for await (const chunk of body ?? []) {
    received += chunk.length;
    if (received > most) throw tooLarge;
    chunks.push(chunk);
  }
  return Buffer.concat(chunks).toString('utf8');
}

/** The address's query as a plain object. */
export function queryOf(request: Request): Record<string, string> {
  return Object.fromEntries(new URL(request.url).searchParams);
}

/**
 * A file, whole or the one range asked for (RFC 9110 §14). Ranges that cannot be read as one are ignored, as the
 * RFC allows; one past the end is answered 416.
 */
export async function serveFile(
  request: Request,
  file: string,
  contentType: string,
  downloadName?: string,
): Promise<Response> {
  const { size } = await stat(file);
  const headers = new Headers({
    'Content-Type': contentType,
    'Accept-Ranges': 'bytes',
    'Cache-Control': 'private, max-age=3600',
  });
  if (downloadName) {
    headers.set(
      'Content-Disposition',
      `attachment; filename*=UTF-8''${encodeURIComponent(downloadName).replace(/['()*]/g, escape)}`,
    );
  }
  // RFC 9110 §14; of what is no range of bytes, and of several that lie apart, the whole is given.
  const asked = request.headers.get('range');
  const ranges = asked === null ? -2 : parseRange(size, asked, { combine: true });
  if (ranges === -1)
    return new Response(null, { status: 416, headers: { 'Content-Range': `bytes */${size}` } });
  const partial = Array.isArray(ranges) && ranges.type === 'bytes' && ranges.length === 1;
  const { start: first, end: last } = partial ? ranges[0] : { start: 0, end: size - 1 };
  if (partial) headers.set('Content-Range', `bytes ${first}-${last}/${size}`);
  headers.set('Content-Length', String(last - first + 1));
  const stream = Readable.toWeb(
    createReadStream(file, { start: first, end: last }),
  ) as ReadableStream<Uint8Array>;
  return new Response(stream, { status: partial ? 206 : 200, headers });
}
