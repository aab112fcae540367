import type { Camera } from '../view/view-store';

interface Size {
  width: number;
  height: number;
}

/** Screen px around the whole frame, room for points outside. */
const pasteboard = 8;

/** The whole frame with a pasteboard around it. */
export function fitCamera(crossing: Size, stage: Size): Camera {
  const scale = Math.min(
    (stage.width - 2 * pasteboard) / crossing.width,
    (stage.height - 2 * pasteboard) / crossing.height,
  );
  // A whole number of px across, at whole places, so that the picture is drawn pixel for pixel.
  const whole = Math.floor(Math.max(0.02, scale) * crossing.width) / crossing.width;
  const { x, y } = centred(crossing, stage, whole);
  return { x: Math.round(x), y: Math.round(y), scale: whole };
}

/** The frame's centre in the stage's centre, at `scale` screen px a crossing px. */
export function centred(crossing: Size, stage: Size, scale: number): Camera {
  return {
    x: (stage.width - crossing.width * scale) / 2,
    y: (stage.height - crossing.height * scale) / 2,
    scale,
  };
}

/** The camera with another scale, the point under (x, y) on the screen staying where it is. */
export function zoomedAt(camera: Camera, x: number, y: number, factor: number): Camera {
  const scale = Math.min(32, Math.max(0.05, camera.scale * factor));
  const ratio = scale / camera.scale;
  return { x: x - (x - camera.x) * ratio, y: y - (y - camera.y) * ratio, scale };
}

/** Step in crossing px in which the visible part changes, so that not every move draws anew. */
const visibleStep = 64;

/** The part of the crossing's plane that the stage shows, in crossing px, outward to whole steps. */
export function visiblePart({ x, y, scale }: Camera, stage: Size): [number, number, number, number] {
  const down = (value: number) => Math.floor(value / visibleStep) * visibleStep;
  return [
    down(-x / scale),
    down(-y / scale),
    down((stage.width - x) / scale) + visibleStep,
    down((stage.height - y) / scale) + visibleStep,
  ];
}
