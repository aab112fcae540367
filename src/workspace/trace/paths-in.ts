import { useView } from '../view/view-store';
import { offer } from './offered';
import { NoPaths } from './no-paths';
import { checkSizes, leftOutOf, type PathsIn, pathsIn, pathsOfFrames } from './read-paths';
import { sourceFrameOf, tracedNow } from '../session/traced';

/**
 * Shows the lines of a file, or of several that are numbered by frame, on the traced shot, to be taken or left. Returns why
 * it could not, as a sentence, or null.
 */
export async function showPaths(files: readonly File[]): Promise<string | null> {
  const traced = tracedNow();
  if (!traced) return 'Choose a shot first.';
  const { shot } = traced;
  let found: PathsIn;
  try {
    checkSizes(files);
    const read = await Promise.all(files.map(async (file) => ({ name: file.name, text: await file.text() })));
    found = read.length === 1 ? pathsIn(read[0].text, shot) : pathsOfFrames(read, shot);
  } catch (error) {
    if (error instanceof NoPaths) return error.message;
    throw error;
  }
  const here = Math.min(shot.frameCount - 1, Math.max(0, sourceFrameOf(traced, useView.getState().frame)));
  const outlines = found.paths.map((path) => ({
    ...path,
    poses: path.poses.map(({ frame, coordinates }) => ({ frame: frame ?? here, coordinates })),
  }));
  const beyond = outlines.flatMap(({ poses }) => poses).find(({ frame }) => frame >= shot.frameCount);
  if (beyond)
    return `The file has a pose on frame ${beyond.frame}; this shot ends with ${shot.frameCount - 1}.`;
  const from = files.length === 1 ? files[0].name : `${files.length} files`;
  offer(from, outlines, leftOutOf(found.leftOut).join(' '));
  return null;
}
