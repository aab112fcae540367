/** The demo's crossing that somebody new is shown around in. */
export const demoCrossingId = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01';
