/** What the address of a crossing ends with that is opened to be shown around in. */
export const toTour = '#tour';

/** Whether somebody is to be shown around; asked again nobody is, nor after the page is loaded again. */
export function isToTour(): boolean {
  if (window.location.hash !== toTour) return false;
  window.history.replaceState(window.history.state, '', window.location.pathname);
  return true;
}
