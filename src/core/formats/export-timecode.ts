import { layerSourceFrame, type Shots } from '../compose/source-frames';
import { layersInOrder } from '../document/document';
import type { SourceTimecode } from '../model/shot';
import type { Rate } from '../model/time';
import { rateOf } from '../time/rate';
import { countAt } from '../time/source-timecode';
import type { ExportStretch } from './export-range';

/**
 * The timecode with which an export begins, so that it takes the place of what it was made from: that of the topmost
 * outgoing shot, or of the only one, on the first frame that is written.
 *
 * @returns null where that shot has none, or does not run forward at its own speed at the rate that its timecode counts in.
 */
export function exportTimecode(
  { document, from }: Pick<ExportStretch, 'document' | 'from'>,
  shots: Shots,
): SourceTimecode | null {
  const rate = rateOf(document.crossing);
  const layers = layersInOrder(document).filter(({ visible }) => visible);
  const layer =
    layers.findLast(({ role }) => role === 'outgoing') ?? (layers.length === 1 ? layers[0] : null);
  const shot = layer && shots[layer.shotId];
  if (!layer || !shot?.timecode) return null;
  const plain = layer.speed === 100 && !layer.reverse && layer.ramp.length === 0;
  const { timecode } = shot;
  if (!plain || !sameRate(shot.rate, rate) || !sameRate(timecode.rate, rate)) return null;
  const start = countAt(timecode, shot.rate, layerSourceFrame(document, layer, shot, from));
  return { ...timecode, start };
}

const sameRate = (a: Rate, b: Rate) => a.num * b.den === b.num * a.den;
