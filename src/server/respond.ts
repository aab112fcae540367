import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { limits } from '@/core/document/limits';
import { diskFull, isDiskFull } from './full-disk';
import { Problem } from './problem';

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
      { error: 'Kiv failed at this; nothing was changed. What went wrong stands in the server’s log.' },
      { status: 500 },
    );
  }
}

/**
 * The request's JSON body.
 *
 * @throws Problem 415 for another content type, 413 for more than 32 MB, 400 for what is not JSON.
 */
export async function readJson(request: Request): Promise<unknown> {
  if (!(request.headers.get('content-type') ?? '').startsWith('application/json')) {
    throw new Problem(415, 'The body must be JSON.');
  }
  if (Number(request.headers.get('content-length') ?? 0) > limits.stepLength)
    throw new Problem(413, 'The body is too large.');
  const text = await request.text();
  if (text.length > limits.stepLength) throw new Problem(413, 'The body is too large.');
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw new Problem(400, 'The body is not valid JSON.');
  }
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
  let [first, last] = [0, size - 1];
  const range = /^bytes=(\d*)-(\d*)$/.exec(request.headers.get('range') ?? '');
  const partial = range !== null && (range[1] !== '' || range[2] !== '');
  if (partial) {
    if (range[1] === '') first = Math.max(0, size - Number(range[2]));
    else {
      first = Number(range[1]);
      if (range[2] !== '') last = Math.min(last, Number(range[2]));
    }
    if (first >= size || first > last) {
      return new Response(null, { status: 416, headers: { 'Content-Range': `bytes */${size}` } });
    }
    headers.set('Content-Range', `bytes ${first}-${last}/${size}`);
  }
  headers.set('Content-Length', String(last - first + 1));
  const stream = Readable.toWeb(
    createReadStream(file, { start: first, end: last }),
  ) as ReadableStream<Uint8Array>;
  return new Response(stream, { status: partial ? 206 : 200, headers });
}
