/** A name as a file's: letters, figures, space, point, dash and underscore stay; `otherwise` where nothing does. */
export function fileNameOf(name: string, otherwise: string): string {
  return name.replace(/[^\p{L}\p{N} ._-]+/gu, '_').trim() || otherwise;
}
