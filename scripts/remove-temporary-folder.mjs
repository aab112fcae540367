/** After all of Jest's tests; Playwright calls what setting up returned. */
export default function removeTemporaryFolder() {
  globalThis.kivRemoveTemporary?.();
}
