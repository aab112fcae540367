import { drawOutline, setPose, pointIds } from '@/core/document/actions';
import { applyChanges } from '@/core/document/document';
import type { RowChange } from '@/core/document/edit';
import { NoPaths, type PathIn, pathsIn } from './read-paths';
import { numbersPerPoint as N } from '@/core/document/rows';
import { edit } from './commands';
import { sourceFrameOf, tracedNow } from './traced';
import { setView, useView } from '../view-store';

/** Takes the lines of a file in as outlines of the traced shot. Returns what it did, or why it could not, as a sentence. */
export async function bringInPaths(file: File): Promise<string> {
  const traced = tracedNow();
  if (!traced) return 'Choose a shot first.';
  const { shot, layer } = traced;
  let paths: PathIn[];
  try {
    paths = pathsIn(await file.text(), shot);
  } catch (error) {
    if (error instanceof NoPaths) return error.message;
    throw error;
  }
  const here = Math.min(shot.frameCount - 1, Math.max(0, sourceFrameOf(traced, useView.getState().frame)));
  const beyond = paths
    .flatMap(({ poses }) => poses)
    .find(({ frame }) => frame !== null && frame >= shot.frameCount);
  if (beyond)
    return `The file has a pose on frame ${beyond.frame}; this shot ends with ${shot.frameCount - 1}.`;
  let { document } = traced;
  const changes: RowChange[] = [];
  const put = (more: RowChange[]) => {
    document = applyChanges(document, more);
    changes.push(...more);
  };
  const ids = paths.map(({ name, kind, poses }) => {
    const id = crypto.randomUUID();
    const points = pointIds(poses[0].coordinates.length / N, () => crypto.randomUUID());
    const outline = {
      id,
      layerId: layer.id,
      cutsLayerId: null,
      name,
      kind,
      points,
      sweptSide: 'right' as const,
    };
    poses.forEach(({ frame, coordinates }, k) =>
      put(
        k === 0
          ? drawOutline(document, outline, frame ?? here, coordinates)
          : setPose(document, id, frame ?? here, coordinates),
      ),
    );
    return id;
  });
  const what = paths.length === 1 ? paths[0].name : `${paths.length} outlines`;
  edit(`Bring in ${what}`, changes);
  setView({ outlineId: ids[0], points: new Set() });
  return `${what}, brought in from ${file.name}. Ctrl Z takes ${paths.length === 1 ? 'it' : 'them'} back.`;
}
