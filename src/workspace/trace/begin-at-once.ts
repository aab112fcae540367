/** What the address of a crossing ends with that is to be begun as soon as it is open. */
export const toBegin = '#begin';

/** Whether this crossing is to be begun; asked again it is not, nor after the page is loaded again. */
export function isToBegin(): boolean {
  if (window.location.hash !== toBegin) return false;
  window.history.replaceState(window.history.state, '', window.location.pathname);
  return true;
}
