import cv from '@techstark/opencv-js';
import type { FramePicture } from '../src/core/picture/frame-picture';
import { median } from './figure';

/** Points that the follower compares in a frame: the samples of two bands that its fits take. */
const points = 1400;

/**
 * ms that OpenCV's WebAssembly build takes a frame to follow as many points (Lucas and Kanade on pyramids, windows of
 * 21 px, three levels) and to fit a homography to them by random samples.
 */
export async function flowReference(pictures: readonly FramePicture[]): Promise<number> {
  await new Promise<void>((done) => {
    if (typeof cv.Mat === 'function') done();
    else cv.onRuntimeInitialized = () => done();
  });
  const { width, height } = pictures[0];
  const mats = pictures.slice(0, 14).map(({ planes }) => {
    const mat = new cv.Mat(height, width, cv.CV_8UC1);
    mat.data.set(planes.y);
    return mat;
  });
  const from = new cv.Mat(points, 1, cv.CV_32FC2);
  const columns = 50;
  for (let k = 0; k < points; k++) {
    from.data32F[2 * k] = 40 + ((k % columns) / columns) * (width - 80);
    from.data32F[2 * k + 1] = 40 + (Math.floor(k / columns) / (points / columns)) * (height - 80);
  }
  const times: number[] = [];
  for (let k = 1; k < mats.length; k++) {
    const begun = performance.now();
    const [to, status, error, mask] = [new cv.Mat(), new cv.Mat(), new cv.Mat(), new cv.Mat()];
    cv.calcOpticalFlowPyrLK(mats[k - 1], mats[k], from, to, status, error, new cv.Size(21, 21), 3);
    const fitted = cv.findHomography(from, to, cv.RANSAC, 3, mask);
    times.push(performance.now() - begun);
    for (const mat of [to, status, error, mask, fitted]) mat.delete();
  }
  for (const mat of [...mats, from]) mat.delete();
  return median(times.slice(2));
}
