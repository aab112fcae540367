import { readFileSync } from 'node:fs';
import { exportFormatNames, formatOf } from './export-formats';

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
