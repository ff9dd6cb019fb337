import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toText } from '../math/index';
import { convert, namesUnit, readQuantity, show } from './index';

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

describe('what people write in other ways', () => {
  const value = (text: string, unit: string): number => {
    const r = readQuantity(text, unit);
    if ('problem' in r) throw new Error(`${text}: ${r.problem}`);
    return r.value;
  };

  it.each([
    ['1 1/2 in', 'mm', 38.1],
    ['2 3/4 hp', 'W', 2.75 * 745.69987158227022],
    ['=20*2', 'mm', 40],
    ['1:5', '', 0.2],
    ['5\' 3"', 'mm', 63 * 25.4],
    ['5 ft 3 in', 'mm', 63 * 25.4],
    ['-5 ft 3 in', 'mm', -63 * 25.4],
    ["12° 30'", 'deg', 12.5],
    ['12°30′36″', 'deg', 12.51],
    ['20 tpi', 'mm', 1.27],
    ['10 DP', 'mm', 2.54],
    // Exact by definition: inch, pound and standard weight (BIPM, NIST SP 811, appendix B).
    ['1 psi', 'Pa', 6894.757293168361],
    ['16 ozf·in', 'N·m', 0.1129848290276167],
    ['1 MPa', 'N/mm^2', 1],
    ['1 bar', 'kPa', 100],
    ['1 Pa', 'N/m^2', 1],
  ])('%s in %s', (text, unit, is) => expect(value(text, unit)).toBeCloseTo(is, 10));

  it('tells thousands from decimals by one rule, and asks where both could be meant', () => {
    expect(value('1,5', 'mm')).toBe(1.5);
    expect(value('0,125', 'mm')).toBe(0.125);
    expect(value('1,234,567', 'mm')).toBe(1234567);
    expect(value('1.234,5', 'mm')).toBe(1234.5);
    expect(value('1,234.5', 'mm')).toBe(1234.5);
    expect(value('12 345.5', 'mm')).toBe(12345.5);
    for (const text of ['10,000 N', '1,234', '7 000/2']) expect(readQuantity(text, 'N')).toHaveProperty('problem');
    for (const text of ['1,23,456', '1.5.2', '1,,5', '1,2345.6']) expect(readQuantity(text, 'mm')).toHaveProperty('problem');
  });

  it('turns no angle into a plain number, and ends powers of powers', () => {
    expect(readQuantity('30 deg', '')).toHaveProperty('problem');
    expect(readQuantity('((2^64)^64)^64', 'mm')).toHaveProperty('problem');
  });

  it('can be typed back as it is shown', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e12, max: 1e12, noNaN: true }), fc.integer({ min: 3, max: 9 }), (x, digits) => {
        const shown = show(x, digits);
        expect(Math.abs(value(shown, 'mm') - x)).toBeLessThanOrEqual(Math.abs(x) * 10 ** (2 - digits) + 1e-300);
      }),
    );
  });
});

describe('a unit of its own', () => {
  it('is named by some texts, and not by numbers, arithmetic, π or what cannot be read', () => {
    for (const text of ['3/4 in', '12°', '5 ft 3 in', '2 cm/2', '1e-3 m', '60 rev/min']) expect([text, namesUnit(text)]).toEqual([text, true]);
    for (const text of ['5', '25.4/12', '1e-3', '2*pi', 'sqrt(2)', '50 %', '', '3 parsecs', '1/0']) {
      expect([text, namesUnit(text)]).toEqual([text, false]);
    }
  });
});

describe('what is no quantity of a kind', () => {
  it('a stiffness is no force, a part in the hundred no length; a travel per turn is a travel', () => {
    expect(readQuantity('10 N/deg', 'N')).toHaveProperty('problem');
    expect(readQuantity('10 N*m/rad', 'N·m')).toHaveProperty('problem');
    expect(readQuantity('50 %', 'mm')).toHaveProperty('problem');
    expect(readQuantity('50 %', '')).toMatchObject({ value: 0.5 });
    expect(readQuantity('50 % * 20 mm', 'mm')).toMatchObject({ value: 10 });
    expect(readQuantity('5 mm/rev', 'mm')).toMatchObject({ value: 5 });
  });
  it('micro is read in both of its signs', () => {
    for (const sign of ['\u00b5', '\u03bc']) expect(readQuantity(`25 ${sign}m`, 'mm')).toMatchObject({ value: 0.025 });
  });
});
