import { readFileSync } from 'node:fs';
import { exportFormatNames, formatOf } from './export-formats';
import { exportNameBy, usualName, wrongPattern } from './export-name';

test('each format has a name of its own for the command', () => {
  const commands = exportFormatNames.map((format) => formatOf(format).command);
  expect(new Set(commands).size).toBe(commands.length);
});

test('the guide lists every format as its record has it', () => {
  const guide = readFileSync('docs/guide.md', 'utf8');
  const listed = /<!-- formats -->\n+([\s\S]*?)\n*<!-- \/formats -->/.exec(guide)![1];
  const cells = listed
    .split('\n')
    .slice(2)
    .map((row) => row.split('|').map((cell) => cell.trim()));
  const wanted = exportFormatNames.map((format) => {
    const { label, command, extension, says } = formatOf(format);
    return ['', label, `\`${command}\``, `.${extension}`, says, ''];
  });
  expect(cells).toEqual(wanted);
});

test('a file’s name follows a pattern, without gaps, as file systems take it; one that names nothing is explained', () => {
  const made = {
    ...{ crossing: 'Pond / night: 2', shotName: null, revision: 7, format: 'result-pictures' as const },
    ...{ firstFrame: 100, frameCount: 25, createdAt: '2026-12-01T09:30:00.000Z' },
  };
  expect(exportNameBy(usualName, made)).toBe('Pond _ night_ 2 r7.zip');
  expect(
    exportNameBy('{crossing} {shot} {of} r{revision}', { ...made, format: 'matte-mp4', shotName: 'Gate' }),
  ).toBe('Pond _ night_ 2 Gate alone matte r7.mp4');
  expect(exportNameBy('{date}_{as}_{in}-{out}', made)).toBe('2026-12-01_png_100-124.zip');
  expect(exportNameBy('../../{as}. ', made)).toBe('.._.._png.zip');
  expect(exportNameBy('{in}', { ...made, firstFrame: null, crossing: 'Pond' })).toBe('Pond.zip');
  // Longer than a name can be, by characters of several bytes.
  expect(exportNameBy('{crossing}', { ...made, crossing: '池'.repeat(200) })).toBe(`${'池'.repeat(80)}.zip`);
  expect(wrongPattern('{crossing} {frame}')).toMatch(/There is no \{frame\}/);
  expect(wrongPattern('{crossing')).toMatch(/brace is not closed/);
  expect([wrongPattern('  '), wrongPattern('take 3')]).toEqual([
    expect.stringMatching(/needs something/),
    null,
  ]);
});
