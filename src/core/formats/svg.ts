import { numbersPerPoint as N } from '../model/choices';
import { coordinatesAt, framesOf, thousandth, type TracedOutline } from './traced-outline';

/**
 * An outline's line as SVG path data: moves and cubics with absolute places (SVG 2, §9.3), in the shot's px; a loop is
 * closed.
 */
export function pathData(coordinates: readonly number[], closed: boolean): string {
  const count = coordinates.length / N;
  const place = (point: number, handle: 0 | 2 | 4) => {
    const i = point * N;
    const [x, y] = handle === 0 ? [0, 0] : [coordinates[i + handle], coordinates[i + handle + 1]];
    return `${thousandth(coordinates[i] + x)} ${thousandth(coordinates[i + 1] + y)}`;
  };
  const segments = Array.from({ length: closed ? count : count - 1 }, (_, k) => {
    const to = (k + 1) % count;
    return `C${place(k, 4)} ${place(to, 2)} ${place(to, 0)}`;
  });
  return `M${place(0, 0)}${segments.join('')}${closed ? 'Z' : ''}`;
}

/** The outline on one source frame; null where it is empty or full there. */
export function svgOfFrame(traced: TracedOutline, frame: number): string | null {
  const group = groupOf(traced, frame);
  return group && documentOf(traced, `${traced.outline.name}, frame ${frame}`, group);
}

/** The outline on all frames from its first pose to its last, a group each, named by its frame; the first is seen. */
export function svgOfFrames(traced: TracedOutline): string {
  const groups = framesOf(traced).flatMap((frame, k) => groupOf(traced, frame, k > 0) ?? []);
  return documentOf(traced, traced.outline.name, groups.join('\n'));
}

function groupOf(traced: TracedOutline, frame: number, hidden = false): string | null {
  const coordinates = coordinatesAt(traced, frame);
  if (!coordinates) return null;
  const closed = traced.outline.kind === 'loop';
  return `  <g id="frame-${frame}" data-frame="${frame}"${hidden ? ' display="none"' : ''}>
    <path fill="${closed ? '#000' : 'none'}"${closed ? '' : ' stroke="#000"'} d="${pathData(coordinates, closed)}"/>
  </g>`;
}

function documentOf(
  { shot: { width, height, name } }: TracedOutline,
  title: string,
  content: string,
): string {
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">
  <title>${escaped(title)}</title>
  <desc>${escaped(`In the px of ${name}`)}</desc>
${content}
</svg>
`;
}

function escaped(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');
}
