import { useView } from './view-store';

/** ms after which what waits for the first picture waits no longer. */
const longest = 3000;

/**
 * Settles once the crossing that is being opened shows its first picture, or will not soon: what is not needed for it
 * begins only then, as all that begins at once is loaded and runs beside it.
 */
export function firstPicture(): Promise<void> {
  return new Promise((done) => {
    const shown = () => useView.getState().shown !== null || useView.getState().failure !== null;
    if (shown()) return done();
    const timer = setTimeout(end, longest);
    const stop = useView.subscribe(() => shown() && end());
    function end() {
      clearTimeout(timer);
      stop();
      done();
    }
  });
}
