import { useView } from './view-store';

/**
 * Settles once the crossing that is being opened shows its first picture, or will not soon: what is not needed for it
 * begins only then, as all that begins at once is loaded and runs beside it.
 *
 * @param longest ms after which it is waited for no longer.
 */
export function firstPicture(longest = 3000): Promise<void> {
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
