import type { Affine } from '@/core/geometry/affine';
import { NoPaths } from './no-paths';
import { type FoundLines, type Line, linesOfPath } from './svg-lines';

/**
 * Lines of an SVG as the browser's own engine lays it out: style sheets, nested viewports, `use`, units and percents are
 * where it puts them. The drawing is parsed without being run, cleared of all that could run or load, and measured out of
 * sight.
 */

const svgNamespace = 'http://www.w3.org/2000/svg';

/** Most copies that `use` makes, one in the other, and in all. */
const [deepestUse, mostCopies] = [8, 5000];
/** Most lines that are measured. */
const mostLines = 50_000;

/** What can run, load or move; it is taken out before anything is shown. */
const dangerous =
  'script, foreignObject, iframe, object, embed, audio, video, canvas, animate, animateMotion, animateTransform, set, mpath, feImage';
/** What is drawn, and what of it has lines. */
const shapes = 'path, rect, circle, ellipse, line, polyline, polygon';
/** What is drawn without lines, and what it is called. */
const others: Record<string, [one: string, many: string]> = {
  text: ['text', 'texts'],
  image: ['picture', 'pictures'],
};
/** What is only referred to: it is not drawn where it stands. */
const referred = 'defs, clipPath, mask, symbol, pattern, marker, linearGradient, radialGradient, filter';

/**
 * @param shot its size in px: the drawing's viewport is laid onto it.
 * @throws NoPaths where it is no SVG, or is too much.
 */
export function linesInSvg(text: string, shot: { width: number; height: number }): FoundLines {
  const root = parsed(text);
  const styles = cleared(root);
  expandUses(root);
  layOnto(root, shot);
  const stage = document.createElement('div');
  stage.style.cssText =
    'position: fixed; left: 0; top: 0; width: 0; height: 0; overflow: hidden; visibility: hidden; pointer-events: none';
  const shadow = stage.attachShadow({ mode: 'closed' });
  // Sheets made by script load nothing, and count in here only.
  shadow.adoptedStyleSheets = styles.map((css) => {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(css);
    return sheet;
  });
  shadow.append(document.adoptNode(root));
  document.body.append(stage);
  try {
    return measured(root);
  } finally {
    stage.remove();
  }
}

function parsed(text: string): SVGSVGElement {
  // A document type could only define entities, which grow.
  let found = new DOMParser().parseFromString(text, 'image/svg+xml');
  // Some write SVG without saying that it is: nothing else is meant.
  if (found.documentElement.localName === 'svg' && found.documentElement.namespaceURI === null)
    found = new DOMParser().parseFromString(
      text.replace(/<svg(?=[\s/>])/, `<svg xmlns="${svgNamespace}"`),
      'image/svg+xml',
    );
  const root = found.documentElement;
  if (found.doctype && /<!ENTITY/i.test(text))
    throw new NoPaths('This SVG defines entities of its own, which Kiv does not follow.');
  if (found.querySelector('parsererror'))
    throw new NoPaths(
      /<svg|<\w+:svg/.test(text)
        ? 'This file is not a readable SVG.'
        : 'This file is neither SVG nor an outline’s JSON, nor a list of points with frame, x and y.',
    );
  if (!(root instanceof SVGSVGElement))
    throw new NoPaths(
      'This file is neither SVG nor an outline’s JSON, nor a list of points with frame, x and y.',
    );
  return root;
}

/** Takes out what could run, load or move. @returns the text of its style sheets. */
function cleared(root: SVGSVGElement): string[] {
  const styles = [...root.querySelectorAll('style')].map((element) => {
    element.remove();
    return withoutLoads((element.textContent ?? '').replace(/@import[^;]*;?/gi, ''));
  });
  root.querySelectorAll(dangerous).forEach((element) => element.remove());
  for (const element of [root, ...root.querySelectorAll('*')])
    for (const { name, value } of [...element.attributes]) {
      const refers = name === 'href' || name.endsWith(':href');
      if (/^on/i.test(name) || (refers && !value.trim().startsWith('#'))) element.removeAttribute(name);
      else if (/url\(/i.test(value)) element.setAttribute(name, withoutLoads(value));
    }
  return styles;
}

const withoutLoads = (css: string) => css.replace(/url\(\s*(?!["']?#)[^)]*\)/gi, 'none');

/** Puts what is used in the place of each `use`, so that it can be measured. */
function expandUses(root: SVGSVGElement) {
  let copies = 0;
  for (let depth = 0; depth < deepestUse; depth++) {
    const uses = [...root.querySelectorAll('use')].filter((use) => !use.closest(referred));
    if (uses.length === 0) return;
    for (const use of uses) {
      if (++copies > mostCopies) throw new NoPaths('This SVG repeats more than Kiv takes in.');
      const name = (use.getAttribute('href') ?? use.getAttribute('xlink:href') ?? '').slice(1);
      const used = name ? root.querySelector(`[id="${CSS.escape(name)}"]`) : null;
      if (!used || used.contains(use)) use.remove();
      else use.replaceWith(copyOf(use, used));
    }
  }
  root.querySelectorAll('use').forEach((use) => use.remove());
}

/** What a `use` draws (SVG 2, §5.5): what it uses, moved, a symbol in a viewport of its own. */
function copyOf(use: Element, used: Element): Element {
  const group = document.createElementNS(svgNamespace, 'g');
  for (const { name, value } of [...use.attributes])
    if (!['x', 'y', 'width', 'height', 'href', 'xlink:href'].includes(name)) group.setAttribute(name, value);
  // By an own viewport, which takes units and percents as they are given.
  const moved = document.createElementNS(svgNamespace, 'svg');
  for (const name of ['x', 'y']) moved.setAttribute(name, use.getAttribute(name) ?? '0');
  moved.setAttribute('overflow', 'visible');
  let copy = used.cloneNode(true) as Element;
  if (used.localName === 'symbol') {
    const viewport = document.createElementNS(svgNamespace, 'svg');
    for (const { name, value } of [...used.attributes]) viewport.setAttribute(name, value);
    viewport.append(...copy.childNodes);
    copy = viewport;
  }
  if (copy.localName === 'svg')
    for (const name of ['width', 'height']) {
      const size = use.getAttribute(name);
      if (size !== null) copy.setAttribute(name, size);
    }
  copy.removeAttribute('id');
  copy.querySelectorAll('[id]').forEach((element) => element.removeAttribute('id'));
  const own = used.getAttribute('id');
  if (own && !group.hasAttribute('id')) copy.setAttribute('data-name', own);
  moved.append(copy);
  group.append(moved);
  return group;
}

/** Makes the drawing's viewport the shot's frame. */
function layOnto(root: SVGSVGElement, { width, height }: { width: number; height: number }) {
  if (!root.hasAttribute('viewBox')) {
    const own = ['width', 'height'].map((name) => lengthOf(root.getAttribute(name)));
    root.setAttribute('viewBox', `0 0 ${own[0] ?? width} ${own[1] ?? height}`);
  }
  root.removeAttribute('x');
  root.removeAttribute('y');
  root.setAttribute('width', String(width));
  root.setAttribute('height', String(height));
  for (const [name, value] of Object.entries({ width: `${width}px`, height: `${height}px`, ...plainBox }))
    root.style.setProperty(name, value, 'important');
}
const plainBox = {
  display: 'block',
  position: 'absolute',
  left: '0',
  top: '0',
  margin: '0',
  border: '0',
  padding: '0',
  transform: 'none',
  'max-width': 'none',
  'max-height': 'none',
};

/** A length in px, as CSS has it; null for what is none, and for percents. */
function lengthOf(value: string | null): number | null {
  const element = document.createElementNS(svgNamespace, 'svg');
  try {
    if (!value || value.trim().endsWith('%')) return null;
    element.setAttribute('width', value);
    return element.width.baseVal.value > 0 ? element.width.baseVal.value : null;
  } catch {
    return null;
  }
}

function measured(root: SVGSVGElement): FoundLines {
  const lines: Line[] = [];
  const leftOut: string[] = [];
  let hidden = 0;
  showFrames(root);
  const all = [...root.querySelectorAll<SVGGeometryElement>(shapes)].filter(
    (each) => !each.closest(referred),
  );
  if (all.length > mostLines) throw new NoPaths('This SVG has more lines than Kiv takes in.');
  for (const element of all) {
    // What nobody sees is not meant.
    const style = getComputedStyle(element);
    const shown =
      element.getClientRects().length > 0 || element.getBBox().width + element.getBBox().height > 0;
    if (isHidden(element, root) || style.display === 'none' || !shown) {
      hidden++;
      continue;
    }
    const d = dataOf(element);
    const matrix = element.getScreenCTM();
    const name = nameOf(element, root);
    if (!d || !matrix) {
      leftOut.push(`${name ? `“${name}”` : `A ${element.localName}`} has no line that can be read.`);
      continue;
    }
    const { a, b, c, d: down, e, f } = matrix;
    const toShot: Affine = [a, b, c, down, e, f];
    const found = linesOfPath(d, toShot, name, frameOf(element, root));
    lines.push(...found.lines);
    if (found.brokenAt !== null)
      leftOut.push(
        `${name ? `“${name}”` : `A ${element.localName}`} breaks off at character ${found.brokenAt + 1} of its path, where what follows cannot be read.`,
      );
  }
  if (hidden > 0) leftOut.push(`${hidden} hidden ${hidden === 1 ? 'line' : 'lines'}.`);
  for (const [tag, [one, many]] of Object.entries(others)) {
    const count = [...root.querySelectorAll(tag)].filter((each) => !each.closest(referred)).length;
    if (count > 0)
      leftOut.push(
        `${count} ${count === 1 ? one : many}, as there are no lines in ${count === 1 ? 'it' : 'them'}.`,
      );
  }
  return { lines, leftOut };
}

const frameName = /frame-(\d+)$/;

/** The source frame that an element, or a group about it, is named for. */
function frameOf(element: Element, root: Element): number | null {
  for (let at: Element | null = element; at && at !== root.parentElement; at = at.parentElement) {
    const named = at.getAttribute('data-frame') ?? frameName.exec(at.id)?.[1];
    if (named && /^\d+$/.test(named)) return Number(named);
  }
  return null;
}

/** Of groups that are named for frames usually one is seen: all are meant. */
function showFrames(root: SVGSVGElement) {
  for (const group of root.querySelectorAll<SVGElement>('[data-frame], [id*="frame-"]'))
    if (frameOf(group, group) !== null) {
      group.style.setProperty('display', 'inline', 'important');
      group.style.setProperty('visibility', 'visible', 'important');
    }
}

/** Whether an element, or a group about it, is hidden by the drawing itself: the stage is out of sight anyway. */
function isHidden(element: SVGElement, root: SVGSVGElement): boolean {
  for (let at: Element | null = element; at && at !== root; at = at.parentElement) {
    const style = getComputedStyle(at);
    if (style.display === 'none' || style.opacity === '0') return true;
    const own = (at as SVGElement).style?.visibility || at.getAttribute('visibility');
    if (own === 'visible') return false;
    if (own === 'hidden' || own === 'collapse') return true;
  }
  return false;
}

function nameOf(element: SVGElement, root: SVGSVGElement): string {
  if (element.id) return element.id;
  const title = [...element.children].find(({ localName }) => localName === 'title')?.textContent?.trim();
  if (title) return title;
  const copied = element.closest('[data-name]')?.getAttribute('data-name');
  const group = element.parentElement;
  const alone = group && group !== (root as Element) && group.querySelectorAll(shapes).length === 1;
  return copied ?? (alone && group.id && !frameName.test(group.id) ? group.id : '');
}

/** An element's line as path data (SVG 2, §10), in its own units; null where it has none. */
function dataOf(element: SVGGeometryElement): string | null {
  const style = getComputedStyle(element);
  if (element instanceof SVGPathElement) {
    // A style sheet may give the path, too.
    const styled = /^path\("(.*)"\)$/s.exec(style.getPropertyValue('d'))?.[1];
    const own = element.getAttribute('d');
    return own?.trim() ? own : (styled ?? null);
  }
  if (element instanceof SVGLineElement) {
    const [x1, y1, x2, y2] = [element.x1, element.y1, element.x2, element.y2].map(
      (each) => each.baseVal.value,
    );
    return `M${x1} ${y1}L${x2} ${y2}`;
  }
  if (element instanceof SVGPolylineElement || element instanceof SVGPolygonElement) {
    const points = [...element.points].map(({ x, y }) => `${x} ${y}`);
    return points.length < 2
      ? null
      : `M${points.join('L')}${element instanceof SVGPolygonElement ? 'Z' : ''}`;
  }
  // Sizes may come from style sheets: the box that the engine has is right whatever they came from.
  const { x, y, width, height } = element.getBBox();
  if (!(width > 0 && height > 0)) return null;
  if (element instanceof SVGRectElement) return roundedRectangle(element, style, { x, y, width, height });
  const [rx, ry, cx, cy] = [width / 2, height / 2, x + width / 2, y + height / 2];
  const arc = (dx: number, dy: number) => `A${rx} ${ry} 0 0 1 ${cx + dx} ${cy + dy}`;
  return `M${cx + rx} ${cy}${arc(0, ry)}${arc(-rx, 0)}${arc(0, -ry)}${arc(rx, 0)}Z`;
}

/** SVG 2, §10.2: a missing radius is as the other, and neither is more than half the side. */
function roundedRectangle(
  { rx: ownX, ry: ownY }: SVGRectElement,
  style: CSSStyleDeclaration,
  { x, y, width, height }: { x: number; y: number; width: number; height: number },
): string {
  const styled = (name: string, attribute: SVGAnimatedLength) => {
    const value = style.getPropertyValue(name);
    if (value.endsWith('px')) return parseFloat(value);
    return value === 'auto' || value === '' ? null : attribute.baseVal.value;
  };
  const [givenX, givenY] = [styled('rx', ownX), styled('ry', ownY)];
  const rx = Math.min(givenX ?? givenY ?? 0, width / 2);
  const ry = Math.min(givenY ?? givenX ?? 0, height / 2);
  if (!(rx > 0 && ry > 0)) return `M${x} ${y}h${width}v${height}h${-width}Z`;
  const arc = (dx: number, dy: number) => `a${rx} ${ry} 0 0 1 ${dx} ${dy}`;
  return (
    `M${x + rx} ${y}h${width - 2 * rx}${arc(rx, ry)}v${height - 2 * ry}${arc(-rx, ry)}` +
    `h${2 * rx - width}${arc(-rx, -ry)}v${2 * ry - height}${arc(rx, -ry)}Z`
  );
}
