import { useEffect, useState } from 'react';
import { knownPicture, pictureOf } from '@/interface/posters';
import type { FramePicture } from '@/render/posters.worker';

/**
 * A shot's frame, small, once it is drawn; until then the one before it, or null. A shot that cannot be read has none.
 *
 * @param height px.
 * @param seen whether it is in view: else nothing is drawn.
 */
export function useShotPicture(
  shotId: string,
  frame: number,
  height: number,
  seen: boolean,
): (FramePicture & { frame: number }) | null {
  const [shown, setShown] = useState<(FramePicture & { frame: number }) | null>(null);
  useEffect(() => {
    if (!seen) return;
    const known = knownPicture(shotId, frame, height);
    if (known) return setShown({ ...known, frame });
    let here = true;
    // Another may be wanted by the time that others have had their turn.
    pictureOf(shotId, frame, height, () => here).then(
      (picture) => picture && here && setShown({ ...picture, frame }),
      () => {},
    );
    return () => {
      here = false;
    };
  }, [shotId, frame, height, seen]);
  return shown;
}
