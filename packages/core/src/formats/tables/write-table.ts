import { csvFormatRows } from 'd3-dsv';

/** What spreadsheets take for the beginning of something to be worked out. */
const FORMULA = /^[=+\-@\t\r]/;

/**
 * A table as CSV (RFC 4180), its first row the columns' names. A text that a spreadsheet would work out instead of showing stands behind an apostrophe, as
 * people write such a text there (OWASP, *CSV Injection*): what somebody is called is never run.
 *
 * @param rows numbers stay numbers; null is an empty cell
 * @example writeTable([['student', 'open'], ['Hoku', 2]]) // 'student,open\nHoku,2\n'
 */
export const writeTable = (rows: readonly (readonly (string | number | null)[])[]): string =>
  `${csvFormatRows(rows.map((row) => row.map((cell) => cellOf(cell))))}\n`;

function cellOf(cell: string | number | null): string {
  if (cell === null) return '';
  if (typeof cell === 'number') return String(cell);
  return FORMULA.test(cell) ? `'${cell}` : cell;
}
