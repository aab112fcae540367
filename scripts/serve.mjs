/**
 * Serves the built app on 127.0.0.1. Everything from outside passes here first: requests under a foreign name or
 * from a foreign page are refused, and every answer carries the security headers.
 */
import { randomBytes } from 'node:crypto';
import { createServer } from 'node:http';
import path from 'node:path';
import next from 'next';
import { claimDataFolder, StartRefusal } from './data-folder.mjs';
import { copyPeopleFiles } from './people-files.mjs';

process.env.NEXT_TELEMETRY_DISABLED = '1';
const port = Number(process.env.PORT || 4680);
const dev = process.argv.includes('--dev');
const hosts = new Set(['127.0.0.1', 'localhost', '[::1]'].map((name) => `${name}:${port}`));

try {
  claimDataFolder();
} catch (error) {
  if (!(error instanceof StartRefusal)) throw error;
  console.error(error.message);
  process.exit(1);
}
// A start that is stuck somewhere still ends when it is asked to.
for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => process.exit(0));

// Who starts it for one export holds its standard input: however that ends, Kiv ends with it.
if (process.env.KIV_ENDS_WITH_INPUT) process.stdin.resume().once('close', () => process.exit(0));

// Told by src/instrumentation.ts when the data is open; until then Kiv is not ready.
const started = new Promise((resolve) => (globalThis.kivStarted = resolve));
if (dev) copyPeopleFiles(path.resolve(import.meta.dirname, '..'));
const app = next({ dev, hostname: '127.0.0.1', port });
await app.prepare();
await started;
const handle = app.getRequestHandler();

function contentSecurityPolicy(nonce) {
  return [
    "default-src 'none'",
    // WebAssembly runs the network that sees people; no code is made from text.
    `script-src 'self' 'wasm-unsafe-eval' 'nonce-${nonce}'${dev ? " 'unsafe-eval'" : ''}`,
    // The components' style sheets carry the nonce; only attributes on elements are free.
    `style-src-elem 'self' 'nonce-${nonce}'${dev ? " 'unsafe-inline'" : ''}`,
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "media-src 'self' blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "manifest-src 'self'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
}

const server = createServer((request, response) => {
  const host = request.headers.host ?? '';
  const origin = request.headers.origin;
  const site = request.headers['sec-fetch-site'];
  const foreignOrigin =
    origin !== undefined &&
    !(URL.canParse(origin) && hosts.has(new URL(origin).host) && origin.startsWith('http:'));
  const foreignSite = site === 'cross-site' && request.headers['sec-fetch-mode'] !== 'navigate';
  if (!hosts.has(host) || foreignOrigin || foreignSite) {
    response.writeHead(403, { 'Content-Type': 'application/json', Connection: 'close' });
    response.end(JSON.stringify({ error: 'Kiv answers only its own pages on this machine.' }));
    request.resume();
    return;
  }
  const nonce = randomBytes(16).toString('base64');
  const policy = contentSecurityPolicy(nonce);
  // The framework reads the nonce for its own scripts from the request.
  request.headers['content-security-policy'] = policy;
  request.headers['x-nonce'] = nonce;
  for (const [name, value] of Object.entries({
    'Content-Security-Policy': policy,
    'Cross-Origin-Opener-Policy': 'same-origin',
    'Cross-Origin-Embedder-Policy': 'require-corp',
    'Cross-Origin-Resource-Policy': 'same-origin',
    'X-Content-Type-Options': 'nosniff',
    'X-Frame-Options': 'DENY',
    'Referrer-Policy': 'no-referrer',
    'Permissions-Policy': 'camera=(), microphone=(), geolocation=()',
  })) {
    response.setHeader(name, value);
  }
  handle(request, response).catch((error) => {
    console.error(error);
    if (!response.headersSent) response.writeHead(500);
    response.end();
  });
});
// Uploads may take long; the headers may not.
server.requestTimeout = 0;
server.headersTimeout = 20_000;
server.on('error', (error) => {
  console.error(
    error.code === 'EADDRINUSE'
      ? `Port ${port} is in use. Set PORT to another one and start again.`
      : error.message,
  );
  process.exit(1);
});
server.listen(port, '127.0.0.1', () => console.log(`Kiv is ready: http://127.0.0.1:${port}`));

for (const signal of ['SIGINT', 'SIGTERM']) {
  process.removeAllListeners(signal);
  process.once(signal, () => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
}
