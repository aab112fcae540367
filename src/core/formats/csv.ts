/**
 * Rows as RFC 4180 has them: CRLF after each, fields with commas, quotes or line ends in quotes, quotes doubled; a field
 * that a spreadsheet would take for a formula begins with an apostrophe.
 */
export function csvOf(rows: readonly (readonly (string | number | null)[])[]): string {
  return rows.map((row) => row.map(fieldOf).join(',') + '\r\n').join('');
}

function fieldOf(value: string | number | null): string {
  if (value === null) return '';
  if (typeof value === 'number') return String(value);
  const text = /^[=+\-@\t\r]/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}
