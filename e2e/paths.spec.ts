import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import type { FoundLines } from '@/workspace/trace/svg-lines';
import { type HarnessWindow, openHarness } from './support';

/** SVG from elsewhere, against how the browser itself draws it. */

const shot = { width: 320, height: 180 };
const svg = (content: string, head = 'viewBox="0 0 320 180"') =>
  `<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${head}>${content}</svg>`;

const read = (page: Page, text: string) =>
  page.evaluate(
    ([text, shot]) => {
      try {
        return (globalThis as HarnessWindow).harness.readSvg(text, shot);
      } catch (error) {
        return { lines: [], leftOut: [], refused: (error as Error).message };
      }
    },
    [text, shot] as const,
  ) as Promise<FoundLines & { refused?: string }>;

/** Share of px on which the drawing, filled black, and the lines that were read, filled, differ by more than half. */
const difference = (page: Page, text: string, found: FoundLines) =>
  page.evaluate(
    async ([text, { width, height }, lines]) => {
      const picture = new Image();
      const named = text.includes('xmlns')
        ? text
        : text.replace('<svg', '<svg xmlns="http://www.w3.org/2000/svg"');
      picture.src = URL.createObjectURL(new Blob([named], { type: 'image/svg+xml' }));
      await picture.decode();
      const alphaOf = (draw: (context: OffscreenCanvasRenderingContext2D) => void) => {
        const context = new OffscreenCanvas(width, height).getContext('2d')!;
        draw(context);
        return context.getImageData(0, 0, width, height).data.filter((_, i) => i % 4 === 3);
      };
      const drawn = alphaOf((context) => context.drawImage(picture, 0, 0, width, height));
      const taken = alphaOf((context) => {
        for (const { coordinates: c } of lines) {
          context.beginPath();
          context.moveTo(c[0], c[1]);
          for (let i = 6; i <= c.length; i += 6) {
            const [from, to] = [i - 6, i % c.length];
            context.bezierCurveTo(
              ...([
                c[from] + c[from + 4],
                c[from + 1] + c[from + 5],
                c[to] + c[to + 2],
                c[to + 1] + c[to + 3],
              ] as [number, number, number, number]),
              c[to],
              c[to + 1],
            );
          }
          context.fill();
        }
      });
      let [off, filled] = [0, 0];
      drawn.forEach((alpha, i) => {
        if (Math.abs(alpha - taken[i]) > 128) off++;
        if (alpha > 128) filled++;
      });
      return { off, filled };
    },
    [text, shot, found.lines] as const,
  );

const size = 'width="320" height="180"';
const drawings: Record<string, string> = {
  'transforms, in attributes and in style': svg(
    `<g transform="translate(10 20)"><rect x="1" y="2" width="30" height="40" transform="scale(2) rotate(8)"/></g>
     <rect x="200" y="20" width="40" height="40" style="transform: rotate(20deg) translateX(30px); transform-origin: 220px 40px"/>`,
    `viewBox="0 0 320 180" ${size}`,
  ),
  'style sheets': svg(
    `<style>.b { transform: translate(100px, 40px) scale(1.5) } #late { r: 25px } path.s { d: path("M200 20L280 20L240 90Z") }</style>
     <rect class="b" width="40" height="30"/><circle id="late" cx="60" cy="140" r="2"/><path class="s"/>`,
    `viewBox="0 0 320 180" ${size}`,
  ),
  'nested viewports with preserveAspectRatio': svg(
    `<svg x="20" y="10" width="120" height="60" viewBox="0 0 10 10" preserveAspectRatio="xMaxYMid meet"><rect width="10" height="10"/></svg>
     <svg x="60%" y="50%" width="25%" height="40%" viewBox="0 0 100 100" preserveAspectRatio="none"><circle cx="50" cy="50" r="50"/></svg>`,
    `viewBox="0 0 320 180" ${size}`,
  ),
  'a square drawing laid to the left': svg(
    '<rect width="100" height="60"/>',
    `viewBox="0 0 100 100" preserveAspectRatio="xMinYMax meet" ${size}`,
  ),
  'rounded corners, percents and units': svg(
    `<rect x="10%" y="10%" width="30%" height="40%" rx="12"/><rect x="2in" y="1in" width="1in" height="20mm" rx="4" ry="20"/>`,
    `viewBox="0 0 320 180" ${size}`,
  ),
  'what is used': svg(
    `<defs><path id="leaf" d="M0 0C20 -20 40 -20 60 0C40 20 20 20 0 0Z"/><symbol id="box" viewBox="0 0 10 10"><rect width="10" height="10"/></symbol></defs>
     <use href="#leaf" x="20" y="50"/><use xlink:href="#leaf" transform="translate(140 120) rotate(-30)"/><use href="#box" x="220" y="20" width="60" height="60"/>`,
    `viewBox="0 0 320 180" ${size}`,
  ),
  'without a word that it is SVG': `<svg viewBox="0 0 320 180" ${size}><circle cx="100" cy="90" r="40"/></svg>`,
  'a prefix, and lines in an attribute': `<svg:svg xmlns:svg="http://www.w3.org/2000/svg" viewBox="0 0 320 180" ${size}><svg:path d="M20 20&#10;120 20&#x9;120 120&#10;z"/></svg:svg>`,
};

test.describe('drawings from elsewhere', () => {
  let page: Page;
  test.beforeAll(async ({ browser }) => {
    page = await browser.newPage();
    await openHarness(page);
  });
  test.afterAll(() => page.close());

  for (const [name, text] of Object.entries(drawings))
    test(`${name} lie where the browser draws them`, async () => {
      const found = await read(page, text);
      expect(found.refused).toBeUndefined();
      expect(found.leftOut).toEqual([]);
      const { off, filled } = await difference(page, text, found);
      expect(filled).toBeGreaterThan(1500);
      expect(off).toBeLessThanOrEqual(filled / 500);
    });

  test('what cannot be taken is said item by item, and the rest is taken', async () => {
    const { lines, leftOut } = await read(
      page,
      svg(`<rect id="a" width="9" height="9"/><text x="3" y="9">Hello</text><image width="5" height="5" href="http://example.com/x.png"/>
        <path id="b" d="M0 0L10 0L10 10X5 5"/><g style="display: none"><path d="M0 0L9 9"/></g>
        <path d="M0 0L50 9" visibility="hidden"/><g id="frame-3" display="none"><path d="M1 1L20 20"/></g><use href="#no"/>`),
    );
    expect(lines.map(({ name, frame }) => [name, frame])).toEqual([
      ['a', null],
      ['b', null],
      ['', 3],
    ]);
    expect(leftOut).toEqual([
      '“b” breaks off at character 16 of its path, where what follows cannot be read.',
      '2 hidden lines.',
      '1 text, as there are no lines in it.',
      '1 picture, as there are no lines in it.',
    ]);
  });

  test('nothing in a drawing runs, loads, grows or shows', async () => {
    const asked: string[] = [];
    page.on('request', (request) => asked.push(request.url()));
    const { lines } = await read(
      page,
      svg(`<script>globalThis.ran = 1</script><rect width="9" height="9" onload="globalThis.ran = 2"/>
        <style>@import url(/api/shots); rect { fill: url(/api/jobs) } body { display: none }</style>
        <foreignObject><iframe xmlns="http://www.w3.org/1999/xhtml" src="/api/exports"/></foreignObject>
        <image href="/api/sounds"/><path style="fill: url('/api/crossings')" d="M0 0L9 0L9 9Z"/>
        <rect width="5" height="5"><animate attributeName="width" to="300" dur="1ms" fill="freeze"/></rect>`),
    );
    expect(lines).toHaveLength(3);
    expect(await page.evaluate(() => (globalThis as { ran?: number }).ran)).toBeUndefined();
    expect(await page.evaluate(() => getComputedStyle(document.body).display)).not.toBe('none');
    expect(await page.evaluate(() => document.querySelectorAll('svg').length)).toBe(0);
    expect(asked).toEqual([]);
    for (const [text, says] of [
      ['hello', /neither SVG nor/],
      ['<html xmlns="http://www.w3.org/1999/xhtml"/>', /neither SVG nor/],
      ['<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0', /not a readable SVG/],
      [
        `<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>${svg('<path d="&b;"/>').slice(21)}`,
        /entities of its own/,
      ],
      [svg('<path d="M0 0L1e9 3"/>'), /farther away/],
      // Ten of ten of ten of ten of ten.
      [
        svg(
          `<defs><path id="u0" d="M0 0L9 9"/>${[1, 2, 3, 4, 5].map((k) => `<g id="u${k}">${`<use href="#u${k - 1}"/>`.repeat(10)}</g>`).join('')}</defs><use href="#u5"/>`,
        ),
        /repeats more/,
      ],
    ] as const)
      expect((await read(page, text)).refused, text.slice(0, 60)).toMatch(says);
    // What uses itself ends.
    expect((await read(page, svg('<g id="a"><use href="#a"/><path d="M0 0L9 9"/></g>'))).lines).toHaveLength(
      1,
    );
  });
});
