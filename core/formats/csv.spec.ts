import { describe, expect, it } from 'vitest';
import { readTable, writeTable } from './index';

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
  it('say in which line something is wrong', () => {
    expect(readTable('0,0\n1,x', 2).problem).toMatch(/line 2/);
    expect(readTable('0,0\n1', 2).problem).toMatch(/line 2 needs 2 numbers/);
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
    ).toBe(`a,b\r\n"x, ""y""",1.5\r\n'=1+1,2\r\n`);
  });
});
