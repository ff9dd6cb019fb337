import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { exactly, toText } from '../math/index';
import { INCH, METRIC, QUANTIFIED, UNIT_CHOICES, Units, convert, readQuantity } from './index';

const KEPT = ['mm', 'mm²', 'mm/rev', 'rev/mm', 'mm/s', 'N', 'N/mm', 'N·m', 'N·m/deg', 'W', 'MPa', 'kg'];
const inch = new Units(INCH);

describe('units of a design', () => {
  // 1 in = 25.4 mm and 1 lb = 0.45359237 kg exactly (International Yard and Pound
  // Agreement, 1959), g = 9.80665 m/s²; the rest follows (NIST SP 811, B.8).
  it('show what documents keep', () => {
    expect(inch.text(25.4, 'mm')).toBe('1 in');
    expect(inch.text(4.4482216152605, 'N')).toBe('1 lbf');
    expect(inch.text(0.1129848290276167, 'N·m')).toBe('1 lbf·in');
    expect(inch.text(745.6998715822702, 'W')).toBe('1 hp');
    expect(inch.number(0.45359237, 'kg')).toBe('1');
    expect(inch.shown(6.894757293168361, 'MPa')).toBeCloseTo(1000, 9);
    expect(inch.text(152.4, 'mm/rev')).toBe('6 in/rev');
    expect(new Units({ torque: 'lbf·ft' }).shown(1.3558179483314, 'N·m')).toBeCloseTo(1, 12);
    expect(new Units({ speed: 'ft/min' }).shown(5.08, 'mm/s')).toBeCloseTo(1, 12);
  });
  it('leave everything as it is where nothing is chosen, and what they do not know', () => {
    const plain = new Units();
    for (const unit of [...KEPT, 'rev/min', 'deg', 's', '']) {
      expect(plain.of(unit)).toBe(unit);
      expect(plain.shown(1.5, unit)).toBe(1.5);
    }
    expect(plain.plain).toBe(true);
    expect(inch.plain).toBe(false);
    expect(inch.text(30, 'rev/min')).toBe('30 rev/min');
  });
  it('go with every choice: each can be typed, and comes back as it was', () => {
    for (const k of QUANTIFIED) {
      for (const unit of UNIT_CHOICES[k]) {
        const units = new Units({ [k]: unit });
        for (const kept of KEPT) {
          const x = units.shown(12.5, kept);
          const back = readQuantity(`${x} ${units.of(kept)}`, kept);
          expect('value' in back ? back.value : back.problem).toBeCloseTo(12.5, 9);
        }
      }
    }
  });
  it('keep exact values exact on the way there and back', () => {
    fc.assert(
      fc.property(fc.integer({ min: -10000, max: 10000 }), fc.integer({ min: 1, max: 999 }), (n, d) => {
        const r = exactly(`${n}/${d}`);
        expect(toText(inch.exactKept(inch.exactShown(r, 'mm'), 'mm'))).toBe(toText(r));
        expect(toText(inch.exactKept(inch.exactShown(r, 'N'), 'N'))).toBe(toText(r));
      }),
      { numRuns: 50 },
    );
    expect(toText(inch.exactKept(exactly('3/4'), 'mm'))).toBe('381/20');
  });
  it('say sentences in them: every figure with its unit, no name, and nothing where nothing is chosen', () => {
    const said = '“Rail, 100 mm”: it stands 25.4 mm off at −4.4482216152605 N, 2540 mm² of 3 kg·m², 12 mm/rev, at 90° and 5 in all';
    expect(inch.sentence(said)).toBe('“Rail, 100 mm”: it stands 1 in off at −1 lbf, 3.937 in² of 3 kg·m², 0.47244 in/rev, at 90° and 5 in all');
    expect(new Units().sentence(said)).toBe(said);
    expect(new Units({ force: 'kN' }).sentence('1500 N act over 20 mm')).toBe('1.5 kN act over 20 mm');
  });
  it('show as many decimals as are stated, without a negative nought', () => {
    const units = new Units({}, 2);
    expect(units.text(1234.5678, 'mm')).toBe('1234.57 mm');
    expect(units.text(-0.001, 'N')).toBe('0.00 N');
    expect(units.text(-12345.678, 'N')).toBe('−12\u202f345.68 N');
    expect(convert(1, METRIC.torque, 'lbf·in')).toBeCloseTo(8.850745791327, 9);
  });
});
