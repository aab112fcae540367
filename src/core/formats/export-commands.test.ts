import commands from './export-commands.json';
import { exportFormatNames, exportFormats } from './export-formats';

test('each format has one name by which the command asks for it, with its own ending', () => {
  const all = Object.values(commands);
  expect(all.map(({ format }) => format).sort()).toEqual([...exportFormatNames].sort());
  for (const { format, extension } of all)
    expect([format, extension]).toEqual([
      format,
      exportFormats[format as (typeof exportFormatNames)[number]].extension,
    ]);
});
