/** An answer of the server that is not what was asked for, in its own words. */
export class ServerRefusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly details: Record<string, unknown>,
  ) {
    super(message);
    this.name = 'ServerRefusal';
  }
}

/** The server could not be reached. */
export class ServerUnreachable extends Error {
  constructor() {
    super('Kiv’s server does not answer. Start it again with npm start; nothing that was done is lost.');
    this.name = 'ServerUnreachable';
  }
}

/**
 * Calls the server and returns its JSON.
 *
 * @throws ServerRefusal when it answers with an error, ServerUnreachable when it does not answer.
 */
export async function call<T>(path: string, method = 'GET', body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      cache: 'no-store',
      ...(body === undefined
        ? {}
        : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
    });
  } catch {
    throw new ServerUnreachable();
  }
  return answerOf<T>(response.status, await response.text());
}

function answerOf<T>(status: number, text: string): T {
  let answer: Record<string, unknown>;
  try {
    answer = JSON.parse(text) as Record<string, unknown>;
  } catch {
    if (status >= 500) throw new ServerUnreachable();
    throw new ServerRefusal(status, 'The server’s answer could not be read.', {});
  }
  if (status >= 400)
    throw new ServerRefusal(status, String(answer.error ?? 'The server refused this.'), answer);
  return answer as T;
}

/**
 * Sends bytes as a request's body, with progress.
 *
 * @param onProgress bytes sent so far.
 * @throws DOMException AbortError when cancelled; else as {@link call}.
 */
export function send<T>(
  method: 'POST' | 'PATCH',
  path: string,
  body: Blob,
  onProgress: (bytes: number) => void,
  signal: AbortSignal,
): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open(method, path);
    request.setRequestHeader('Content-Type', 'application/octet-stream');
    request.upload.onprogress = (event) => onProgress(event.loaded);
    request.onload = () => {
      try {
        resolve(answerOf<T>(request.status, request.responseText));
      } catch (error) {
        reject(error as Error);
      }
    };
    request.onerror = () => reject(new ServerUnreachable());
    request.onabort = () => reject(new DOMException('Cancelled', 'AbortError'));
    const abort = () => request.abort();
    signal.addEventListener('abort', abort);
    request.onloadend = () => signal.removeEventListener('abort', abort);
    if (signal.aborted) reject(new DOMException('Cancelled', 'AbortError'));
    else request.send(body);
  });
}

/** A sentence for whatever was thrown. */
export function sentenceOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
