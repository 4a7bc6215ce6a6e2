import { describe, expect, it } from 'vitest';

import { readTable, writeTable } from '#core/table';

describe('a table for a spreadsheet', () => {
  it('quotes cells with the delimiter, quotation marks or line ends, and ends every line', () => {
    expect(
      writeTable([
        ['a', 'b, c'],
        ['say "ah"', 'two\nlines'],
      ]),
    ).toBe('a,"b, c"\r\n"say ""ah""","two\nlines"\r\n');
    expect(writeTable([])).toBe('');
  });

  it.each(['=1+1', '+A1', '@SUM(A1)', '-A1', '-2+cmd', '\tx', '\rx'])(
    'writes "%s" as text, not as a formula',
    (cell) => {
      const [written = ''] = writeTable([[cell]]).split('\r\n');
      expect(written.replace(/^"/, '').startsWith("'")).toBe(true);
      expect(readTable(writeTable([[cell, 'b']])).rows).toEqual([
        [cell.trim() === cell ? cell : expect.any(String), 'b'],
      ]);
    },
  );

  it.each(['-5', '-0.25', '-.5', '-1e-3', '12', "it's", 'a-b', ''])('leaves "%s" as it is', (cell) => {
    expect(writeTable([[cell, 'x']])).toBe(`${cell},x\r\n`);
  });
});

describe('a pasted table', () => {
  it.each(['\t', ';', ',', '|'])('is parted by "%s" where that is what parts its cells', (delimiter) => {
    const text = [
      ['variant', 'A', 'B'],
      ['red', '10', '20'],
      ['blue', '11', '21'],
    ]
      .map((row) => row.join(delimiter))
      .join('\n');
    expect(readTable(text)).toEqual({
      rows: [
        ['variant', 'A', 'B'],
        ['red', '10', '20'],
        ['blue', '11', '21'],
      ],
      delimiter,
    });
  });

  it('keeps blanks out of cells, and lines without anything out of the table', () => {
    expect(readTable('a ; b\n\n  1;2 \n;\n').rows).toEqual([
      ['a', 'b'],
      ['1', '2'],
    ]);
  });
});
