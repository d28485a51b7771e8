import { parse } from 'csv-parse/sync';
import { writeTable } from '../src/formats/tables/write-table.ts';

// Read back by another package, csv-parse, which follows RFC 4180.
const read = (text: string): string[][] => parse(text);

describe('a table as CSV', () => {
  test('is read back as it was by another package: commas, quotation marks and lines within cells', () => {
    const rows = [
      ['student', 'exercise', 'note'],
      ['Oisín Brannagh', 'Quay to barge', 'he said “later”, then "now"'],
      ['Inês Carvalhal', 'Night, round', 'two\nlines'],
    ];
    expect(read(writeTable(rows))).toEqual(rows);
    expect(writeTable([['a', null, 3]])).toBe('a,,3\n');
  });

  test('a name that a spreadsheet would work out is text there; a number that is negative stays one', () => {
    expect(read(writeTable([['=HYPERLINK("http://example.org")', '@here', '-quay', -4]]))).toEqual([
      [`'=HYPERLINK("http://example.org")`, `'@here`, `'-quay`, '-4'],
    ]);
  });
});
