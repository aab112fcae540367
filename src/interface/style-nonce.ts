/**
 * Hands the page's nonce to the style sheet writer inside the messages' library (goober), which asks for it on the
 * window; without it the content security policy turns its styles away.
 */
if (typeof window !== 'undefined') {
  const nonce = document.querySelector<HTMLScriptElement>('script[nonce]')?.nonce;
  (window as Window & { __nonce__?: string }).__nonce__ = nonce;
}

export {};
