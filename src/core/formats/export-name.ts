import { type ExportFormat, exportFormats } from './export-formats';
import { fileNameOf } from './file-name';

/** What a file's name can be made of, with what each stands for. */
export const nameFields = {
  crossing: 'the crossing’s name',
  shot: 'the shot, where it is exported alone',
  of: 'matte, cut-out or sound; empty for the result',
  as: 'the format, as the export command calls it',
  in: 'the first frame',
  out: 'the last frame',
  revision: 'the crossing’s revision',
  date: 'the day of the export',
} as const;
type NameField = keyof typeof nameFields;

/** How files are called unless a person says otherwise. */
export const usualName = '{crossing} {shot} {of} r{revision}';
/** Most characters of a pattern. */
export const longestPattern = 200;

/** What a finished export is named from. */
export interface NamedExport {
  crossing: string;
  shotName: string | null;
  revision: number;
  format: ExportFormat;
  /** Null where it was not kept. */
  firstFrame: number | null;
  frameCount: number;
  /** ISO 8601. */
  createdAt: string;
}

const fieldsIn = /\{([^{}]*)\}/g;
/** Most bytes of a name without its ending: file systems take 255 in all (NAME_MAX of Linux). */
const longestName = 240;

/** As much of a text as fits into so many bytes of UTF-8. */
function withinBytes(text: string, most: number): string {
  let bytes = 0;
  let kept = '';
  for (const character of text) {
    const code = character.codePointAt(0)!;
    bytes += code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x10000 ? 3 : 4;
    if (bytes > most) break;
    kept += character;
  }
  return kept;
}

/** Why a pattern names nothing, as a sentence; null where it does. */
export function wrongPattern(pattern: string): string | null {
  if (pattern.trim() === '') return 'A name needs something in it, for instance {crossing}.';
  if (pattern.length > longestPattern) return `A pattern has ${longestPattern} characters at most.`;
  const unknown = [...pattern.matchAll(fieldsIn)].find(([, field]) => !Object.hasOwn(nameFields, field));
  if (unknown)
    return `There is no {${unknown[1]}}. There are ${Object.keys(nameFields)
      .map((field) => `{${field}}`)
      .join(', ')}.`;
  if (/[{}]/.test(pattern.replace(fieldsIn, ''))) return 'A brace is not closed. Write fields {like this}.';
  return null;
}

/** An export's name as a pattern makes it, with its ending: as file systems take it, without gaps where a field says nothing. */
export function exportNameBy(pattern: string, made: NamedExport): string {
  const { of, command, extension } = exportFormats[made.format];
  const { crossing, firstFrame, frameCount, revision, createdAt } = made;
  const values: Record<NameField, string> = {
    crossing,
    shot: made.shotName === null ? '' : `${made.shotName} alone`,
    of: of === 'result' ? '' : of,
    as: command,
    in: firstFrame === null ? '' : String(firstFrame),
    out: firstFrame === null ? '' : String(firstFrame + frameCount - 1),
    revision: String(revision),
    date: createdAt.slice(0, 10),
  };
  const filled = pattern.replace(fieldsIn, (_, field: NameField) => values[field] ?? '');
  const name = fileNameOf(filled.replace(/\s+/g, ' '), fileNameOf(crossing, 'crossing'));
  return `${withinBytes(name, longestName).replace(/[. ]+$/, '') || 'crossing'}.${extension}`;
}
