import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toText } from '../exact/index';
import { convert, readQuantity, show } from './index';

const read = (text: string, unit = ''): number => {
  const q = readQuantity(text, unit);
  if ('problem' in q) throw new Error(q.problem);
  return q.value;
};
const problem = (text: string, unit = ''): string => {
  const q = readQuantity(text, unit);
  return 'problem' in q ? q.problem : `read as ${q.value}`;
};

describe('what people type', () => {
  it('takes arithmetic, π and brackets', () => {
    expect(read('12.566*18/pi', 'mm')).toBeCloseTo((12.566 * 18) / Math.PI, 12);
    expect(read('(2 + 3) * 4 - 6/2')).toBe(17);
    expect(read('2^3')).toBe(8);
    expect(read('-3,5')).toBe(-3.5);
    expect(read('sqrt(2)')).toBeCloseTo(Math.SQRT2, 14);
  });

  it('takes units and mixes metric and inch', () => {
    expect(read('2 ft + 3 in', 'mm')).toBeCloseTo(685.8, 9);
    expect(read('5 mm/rev', 'mm')).toBe(5);
    expect(read('120', 'rev/min')).toBe(120);
    expect(read('2 rev/s', 'rev/min')).toBe(120);
    expect(read('90 deg/s', 'rev/min')).toBeCloseTo(15, 12);
    expect(read('10 lbf*ft', 'N·m')).toBeCloseTo(13.5581794833, 9);
    expect(read('1 kg/m^3', 'kg/m3')).toBe(1);
  });

  // 1 in = 25.4 mm and 1 lb = 0.45359237 kg: International Yard and Pound Agreement, 1959; 1 hp = 550 ft·lbf/s (NIST SP 811, B.8).
  it('converts by the exact definitions', () => {
    expect(convert(1, 'in', 'mm')).toBe(25.4);
    expect(convert(1, 'hp', 'W')).toBeCloseTo(745.6998715822702, 9);
    expect(read('3/4 hp', 'W')).toBeCloseTo(559.27490368670265, 9);
    expect(() => convert(1, 'mm', 's')).toThrow(RangeError);
  });

  it('keeps exact fractions exact', () => {
    const q = readQuantity('25.4/12', 'mm');
    expect('exact' in q && q.exact && toText(q.exact)).toBe('127/60');
    const inch = readQuantity('1/12 in', 'mm');
    expect('exact' in inch && inch.exact && toText(inch.exact)).toBe('127/60');
  });

  it('says what is wrong in words', () => {
    expect(problem('')).toMatch(/nothing is typed/);
    expect(problem('5 mm', 'N')).toMatch(/not a quantity in N/);
    expect(problem('3 furlongs', 'mm')).toMatch(/no unit known/);
    expect(problem('2 ft + 3', 'mm')).toMatch(/units differ/);
    expect(problem('1/0')).toMatch(/zero/);
    expect(problem('(1+2')).toMatch(/bracket/);
    expect(problem('5 mm')).toMatch(/plain number/);
    expect(problem('1e400')).not.toMatch(/^read/);
  });

  it('never throws, whatever is typed', () => {
    fc.assert(
      fc.property(fc.string(), (s) => void readQuantity(s, 'mm')),
      { numRuns: 500 },
    );
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('1', '2.5', '*', '/', '^', '(', ')', 'mm', 'pi', '-', 'rev', ' ')),
        (s) => void readQuantity(s.join(''), 'rev/min'),
      ),
      { numRuns: 500 },
    );
  });

  it('shows numbers so that they can be read back', () => {
    expect(show(12345.678)).toBe('12\u202f346');
    expect(show(-0.5)).toBe('−0.5');
    expect(show(0)).toBe('0');
    expect(show(NaN)).toBe('–');
    expect(show(1.5e-7, 4)).toBe('1.50e−7');
  });
});
