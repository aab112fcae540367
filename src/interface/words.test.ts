import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';

/** The words on the screen, read from the sources: what buttons say, what number fields count, one name for one action. */

interface Said {
  /** File and line. */
  at: string;
  text: string;
}

interface Field {
  at: string;
  label: string;
  unit: boolean;
}

const source = path.join(process.cwd(), 'src');
const pages = readdirSync(source, { recursive: true, encoding: 'utf8' })
  .filter((file) => /\.tsx?$/.test(file) && !/\.test\.ts$/.test(file))
  // What is drawn with, asked of the database, or written into files is not read on the screen.
  .filter((file) => !/^render\/shaders|^server\/migrations|^core\/formats\/svg/.test(file));

const [buttons, strings, fields] = [[] as Said[], [] as Said[], [] as Field[]];
for (const file of pages) {
  const tree = ts.createSourceFile(
    file,
    readFileSync(path.join(source, file), 'utf8'),
    ts.ScriptTarget.Latest,
    true,
    file.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS,
  );
  const at = (node: ts.Node) => `${file}:${tree.getLineAndCharacterOfPosition(node.getStart()).line + 1}`;
  visit(tree);

  function visit(node: ts.Node) {
    if (ts.isJsxElement(node) && /Button$/.test(node.openingElement.tagName.getText()))
      // What is put together of several parts is as long as its words alone.
      for (const text of node.children.flatMap(wordsIn)) buttons.push({ at: at(node), text });
    if (ts.isJsxSelfClosingElement(node) && node.tagName.getText() === 'NumberField')
      fields.push(fieldOf(node));
    if (isWords(node) && !ts.isImportDeclaration(node.parent))
      for (const text of wordsIn(node)) strings.push({ at: at(node), text });
    ts.forEachChild(node, visit);
  }

  function fieldOf(node: ts.JsxSelfClosingElement): Field {
    const given = node.attributes.properties.filter(ts.isJsxAttribute);
    const named = (name: string) => given.find((each) => each.name.getText() === name);
    const label = named('label')?.initializer;
    return { at: at(node), label: label ? wordsIn(label).join(' ') : '', unit: named('unit') !== undefined };
  }
}

function isWords(node: ts.Node) {
  return ts.isStringLiteralLike(node) || ts.isTemplateExpression(node) || ts.isJsxText(node);
}

/** What may be read of an expression: either of two, with dots for what is put in. */
function wordsIn(node: ts.Node): string[] {
  if (ts.isStringLiteralLike(node)) return [node.text];
  if (ts.isTemplateExpression(node))
    return [node.head.text + node.templateSpans.map(({ literal }) => `…${literal.text}`).join('')];
  if (ts.isJsxText(node)) return [node.text.replace(/\s+/g, ' ').trim()].filter((text) => text !== '');
  if (ts.isJsxExpression(node)) return node.expression ? wordsIn(node.expression) : [];
  if (ts.isParenthesizedExpression(node)) return wordsIn(node.expression);
  if (ts.isConditionalExpression(node)) return [...wordsIn(node.whenTrue), ...wordsIn(node.whenFalse)];
  return [];
}

/** Those that break a rule, with where they stand. */
const wrong = (said: readonly Said[], breaks: (text: string) => boolean) =>
  said.filter(({ text }) => breaks(text)).map(({ at, text }) => `${at}  ${text}`);

/** What a person reads: more than one word, or one with a capital. */
const read = strings.filter(({ text }) => /[a-z]{2,} [a-z“…]|^[A-Z][a-z]+/.test(text));

test('the sources were read: buttons, fields and sentences by the hundred', () => {
  expect(buttons.length).toBeGreaterThan(120);
  expect(fields.length).toBeGreaterThan(30);
  expect(read.length).toBeGreaterThan(1500);
});

test('no button says more than 28 characters', () => {
  expect(wrong(buttons, (text) => text.length > 28)).toEqual([]);
});

test('a number field has a unit, names it in its label, or asks for a frame', () => {
  const named = /frame|, px|, times|, in widths/i;
  expect(fields.filter(({ label, unit }) => !unit && !named.test(label))).toEqual([]);
});

test('one action has one name', () => {
  /** Where another name for it is not to be read. */
  const names: [name: string, where: RegExp, others: RegExp][] = [
    // Files are deleted, and crossings; inside a crossing things are removed.
    ['Remove', /^workspace\//, /^Delete\b(?!$)|\bdelete (the|them|it)\b/],
    ['Remove', /./, /^(Erase|Throw|Discard) (the|this) |\btake (it|them|.* keys) away\b|^Take the … away/],
    ['Delete', /^(footage-view|exports-view|shelf)\//, /^Remove (the )?(shot|export|crossing|sound)\b/],
    ['Paste', /^workspace\//, /^Put in (a|the) |^Put the copied/],
    ['Detach', /^workspace\//, /\b[Bb]r(ing|ought) (it )?out\b/],
    ['Remove all keys', /./, /\b[Pp]ut at rest\b/],
    ['In-betweens after', /./, /\bfrom here on\b|\bWay on\b/],
    ['Set in, set out', /./, /\b(In|Out) here\b/],
    ['Trim start, trim end', /./, /\b(Start|End) it here\b/],
    ['Freeze', /./, /\bhold its last frame\b|\bFreeze (its|the) end\b/],
    ['Clear selection', /./, /\b[Ll]et (the frames|go of the selection)\b/],
    ['Fill a gap', /./, /\bHalve a gap\b/],
    ['Cut again', /^workspace\//, /\b[Cc]ut … anew\b|\b[Cc]ut anew\b/],
    ['Mirror', /^workspace\/line-up\//, /\bFlip\b/],
    ['Unmute', /./, /\bsound again\b/],
    ['is not', /./, /\b(is|are) no (JSON|ZIP|SVG|list|timecode|whole)\b/],
  ];
  const found = names.flatMap(([name, where, others]) =>
    wrong(
      read.filter(({ at }) => where.test(at)),
      (text) => others.test(text),
    ).map((each) => `${name}: ${each}`),
  );
  expect(found).toEqual([]);
});

test('words are spelt in the British way throughout', () => {
  const american =
    /\b(color|colors|colored|gray|center|centered|favorite|behavior|neighbor|neighbors|labeled|canceled|modeled|traveled|organize|recognize|recognized|analyze|licence[ds]|catalog)\b/i;
  const sentences = read.filter(({ text }) => / /.test(text) && !/[;{}=]|: [0-9#v]/.test(text));
  expect(wrong(sentences, (text) => american.test(text))).toEqual([]);
});
