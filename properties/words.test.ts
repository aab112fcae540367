import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

/** What is written on the screen, read as a whole: buttons' words, fields' units, one word for one thing. */

const files = execFileSync('git', ['ls-files', 'src/**/*.tsx', 'src/**/*.ts'], { encoding: 'utf8' })
  .split('\n')
  .filter((file) => file !== '' && !file.includes('.test.'));
const sources = files.map((file) => ({ file, text: readFileSync(file, 'utf8') }));

/** All matches of a pattern's first group, with the files that they stand in. */
const found = (pattern: RegExp, only = /./) =>
  sources
    .filter(({ file }) => only.test(file))
    .flatMap(({ file, text }) =>
      [...text.matchAll(pattern)].map((match) => ({ file, words: match[1].trim() })),
    );

/** Most letters on a button: more is cut off, or breaks into lines, in the steps' column. */
const mostLetters = 28;

test('a button’s words fit on it', () => {
  const buttons = found(/<(?:Button|ToggleButton)\b(?:[^>]|=>)*>\s*([A-Z][^<>{}]*?)\s*<\//g, /\.tsx$/);
  expect(buttons.length).toBeGreaterThan(60);
  expect(buttons.filter(({ words }) => words.length > mostLetters)).toEqual([]);
});

test('each thing is called by one word', () => {
  // [what is not said, what is said in its place]
  const instead: readonly [RegExp, string][] = [
    [/\bTakes? (?:the|all|a) [\w’ ]+ away\b/g, 'Remove'],
    [/\bPut at rest\b/g, 'Remove all keys'],
    [/\b(?:hold|freeze) its (?:end|last picture)\b/gi, 'Freeze last frame'],
    [/\b(?:color|gray|center(?:ed)? of the picture)\b/gi, 'British spelling'],
    [/\bjumps away at once\b/g, 'is covered in one frame'],
    [/\b(?:Way on|from here on)\b/g, 'In-betweens after this'],
  ];
  // Words on the screen stand in quotes or between tags; CSS and code have their own.
  const said = found(
    /(?:['"`>])([A-Z][A-Za-z’“”$ ,.;:{}()%°-]{5,160})(?:['"`<])/g,
    /workspace|core\/checks|shelf|footage-view/,
  );
  expect(said.length).toBeGreaterThan(400);
  for (const [wrong, right] of instead)
    expect({ right, said: said.filter(({ words }) => words.search(wrong) >= 0) }).toEqual({
      right,
      said: [],
    });
});

test('a number in px, degrees or percent says so', () => {
  const fields = found(/<NumberField\b([^/]*?)\/>/g, /\.tsx$/);
  expect(fields.length).toBeGreaterThan(30);
  // What counts frames, places in a list or parts of one has no unit.
  const free = /frame|From|To"|Length|Camera|places|whole|unit=|px|%|°|channelWords|Speed|label=\{/;
  expect(fields.filter(({ words }) => !free.test(words))).toEqual([]);
});
