import Papa from 'papaparse';

/**
 * Rows as RFC 4180 has them: CRLF after each, fields with commas, quotes or line ends in quotes, quotes doubled; a text
 * that a spreadsheet would take for a formula begins with an apostrophe.
 */
export function csvText(rows: readonly (readonly (string | number | null)[])[]): string {
  const cells = rows.map((row) => [...row]);
  return `${Papa.unparse(cells, { newline: '\r\n', escapeFormulae: /^[=+\-@\t\r].*$/s })}\r\n`;
}
