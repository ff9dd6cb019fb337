import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dialectText, readTable, writeTable } from './index';

describe('tables as text', () => {
  it('are read with commas, semicolons or tabs, with decimal commas, headings and empty lines', () => {
    const read = (s: string) => readTable(s, 2).rows;
    expect(read('time,place\n0,0\n1.5,90\n')).toEqual([
      [0, 0],
      [1.5, 90],
    ]);
    expect(read('\uFEFFt;s\r\n0;0\r\n\r\n0,5;12,25\r\n')).toEqual([
      [0, 0],
      [0.5, 12.25],
    ]);
    expect(read('0\t1\n2\t3')).toEqual([
      [0, 1],
      [2, 3],
    ]);
  });
  it('are read as they are meant or not at all: no number is made of two, none loses its sign or its decimals', () => {
    const read = (t: string) => readTable(t, 2);
    expect(read('0;−1,5\n1;–2,5').rows).toEqual([
      [0, -1.5],
      [1, -2.5],
    ]);
    expect(read('0;1,5\n1;2.5').problem).toMatch(/decimal point and others a decimal comma/);
    expect(read('0,0,5\n1,1,5').problem).toMatch(/line 1 has 3 values where 2 are needed/);
    expect(read('0;1.234,5').problem).toMatch(/decimal/);
    expect(read('0,1e3\n1,-.5').rows).toEqual([
      [0, 1000],
      [1, -0.5],
    ]);
    expect(read('a,b,\n0,1,\n2,3,').rows).toEqual([
      [0, 1],
      [2, 3],
    ]);
    expect(read('"0";"1,5"').rows).toEqual([[0, 1.5]]);
    expect(dialectText(readTable('0;1,5', 2).rows ? { separator: ';', decimal: 'comma' } : { separator: ',', decimal: 'point' })).toMatch(
      /semicolons/,
    );
    expect(readTable('0;1,5', 2)).toMatchObject({ dialect: { separator: ';', decimal: 'comma' } });
  });
  it('written and read again are the same numbers, and no cell is a formula to a spreadsheet', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ noNaN: true, noDefaultInfinity: true }), fc.double({ noNaN: true, noDefaultInfinity: true })), {
          minLength: 1,
        }),
        (rows) => {
          expect(readTable(writeTable(['a', 'b'], rows), 2).rows).toEqual(rows.map((r) => r.map((x) => x + 0)));
        },
      ),
    );
    fc.assert(
      fc.property(fc.constantFrom('=', '+', '-', '@', '\t', '\r'), fc.string(), (first, rest) => {
        const line = writeTable(['name'], [[first + rest]]).slice('name\r\n'.length);
        expect(line.replace(/^"/, '')[0]).toBe("'");
      }),
    );
  });
  it('say in which line something is wrong', () => {
    expect(readTable('0,0\n1,x', 2).problem).toMatch(/line 2/);
    expect(readTable('0,0\n1', 2).problem).toMatch(/line 2 has 1 values/);
    expect(readTable('speed and place', 2).problem).toMatch(/no numbers/);
  });
  it('are written so that texts with commas, quotes or a leading equals sign stay texts', () => {
    expect(
      writeTable(
        ['a', 'b'],
        [
          ['x, "y"', 1.5],
          ['=1+1', 2],
        ],
      ),
    ).toBe(`a,b\r\n"x, ""y""",1.5\r\n"'=1+1",2\r\n`);
  });
});

describe('cells that a spreadsheet would work out', () => {
  it('are texts: an apostrophe stands before a sign, a tab and a line break', () => {
    const text = writeTable(['a'], [['=1+1'], ['+1'], ['-1'], ['@x'], ['\t=1'], ['\n=1'], [-5]]);
    for (const cell of ["'=1+1", "'+1", "'-1", "'@x", "'\t=1", "'\n=1"]) expect(text).toContain(cell);
    expect(text).toContain('\r\n-5\r\n');
  });
});
